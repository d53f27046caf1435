"""Putting back: steps of the plan as entries of the log, what was left out, screws that were lost, found or thrown
away."""

from __future__ import annotations

from typing import Any

from msgspec.structs import replace

from oddbolt.model.label import Label
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import NEW_LOG_VERBS, Teardown
from oddbolt.reassembly.ledger import NO_LETTER, ledger_of
from oddbolt.reassembly.rebuilding.progress import AGAIN, rounds_gone
from oddbolt.reassembly.rebuilding.putting_back import FASTEN, Step
from oddbolt.session.verbs.plain import Done, label_of, log_entry

WITH_NEW_VERBS = 2  # version of the exchange file: a reader of version 1 would refuse them
LOST, FOUND, FAILED, DISCARDED = "lost", "found", "failed", "discarded"


def do_step(teardown: Teardown, step: Step, t: float, *, letter: str = "", **keys: Any) -> Done:
    """A step of the plan was done. `letter` is the screw that really went in, where that is another; a new one where no
    bolt of that letter lies loose."""
    if letter and letter not in teardown.fastener:
        raise Refusal(letter, "no-such-letter")
    joint = teardown.joint.get(step.thing)
    if step.do == FASTEN and joint is not None and joint.kind == "screw":
        own = letter or joint.fastener or NO_LETTER
        if joint.count is None:
            raise Refusal(step.thing, "count-first")
        loose = ledger_of(teardown).row(own).loose
        keys = {"places": step.refit.places if step.refit is not None else (), "new": not loose, **keys}
    after = _logged(teardown, step, t, fastener=letter or None, **keys)
    return Done(_label("put-back", teardown, step), after)


def leave_out(teardown: Teardown, step: Step, t: float) -> Done:
    """A step is left out; it stands in the log as not done, and in the way of closing."""
    return Done(_label("leave-out", teardown, step), _logged(teardown, step, t, outcome=FAILED))


def fail_check(teardown: Teardown, step: Step, t: float, text: str = "") -> Done:
    """A check did not come out well."""
    after = log_entry(teardown, do="incident", t=t, thing=step.thing or None, text=text or step_words(step),
                      finding="check failed")
    return Done(_label("check-failed", teardown, step), after)


def go_back(teardown: Teardown, step: Step, t: float) -> Done:
    """Not yet as it should be: back to the step that the instruction names, if that may be done again."""
    entry = step.refit
    if entry is None or not entry.back_to:
        raise Refusal("back_to", "no-label", id="")
    gone = rounds_gone(teardown, step)
    if entry.most is not None and gone >= entry.most:
        raise Refusal("most", "gone-back-enough", number=gone)
    after = log_entry(teardown, do="incident", t=t, thing=step.thing or None, step=step.entry, finding=AGAIN,
                      text=entry.until)
    return Done(Label("go-back", {"text": entry.until or entry.back_to}), after)


def step_words(step: Step) -> str:
    return step.refit.text if step.refit is not None else ""


def undo_step(teardown: Teardown, step: Step, t: float) -> Done:
    """Something that went in comes out again: it went in wrong."""
    do = "remove" if step.thing in teardown.part else "release"
    return Done(_label("take-out-again", teardown, step), log_entry(teardown, do=do, t=t, thing=step.thing,
                                                                    **({} if do == "remove" else {"way": step.way})))


def move_bolt(teardown: Teardown, letter: str, outcome: str, t: float, number: int = 1) -> Done:
    """Loose screws of a letter are lost, thrown away, or lost ones found."""
    row = ledger_of(teardown).row(letter)
    if number > (row.lost if outcome == FOUND else row.loose):
        raise Refusal(letter, "not-so-many", number=row.lost if outcome == FOUND else row.loose)
    keys = {"discard": True} if outcome == DISCARDED else {"outcome": outcome}
    after = log_entry(teardown, do="incident", t=t, fastener=letter, quantity=number, **keys)
    return Done(Label(f"bolt-{outcome}", {"letter": letter, "count": number}), after)


def _logged(teardown: Teardown, step: Step, t: float, **keys: Any) -> Teardown:
    after = log_entry(teardown, do=step.do, t=t, thing=step.thing or None, step=step.entry, way=step.way or None,
                      **{"text": step_words(step), **keys})
    if step.do in NEW_LOG_VERBS and after.version < WITH_NEW_VERBS:
        after = replace(after, version=WITH_NEW_VERBS)
    return after


def _label(code: str, teardown: Teardown, step: Step) -> Label:
    return label_of(f"{code}-thing", teardown, step.thing, do=step.do) if step.thing else Label(code, {"do": step.do})
