"""Which photograph of the record shows a rehearsed state best: nobody photographed just that one."""

from __future__ import annotations

from oddbolt.model.things import Teardown, View
from oddbolt.rehearsing.bench import Rehearsal
from oddbolt.rules.replay import readings

WRONG = 2  # what is shown wrongly weighs so much more than what is shown besides


def best_view(rehearsal: Rehearsal) -> View | None:
    """Much of what lies open now, little that is hidden yet, nothing in place that the learner has undone."""
    teardown = rehearsal.planner.teardown
    done = {operation.part or operation.joint for operation in rehearsal.done}
    undone = _undone(teardown)
    there = set(rehearsal.things)
    best, found = None, None
    for view in teardown.pictured:
        gone = undone.get(view.at_entry, frozenset())
        marked = {mark.thing for mark in view.marks} & there
        open_ = {thing for thing in marked
                 if not any(one.code == "hidden" for one in rehearsal.state.obstacles_of(thing))}
        score = len(open_) - len(gone - done) - WRONG * (len(marked - open_) + len(done - gone))
        if best is None or score > best:
            best, found = score, view
    return found


def _undone(teardown: Teardown) -> dict[str | None, frozenset[str]]:
    """By entry what was released or off after it."""
    so_far: frozenset[str] = frozenset()
    found: dict[str | None, frozenset[str]] = {None: so_far}
    for entry in readings(teardown):
        if entry.do in ("release", "remove") and entry.thing:
            so_far |= {entry.thing}
        found[entry.id] = so_far
    return found
