"""A tray at the edge: first of all it is slid out, with a pin, and laid aside."""

from __future__ import annotations

from msgspec.structs import replace

from oddbolt.model.things import Teardown
from oddbolt.session.standing import lifted, released
from oddbolt.session.verbs.lifting import lift, met_part, release
from oddbolt.session.verbs.marking import Kind, new_joint
from oddbolt.session.verbs.plain import Done, change_parts, label_of

TRAY, SLIDE = "tray", "slide"


def pull_tray(teardown: Teardown, t: float, name: str = "") -> Done:
    """Slide a tray out and lift it: the one on record that is still in, else one that is met by this, with its slide.
    `made` is the tray."""
    off, opened = lifted(teardown), released(teardown)
    known = next((part.id for part in teardown.parts if part.kind == TRAY and part.id not in off), "")
    after, tray = (teardown, known) if known else met_part(teardown, TRAY, name)
    if name and known:
        after = change_parts(after, [tray], lambda p: replace(p, name=name))
    own = [joint.id for joint in after.joints if tray in joint.of]
    if not own:
        _, after, made = new_joint(after, Kind(joint=SLIDE), part=tray)
        own = [made]
    for joint in own:
        if joint not in opened:
            after = release(after, joint, t).teardown
    after = lift(after, tray, t).teardown
    return Done(label_of("lift", after, tray), after, tray)
