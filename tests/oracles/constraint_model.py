"""Fewest steps as a constraint model, solved by a general-purpose solver (OR-Tools CP-SAT, Apache 2.0).

Written from the words of docs/format.md on the plain exchange file; shares no code with the planner. It knows parts
that lie on others, `behind` with alternatives, ways of several acts and manual removals: the features of the made-up
layered devices. Not read: variants, captive parts, power, contacts, joined acts, acts of their own step.

Each operation has a place; places are dealt out in blocks of `width`, a block being a step: one tool in it, manual acts
aside, and a removal only on its last place.
"""

from __future__ import annotations

from msgspec import Struct
from ortools.sat.python import cp_model


class Answer(Struct, frozen=True):
    """What the solver came to: the least steps it found, its bound, and whether the two agree."""

    steps: int | None
    bound: int
    proven: bool


class Model:
    """Operations as optional places; `most` steps may be used."""

    def __init__(self, data: dict, targets: list[str], most: int) -> None:
        self.model = cp_model.CpModel()
        self.base = data["device"]["base"]
        self.parts = {part["id"]: part for part in data["parts"] if part["id"] != self.base}
        self.joints = {joint["id"]: joint for joint in data["joints"]}
        self.acts = {(id_, w): way.get("acts", [way]) for id_, joint in self.joints.items()
                     for w, way in enumerate(joint["ways"])}
        self.width = len(self.parts) + sum(len(acts) for acts in self.acts.values())
        self.most = most
        self.tools = sorted({act["tool"] for acts in self.acts.values() for act in acts} - {"hand"})
        self.in_step = {tool: [self.model.new_bool_var("") for _ in range(most)] for tool in self.tools}
        for k in range(most):
            self.model.add_at_most_one(self.in_step[tool][k] for tool in self.tools)
        self._before: dict[tuple[int, int], cp_model.IntVar] = {}
        self._operations()
        self._conditions()
        for target in targets:
            self.model.add(self.done[target] == 1)
        self.steps = self.model.new_int_var(0, most, "steps")
        for op, step in self.step.items():
            self.model.add(self.steps >= step + 1).only_enforce_if(self.present[op])
        self.model.minimize(self.steps)

    def _operations(self) -> None:
        model, width = self.model, self.width
        self.place, self.step, self.present = {}, {}, {}
        self.done = {part: model.new_bool_var(part) for part in self.parts}
        self.chosen = {way: model.new_bool_var(str(way)) for way in self.acts}
        for (id_, w), acts in self.acts.items():
            for a, act in enumerate(acts):
                self._operation((id_, w, a), act["tool"], self.chosen[id_, w])
                if a:
                    model.add(self.place[id_, w, a - 1] < self.place[id_, w, a])
        for part in self.parts:
            self._operation(part, self.parts[part].get("tool", "hand"), self.done[part])
            model.add(self.place[part] == self.step[part] * width + width - 1)
        model.add_all_different(self.step[part] for part in self.parts)
        self.released, self.released_at = {}, {}
        for id_, joint in self.joints.items():
            ways = [(id_, w) for w in range(len(joint["ways"]))]
            model.add_at_most_one(self.chosen[way] for way in ways)
            self.released[id_] = model.new_bool_var("")
            model.add(sum(self.chosen[way] for way in ways) == self.released[id_])
            self.released_at[id_] = model.new_int_var(0, self.most * width - 1, "")
            for way in ways:
                model.add(self.released_at[id_] == self.place[(*way, len(self.acts[way]) - 1)]) \
                    .only_enforce_if(self.chosen[way])

    def _operation(self, op, tool: str, present) -> None:
        model = self.model
        self.present[op] = present
        # What is not done still has a place, in steps of its own beyond the others.
        last = self.most + len(self.parts)
        self.step[op] = model.new_int_var(0, last, "")
        self.place[op] = model.new_int_var(0, (last + 1) * self.width - 1, "")
        model.add_division_equality(self.step[op], self.place[op], self.width)
        model.add(self.step[op] < self.most).only_enforce_if(present)
        if tool != "hand":
            here = [model.new_bool_var("") for _ in range(self.most)]
            model.add(sum(here) == present)
            for k, at in enumerate(here):
                model.add(self.step[op] == k).only_enforce_if(at)
                model.add_implication(at, self.in_step[tool][k])

    # -- access

    def _conditions(self) -> None:
        for id_, joint in self.joints.items():
            of = set(joint["of"])
            for w, way in enumerate(joint["ways"]):
                for behind in (joint.get("behind", []), way.get("behind", [])):
                    self._open(behind, of, self.place[id_, w, 0], self.chosen[id_, w])
        for id_, part in self.parts.items():
            self._open(part.get("behind", []), {id_}, self.place[id_], self.done[id_])
            inside = {other for other in self.parts if id_ in self._under(other)}
            for joint_id, joint in self.joints.items():
                if 0 < len(set(joint["of"]) & inside) < len(set(joint["of"])):
                    self._released_before(joint_id, self.place[id_], self.done[id_])

    def _under(self, part: str) -> set[str]:
        """The part and all it lies on, the base aside."""
        found = set()
        while part != self.base:
            found.add(part)
            part = self.parts[part].get("on") or self.base
        return found

    def _open(self, behind: list[list[str]], of: set[str], place, present) -> None:
        if not behind:
            return
        picks = []
        for names in behind:
            pick = self.model.new_bool_var("")
            picks.append(pick)
            for name in names:
                if name in self.joints:
                    self._released_before(name, place, pick)
                else:
                    self._parted_before(name, of, place, pick)
        self.model.add_bool_or(picks).only_enforce_if(present)

    def _released_before(self, joint: str, place, when) -> None:
        self.model.add_implication(when, self.released[joint])
        self.model.add(self.released_at[joint] < place).only_enforce_if(when)

    def _parted_before(self, hider: str, of: set[str], place, when) -> None:
        """One of the liftings that take exactly one of the two along comes before."""
        around = set.intersection(*(self._under(part) for part in of))
        liftings = []
        for part in self._under(hider) ^ around:
            lifted = self.model.new_bool_var("")
            liftings.append(lifted)
            self.model.add_implication(lifted, self.done[part])
            self.model.add(self.place[part] < place).only_enforce_if(lifted)
        self.model.add_bool_or(liftings).only_enforce_if(when)

    def solve(self, work: float) -> Answer:
        """`work` in the solver's own deterministic seconds, so that an answer repeats."""
        solver = cp_model.CpSolver()
        solver.parameters.max_deterministic_time = work
        solver.parameters.num_workers = 1
        solver.parameters.random_seed = 1
        status = solver.solve(self.model)
        if status == cp_model.INFEASIBLE:
            return Answer(None, self.most + 1, True)
        found = status in (cp_model.OPTIMAL, cp_model.FEASIBLE)
        return Answer(round(solver.objective_value) if found else None, round(solver.best_objective_bound),
                      status == cp_model.OPTIMAL)
