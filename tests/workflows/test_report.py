"""The report as others get it, judged by other programs: HTML by html5lib (strict) and HTML Tidy, and in headless
Chromium; PDF by pypdfium2 and pypdf; CSV by the csv module and pandas; GraphML by networkx; SVG by the XML parser."""

from __future__ import annotations

import csv
import io
import json
import re
import shutil
import subprocess
import xml.etree.ElementTree as xml
from html.parser import HTMLParser

import html5lib
import networkx
import pandas
import pypdf
import pypdfium2
import pytest
from PIL import Image
from PySide6.QtGui import QImage

from oddbolt.cli import commands as cli
from oddbolt.effort.times import KnownTimes
from oddbolt.model import exchange
from oddbolt.model.giving_away import TELLS
from oddbolt.paint.documents.drawings import as_svg, drawn
from oddbolt.paint.documents.reports import ReportPictures
from oddbolt.paint.pages import PAGES_MM
from oddbolt.reports.as_graphml import NAMESPACE, to_graphml
from oddbolt.reports.content.report.compose import SECTIONS, compose, compose_short, finished
from oddbolt.reports.content.tree import ESTIMATED, GUESSED, Chapter, Drawing, Figure, Grid
from oddbolt.search.planner import Planner
from oddbolt.store.files import write_folder
from tests.builders import device, joint, part

HOSTILE = "</p><script>alert(1)</script> & \"x\" 'y' \u05e9\u05dc\u05d5\u05dd \u0007=1+1"


@pytest.fixture
def demo(root):
    return root / "src" / "oddbolt" / "demo" / "dunlin-2.json"


@pytest.fixture(scope="module")
def pages(tmp_path_factory, app):
    """The whole report of the demo beside its successor, in every form."""
    from tests.conftest import ROOT

    folder = tmp_path_factory.mktemp("report")
    demo, other = (ROOT / "src" / "oddbolt" / "demo" / f"{name}.json" for name in ("dunlin-2", "dunlin-3"))
    for form in ("html", "pdf", "csv", "svg", "graphml", "photos"):
        assert cli.run(["report", str(demo), "--beside", str(other), "--to", form, "-o", str(folder / form)]) == 0
    return folder


def report_of(record, *sections, others=()):
    return finished(compose(Planner(record, KnownTimes(record)), sections or SECTIONS, others))


def hostile_record():
    data = device(
        [part("lid", name=HOSTILE, kind="cover", role=["back_cover"], facts=[{"name": "note", "value": HOSTILE}]),
         part("pack", name="=HYPERLINK(1)", role=["battery"], behind=[["lid"]], hazards=["lithium"])],
        [joint("screws", "lid", "base", kind="screw", tool="ph00", fastener="A", count=4, name=HOSTILE),
         joint("plug", "pack", "base", kind="connector", isolates=True, name="Plug")],
        fasteners=[{"id": "A", "drive": "PH", "size": "00", "colour": HOSTILE}],
        device={"name": HOSTILE, "notes": "w" * 3000},
        log=[{"id": "e1", "do": "note", "text": HOSTILE}, {"id": "e2", "do": "release", "thing": "screws"}],
        sessions=[{"by": "Ann Alyst", "place": "Secret shed", "started": "2026-01-02T03:04:05+00:00"}],
        opinions=[{"by": "Ann Alyst", "mark": 5, "of": 10, "reasons": HOSTILE}],
        told=[{"id": "t1", "part": "pack", "by": "Ann Alyst", "source": HOSTILE, "things": ["pack"]}])
    return exchange.from_json(data)


# -- HTML

class Reader(HTMLParser):
    """Ids, links, pictures with their texts, and text."""

    def __init__(self, text):
        super().__init__()
        self.ids, self.links, self.pictures, self.scripts = set(), [], [], 0
        self.feed(text)

    def handle_starttag(self, tag, attrs):
        attrs = dict(attrs)
        self.ids |= {attrs["id"]} if "id" in attrs else set()
        self.links += [attrs["href"]] if tag == "a" else []
        self.pictures += [(attrs["src"], attrs.get("alt"))] if tag == "img" else []
        self.scripts += tag == "script"


def is_valid(text):
    html5lib.HTMLParser(strict=True).parse(text)
    if shutil.which("tidy"):
        run = subprocess.run(["tidy", "-q", "-e", "-utf8"], input=text, text=True, capture_output=True)
        assert run.returncode == 0, run.stderr
    return True


def test_the_page_is_valid_and_needs_nothing_beside_it(pages):
    text = (pages / "html").read_text()
    assert is_valid(text)
    found = Reader(text)
    assert not found.scripts and "http://" not in text.split("<body>")[0] and "@import" not in text
    assert all(source.startswith("data:image/") for source, _ in found.pictures) and len(found.pictures) > 30
    assert all(link.startswith("#") and link[1:] in found.ids for link in found.links) and len(found.links) == 17
    assert all(alt is not None for _, alt in found.pictures)


