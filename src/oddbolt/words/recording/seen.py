"""What two photographs say was done, in words."""

from __future__ import annotations

from oddbolt.catalog.tables import mark_kinds, part_kinds
from oddbolt.knowledge.said.seen import HEADS, HELD, MOVED, NEW_OFF, OFF, OPENED, OUT, SMALL, UNCOVERED, Seen
from oddbolt.model.things import Teardown
from oddbolt.words.names import names_of, part_kind_name
from oddbolt.words.translate import N_, from_table, of_data, tr

LINES = {
    OUT: N_("{thing}: out"), "some-out": N_("{thing}: {number} of {all} out"), "unsure-out": N_("{thing}: out?"),
    OPENED: N_("{thing}: opened"), OFF: N_("{thing} came off"),
    NEW_OFF: N_("{kind} came off"), "unnamed-off": N_("Something came off: its kind?"),
    HEADS: N_("{number} × {kind}: out"), "unnamed-heads": N_("{number} heads went: their letter?"),
    SMALL: N_("{kind}: undone"), "unnamed-small": N_("Changed here: its kind?"),
    UNCOVERED: N_("what {thing} had covered"), MOVED: N_("lies elsewhere now"),
    HELD: N_("{thing} held by: {kind} (not seen)"),
}


def seen_text(teardown: Teardown, one: Seen) -> str:
    """One line; where something has to be said first, it asks for it."""
    code, figures = one.code, {"thing": names_of(teardown, (one.thing, *one.others)) if one.thing else "",
                               "number": len(one.spots), "all": 0, "kind": ""}
    if code == OUT:
        joint = teardown.joint.get(one.thing)
        figures["all"] = joint.count or len(one.spots) if joint is not None else len(one.spots)
        code = "some-out" if one.places else OUT if one.is_sure else "unsure-out"
    elif one.wants_kind:
        code = {NEW_OFF: "unnamed-off", HEADS: "unnamed-heads", SMALL: "unnamed-small"}[code]
    elif code in (NEW_OFF, SMALL, HELD):
        figures["thing"] = figures["thing"] or part_kind_name(one.of_kind)
        row = part_kinds().get(one.kind) if code == NEW_OFF else mark_kinds().get(one.kind)
        figures["kind"] = of_data(row.name) if row is not None else one.kind
    elif code == HEADS:
        figures["kind"] = one.kind
    return from_table(LINES, code, **figures)


def seen_advice(one: Seen) -> str:
    """Which key says what it is."""
    if one.code == HEADS:
        return tr("1 to 9: the letter; Del: nothing went")
    if one.code == HELD:
        return tr("A letter: the kind of joint; Del: nothing held it")
    return tr("Shift and a letter: a part; a letter: a joint; Del: nothing went")
