"""Hidden devices and an analyst who records them: how well access relations fall out of a record.

The true device is known only to the simulation. The analyst takes it apart in a random order that it allows, records
each thing when it is met (kind, ends, tool), marks what is visible, and answers questions truthfully. All figures of
the generator are invented; its habits follow common practice: layers opened by large covers, brackets over plugs,
modules with screws and a plug, a cell with adhesive and a plug, cables under things, modules on the underside.
"""

from __future__ import annotations

import random

from msgspec import Struct, field
from msgspec.structs import replace

from oddbolt.effort.times import KnownTimes
from oddbolt.knowledge.questions import Question
from oddbolt.knowledge.settling import settle
from oddbolt.model import exchange
from oddbolt.model.things import Answer, Teardown
from oddbolt.rules.device_state import DeviceState, Operation
from oddbolt.rules.structure import Structure
from oddbolt.search.planner import Planner

DRIVERS = ("ph00", "ph0", "t5", "t3")


class Hidden(Struct):
    """The true device, and which hidings also keep from view."""

    parts: list[dict] = field(default_factory=lambda: [{"id": "base", "kind": "frame"}])
    joints: list[dict] = field(default_factory=list)
    covered: set[tuple[str, str]] = field(default_factory=set)  # (thing, hider): not visible before

    def part(self, id_: str, kind: str, on: str = "base", **keys: object) -> str:
        self.parts.append({"id": id_, "kind": kind, "on": on, "active_s": 3, **keys})
        return id_

    def joint(self, id_: str, kind: str, of: list[str], tool: str, **keys: object) -> str:
        self.joints.append({"id": id_, "kind": kind, "of": of, "ways": [{"tool": tool, "active_s": 5}], **keys})
        return id_

    def json(self) -> dict:
        return {"format": "oddbolt-teardown", "version": 1, "device": {"base": "base"}, "parts": self.parts,
                "joints": self.joints}


def hidden_device(seed: int) -> Hidden:
    """A random layered device of some 8 to 20 parts."""
    rng = random.Random(seed)
    made = Hidden()
    opened = _layer(made, rng, 0, [])
    if rng.random() < 0.45:
        _layer(made, rng, 1, opened)
    return made


def _layer(made: Hidden, rng: random.Random, n: int, above: list[str]) -> list[str]:
    """A cover and what lies under it; returns what opens the layer."""
    outer = [above] if above else []
    cover = made.part(f"cover{n}", "cover", behind=outer)
    for k in range(rng.choice((1, 1, 2))):
        kind = rng.choice(("screw", "clip", "adhesive"))
        tool = {"screw": rng.choice(DRIVERS), "clip": "pick", "adhesive": "card"}[kind]
        made.joint(f"cover{n}-{k}", kind, [cover, "base"], tool, behind=outer)
    opener = cover
    if rng.random() < 0.35:
        ties = [[f"cover{n}-{k}" for k in range(2) if any(j["id"] == f"cover{n}-{k}" for j in made.joints)]]
        behind = [outer[0] + ties[0]] if outer else ties
        opener = made.joint(f"swing{n}", "swing", [cover, "base"], "hand", behind=behind)
    inside = [opener]
    board = made.part(f"board{n}", "board", behind=[inside])
    if opener != cover:
        made.joint(f"cover{n}-plug", "connector", [cover, board], "spudger", behind=[inside])
    for k in range(rng.choice((1, 2))):
        made.joint(f"board{n}-s{k}", "screw", [board, "base"], rng.choice(DRIVERS), behind=[inside])
    _modules(made, rng, n, board, inside)
    if n == 0:
        _cell(made, rng, board, inside)
    return [cover] if rng.random() < 0.5 else [cover, board]


