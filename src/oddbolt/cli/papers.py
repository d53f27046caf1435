"""Commands that write documents: procedures and reports. What they draw with is loaded when it is needed."""

from __future__ import annotations

import argparse
import json
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Any

from oddbolt.cli.reading import read
from oddbolt.effort.times import KnownTimes
from oddbolt.model import exchange
from oddbolt.model.giving_away import TELLS, without_tales_of
from oddbolt.model.refusal import Refusal
from oddbolt.reassembly.rebuilding.jobs import Job, replacing, whole_job
from oddbolt.reports import as_json as answers
from oddbolt.reports.forms import CSV, FOLDERS, FORMS, GRAPHML, HTML, JSON
from oddbolt.search.planner import Planner
from oddbolt.store.files import write_folder, write_whole
from oddbolt.store.photographs import Photo, photographs
from oddbolt.words.translate import tr

if TYPE_CHECKING:
    from oddbolt.paint.documents.reports import ReportPictures
    from oddbolt.reports.content.report.ground import Report

ANSWERED = 0
PAPERS = ("A4", "Letter")


def add_procedure(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--part", metavar="ID", help=tr("the part that is replaced; without it all goes back"))
    parser.add_argument("--to", choices=("html", "pdf", "json"), default="html")
    parser.add_argument("--paper", choices=PAPERS, default="A4")
    parser.add_argument("-o", "--output", metavar="PATH", type=Path, required=True)


def add_report(parser: argparse.ArgumentParser) -> None:
    from oddbolt.reports.content.report.compose import SECTIONS, SHORT

    parser.add_argument("--sections", metavar="NAME", nargs="+", default=[],
                        help=tr("of {0}; or {1}, a single page. Without it, all").format(", ".join(SECTIONS), SHORT))
    parser.add_argument("--to", choices=FORMS, default=HTML,
                        help=tr("csv, svg and photos write a folder"))
    parser.add_argument("--beside", metavar="FILE", type=Path, action="append", default=[],
                        help=tr("another record that it is compared with; may be repeated"))
    parser.add_argument("--paper", choices=PAPERS, default="A4")
    parser.add_argument("--leave-out", choices=TELLS, action="append", default=[],
                        help=tr("of what a document tells beside the work; may be repeated"))
    parser.add_argument("-o", "--output", metavar="PATH", type=Path, required=True)


def procedure(options: argparse.Namespace) -> int:
    if options.output.exists():
        raise Refusal(str(options.output), "file-exists")
    teardown = read(options.file)
    planner = Planner(teardown, KnownTimes(teardown))
    job = _job(planner, options.part)
    if options.to == JSON:
        body = json.dumps(answers.procedure_json(planner, job), ensure_ascii=False, indent=1).encode()
    else:
        body = _drawn_procedure(options, planner, job)
    write_whole(options.output, body)
    return ANSWERED


def _job(planner: Planner, part: str | None) -> Job:
    if part is None:
        return whole_job(planner)
    if part not in planner.structure.stand_in:
        raise Refusal(part, "no-such-part", id=part)
    found = replacing(planner, part)
    if found is None:
        raise Refusal(part, "cannot-come-off", id=part)
    return found.many


def _drawn_procedure(options: argparse.Namespace, planner: Planner, job: Job) -> bytes:
    """The page with its pictures."""
    from oddbolt.paint.fonts import draw_without_window

    app = draw_without_window()
    from oddbolt.paint.documents.procedure import procedure_html, procedure_pdf
    from oddbolt.reports.content.procedure import footer_text, procedure_page

    made = procedure_page(planner, job)
    with photographs(options.file) as photo:
        if options.to == HTML:
            body = procedure_html(made, photo).encode()
        else:
            body = procedure_pdf(made, photo, options.paper, partial(footer_text, planner.teardown))
    del app
    return body


def report(options: argparse.Namespace) -> int:
    """Everything, or the sections named, in one of the forms."""
    if options.output.exists() and options.to not in FOLDERS:
        raise Refusal(str(options.output), "file-exists")
    from oddbolt.reports.content.report.compose import SECTIONS, SHORT, compose, compose_short, finished

    whole = read(options.file)
    teardown = without_tales_of(whole, options.leave_out)
    others = [without_tales_of(read(path), options.leave_out) for path in options.beside]
    planner = Planner(teardown, KnownTimes(teardown))
    if options.to == GRAPHML:
        from oddbolt.reports.as_graphml import to_graphml

        write_whole(options.output, to_graphml(teardown))
        return ANSWERED
    if options.to == JSON:
        write_whole(options.output, exchange.dumps(teardown).encode())
        return ANSWERED
    making = compose_short(planner) if options.sections == [SHORT] else compose(
        planner, options.sections or SECTIONS, others)
    made = finished(making)
    with photographs(options.file) as photo:
        _write_report(options, made, photo)
    return ANSWERED


def _write_report(options: argparse.Namespace, made: Report, photo: Photo) -> None:
    if options.to == CSV:
        from oddbolt.reports.as_csv import tables

        write_folder(options.output, tables(made.page))
        return
    from oddbolt.paint.fonts import draw_without_window

    app = draw_without_window()
    from oddbolt.paint.documents import reports as drawn

    pictures: ReportPictures = drawn.ReportPictures(made, photo)
    *_, body = drawn.rendered(options.to, made, pictures, options.paper)
    write: Any = write_folder if options.to in FOLDERS else write_whole
    write(options.output, body)
    del app
