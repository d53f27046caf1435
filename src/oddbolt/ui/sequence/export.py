"""A sequence written to a file: a drawing of the lanes, or a table."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QWidget

from oddbolt.model.refusal import Refusal
from oddbolt.reports.as_csv import to_csv
from oddbolt.reports.content.sequence import sequence_table
from oddbolt.rules.counting import Count
from oddbolt.store.files import write_whole
from oddbolt.ui.pieces.suffix import suffixed
from oddbolt.ui.sequence.texts import Searched
from oddbolt.words.refusals import refusal_text
from oddbolt.words.translate import tr

SVG, CSV = "svg", "csv"


def ask_export(parent: QWidget, folder: Path, written: Callable[[str], bytes], say: Callable[..., None]) -> None:
    """Ask where to, and write it in the form that the name or the choice says."""
    formats = {tr("Drawing (*.svg)"): SVG, tr("Table (*.csv)"): CSV}
    name, chosen = QFileDialog.getSaveFileName(parent, tr("Export the sequence"), str(folder / "sequence.svg"),
                                               ";;".join(formats))
    if not name:
        return
    form = formats.get(chosen, SVG)
    form = {".csv": CSV, ".svg": SVG}.get(Path(name).suffix.lower(), form)  # the name decides where it says
    name = suffixed(name, f".{form}")
    try:
        write_whole(Path(name), written(form))
    except Refusal as refusal:
        say(refusal_text(refusal), alarm=True)
    else:
        say(tr("Written to {0}").format(name))


def sequence_csv(found: Searched, counted: Count | None) -> bytes:
    planner = found.planner
    return to_csv(sequence_table(planner.teardown, planner.structure, counted))
