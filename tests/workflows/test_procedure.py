"""A procedure as another person gets it: by the command line, as HTML, PDF and JSON; the PDF is read back by another
library (pypdfium2)."""

from __future__ import annotations

import io
import json
import re

import pypdfium2
import pytest
from PIL import Image

from oddbolt.catalog.torque import newton_metres
from oddbolt.cli import commands as cli
from oddbolt.model import exchange
from oddbolt.model.refusal import Refusal
from oddbolt.paint.documents.sheets import PICTURE_MM
from oddbolt.paint.pages import PAGES_MM
from oddbolt.reassembly.bolts import torques
from oddbolt.reassembly.rebuilding.doses import LESS, MORE, SAME, UNLIKE, reconcile
from oddbolt.reassembly.rebuilding.progress import LEFT_OUT, OPEN, progress
from oddbolt.reassembly.rebuilding.putting_back import instruction_for, off_by_log, put_back
from oddbolt.session.verbs.correcting.delete import delete_things
from oddbolt.session.verbs.rebuilding import steps
from tests.builders import device, joint, part


@pytest.fixture
def demo(root):
    return root / "src" / "oddbolt" / "demo" / "dunlin-2.json"


def written(app, demo, path, *options):
    assert cli.run(["procedure", str(demo), "-o", str(path), *options]) == 0
    return path


@pytest.mark.parametrize("paper", ["A4", "Letter"])
def test_the_pdf_has_every_figure_sharp_pictures_and_nothing_clipped(app, demo, tmp_path, paper):
    written(app, demo, tmp_path / "p.pdf", "--to", "pdf", "--paper", paper)
    pdf = pypdfium2.PdfDocument(tmp_path / "p.pdf")
    width, height = (mm / 25.4 * 72 for mm in PAGES_MM[paper])
    text, pictures = "", 0
    for number, page in enumerate(pdf, start=1):
        assert page.get_size() == pytest.approx((width, height), abs=1)
        words = page.get_textpage()
        text += words.get_text_range() + "\n"
        assert f"{number} of {len(pdf)}" in words.get_text_range()
        for n in range(words.count_rects()):
            left, bottom, right, top = words.get_rect(n)
            assert left >= 40 and bottom >= 20 and right <= width - 40 and top <= height - 30
        for thing in page.get_objects(filter=[pypdfium2.raw.FPDF_PAGEOBJ_IMAGE]):
            left, bottom, right, top = thing.get_bounds()
            assert left >= 0 and bottom >= 0 and right <= width and top <= height
            pixels = thing.get_px_size()
            assert pixels[0] / ((right - left) / 72) >= 200 and (right - left) / 72 * 25.4 == pytest.approx(
                PICTURE_MM[0], abs=1)
            pictures += 1
    plain = re.sub(r"\s+", " ", text)
    for figure in ("12 N·cm", "7 N·cm", "12 N·m", "3 × 6 to 10 s", "2 strips cell tabs", "keep 8 mm off Battery plug",
                   "5 adhesive", "3 film", "85."):
        assert figure in plain, figure
    assert pictures > 10 and "Cautions" in plain and "Starts, charges, both radios find the base station" in plain


def test_html_and_json_say_the_same(app, demo, tmp_path):
    html = written(app, demo, tmp_path / "p.html", "--part", "battery").read_text()
    data = json.loads(written(app, demo, tmp_path / "p.json", "--part", "battery", "--to", "json").read_text())
    assert data["format"] == "oddbolt-procedure" and data["part"] == "battery" and data["is_feasible"]
    assert [step["torque_ncm"] for step in data["steps"] if step["torque_ncm"]] == [7]
    assert data["closes_live"] == [] and data["time_interval_s"][0] < data["time_s"] < data["time_interval_s"][1]
    assert html.count("class='tick") >= len(data["steps"]) and "data:image/jpeg;base64," in html
    assert "7 N·cm" in html and "<script" not in html
    picture = re.search(r"base64,([^']+)'", html).group(1)
    import base64

    assert Image.open(io.BytesIO(base64.b64decode(picture))).size[0] > 900


def test_names_and_texts_may_hold_anything(app, tmp_path):
    """Tags, two directions of writing, a text of 20,000 characters, a word that no line holds."""
    data = swap() | {"log": [{"id": "e1", "do": "release", "thing": "screws"},
                             {"id": "e2", "do": "remove", "thing": "lid"}]}
    data["parts"][1]["name"] = "<script>alert(1)</script> \u05e9\u05dc\u05d5\u05dd & \"lid\""
    data["refit"] = [{"do": "fit", "thing": "lid", "align": "w" * 400},
                     {"do": "check", "text": "word " * 3900 + "the end", "blocks": True}]
    source = tmp_path / "hostile.json"
    source.write_text(json.dumps(data))
    html = written(app, source, tmp_path / "p.html").read_text()
    assert "<script" not in html and "&lt;script&gt;alert(1)" in html
    pdf = pypdfium2.PdfDocument(written(app, source, tmp_path / "p.pdf", "--to", "pdf"))
    width, height = pdf[0].get_size()
    text = ""
    for page in pdf:
        words = page.get_textpage()
        text += words.get_text_range()
        for n in range(words.count_rects()):
            left, bottom, right, top = words.get_rect(n)
            assert left >= 30 and bottom >= 20 and right <= width - 30 and top <= height - 30
    assert len(re.findall(r"\bword\b", text)) > 3800 and "the end" in text and text.count("w" * 30) > 5


