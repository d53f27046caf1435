"""The way retold, with the analyst who recorded: looks at a strip, says what is wrong with it as far as it is seen.

What cannot be done is noticed more often than what need not be done; long lists are read less well than short ones, and
whoever has answered much says yes. Odds: the archetypes' "answering", engineering judgement.
"""

from __future__ import annotations

import random
from collections import Counter
from collections.abc import Callable, Sequence
from functools import partial

from msgspec import Struct

from oddbolt.catalog.tables import mark_kinds, part_kinds
from oddbolt.knowledge.said.retold import worth
from oddbolt.rules.device_state import DeviceState
from oddbolt.session.verbs.correcting import retold
from oddbolt.session.verbs.joints import set_isolates
from oddbolt.session.verbs.parts import make_part
from oddbolt.studies.retelling import ENOUGH, GUESSED, Retelling, retell, things_of
from scripts.study.analyst import Analyst
from scripts.study.score import planner_of, priority_parts
from scripts.study.truth import BASE, Thing, apply_all

SHORT, LONG = 8, 12
MISSED = {"short": 0.10, "middle": 0.20, "long": 0.30, "tired": 0.50}
LONGER_PASSES = 0.40  # a way that is possible but longer is taken as right
WRONG_ANSWER = 0.05  # of a single yes or no
TIRED_AFTER = 4  # answers about one part in a row
ROUNDS, ASKED = 3, 8  # of one part, at most
SAME_AGAIN = 0.5  # of what one person overlooked once; another person overlooks as if for the first time. Assumed.
SELF, OTHER = "self", "other"
Correction = Callable[[], object]
FORGOTTEN_AS = {"adhesive": "glue"}


class Tally(Struct, kw_only=True):
    """What the answers about one part came to."""

    part: str
    known: str
    rounds: int = 0
    asked: int = 0
    acts: int = 0