def test_hostile_names_leave_the_page_valid_and_the_drawings_well_formed(app):
    report = report_of(hostile_record())
    from oddbolt.reports.as_html import document

    drawings = {name: as_svg(one, HOSTILE) for name, one in drawn(report, lambda name: None).items()}
    text = document(report.page, {}, drawings)
    assert is_valid(text) and not Reader(text).scripts and "alert(1)" in text
    assert {"net", "lanes", "section"} <= set(drawings)
    for body in drawings.values():
        assert xml.fromstring(body).tag.endswith("svg") and b"<script" not in body


def test_estimated_and_guessed_figures_look_otherwise_than_told_ones(pages):
    text = (pages / "html").read_text()
    assert re.search(r"<td class='estimated number'>≈ ", text) and "<td class='guessed number'>◌ " in text
    css = text.split("<style>")[1].split("</style>")[0]
    assert "td.estimated { font-style: italic" in css and "td.guessed { font-style: italic" in css


@pytest.mark.parametrize("width", [1280, 390])
def test_in_a_browser_nothing_is_wider_than_the_window(pages, tmp_path, width):
    """At desktop and phone width; what is wide scrolls within itself."""
    chromium = shutil.which("chromium")
    if chromium is None:
        pytest.skip("no chromium here: setup/systems.tsv lists it for Debian 12 only")
    page = (pages / "html").read_text()
    asks = ("<script>document.title = document.documentElement.scrollWidth + ' ' + innerWidth + ' ' + "
            "[...document.images].filter(i => !i.naturalWidth).length;</script></body>")
    source = tmp_path / "page.html"
    # A window narrower than 500 px is not given by every build: a frame of that width is.
    (tmp_path / "inner.html").write_text(page.replace("</body>", asks))
    source.write_text(f"<!DOCTYPE html><title>x</title><iframe src='inner.html' width={width} height=800 "
                      "onload=\"document.title = frames[0].document.title\"></iframe>")
    run = subprocess.run(
        [chromium, "--headless", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run",
         "--disable-background-networking", "--disable-component-update", "--disable-sync",
         "--allow-file-access-from-files",
         f"--user-data-dir={tmp_path / 'profile'}", f"--window-size={width + 60},900", "--virtual-time-budget=8000",
         "--dump-dom", source.as_uri()], capture_output=True, text=True, timeout=120)
    told = re.search(r"<title>(\d+) (\d+) (\d+)</title>", run.stdout)
    assert told, run.stderr[-2000:]
    scroll, inner, broken = map(int, told.groups())
    assert inner <= width and scroll <= inner + 1 and broken == 0


# -- PDF

def test_the_pdf_has_bookmarks_page_numbers_and_nothing_beyond_the_margins(pages):
    pdf = pypdfium2.PdfDocument(pages / "pdf")
    width, height = (mm / 25.4 * 72 for mm in PAGES_MM["A4"])
    assert 40 <= len(pdf) <= 90
    plain = []
    for number, page in enumerate(pdf, start=1):
        assert page.get_size() == pytest.approx((width, height), abs=1)
        words = page.get_textpage()
        text = words.get_text_range()
        plain.append(text)
        assert f"{number} of {len(pdf)}" in text
        for n in range(words.count_rects()):
            left, bottom, right, top = words.get_rect(n)
            assert left >= 30 and bottom >= 20 and right <= width - 30 and top <= height - 30, (number, text[:80])
    outline = [(item.title, pypdf.PdfReader(pages / "pdf").get_destination_page_number(item))
               for item in pypdf.PdfReader(pages / "pdf").outline]
    assert [title for title, _ in outline][:3] == ["Device", "Method and convention", "Layer by layer"]
    assert len(outline) == 17 and all(title in plain[number] for title, number in outline)
    contents = re.sub(r"\s+", " ", plain[0])
    assert all(f"{title} {number + 1}" in contents for title, number in outline)


def test_drawings_are_lines_and_texts_and_heads_of_tables_come_again(pages):
    pdf = pypdfium2.PdfDocument(pages / "pdf")
    texts = [page.get_textpage().get_text_range() for page in pdf]
    section = next(n for n, text in enumerate(texts) if text.startswith("Section"))
    kinds = {thing.type for thing in pdf[section].get_objects()}
    assert pypdfium2.raw.FPDF_PAGEOBJ_PATH in kinds and "Cover seam" in texts[section]
    assert sum("Joint Kind Letter" in re.sub(r"\s+", " ", text) for text in texts) >= 2  # goes over two sheets