def _modules(made: Hidden, rng: random.Random, n: int, board: str, inside: list[str]) -> None:
    blockers: list[str] = []
    for k in range(rng.randint(2, 6)):
        kind = rng.choice(("camera", "speaker", "board", "motor", "cable", "button", "antenna"))
        hidden = _with(rng, inside, blockers, 0.3, made, f"m{n}{k}")
        module = made.part(f"m{n}{k}", kind, behind=[hidden])
        if rng.random() < 0.7:
            joint_hidden = _with(rng, inside, blockers, 0.2, made, f"m{n}{k}-s")
            made.joint(f"m{n}{k}-s", rng.choice(("screw", "screw", "adhesive", "clip")), [module, "base"],
                       rng.choice((*DRIVERS, "tweezers")), behind=[joint_hidden])
        plug_behind = list(inside)
        if rng.random() < 0.35:
            bracket = made.part(f"lid{n}{k}", "bracket", behind=[inside])
            made.joint(f"lid{n}{k}-s", "screw", [bracket, "base"], rng.choice(DRIVERS), behind=[inside])
            plug_behind.append(bracket)
            made.covered.add((f"m{n}{k}-p", bracket))
        tool = rng.choice(("spudger", "tweezers"))
        made.joint(f"m{n}{k}-p", "connector", [module, board], tool, behind=[plug_behind])
        blockers.append(module)
    if rng.random() < 0.4:
        under = made.part(f"under{n}", "board", on=board, behind=[["base"]])
        made.joint(f"under{n}-s", "screw", [under, board], rng.choice(DRIVERS), behind=[["base"]])
        made.covered |= {(f"under{n}", "base"), (f"under{n}-s", "base")}
    if rng.random() < 0.4:
        shield = made.part(f"shield{n}", "shield", on=board, behind=[inside])
        made.joint(f"shield{n}-c", "clip", [shield, board], "spudger", behind=[inside])


def _cell(made: Hidden, rng: random.Random, board: str, inside: list[str]) -> None:
    cell = made.part("cell", "battery", behind=[inside])
    made.joint("cell-glue", "adhesive", [cell, "base"], rng.choice(("card", "tweezers")), behind=[inside])
    behind = list(inside)
    if rng.random() < 0.6:
        lid = made.part("cell-lid", "bracket", behind=[inside])
        made.joint("cell-lid-s", "screw", [lid, "base"], rng.choice(DRIVERS), behind=[inside])
        behind.append(lid)
        made.covered.add(("cell-plug", lid))
    made.joint("cell-plug", "connector", [cell, board], "spudger", behind=[behind], isolates=True)
    if rng.random() < 0.5:
        port = made.part("port", "port", behind=[inside])
        made.joint("port-run", "routing", [port, "base"], "hand", behind=[["cell"]])
        made.joint("port-s", "screw", [port, "base"], rng.choice(DRIVERS), behind=[inside])
        made.covered.add(("port-run", "cell"))


def _with(rng: random.Random, inside: list[str], blockers: list[str], odds: float, made: Hidden,
          thing: str) -> list[str]:
    if blockers and rng.random() < odds:
        hider = rng.choice(blockers)
        if rng.random() < 0.7:
            made.covered.add((thing, hider))
        return [*inside, hider]
    return list(inside)