def test_what_cannot_be_is_refused(app, demo, tmp_path, capsys):
    path = tmp_path / "p.html"
    assert cli.run(["procedure", str(demo), "-o", str(path), "--part", "nobody"]) == 2
    path.touch()
    assert cli.run(["procedure", str(demo), "-o", str(path)]) == 2
    assert "there is a file already" in capsys.readouterr().err


# -- procedures in the file

def swap():
    return device(
        [part("lid", name="Lid"), part("pack", name="Pack", behind=[["lid"]])],
        [joint("screws", "lid", "base", kind="screw", tool="ph00", fastener="A", count=4),
         joint("glue", "pack", "base", kind="adhesive", behind=[["lid"]], ways=[{"tool": "card", "reuse": "renew"}])],
        fasteners=[{"id": "A", "drive": "PH", "size": "00", "thread": "M1.6"}],
        procedures=[
            {"id": "close", "name": "Close it", "entries": [
                {"do": "fit", "thing": "lid"},
                {"do": "fasten", "thing": "screws", "label": "tighten",
                 "passes": [{"level": "started"}, {"level": "tight", "torque": 13, "unit": "N·m"}]},
                {"do": "check", "thing": "lid", "until": "the gap is even", "back_to": "tighten", "most": 2}]},
            {"id": "swap", "name": "Replace the pack", "for": "pack", "entries": [
                {"do": "apply", "on": "base", "uses": [{"material": "silicone", "qty": 1, "unit": "cc"}]},
                {"do": "fit", "thing": "pack", "new": True}, {"do": "procedure", "procedure": "close"}]}])


def test_a_procedure_uses_another_and_is_laid_over_the_plan():
    record = exchange.from_json(swap())
    entries = instruction_for(record, "pack")
    assert [entry.do for entry in entries] == ["apply", "fit", "fit", "fasten", "check"]
    assert instruction_for(record) == [] and exchange.from_json(exchange.to_json(record)) == record
    found = torques(record)
    assert [one.where for one in found] == ["$.procedures[0].entries[1].passes[1]"]
    assert found[0].check.slips[0] == "N·cm" and newton_metres(13, "N·cm") == pytest.approx(0.13)


@pytest.mark.parametrize(("change", "path", "code"), [
    (lambda p: p[1]["entries"][2].update(procedure="nothing"), "$.procedures[1].entries[2].procedure", "no-procedure"),
    (lambda p: p[1]["entries"][2].update(procedure="swap"), "$.procedures[1].entries[2].procedure",
     "goes-on-from-itself"),
    (lambda p: p[0].update({"from": "close"}), "$.procedures[0].from", "goes-on-from-itself"),
    (lambda p: p[0].update({"from": "nowhere"}), "$.procedures[0].from", "no-procedure"),
    (lambda p: p[1].update({"for": "screws"}), "$.procedures[1].for", "no-part"),
    (lambda p: p[0]["entries"][2].update(back_to="later"), "$.procedures[0].entries[2].back_to", "no-label"),
    (lambda p: p[0]["entries"][0].update(thing="ghost"), "$.procedures[0].entries[0].thing", "no-such-thing"),
    (lambda p: p[0]["entries"][1]["passes"][1].update(torque=-1), "$.procedures[0].entries[1].passes[1].torque",
     "negative"),
    (lambda p: p.append(dict(p[0])), "$.procedures[2].id", "id-taken")])
def test_a_procedure_that_cannot_be_is_refused_with_its_place(change, path, code):
    data = swap()
    change(data["procedures"])
    with pytest.raises(Refusal) as caught:
        exchange.from_json(data)
    assert (caught.value.path, caught.value.code) == (path, code)


@pytest.mark.parametrize(("count", "times", "code"), [(60, 1, "too-deep"), (25, 2, "too-many-entries")])
def test_procedures_that_unfold_without_end_are_refused(count, times, code):
    data = swap()
    data["procedures"] = [{"id": "p0", "entries": [{"do": "check", "text": "x"}]}] + [
        {"id": f"p{n}", "entries": [{"do": "procedure", "procedure": f"p{n - 1}"}] * times} for n in range(1, count)]
    with pytest.raises(Refusal, match=code):
        exchange.from_json(data)
    data["procedures"] = data["procedures"][::-1]
    with pytest.raises(Refusal, match=code):
        exchange.from_json(data)


def test_deleting_a_thing_takes_its_entries_out_of_the_procedures():
    after = delete_things(exchange.from_json(swap()), ["screws"]).teardown
    close = after.procedures[0].entries
    assert [entry.do for entry in close] == ["fit", "check"] and close[1].back_to == ""
    assert delete_things(after, ["pack"]).teardown.procedures[1].for_ is None


