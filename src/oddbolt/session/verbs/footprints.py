"""What a part had covered, drawn on a photograph: the best evidence there is about what it hid, at one drag."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec.structs import replace

from oddbolt.knowledge.owners import within_drawn
from oddbolt.knowledge.settling import settle
from oddbolt.model.places import Spot
from oddbolt.model.things import Footprint, Teardown
from oddbolt.session.verbs.lifting import without_untied
from oddbolt.session.verbs.plain import Done, change_joint, change_view, label_of, view_of

DRAWN = "told"  # basis of what a person draws, or says


def set_footprint(teardown: Teardown, view_id: str, part: str, outline: Sequence[Spot],
                  together: Sequence[str] = (), basis: str = DRAWN) -> Done:
    """What the part had covered, on a photograph, alone or together with others; an empty outline says that it hid
    nothing. `basis` is "seen" where two photographs say so, whose edge is finer than what a person draws. Drawn again
    it is replaced, on whatever photograph it was; what it had covered with others is then known of nobody any more."""
    view_of(teardown, view_id)
    whose = {part, *together}
    kept = replace(teardown, views=tuple(
        replace(v, footprints=tuple(f for f in v.footprints if whose.isdisjoint(f.whose)))
        if any(not whose.isdisjoint(f.whose) for f in v.footprints) else v for v in teardown.views))
    made = Footprint(of=part, with_=tuple(together), outline=tuple((round(x, 1), round(y, 1)) for x, y in outline),
                     basis=basis)
    after = change_view(kept, view_id, lambda v: replace(v, footprints=(*v.footprints, made)))
    after = settle(after if together else _owned(after, part))
    return Done(label_of("footprint" if outline else "covered-nothing", teardown, part), after)


def _owned(teardown: Teardown, part: str) -> Teardown:
    """What lies within what was drawn, and went to another part for want of knowing better, is the part's."""
    after = teardown
    for id_ in within_drawn(teardown, part):
        left = after.joint[id_].of[0]
        of = tuple(dict.fromkeys((part, *after.joint[id_].of[1:])))
        if len(of) > 1:
            after = without_untied(change_joint(after, id_, lambda j, of=of: replace(j, of=of)), left)
    return after