class Analyst:
    """Records a hidden device. What is not recorded yet is not known to the record."""

    def __init__(self, hidden: Hidden, seed: int, *, reaches: bool) -> None:
        self.hidden = hidden
        self.rng = random.Random(seed)
        self.truth = exchange.from_json(hidden.json())
        self.structure = Structure(self.truth)
        self.reaches = reaches
        self.log: list[dict] = []
        self.views: list[dict] = []

    def record(self) -> Teardown:
        """Take everything apart in an order that the true device allows, and return the record with first guesses."""
        bench = DeviceState(self.structure)
        self._layer_opened(bench)
        at_work = ""
        while len(bench.removed) < len(self.structure.removals):
            free = self._free(bench)
            lifts = [op for op in free if op.part]
            mine = [op for op in free if op.joint and at_work in self.structure.releases[op.joint].of]
            operation = self.rng.choice(lifts or mine or free)
            if operation.joint:
                at_work = next(p for p in self.truth.joint[operation.joint].of)
            bench.apply(operation)
            thing = operation.part or operation.joint
            does = "remove" if operation.part else "release"
            self.log.append({"id": f"e{len(self.log)}", "do": does, "thing": thing})
            record = self.truth.thing(thing)
            if record.kind in ("cover", "swing"):
                self._layer_opened(bench)
        return settle(exchange.from_json(self._as_recorded()))

    def _free(self, bench: DeviceState) -> list[Operation]:
        operations = [Operation(part=p) for p in self.structure.removals if p not in bench.removed]
        operations += [Operation(joint=j) for j in self.structure.releases if j not in bench.released]
        return [op for op in operations if not bench.obstacles(op)]

    def _layer_opened(self, bench: DeviceState) -> None:
        visible = [thing for thing in (*self.structure.removals, *self.structure.releases)
                   if thing not in bench.removed and thing not in bench.released and self._is_visible(bench, thing)]
        self.views.append({"id": f"v{len(self.views)}", "at_entry": self.log[-1]["id"] if self.log else None,
                           "marks": [{"thing": thing, "x": 0, "y": 0} for thing in visible]})
        if self.reaches:
            free = [op.part or op.joint for op in self._free(bench)]
            self.log.append({"id": f"e{len(self.log)}", "do": "reach", "things": free})

    def _is_visible(self, bench: DeviceState, thing: str) -> bool:
        """Behind nothing, or only behind what does not keep it from view."""
        record = self.truth.thing(thing)
        return all((thing, x) not in self.hidden.covered and x not in ("cover0", "cover1", "swing0", "swing1")
                   for names in record.behind for x in names
                   if x not in bench.removed and x not in bench.released)

    def _as_recorded(self) -> dict:
        data = self.hidden.json()
        strip = [{key: value for key, value in thing.items() if key != "behind"} | {"basis": "assumed"}
                 for thing in data["joints"]]
        parts = [{key: value for key, value in thing.items() if key != "behind"} | {"basis": "assumed"}
                 for thing in data["parts"]]
        return {**data, "parts": parts, "joints": strip, "log": self.log, "views": self.views}

    def answer(self, record: Teardown, question: Question) -> Teardown:
        """The record with a truthful answer."""
        after = {question.about, *self._after(question.about)}
        if question.kind == "hides":
            hides = [t for t in question.things if self._hides(t, question.about)]
            value = {"hides": hides, "spares": [t for t in question.things if t not in hides]}
        elif question.kind == "way":
            value = {"by": {t: [x for x in question.choices[t] if self._hides(t, x)] for t in question.things}}
        else:
            within = [t for t in question.things if not any(self._hides(t, x) for x in after)]
            value = {"within": within, "without": [t for t in question.things if t not in within]}
        given = Answer(method="access", criterion=question.kind, part=question.about, value=value, basis="seen")
        return settle(replace(record, answers=(*record.answers, given)))

    def _after(self, about: str) -> list[str]:
        things = [entry["thing"] for entry in self.log if "thing" in entry]
        return things[things.index(about) + 1:] if about in things else []

    def _hides(self, thing: str, hider: str) -> bool:
        return any(hider in names for names in self.truth.thing(thing).behind)


def depths(teardown: Teardown) -> dict[str, int | None]:
    planner = Planner(teardown, KnownTimes(teardown))
    plans = {part: planner.plan([part]) for part in planner.structure.removals}
    return {part: plan.count.steps if plan.feasible else None for part, plan in plans.items()}


def strict(record: Teardown) -> Teardown:
    """The safe guess: behind all that came off before."""
    from oddbolt.knowledge.evidence import AllEvidence

    known = AllEvidence(record, Structure(record))

    def renewed(thing):
        behind = known.of(thing.id).candidates
        return replace(thing, behind=(behind,) if behind else ())

    return replace(record, parts=tuple(p if p.id == "base" else renewed(p) for p in record.parts),
                   joints=tuple(map(renewed, record.joints)))