def test_going_back_until_it_is_as_it_should_be():
    """A step that is gone back from opens those since the label again; no oftener than the instruction allows."""
    data = swap() | {"log": [{"id": "e1", "do": "release", "thing": "screws"},
                             {"id": "e2", "do": "remove", "thing": "lid"}]}
    data["refit"] = data["procedures"][0]["entries"]
    record = exchange.from_json(data)

    def go_on(record):
        found = progress(record)
        return steps.do_step(record, found.plan.steps[found.current], 10.0).teardown

    for _ in range(2):
        record = go_on(record)
    found = progress(record)
    check = found.plan.steps[found.current]
    assert check.do == "check" and check.refit.back_to == "tighten"
    record = steps.go_back(record, check, 20.0).teardown
    assert [step.do for step, state in zip(found.plan.steps, progress(record).states) if state == OPEN] == [
        "fasten", "check"]
    record = steps.go_back(go_on(record), check, 30.0).teardown
    record = go_on(record)
    with pytest.raises(Refusal, match="gone-back-enough"):
        steps.go_back(record, check, 40.0)
    assert progress(go_on(record)).is_closed
    skipped = steps.leave_out(record, check, 50.0).teardown
    assert progress(skipped).states[-1] == LEFT_OUT and not progress(skipped).is_closed


def test_single_screws_of_a_group_go_in_one_after_another():
    data = swap() | {"log": [{"id": "e1", "do": "release", "thing": "screws"},
                             {"id": "e2", "do": "remove", "thing": "lid"}],
                     "refit": [{"do": "fit", "thing": "lid"}, {"do": "fasten", "thing": "screws", "places": [1, 3]},
                               {"do": "press", "thing": "lid"}, {"do": "fasten", "thing": "screws", "places": [2, 4]}]}
    record, done = exchange.from_json(data), []
    while (found := progress(record)).current is not None:
        step = found.plan.steps[found.current]
        record = steps.do_step(record, step, 1.0).teardown
        done.append((step.do, step.refit.places, found.ledger.odd))
    assert done == [("fit", (), 4), ("fasten", (1, 3), 4), ("press", (), 2), ("fasten", (2, 4), 2)]
    assert found.is_closed and not off_by_log(record)


def test_entries_for_other_variants_and_conditions_are_left_aside():
    data = powered_variant()
    plan = put_back(exchange.from_json(data), off_by_log(exchange.from_json(data)), exchange.from_json(data).refit)
    assert [step.thing for step in plan.steps if step.do == "fit"] == ["lid"] and not plan.unplaced
    assert [step.refit.text for step in plan.steps if step.do == "press"] == ["the old one"]
    new = put_back(exchange.from_json(data), off_by_log(exchange.from_json(data)), exchange.from_json(data).refit,
                   spares=["lid"])
    assert [step.refit.text for step in new.steps if step.do == "press"] == ["the new one"]


def powered_variant():
    return swap() | {"device": {"base": "base", "variant": "one"}, "joints": [], "procedures": [],
                     "log": [{"id": "e2", "do": "remove", "thing": "lid"}],
                     "parts": [{"id": "base"}, {"id": "lid"}, {"id": "extra", "only_in": ["two"]}],
                     "refit": [{"do": "fit", "thing": "extra"}, {"do": "fit", "thing": "lid"},
                               {"do": "press", "thing": "lid", "text": "the new one",
                                "only_if": {"part": "lid", "is": "new"}},
                               {"do": "press", "thing": "lid", "text": "the old one",
                                "only_if": {"part": "lid", "is": "reused"}}]}


def test_the_plan_of_a_closed_device_is_empty():
    record = exchange.from_json(swap())
    assert put_back(record, off_by_log(record), record.procedures[0].entries).steps == ()


# -- doses

@pytest.mark.parametrize(("told", "given", "material", "code", "low", "high"), [
    ((1, "cc"), (0.97, "g"), "Silicone", SAME, 1, 1),  # density 0.97 g/cm3 by catalog/data/doses.toml
    ((1, "g"), (500, "mg"), "anything", LESS, .5, .5),
    ((2, "strips"), (3, "strip"), "cell tabs", MORE, 1.5, 1.5),
    ((1, "cc"), (2, "g"), "thermal grease", SAME, .5, 1),  # 2 to 4 g/cm3: it may be just as much
    ((1, "cc"), (6, "g"), "thermal grease", MORE, 1.5, 3),
    ((1, "cc"), (1, "g"), "something of ours", UNLIKE, 0, 0),
    ((2, "strips"), (1, "g"), "cell tabs", UNLIKE, 0, 0)])
def test_a_dose_is_reconciled_whatever_its_unit(told, given, material, code, low, high):
    found = reconcile(told, given, material)
    assert (found.code, found.low, found.high) == (code, pytest.approx(low), pytest.approx(high))