@pytest.mark.parametrize("paper", ["A4", "Letter"])
def test_the_short_form_is_one_page(app, demo, tmp_path, paper):
    path = tmp_path / "short.pdf"
    assert cli.run(["report", str(demo), "--sections", "short", "--to", "pdf", "--paper", paper, "-o", str(path)]) == 0
    pdf = pypdfium2.PdfDocument(path)
    text = pdf[0].get_textpage().get_text_range()
    assert len(pdf) == 1 and pdf[0].get_size() == pytest.approx([mm / 25.4 * 72 for mm in PAGES_MM[paper]], abs=1)
    assert "Deepest: Button cable, 8 steps" in re.sub(r"\s+", " ", text) and "37 out" in text and "class" in text


# -- tables, structure, drawings, photographs

def test_tables_read_back_with_what_the_record_says(pages, demo):
    record = exchange.loads(demo.read_bytes())
    parts = list(csv.DictReader((pages / "csv" / "parts.csv").read_text("utf-8").splitlines()))
    present = [one for one in record.parts if record.is_present(one)]
    assert [row["part"] for row in parts] == [one.id for one in present]
    assert {row["part"]: float(row["mass_g"]) for row in parts if row["mass_g"]} == {
        one.id: one.mass_g for one in present if one.mass_g is not None}
    sequence = pandas.read_csv(pages / "csv" / "sequence.csv")
    plan = Planner(record, KnownTimes(record))
    best = plan.plan([id_ for id_ in plan.structure.removals if id_ not in plan.never_free])
    assert list(sequence["step"]) == [timed.step for timed in best.count.timed]
    assert sequence["active_s"].sum() == pytest.approx(sum(t.kind.active_ms for t in best.count.timed) / 1000)
    depths = pandas.read_csv(pages / "csv" / "depths.csv").set_index("part")
    assert depths.loc["battery", "steps"] == plan.plan(["battery"]).count.steps
    assert len(pandas.read_csv(pages / "csv" / "log.csv")) == len(record.log)


def test_what_a_spreadsheet_would_compute_is_text(app, tmp_path):
    from oddbolt.reports.as_csv import tables

    found = tables(report_of(hostile_record(), "parts", "opinions", "log").page)
    for body in found.values():
        for row in csv.reader(io.StringIO(body.decode())):
            assert not any(cell.startswith(("=", "+", "@")) for cell in row)


def test_the_structure_opens_in_a_graph_library_with_the_same_counts(pages, demo):
    record = exchange.loads(demo.read_bytes())
    graph = networkx.read_graphml(pages / "graphml")
    parts = [one for one in record.parts if record.is_present(one)]
    joints = [one for one in record.joints if record.is_present(one)]
    there = {one.id for one in (*parts, *joints)}
    kinds = networkx.get_node_attributes(graph, "what")
    assert sum(kind == "part" for kind in kinds.values()) == len(parts)
    assert sum(kind == "joint" for kind in kinds.values()) == len(joints)
    relations = [data["relation"] for *_, data in graph.edges(data=True)]
    assert relations.count("ties") == sum(len(set(one.of) & there) for one in joints)
    assert relations.count("on") == len(parts) - 1
    assert relations.count("behind") == sum(name in there for one in (*parts, *joints) for row in one.behind
                                            for name in row)
    assert networkx.is_directed_acyclic_graph(networkx.DiGraph(
        [(a, b) for a, b, data in graph.edges(data=True) if data["relation"] == "on"]))


def test_graphml_bears_any_name():
    body = to_graphml(hostile_record())
    names = networkx.get_node_attributes(networkx.read_graphml(io.BytesIO(body)), "name")
    assert "alert(1)" in names["lid"] and xml.fromstring(body).tag == f"{{{NAMESPACE}}}graphml"


def test_photographs_bear_their_marks_and_drawings_are_there(pages, demo):
    record = exchange.loads(demo.read_bytes())
    photos = sorted((pages / "photos").iterdir())
    states = [view for view in record.views if view.portrait is None]
    assert len(photos) == len(states) + 1  # and the cover's
    view = record.view["s1-back"]
    with Image.open(next(path for path in photos if "s1-back" in path.name)) as marked, \
            Image.open(demo.with_suffix(".photos") / view.photo) as plain:
        ratio = marked.width / plain.width
        mark = next(mark for mark in view.marks if mark.thing == "speaker-left-screws")
        x, y = mark.x * ratio, mark.y * ratio
        box = [round(one) for one in (x - 14, y - 14, x + 14, y + 14)]
        white = sum(min(pixel) > 235 for pixel in marked.crop(box).get_flattened_data())
        before = sum(min(pixel) > 235 for pixel in plain.resize(marked.size).crop(box).get_flattened_data())
        assert white > before + 20
    for path in (pages / "svg").iterdir():
        assert xml.parse(path).getroot().tag.endswith("svg")
    assert {"section.svg", "lanes.svg", "net.svg", "chart.svg", "mat-1.svg"} <= {
        path.name for path in (pages / "svg").iterdir()}


