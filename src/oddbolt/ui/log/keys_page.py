"""All keys on one page, those of the Log first."""

from __future__ import annotations

from html import escape

from oddbolt.catalog.tables import mark_kinds, part_kinds
from oddbolt.ui.log.keys import KEYS, TELL_KEYS
from oddbolt.words.translate import of_data, tr


def keys_html() -> str:
    """All keys, as rich text."""
    marks = ", ".join(f"{row.key} {of_data(row.name)}" for row in mark_kinds().values())
    lifts = ", ".join(f"{row.key} {of_data(row.name)}" for row in part_kinds().values())
    rows = [(tr("1 to 9"), tr("mark screws of that letter; the same again: no more")),
            *((key.keys, key.words) for key in KEYS),
            (tr("Mark"), tr("{0}; the same again: the next type").format(marks)),
            (tr("Lift, with Shift"), lifts), ("0, +, −", tr("fit, nearer, farther")),
            (tr("Ctrl and arrow"), tr("the way in which the plug in hand opens")),
            (tr("Shift and drag"), tr("draw round several marks")),
            (tr("Ctrl, Shift and drag"), tr("what the part just lifted had covered")),
            (TELL_KEYS, tr("the ways to the parts that matter; F2 right, F3 in its way, F4 not needed, F5 whose")),
            (tr("Ctrl and drag"), tr("a row of screws or clips, from the first to the last")),
            ("Ctrl+R, Ctrl+T", tr("order of undoing, of tightening: click the marks of the group in hand")),
            ("Ctrl+B, Ctrl+L", tr("marks onto the other photo of this state; limits of the act in hand")),
            (tr("Alt+1 to 8"), tr("Prepare, Log, Parts, Bolts, Sequence, Access, Verdict, Rebuild")),
            (tr("Alt+9, Alt+0, Alt+Home, Alt+End"), tr("Compare, Report, the shelf, Rehearse")),
            (tr("In Rebuild: Space, Return"), tr("the step is done, as a foot switch says it")),
            (tr("In Rebuild: N, W"), tr("not so: what happened instead; it came out wrong")),
            (tr("In Rebuild: Alt and arrow, Del"), tr("an entry of the instruction earlier or later, or gone")),
            ("Ctrl+Shift+B", tr("the whole job of replacing the part that is chosen in Access or Parts")),
            ("Ctrl+Z", tr("take back, also after a restart"))]
    lines = "".join(f"<tr><td style='padding-right:14px'><b>{escape(keys)}</b></td><td>{escape(text)}</td></tr>"
                    for keys, text in rows)
    return f"<table>{lines}</table>"