class Reteller:
    def __init__(self, analyst: Analyst, seed: int, *, overlooks: bool = True, rounds: int = ROUNDS,
                 asked: int = ASKED, again: Sequence[str] = ()) -> None:
        """`again`: who looks at each way once more at the end, time by time."""
        self.analyst, self.hidden = analyst, analyst.hidden
        self._seed, self._drawn = seed, Counter[tuple[str, ...]]()
        self.overlooks, self.rounds, self.asked = overlooks, rounds, asked
        self.truth = planner_of(self.hidden.truth())
        self.again, self._passes = again, 0
        self._answers = 0

    # -- the work

    def tell(self) -> list[Tally]:
        """Every part that matters, the shallow ones first; then how known each is."""
        for id_ in priority_parts(self.hidden):
            if self._own(id_) is None and self.rounds:
                self._meet(self.hidden.things[id_])
        if self.rounds:
            self._say_what_isolates()
        on_record = [id_ for id_ in priority_parts(self.hidden) if self._own(id_) is not None]
        order = {id_: self.truth.plan([id_]).count.steps for id_ in on_record}
        tallies = {id_: Tally(part=id_, known=GUESSED) for id_ in sorted(on_record, key=lambda one: (order[one], one))}
        for tally in tallies.values():
            self._tell_one(tally)
        for tally in tallies.values():  # shaken by what was said of others, or asked enough: it is offered again
            shown = self._shown(tally.part)
            if not shown.looks or shown.asks:
                self._tell_one(tally)
        for _ in self.again:
            self._passes += 1
            for tally in tallies.values():
                self._tell_one(tally)
        for tally in tallies.values():
            tally.known = self._shown(tally.part).known
        return list(tallies.values())

    def _tell_one(self, tally: Tally) -> None:
        """Strips and corrections, at most so many rounds; then a last look, and what is asked with yes or no."""
        id_, rounds, asked = tally.part, tally.rounds, tally.asked
        self._answers = 0
        before, limit, looked = self.analyst.acts, self.rounds + self._passes, False
        wanted = worth((SELF, *self.again[:self._passes]))
        while True:
            shown = self._shown(id_)
            if not shown.looks and self.rounds and rounds <= limit:
                rounds += 1
                if not self._look(id_, shown, may_correct=rounds <= limit):
                    break
            elif self._passes and shown.looks < wanted and not shown.asks and not looked:
                looked = True
                self._look(id_, shown, may_correct=True)
            elif shown.looks and shown.asks and asked < self.asked and self._answers < ENOUGH:
                asked += 1
                self._answer(id_, shown)
            else:
                break
        tally.known, tally.rounds, tally.asked = shown.known, rounds, asked
        tally.acts += self.analyst.acts - before

    @property
    def _by(self) -> str:
        """Who looks now."""
        return (SELF, *self.again)[self._passes]

    def _shown(self, id_: str) -> Retelling:
        *_, found = retell(planner_of, self.analyst.session.teardown, self._own(id_))
        return found

    # -- what is known of the record

    def _own(self, true: str) -> str | None:
        """The thing of the record; of two for the same, that which was met last."""
        teardown = self.analyst.session.teardown
        return next((own for own, one in reversed(self.analyst.hidden_of.items()) if one == true
                     and (own in teardown.part or own in teardown.joint)), None)

    def _do(self, acts: int, verb: object, *args: object) -> str:
        self.analyst.acts += acts
        self._answers += 1
        if self._by == OTHER:
            verb, args = retold.said_by, (OTHER, verb, *args)
        done = self.analyst.recorder.do(verb, *args)
        return done.made if done is not None else ""

    def _draw(self, *about: str) -> float:
        """A number of its own for each thing that is judged, and each time: the same in a study that asks otherwise,
        so that two studies differ by what they ask and not by luck."""
        self._drawn[about] += 1
        return random.Random(f"reteller {self._seed} {about} {self._drawn[about]}").random()

    def _misses(self, odds: float, *about: str) -> bool:
        if not self.overlooks:
            return False
        if self._answers >= TIRED_AFTER:
            odds = max(odds, MISSED["tired"])
        before = (SELF, *self.again)[:self._passes].count(self._by)
        odds = max(odds, 1 - SAME_AGAIN ** before)
        return self._draw(*about) < odds

    def _is_tired(self, *about: str) -> bool:
        """Whether a question is answered with no unread. It is asked once, so nobody has overlooked it before."""
        return self.overlooks and self._answers >= TIRED_AFTER and self._draw("tired", *about) < MISSED["tired"]

    def _meet(self, thing: Thing) -> None:
        """A part that never came off is drawn on the photograph and named."""
        kind = self.analyst._key_of(thing)
        view = self.analyst.session.teardown.views[-1].id
        self.analyst.acts += 2
        done = self.analyst.recorder.do(make_part, kind, view, self.analyst._spot(thing.middle, 8.0))
        if done is not None:
            self.analyst.hidden_of[done.made] = thing.id

    def _say_what_isolates(self) -> None:
        """What makes the device dead is said once, where the record has it wrong."""
        teardown = self.analyst.session.teardown
        for joint in teardown.joints:
            if joint.isolates is not False and not self._isolates(self.analyst.hidden_of.get(joint.id, "")):
                self._do(2, set_isolates, joint.id, False)
        for true in [one for one in self.hidden.things if self._isolates(one)]:
            own = self._own(true)
            if own is not None and teardown.thing(own).isolates is False:
                self._do(2, set_isolates, own, True)

    def _isolates(self, true: str) -> bool:
        return true in self.hidden.things and self.hidden.things[true].isolates

    # -- a strip

    def _look(self, id_: str, shown: Retelling, *, may_correct: bool) -> bool:
        """Say all that is seen to be wrong with a strip, or that it works; False where there is nothing to be said."""
        part = self._own(id_)
        if not shown.plan.feasible:
            return False
        operations = [item.thing for item in shown.items]
        odds = MISSED["short" if len(operations) <= SHORT else "middle" if len(operations) <= LONG else "long"]
        wrong = [*self._wrong_kinds(part, operations, odds), *self._wrong_tools(shown, odds),
                 *self._wrong_owners(part, operations, odds),
                 *self._needless(id_, part, operations), *self._impossible(part, operations, odds)]
        if not wrong:
            self._do(1, retold.works, part, operations)
        elif may_correct:
            for correct in wrong:
                correct()
        return not wrong or may_correct

    def _wrong_kinds(self, part: str, operations: Sequence[str], odds: float) -> list[Correction]:
        """Parts that are called what they are not."""
        found: list[Correction] = []
        for own in operations:
            thing = self.hidden.things.get(self.analyst.hidden_of.get(own, ""))
            record = self.analyst.session.teardown.part.get(own)
            if thing is not None and record is not None and thing.kind in part_kinds() and record.kind != thing.kind \
                    and not self._misses(odds, "kind", part, thing.id):
                found.append(partial(self._do, 2, retold.is_a, own, thing.kind))
        return found

    def _wrong_tools(self, shown: Retelling, odds: float) -> list[Correction]:
        """Tools that are not those that were used."""
        found: list[Correction] = []
        for item in shown.items:
            thing = self.hidden.things.get(self.analyst.hidden_of.get(item.thing, ""))
            if thing is None or thing.kind == "swing":
                continue
            tools = tuple(tool for tool, _ in thing.acts)
            if tools != item.tools and not self._misses(odds, "tool", shown.part, thing.id):
                found.append(partial(self._do, 2, retold.with_tool, item.thing, tools))
        return found

    def _wrong_owners(self, part: str, operations: Sequence[str], odds: float) -> list[Correction]:
        """Joints that are called those of a part which they do not tie, where their own is on record."""
        found: list[Correction] = []
        for own in operations:
            thing = self.hidden.things.get(self.analyst.hidden_of.get(own, ""))
            joint = self.analyst.session.teardown.joint.get(own)
            if thing is None or joint is None or thing.kind == "swing":
                continue
            ties = [one for true in thing.of if (one := self._own(true)) is not None]
            missing = [one for one in ties if one not in joint.of]
            called = next((one for one in joint.of if one == part or one in operations), joint.of[0])
            if missing and called not in ties and not self._misses(odds, "whose", part, thing.id):
                found.append(partial(self._do, 2, retold.not_mine, part, operations, own, missing[0]))
        return found

    def _impossible(self, part: str, operations: Sequence[str], odds: float) -> list[Correction]:
        """Operations that cannot be done where they stand, as far as that is seen."""
        structure = self.truth.structure
        state = DeviceState(structure)
        found: list[Correction] = []
        for own in operations:
            true = self.analyst.hidden_of.get(own, "")
            if true not in structure.releases and true not in structure.removals:
                if own != part and not self._misses(odds, "needless", part, own):
                    found.append(partial(self._do, 2, retold.needless, part, operations, [own]))
            elif state.is_in_place(true):
                obstacles = self._in_the_way(state, true)
                if obstacles and not self._misses(odds, "blocked", part, true):
                    found.append(partial(self._say_blocked, part, operations, own, obstacles))
                apply_all(state, structure, true)  # from here on it is taken as done
        return found

    def _in_the_way(self, state: DeviceState, true: str) -> list[tuple[str, ...]]:
        """True things that stand before one now: of each, any would do."""
        thing, structure = self.hidden.things[true], self.truth.structure
        found = [clause for clause in thing.clauses
                 if all(x in self.hidden.things and state.is_in_place(x) for x in clause)]
        if (BASE,) in thing.clauses and state.removed.keys().isdisjoint(self._carriers(thing)):
            found.append(tuple(self._carriers(thing)))
        if thing.is_part:
            found += [(joint,) for obstacle in state.obstacles_of(true) if obstacle.code == "tied"
                      for joint in obstacle.things if joint in structure.releases]
        return found

    def _carriers(self, thing: Thing) -> set[str]:
        """What all that it is made of is lifted with."""
        above = self.truth.structure.above
        of = [one for one in (thing.of or (thing.id,)) if one in self.hidden.things]
        return set(frozenset.intersection(*(above[one] for one in of)) - {thing.id, BASE}) if of else set()

    def _say_blocked(self, part: str, operations: Sequence[str], own: str, by: Sequence[tuple[str, ...]]) -> None:
        """What is in the way is tapped where it is on record; else something else holds it."""
        for clause in by:
            known = next((one for one in map(self._own, clause) if one is not None and one != own), None)
            if known is not None:
                self._do(2, retold.blocked, part, operations, own, [known])
            else:
                self._say_forgotten(part, operations, own, clause)

    def _say_forgotten(self, part: str, operations: Sequence[str], own: str, clause: Sequence[str]) -> None:
        for true in clause:
            thing = self.hidden.things[true]
            kind = FORGOTTEN_AS.get(thing.kind, thing.kind)
            if thing.is_part or kind not in mark_kinds() and (
                    kind != "screw" or not self.analyst.session.teardown.fasteners):
                continue
            made = self._do(2, retold.something_else, part, operations, own, kind, self.analyst.recorder.t)
            if made:
                self.analyst.hidden_of[made] = true
                self.analyst.forgotten.discard(true)
                return

    def _needless(self, id_: str, part: str, operations: Sequence[str]) -> list[Correction]:
        """What could be left out, where that is seen."""
        if self.overlooks and self._draw("longer", part) < LONGER_PASSES:
            return []
        best = set(things_of(self.truth.plan([id_])))
        struck: list[str] = []
        for own in operations:
            true = self.analyst.hidden_of.get(own, "")
            if true != id_ and true not in best and self._reaches(id_, operations, {*struck, own}):
                struck.append(own)
        return [partial(self._do, 1 + len(struck), retold.needless, part, operations, struck)] if struck else []

    def _reaches(self, id_: str, operations: Sequence[str], left_out: set[str]) -> bool:
        """Whether the part comes off by the rest, with what is in the way of that cleared as well."""
        state = DeviceState(self.truth.structure)
        missing = {self.analyst.hidden_of.get(own, "") for own in left_out}
        return all(self._cleared(state, true, missing) for own in operations
                   if own not in left_out and (true := self.analyst.hidden_of.get(own, "")) in self.hidden.things) \
            and id_ in state.removed

    def _cleared(self, state: DeviceState, true: str, missing: set[str]) -> bool:
        """Do one thing, and first what is in its way, without what is missing; False where that cannot be."""
        if not state.is_in_place(true):
            return True
        if true in missing:
            return False
        missing = missing | {true}  # it cannot be in its own way
        for clause in self._in_the_way(state, true):
            if not any(self._cleared(state, one, missing) for one in clause):
                return False
        apply_all(state, self.truth.structure, true)
        return True

    # -- yes or no

    def _answer(self, id_: str, shown: Retelling) -> None:
        """Which of these could have been done before that came off?"""
        ask = shown.asks[0]
        hider = self.analyst.hidden_of.get(ask.hider, "")
        could = {}
        for own in ask.things:
            thing = self.hidden.things.get(self.analyst.hidden_of.get(own, ""))
            yes = thing is None or not any(hider in clause for clause in thing.clauses)
            if self.overlooks and self._draw("answer", own, hider) < WRONG_ANSWER:
                yes = not yes
            could[own] = yes
        if self._is_tired(id_, hider):
            could = dict.fromkeys(could, False)
        self._do(1 + sum(could.values()) * (0 < sum(could.values()) < len(could)), retold.before, ask.hider, could)