# -- what is in it

def test_every_section_is_there_once_and_only_those_that_were_asked_for(demo):
    record = exchange.loads(demo.read_bytes())
    whole = report_of(record)
    chapters = [block.code for block in whole.page.blocks if isinstance(block, Chapter)]
    assert chapters == [name for name in SECTIONS if name not in ("cover", "comparison")]
    few = report_of(record, "log", "device")
    assert [block.code for block in few.page.blocks if isinstance(block, Chapter)] == ["device", "log"]
    assert not few.pictures and not few.drawings
    shown = {block.number for block in whole.page.blocks if isinstance(block, Figure)}
    assert shown == {one.number for one in whole.pictures}
    assert {block.name for block in whole.page.blocks if isinstance(block, Drawing)} == set(whole.drawings)


def test_a_report_of_an_empty_record_says_what_is_missing():
    record = exchange.from_json(device([], []))
    report = report_of(record)
    text = " ".join(getattr(block, "text", "") for block in report.page.blocks)
    for told in ("No photograph of a state is on record.", "No connector is on record.", "No part has a role.",
                 "The log is empty.", "Nobody has given a mark.", "Nothing is off"):
        assert told in text, told
    assert finished(compose_short(Planner(record, KnownTimes(record)))).page.blocks


def test_basis_shows_in_the_figures(demo):
    record = exchange.loads(demo.read_bytes())
    grids = {block.name: block for block in report_of(record).page.blocks if isinstance(block, Grid)}
    depths = {row[0].value: row for row in grids["depths"].rows}
    assert depths["button-cable"][1].known == GUESSED and depths["battery"][1].known == ""
    assert depths["battery"][2].known == ESTIMATED
    behind = {row[0].value: row[5] for row in grids["joints"].rows}
    assert behind["radio-clips"].known == GUESSED and behind["battery-plug"].known == ""


@pytest.mark.parametrize("form", ["html", "csv", "json"])
def test_what_is_asked_to_be_left_out_is_nowhere(app, tmp_path, form):
    record = hostile_record()
    data = exchange.to_json(record)
    data["device"]["serial"] = "SN-4711"
    data["confirmed"] = [{"id": "w1", "part": "lid", "by": "Ann Alyst", "operations": ["screws", "lid"],
                          "answer": "works"}]
    source = tmp_path / "own.json"
    source.write_text(json.dumps(data))

    def told(*options):
        target = tmp_path / f"out-{len(options)}"
        assert cli.run(["report", str(source), "--to", form, "-o", str(target), *options]) == 0
        files = target.iterdir() if target.is_dir() else [target]
        return "".join(path.read_text() for path in files)

    options = [word for tell in TELLS for word in ("--leave-out", tell)]
    words = "Ann Alyst", "SN-4711", "Secret shed"
    whole, bare = told(), told(*options)
    assert all(word in whole for word in words) and not any(word in bare for word in words)


def test_nothing_that_is_there_is_replaced(app, demo, tmp_path, capsys):
    target = tmp_path / "folder"
    target.mkdir()
    (target / "mine").touch()
    assert cli.run(["report", str(demo), "--sections", "device", "--to", "csv", "-o", str(target)]) == 2
    assert [path.name for path in target.iterdir()] == ["mine"]
    assert "there is something already" in capsys.readouterr().err
    assert cli.run(["report", str(demo), "--sections", "nonsense", "-o", str(tmp_path / "x")]) == 2
    assert "no section of a report" in capsys.readouterr().err
    assert sorted(path.name for path in tmp_path.iterdir()) == ["folder"]


def test_files_of_a_folder_stay_in_it(tmp_path):
    write_folder(tmp_path / "out", {"../../evil.csv": b"1", "a/b.csv": b"2", "a_b.csv": b"3", "": b"4"})
    assert {path.name: path.read_bytes() for path in (tmp_path / "out").iterdir()} == {
        "_evil.csv": b"1", "a_b.csv": b"2", "a_b-2.csv": b"3", "_": b"4"}
    assert [path.name for path in tmp_path.iterdir()] == ["out"]


def test_a_photograph_that_cannot_be_read_leaves_its_place_empty(app, demo):
    record = exchange.loads(demo.read_bytes())
    report = report_of(record, "layers")
    pictures = ReportPictures(report, lambda name: b"no picture")
    assert all(pictures.size(one.number) is None and pictures.jpeg(one.number) == b"" for one in report.pictures)
    good = ReportPictures(report, lambda name: (demo.with_suffix(".photos") / name).read_bytes())
    image = QImage.fromData(good.jpeg(1))
    assert (image.width(), image.height()) == good.size(1)
