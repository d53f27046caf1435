"""The forms in which a report is written."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from typing import Any

from msgspec import Struct

from oddbolt.paint.documents import reports as drawn
from oddbolt.reports.content.report.ground import Report
from oddbolt.reports.forms import CSV, FOLDERS, GRAPHML, HTML, JSON, PDF, PHOTOS, SVG
from oddbolt.store.files import write_folder, write_whole
from oddbolt.words.translate import N_


class Form(Struct, frozen=True, kw_only=True):
    """A form by its code: how it is called, and the suffix of its name."""

    code: str
    text: str
    suffix: str

    @property
    def is_folder(self) -> bool:
        return self.code in FOLDERS


FORMS = (Form(code=PDF, text=N_("Document on paper (PDF)…"), suffix=".pdf"),
         Form(code=HTML, text=N_("Page with pictures (HTML)…"), suffix=".html"),
         Form(code=CSV, text=N_("Tables (folder of CSV)…"), suffix="-tables"),
         Form(code=SVG, text=N_("Drawings (folder of SVG)…"), suffix="-drawings"),
         Form(code=PHOTOS, text=N_("Marked photographs (folder)…"), suffix="-photographs"),
         Form(code=GRAPHML, text=N_("Structure (GraphML)…"), suffix=".graphml"),
         Form(code=JSON, text=N_("The record itself (JSON)…"), suffix=".json"))


def written(form: Form, report: Report, pictures: drawn.ReportPictures, paper: str, path: Path) -> Iterator[float]:
    """Write it; the share that is done."""
    body: Any = b""
    for body in drawn.rendered(form.code, report, pictures, paper):
        yield body if isinstance(body, float) else 0.95
    write: Any = write_folder if form.is_folder else write_whole
    write(path, body)
    yield 1.0
