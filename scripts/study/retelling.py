"""The way retold, with the analyst who recorded: looks at a strip, says what is wrong with it as far as it is seen.

What cannot be done is noticed more often than what need not be done; long lists are read less well than short ones, and
whoever has answered much says yes. Odds: the archetypes' "answering", engineering judgement.
"""

from __future__ import annotations

import random
from collections.abc import Sequence

from msgspec import Struct

from oddbolt.rules.device_state import DeviceState
from oddbolt.session.verbs import retold
from oddbolt.session.verbs.parts import make_part
from oddbolt.studies.retelling import GUESSED, Retelling, retell, things_of
from scripts.study.analyst import Analyst
from scripts.study.score import planner_of, priority_parts
from scripts.study.truth import Thing, apply_all

SHORT, LONG = 8, 12
MISSED = {"short": 0.10, "middle": 0.20, "long": 0.30, "tired": 0.50}
LONGER_PASSES = 0.40  # a way that is possible but longer is taken as right
WRONG_ANSWER = 0.05  # of a single yes or no
TIRED_AFTER = 4  # answers about one part in a row
ROUNDS, ASKED = 3, 4  # of one part, at most
FORGOTTEN_AS = {"adhesive": "glue"}


class Tally(Struct, kw_only=True):
    """What the answers about one part came to."""

    part: str
    known: str
    rounds: int
    asked: int
    acts: int


