"""How far putting back has come: the steps of the plan with what the log has done of them, what was left out, and what
stands in the way of closing."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from msgspec import Struct
from msgspec.structs import replace

from oddbolt.knowledge.checks.findings import left_on
from oddbolt.model.snapshot import of_snapshot
from oddbolt.model.things import Teardown
from oddbolt.reassembly.inventory import parts_to_order
from oddbolt.reassembly.ledger import Ledger, ledger_of
from oddbolt.reassembly.rebuilding.putting_back import (
    FIT,
    Off,
    PuttingBack,
    Step,
    instruction_for,
    off_by_log,
    put_back,
)
from oddbolt.rules.replay import PUT_BACK, this_pass
from oddbolt.rules.structure import structure_of

AGAIN = "again"  # finding of an entry: not yet as it should be, back to an earlier step
OPEN, DONE, LEFT_OUT = "open", "done", "left-out"
PROTECTED, SKIPPED, BOLTS, UNKNOWN = "protected", "skipped", "bolts", "unknown-count"


class Matter(Struct, frozen=True, kw_only=True):
    """Something that stands in the way of closing: a step left out, a protection still on, bolts, a count not known."""

    code: str
    things: tuple[str, ...] = ()
    what: str = ""


class Progress(Struct, frozen=True, kw_only=True):
    """The plan from where putting back began, each step with its state."""

    plan: PuttingBack
    states: tuple[str, ...]
    ledger: Ledger
    matters: tuple[Matter, ...]

    @property
    def current(self) -> int | None:
        """The place of the step that is next; None where nothing is left to do."""
        return next((n for n, state in enumerate(self.states) if state == OPEN), None)

    @property
    def done(self) -> int:
        return sum(state == DONE for state in self.states)

    @property
    def is_closed(self) -> bool:
        """Everything is in, every hole has its bolt, nothing was left out or on."""
        return bool(self.states) and self.current is None and not self.matters


@of_snapshot("log", "joints", "parts", "device", "sessions", "refit", "procedures", "fasteners", "settings")
def progress(teardown: Teardown) -> Progress:
    """Of the whole device, in the present pass."""
    plan = _plan(teardown)
    states = _states(teardown, plan.steps)
    ledger = ledger_of(teardown)
    return Progress(plan=plan, states=states, ledger=ledger, matters=tuple(_matters(teardown, plan, states, ledger)))


_kept: tuple[tuple[Any, ...], PuttingBack] | None = None  # the last plan: a step done does not change it


def _plan(teardown: Teardown) -> PuttingBack:
    """From where putting back began; the one of before where nothing that it rests on has changed."""
    global _kept
    structure = structure_of(teardown)
    off = tuple(_off_at_start(teardown))
    spares = parts_to_order(teardown, structure)
    rests_on = structure, teardown.joints, teardown.fasteners, teardown.refit, off, spares
    if _kept is None or not all(one is other or (type(one) is tuple and n > 3 and one == other)
                                for n, (one, other) in enumerate(zip(_kept[0], rests_on))):
        _kept = rests_on, put_back(teardown, off, instruction_for(teardown), spares=spares)
    return _kept[1]


def _off_at_start(teardown: Teardown) -> Sequence[Off]:
    """What was off when putting back began, and what came off since."""
    first = next((entry.id for entry in this_pass(teardown) if entry.do in PUT_BACK), None)
    now = off_by_log(teardown)
    if first is None:
        return now
    until = next(n for n, entry in enumerate(teardown.log) if entry.id == first)
    before = off_by_log(replace(teardown, log=teardown.log[:until]))
    return (*before, *(one for one in now if one.thing not in {other.thing for other in before}))


def _states(teardown: Teardown, steps: Sequence[Step]) -> tuple[str, ...]:
    """A part or joint is done when it is in place; another act when the log has it since what it belongs to was last
    off. What was left out on purpose stands as such in the log."""
    structure = structure_of(teardown)
    off = {one.thing for one in off_by_log(teardown)}
    last_off: dict[str, int] = {}
    done: dict[tuple[str, str, int | None], int] = {}
    skipped: dict[tuple[str, str, int | None], int] = {}
    again: dict[int, int] = {}  # place of an entry of the instruction: when it was last gone back from it
    for n, entry in enumerate(this_pass(teardown)):
        if entry.finding == AGAIN and entry.step is not None:
            again[entry.step] = n
            continue
        thing = structure.stand_in.get(entry.thing or "", entry.thing or "")
        if entry.do in ("release", "remove") and not entry.places:
            last_off[thing] = n
        kept = skipped if entry.outcome == "failed" else done
        kept[entry.do, thing, entry.step] = n

    back = _gone_back(steps, again)
    ledger = ledger_of(teardown)

    def state(step: Step) -> str:
        since = max(last_off.get(step.anchor, -1), back.get(step.entry, -1))
        key = (step.do, step.thing, step.entry)
        if skipped.get(key, -1) > max(since, done.get(key, -1)):
            return LEFT_OUT if step.do not in PUT_BACK or step.thing in off else DONE
        if step.do in PUT_BACK and step.refit is not None and step.refit.places:
            return OPEN if set(step.refit.places).intersection(ledger.open_of(step.thing)) else DONE
        if step.do in PUT_BACK and step.thing == step.anchor:
            is_again = back.get(step.entry, -1) > done.get(key, -1)
            return OPEN if step.thing in off or is_again else DONE
        return DONE if done.get(key, -1) > since else OPEN

    return tuple(map(state, steps))


def _gone_back(steps: Sequence[Step], again: Mapping[int, int]) -> dict[int | None, int]:
    """By the place of an entry, when it was last gone back to it from a later one."""
    found: dict[int | None, int] = {}
    for last in steps:
        first = None if last.refit is None else next(
            (step.entry for step in steps if step.refit is not None and step.refit.label
             and step.refit.label == last.refit.back_to), None)
        if first is not None and last.entry is not None and last.entry in again:
            for step in steps:
                if step.entry is not None and first <= step.entry <= last.entry:
                    found[step.entry] = max(found.get(step.entry, -1), again[last.entry])
    return found


def rounds_gone(teardown: Teardown, step: Step) -> int:
    """How often it was gone back from a step in the present pass."""
    return sum(entry.finding == AGAIN and entry.step == step.entry for entry in this_pass(teardown))


def _matters(teardown: Teardown, plan: PuttingBack, states: Sequence[str], ledger: Ledger) -> list[Matter]:
    found = [Matter(code=SKIPPED, things=(step.thing,) if step.thing else (),
                    what="" if step.do in PUT_BACK else step.do)
             for step, state in zip(plan.steps, states) if state == LEFT_OUT]
    found += [Matter(code=PROTECTED, what=finding.others[0], things=tuple(finding.others[1:2]))
              for finding in left_on(teardown)]
    if ledger.uncertain:
        found.append(Matter(code=UNKNOWN, things=ledger.uncertain))
    if OPEN not in states and ledger.odd:
        found.append(Matter(code=BOLTS, things=tuple(one.joint for one in ledger.holes)))
    return found


def gaps_before(found: Progress) -> tuple[str, ...]:
    """Parts left out that the next step would close over: those that came before it in the plan."""
    current = found.current
    if current is None:
        return ()
    return tuple(step.thing for step, state in zip(found.plan.steps[:current], found.states)
                 if state == LEFT_OUT and step.do == FIT)
