"""Questions of a recorded device: what this part is, this screw, this connector and how it opens; what is wrong with a
told way. Options are codes; the right one comes from the record's marks and the catalogue."""

from __future__ import annotations

import random
from collections.abc import Callable, Iterator, Sequence

from msgspec import Struct

from oddbolt.catalog.components import connector_types
from oddbolt.catalog.tables import part_kinds
from oddbolt.comparing.profile import type_of
from oddbolt.comparing.told import Held, held
from oddbolt.model.things import Teardown, ToldWay, View
from oddbolt.search.planner import Planner

PART, SCREW, PLUG, OPENS, FAULT = "part", "screw", "plug", "opens", "fault"
OPTIONS = 4
# What can be wrong with a told way.
LEFT_OUT, NEEDLESS, SWAPPED, NOTHING = "left-out", "needless", "swapped", "nothing"
FAULTS = (LEFT_OUT, NEEDLESS, SWAPPED, NOTHING)


class Question(Struct, frozen=True, kw_only=True):
    """`id` is the same whenever it is asked of this device; `view` shows the thing, where it is about one."""

    id: str
    kind: str
    thing: str
    options: tuple[str, ...]
    right: int
    view: str = ""
    way: tuple[str, ...] = ()  # told, where a fault is to be spotted

    def is_right(self, option: int) -> bool:
        return option == self.right


def questions_of(teardown: Teardown, seed: int = 1) -> list[Question]:
    """Everything that is marked on a photograph, once of each kind and thing, in an order of chance."""
    rng = random.Random(seed)
    found = [question for make in (_parts, _screws, _plugs, _openings) for question in make(teardown, rng)]
    rng.shuffle(found)
    return found


def _shown(teardown: Teardown, thing: str) -> View | None:
    return next((view for view in teardown.pictured if any(mark.thing == thing for mark in view.marks)), None)


def _ask(teardown: Teardown, rng: random.Random, kind: str, thing: str, right: str,
         others: Sequence[str]) -> Iterator[Question]:
    """With up to three others that could be taken for it; none where nothing else could be."""
    view = _shown(teardown, thing)
    wrong = [one for one in dict.fromkeys(others) if one != right]
    if view is None or not right or not wrong:
        return
    options = [right, *rng.sample(wrong, min(OPTIONS - 1, len(wrong)))]
    rng.shuffle(options)
    model = teardown.device.model or teardown.device.name
    yield Question(id=f"{model}/{kind}/{thing}", kind=kind, thing=thing, options=tuple(options),
                   right=options.index(right), view=view.id)


def _parts(teardown: Teardown, rng: random.Random) -> Iterator[Question]:
    """By kind: those of the device first, the catalogue's where they are too few."""
    own = [part.kind for part in teardown.parts if part.kind]
    known = [row.kind for row in part_kinds().values()]
    for part in teardown.parts:
        if part.kind and teardown.is_present(part):
            own_others = [kind for kind in dict.fromkeys(own) if kind != part.kind]
            others = own_others if len(own_others) >= OPTIONS - 1 else [*own_others, *known]
            yield from _ask(teardown, rng, PART, part.id, part.kind, others)


def _screws(teardown: Teardown, rng: random.Random) -> Iterator[Question]:
    types = [type_of(fastener) for fastener in teardown.fasteners]
    for joint in teardown.joints:
        if joint.kind == "screw" and joint.fastener and teardown.is_present(joint):
            yield from _ask(teardown, rng, SCREW, joint.id, type_of(teardown.fastener[joint.fastener]), types)


def _plugs(teardown: Teardown, rng: random.Random) -> Iterator[Question]:
    known = list(connector_types())
    yield from _of_plugs(teardown, rng, PLUG, known, lambda type_: type_)


def _openings(teardown: Teardown, rng: random.Random) -> Iterator[Question]:
    """How it opens: by the catalogue's row of its type."""
    rows = connector_types()
    yield from _of_plugs(teardown, rng, OPENS, [row.opens for row in rows.values()], lambda type_: rows[type_].opens)


def _of_plugs(teardown: Teardown, rng: random.Random, kind: str, others: Sequence[str],
              right: Callable[[str], str]) -> Iterator[Question]:
    for joint in teardown.joints:
        if joint.kind == "connector" and joint.type in connector_types() and teardown.is_present(joint):
            yield from _ask(teardown, rng, kind, joint.id, right(joint.type), others)


# -- spot the fault

def fault_question(planner: Planner, part: str, seed: int = 1) -> Question | None:
    """A way to a part with one thing wrong, or nothing; what is wrong is told by holding it against the record. None
    where no such way can be made."""
    rng = random.Random(seed)
    plan = planner.plan([part])
    if plan.count is None:
        return None
    things = list(dict.fromkeys(operation.part or operation.joint for operation in plan.sequence))
    for fault in rng.sample(FAULTS, len(FAULTS)):
        way = _spoilt(planner, part, things, fault, rng)
        if way is not None:
            model = planner.teardown.device.model or planner.teardown.device.name
            return Question(id=f"{model}/{FAULT}/{part}/{fault}", kind=FAULT, thing=part, options=FAULTS,
                            right=FAULTS.index(fault), way=tuple(way))
    return None


def _spoilt(planner: Planner, part: str, things: list[str], fault: str, rng: random.Random) -> list[str] | None:
    """The way with just this fault; several are tried."""
    for _ in range(12):
        way = list(things)
        if fault == LEFT_OUT and len(way) > 2:
            way.pop(rng.randrange(len(way) - 1))
        elif fault == NEEDLESS:
            more = [thing for thing in planner.structure.releases if thing not in planner.helpful_things(part)]
            if not more:
                return None
            way.insert(rng.randrange(len(way)), rng.choice(more))
        elif fault == SWAPPED and len(way) > 3:
            n = rng.randrange(len(way) - 2)
            way[n], way[n + 1] = way[n + 1], way[n]
        if faults_of(held(planner, ToldWay(id="q", part=part, things=tuple(way)))) == {fault}:
            return way
    return None


def faults_of(found: Held) -> set[str]:
    """What is wrong with a way, by codes."""
    faults = {code for code, things in ((LEFT_OUT, found.left_out), (NEEDLESS, found.needless),
                                        (SWAPPED, found.out_of_order)) if things}
    return faults or {NOTHING}
