"""Which photograph shows a thing as it was before it came off, and its marks there in the order of putting back."""

from __future__ import annotations

from msgspec import Struct

from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Mark, Teardown, View
from oddbolt.reassembly.rebuilding.putting_back import Step
from oddbolt.reassembly.tightening import TighteningPlan, tightening_plan


class Picture(Struct, frozen=True, kw_only=True):
    """A view with the marks of a step; those of screws in the order of their last round, `keep_off` what must not be
    touched."""

    view: View
    marks: tuple[Mark, ...]
    keep_off: tuple[Mark, ...] = ()


def picture_of(teardown: Teardown, step: Step) -> Picture | None:
    """The last photograph that shows the thing before it came off; else the one that shows most of it."""
    thing = step.thing
    if thing not in teardown.part and thing not in teardown.joint:
        return None
    shown = thing
    near = (thing, *teardown.joint[thing].of) if thing in teardown.joint else (
        thing, *(joint.id for joint in teardown.joints if thing in joint.of))  # what it is tied to shows where it is
    view = None
    for shown in near:
        view = _view_of(teardown, shown)
        if view is not None:
            break
    if view is None:
        return None
    marks = [mark for mark in view.marks if mark.thing == shown]
    plan = rounds_of(teardown, step)
    if plan is not None:
        own = {mark.n: mark for mark in marks}
        order = [n for n in plan.rounds[-1].order if n in own]
        marks = [own[n] for n in order] if len(order) == len(marks) else marks
    off = {one.thing for one in step.refit.keep_off} if step.refit is not None else set()
    return Picture(view=view, marks=tuple(marks), keep_off=tuple(mark for mark in view.marks if mark.thing in off))


def rounds_of(teardown: Teardown, step: Step) -> TighteningPlan | None:
    """How the screws of a step are tightened; None for anything else, and where no photograph shows them."""
    joint = teardown.joint.get(step.thing)
    if joint is None or joint.kind != "screw":
        return None
    try:
        return tightening_plan(teardown, joint.id)
    except Refusal:
        return None


def _view_of(teardown: Teardown, thing: str) -> View | None:
    places = {entry.id: n for n, entry in enumerate(teardown.log)}
    came_off = next((n for n, entry in enumerate(teardown.log) if entry.do in ("release", "remove")
                     and thing in (entry.thing, *entry.things)), len(teardown.log))
    shown = [view for view in teardown.views if any(mark.thing == thing for mark in view.marks)]
    before = [view for view in shown if places.get(view.at_entry or "", -1) < came_off]
    if before:
        return max(before, key=lambda view: places.get(view.at_entry or "", -1))
    return max(shown, key=lambda view: sum(mark.thing == thing for mark in view.marks), default=None)
