"""The forms in which a report is written."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from typing import Any

from msgspec import Struct

from oddbolt.model import exchange
from oddbolt.paint.documents import reports as drawn
from oddbolt.reports.as_csv import tables
from oddbolt.reports.as_graphml import to_graphml
from oddbolt.reports.content.report.ground import Report
from oddbolt.store.files import write_folder, write_whole
from oddbolt.words.translate import N_


class Form(Struct, frozen=True, kw_only=True):
    """A form by its code: how it is called, the suffix of its name, and whether it is a folder."""

    code: str
    text: str
    suffix: str
    is_folder: bool = False


FORMS = (Form(code="pdf", text=N_("Document on paper (PDF)…"), suffix=".pdf"),
         Form(code="html", text=N_("Page with pictures (HTML)…"), suffix=".html"),
         Form(code="csv", text=N_("Tables (folder of CSV)…"), suffix="-tables", is_folder=True),
         Form(code="svg", text=N_("Drawings (folder of SVG)…"), suffix="-drawings", is_folder=True),
         Form(code="photos", text=N_("Marked photographs (folder)…"), suffix="-photographs", is_folder=True),
         Form(code="graphml", text=N_("Structure (GraphML)…"), suffix=".graphml"),
         Form(code="json", text=N_("The record itself (JSON)…"), suffix=".json"))


def written(form: Form, report: Report, pictures: drawn.ReportPictures, paper: str, path: Path) -> Iterator[float]:
    """Write it; the share that is done."""
    if form.is_folder:
        found: Any = {}
        if form.code == "csv":
            found = tables(report.page)
        elif form.code == "svg":
            found = drawn.report_svg(report, pictures)
        else:
            for found in drawn.report_photos(report, pictures):
                yield found if isinstance(found, float) else 0.9
        write_folder(path, found)
    else:
        body: Any = b""
        if form.code == "graphml":
            body = to_graphml(report.teardown)
        elif form.code == "json":
            body = exchange.dumps(report.teardown).encode()
        else:
            making = drawn.report_pdf(report, pictures, paper) if form.code == "pdf" \
                else drawn.report_html(report, pictures)
            for body in making:
                yield body if isinstance(body, float) else 0.95
        yield 0.95
        write_whole(path, body)
    yield 1.0