class Reteller:
    def __init__(self, analyst: Analyst, seed: int, *, overlooks: bool = True, rounds: int = ROUNDS,
                 asked: int = ASKED) -> None:
        self.analyst, self.hidden = analyst, analyst.hidden
        self.rng = random.Random(f"reteller {seed}")
        self.overlooks, self.rounds, self.asked = overlooks, rounds, asked
        self.truth = planner_of(self.hidden.truth())
        self._answers = 0

    # -- the work

    def tell(self) -> list[Tally]:
        """Every part that matters, the shallow ones first; then how known each is."""
        for id_ in priority_parts(self.hidden):
            if self._own(id_) is None and self.rounds:
                self._meet(self.hidden.things[id_])
        on_record = [id_ for id_ in priority_parts(self.hidden) if self._own(id_) is not None]
        order = {id_: self.truth.plan([id_]).count.steps for id_ in on_record}
        tallies = {id_: self._tell_one(id_) for id_ in sorted(on_record, key=lambda one: (order[one], one))}
        for id_, tally in tallies.items():
            tally.known = self._shown(id_).known
        return list(tallies.values())

    def _tell_one(self, id_: str) -> Tally:
        rounds = asked = self._answers = 0
        before = self.analyst.acts
        while True:
            shown = self._shown(id_)
            if shown.known == GUESSED and rounds < self.rounds:
                rounds += 1
                if not self._look(id_, shown):
                    break
            elif shown.known != GUESSED and shown.asks and asked < self.asked:
                asked += 1
                self._answer(shown)
            else:
                break
        return Tally(part=id_, known=shown.known, rounds=rounds, asked=asked, acts=self.analyst.acts - before)

    def _shown(self, id_: str) -> Retelling:
        *_, found = retell(planner_of, self.analyst.session.teardown, self._own(id_))
        return found

    # -- what is known of the record

    def _own(self, true: str) -> str | None:
        teardown = self.analyst.session.teardown
        return next((own for own, one in self.analyst.hidden_of.items() if one == true
                     and (own in teardown.part or own in teardown.joint)), None)

    def _do(self, acts: int, verb: object, *args: object) -> str:
        self.analyst.acts += acts
        self._answers += 1
        done = self.analyst.recorder.do(verb, *args)
        return done.made if done is not None else ""

    def _misses(self, odds: float) -> bool:
        if not self.overlooks:
            return False
        if self._answers >= TIRED_AFTER:
            odds = max(odds, MISSED["tired"])
        return self.rng.random() < odds

    def _meet(self, thing: Thing) -> None:
        """A part that never came off is drawn on the photograph and named."""
        kind = self.analyst._key_of(thing)
        view = self.analyst.session.teardown.views[-1].id
        self.analyst.acts += 2
        done = self.analyst.recorder.do(make_part, kind, view, self.analyst._spot(thing.middle, 8.0))
        if done is not None:
            self.analyst.hidden_of[done.made] = thing.id

    # -- a strip

    def _look(self, id_: str, shown: Retelling) -> bool:
        """Say what is wrong with a strip, or that it works; False where there is nothing to be said."""
        part = self._own(id_)
        if not shown.plan.feasible:
            return self._stuck(id_)
        operations = [item.thing for item in shown.items]
        odds = MISSED["short" if len(operations) <= SHORT else "middle" if len(operations) <= LONG else "long"]
        corrected = self._tools(shown, odds)
        if self._blocked(part, operations, odds) or self._needless(id_, part, operations):
            return True
        if not corrected:
            self._do(1, retold.works, part, operations)
        return True

    def _stuck(self, id_: str) -> bool:
        return False

    def _tools(self, shown: Retelling, odds: float) -> bool:
        """Tools that are not those that were used."""
        found = False
        for item in shown.items:
            thing = self.hidden.things.get(self.analyst.hidden_of.get(item.thing, ""))
            if thing is None or thing.kind == "swing":
                continue
            tools = tuple(tool for tool, _ in thing.acts)
            if tools != item.tools and not self._misses(odds):
                self.analyst.acts += 2
                self.analyst.recorder.do(retold.with_tool, item.thing, tools)
                found = True
        return found

    def _blocked(self, part: str, operations: Sequence[str], odds: float) -> bool:
        """The first operation that cannot be done where it stands, and is seen not to."""
        structure = self.truth.structure
        state = DeviceState(structure)
        for own in operations:
            true = self.analyst.hidden_of.get(own, "")
            if true not in structure.releases and true not in structure.removals:
                if not self._misses(odds):
                    self._do(2, retold.needless, part, operations, [own])
                    return True
                continue
            if not state.is_in_place(true):
                continue
            while obstacle := self._in_the_way(state, true):
                if obstacle and not self._misses(odds):
                    if self._say_blocked(part, operations, own, obstacle):
                        return True
                break
            if not state.obstacles_of(true):
                apply_all(state, structure, true)
            else:
                self._force(state, true)
        return False

    def _force(self, state: DeviceState, true: str) -> None:
        """It is taken as done."""
        structure = self.truth.structure
        apply_all(state, structure, true)

    def _in_the_way(self, state: DeviceState, true: str) -> list[str]:
        """True things that stand before one now: of each clause, all that would do; its joints."""
        thing = self.hidden.things[true]
        found = [one for clause in thing.clauses if all(state.is_in_place(x) for x in clause if x in self.hidden.things)
                 for one in clause]
        if thing.is_part:
            found += [j for j in self.hidden.joints_of(true) if state.is_in_place(j) and any(
                state.is_in_place(p) or p == "base" for p in self.hidden.things[j].of if p != true)]
        return [one for one in dict.fromkeys(found) if one in self.hidden.things]

    def _say_blocked(self, part: str, operations: Sequence[str], own: str, by: Sequence[str]) -> bool:
        """What is in the way is tapped where it is on record; else something else holds it."""
        for true in by:
            known = self._own(true)
            if known is not None and known != own:
                before = self.analyst.session.teardown
                self._do(2, retold.blocked, part, operations, own, [known])
                return self.analyst.session.teardown is not before
        for true in by:
            thing = self.hidden.things[true]
            if not thing.is_part and self._own(true) is None and thing.kind in (
                    "adhesive", "clip", "film", "screw", "routing", "slide", "magnet", "press-fit"):
                if thing.kind == "screw" and not self.analyst.session.teardown.fasteners:
                    continue
                made = self._do(2, retold.something_else, part, operations, own,
                                FORGOTTEN_AS.get(thing.kind, thing.kind), self.analyst.recorder.t)
                if made:
                    self.analyst.hidden_of[made] = true
                    self.analyst.forgotten.discard(true)
                    return True
        return False

    def _needless(self, id_: str, part: str, operations: Sequence[str]) -> bool:
        """What could be left out, where that is seen."""
        if self.overlooks and self.rng.random() < LONGER_PASSES:
            return False
        best = set(things_of(self.truth.plan([id_])))
        struck: list[str] = []
        for own in operations:
            true = self.analyst.hidden_of.get(own, "")
            if true != id_ and true not in best and self._reaches(id_, operations, {*struck, own}):
                struck.append(own)
        if not struck:
            return False
        self._do(1 + len(struck), retold.needless, part, operations, struck)
        return True

    def _reaches(self, id_: str, operations: Sequence[str], left_out: set[str]) -> bool:
        """Whether the part comes off by the rest."""
        structure = self.truth.structure
        state = DeviceState(structure)
        for own in operations:
            true = self.analyst.hidden_of.get(own, "")
            if own not in left_out and (true in structure.releases or true in structure.removals) \
                    and state.is_in_place(true) and not state.obstacles_of(true):
                apply_all(state, structure, true)
        return id_ in state.removed

    # -- yes or no

    def _answer(self, shown: Retelling) -> None:
        """Which of these could have been done before that came off?"""
        ask = shown.asks[0]
        hider = self.analyst.hidden_of.get(ask.hider, "")
        could = {}
        for own in ask.things:
            thing = self.hidden.things.get(self.analyst.hidden_of.get(own, ""))
            yes = thing is None or not any(hider in clause for clause in thing.clauses)
            if self.overlooks and self.rng.random() < WRONG_ANSWER:
                yes = not yes
            could[own] = yes
        if self._misses(0.0):
            could = dict.fromkeys(could, False)
        self._do(1 + sum(could.values()) * (0 < sum(could.values()) < len(could)), retold.before, ask.hider, could)
