"""What people read: the ledger of bolts, the section's layers, silhouettes and colours, words and times."""

from __future__ import annotations

import csv
import math

import pytest

from oddbolt.catalog.tables import caution, driver_for, joint_kind, tool_row
from oddbolt.model import exchange
from oddbolt.paint.bolts import recess_path
from oddbolt.paint.palette import DARK, LETTER_COLOURS, LIGHT, letter_colour
from oddbolt.reassembly.ledger import ledger_of
from oddbolt.reports.as_csv import to_csv
from oddbolt.reports.content import strata
from oddbolt.reports.content.sequence import sequence_table
from oddbolt.reports.content.way_in import path_in_words
from oddbolt.rules.counting import count
from oddbolt.words.acts import caution_texts
from oddbolt.words.figures import duration_text
from oddbolt.words.judging.verdicts import convention_text
from tests.builders import device, joint, part, planner


def screw_log(*entries):
    data = device([part("a"), part("b")], [joint("s", "a", "base", kind="screw", fastener="A", count=3),
                                           joint("t", "b", "base", kind="screw", fastener="B", count=2),
                                           joint("u", "b", "base", kind="screw", count=None)],
                  fasteners=[{"id": "A", "drive": "PH"}, {"id": "B", "drive": "T"}],
                  log=[{"id": f"e{n}", **entry} for n, entry in enumerate(entries)])
    return ledger_of(exchange.from_json(data))


def test_bolts_out_back_and_odd():
    out, back = {"do": "release", "thing": "s"}, {"do": "fasten", "thing": "s"}
    other = {"do": "release", "thing": "t"}
    assert (screw_log().out, screw_log().odd) == (0, 0)
    assert (screw_log(out, other).out, screw_log(out, other).odd) == (5, 5)
    assert screw_log(out, other, back).odd == 2
    assert [(row.letter, row.out, row.back) for row in screw_log(out, other, back).rows] == [("A", 3, 3), ("B", 2, 0)]
    assert screw_log(out, back).odd == 0
    assert screw_log({**out, "outcome": "failed"}).out == 0
    assert screw_log({**out, "outcome": "lost", "quantity": 1}).odd == 3  # its hole is open
    assert screw_log({"do": "release", "thing": "u"}).uncertain == ("u",)
    assert screw_log(back).back == 0  # nothing that never came out goes back


def layered():
    data = device(
        [part("cover", name="Cover"), part("cell", behind=[["cover"]], role=["battery"], hazards=["lithium"]),
         part("lens", behind=[["cover"]], role=["rear_camera"]), part("loose", role=["speaker"], behind=[["loop"]]),
         part("loop", behind=[["loose"]])],
        [joint("s1", "cover", "base", kind="screw", fastener="A", count=4, tool="ph00"),
         joint("s2", "cover", "base", kind="screw", fastener="A", count=2, tool="ph00"),
         joint("plug", "cell", "base", kind="connector", behind=[["cover"]], isolates=True),
         joint("glue", "cell", "base", kind="adhesive", behind=[["cover"]], basis="assumed",
               ways=[{"acts": [{"tool": "dropper", "active_s": 5, "wait_s": 60}, {"tool": "card", "active_s": 9}],
                      "reuse": "renew"}]),
         joint("eye", "lens", "base", kind="connector", behind=[["cover"]])],
        fasteners=[{"id": "A", "drive": "PH", "size": "00"}])
    return planner(data)


def test_shared_layers_run_on_and_equal_ones_run_together():
    made = layered()
    section = strata.build_section(made, ["cell", "lens", "loose"])
    assert {column.part for column in section.columns} == {"cell", "lens"}
    assert [plan.targets for plan in section.blocked] == [("loose",)]
    top = section.top
    assert len(top) == 1 and (top[0].first, top[0].last) == (0, 1)
    assert top[0].layer.things == ("s1", "s2") and top[0].layer.bolts == (("A", 4), ("A", 2))
    assert top[0].under[0].layer.kind == strata.LIFT and top[0].under[0].layer.label == "Cover"
    kinds = {layer.kind for column in section.columns for layer in column.layers}
    assert {strata.SCREWS, strata.LIFT, strata.PLUG, strata.WAIT, strata.GLUE} == kinds


def test_layers_carry_what_matters():
    column = next(c for c in strata.build_section(layered(), ["cell"]).columns)
    by_thing = {layer.things[0]: layer for layer in column.layers}
    assert by_thing["plug"].isolates and by_thing["cell"].is_target and by_thing["cell"].hazards == ("lithium",)
    glue = [layer for layer in column.layers if layer.things == ("glue",)]
    assert (glue[0].wait_s, glue[1].renew, glue[1].assumed) == (60, True, True)


def test_the_common_order_keeps_the_plan_as_good():
    made = layered()
    for column in strata.build_section(made, ["cell", "lens", "cover"]).columns:
        again = count(made.structure, made.convention, made.times, [t.operation for t in column.count.timed])
        assert (again.steps, again.live_acts, again.obstacles) == (column.plan.count.steps, 0, ())


def test_the_way_in_words():
    made = layered()
    column = strata.build_section(made, ["cell"]).columns[0]
    lines = path_in_words(made, column)
    assert lines[0] == (1, "Unscrew 4 A PH00 (Cover, A 1) with cross recess, type H driver PH00", "")
    assert any("makes the device safe" in remark for _, _, remark in lines)
    assert any("then wait 1 min" in remark for _, _, remark in lines)


@pytest.mark.parametrize(("seconds", "text"), [(3.25, "3.2 s"), (41.6, "42 s"), (60, "1 min"), (190.2, "3 min 10"),
                                               (3900, "1 h 05"), (0, "0.0 s")])
def test_times_have_no_false_digits(seconds, text):
    assert duration_text(seconds) == text


def test_every_hazard_of_the_catalogue_is_worded_and_unknown_ones_are_named():
    texts = caution_texts(["lithium", "hot", "lithium", "bees"])
    assert len(texts) == 3 and "51 °C" in texts[1] and texts[2] == "Hazard: bees."
    assert caution("bees") is None and caution("mains").confidence == "high"


def test_tools_and_kinds_the_catalogue_does_not_know():
    assert tool_row("hook-9").tool_class == "unknown" and tool_row("hand").tool_class == "none"
    assert tool_row("ph00").tool_class == "basic" and tool_row("pl2").tool_class == "commercial"
    assert joint_kind("rivet").verb == "release" and joint_kind("screw").tool == "driver"
    assert driver_for("PH", "00") == "ph00" and driver_for("", "") == "driver"


# -- silhouettes and colours

def radii(drive):
    """Distance of the outline from the centre in each direction, by degree."""
    path = recess_path(drive, 100)
    return [max(r for r in range(0, 120, 1) if r == 0 or path.contains(_point(r, degree))) for degree in range(360)]


def _point(r, degree):
    from PySide6.QtCore import QPointF

    return QPointF(r * math.cos(math.radians(degree - 90)), r * math.sin(math.radians(degree - 90)))


@pytest.mark.parametrize(("drive", "fold"), [("T", 6), ("PL", 5), ("Y", 3), ("PH", 4), ("HX", 6)])
def test_silhouettes_have_the_symmetry_of_their_recess(drive, fold):
    found = radii(drive)
    turn = 360 // fold
    assert all(abs(found[n] - found[(n + turn) % 360]) <= 6 for n in range(360))
    assert max(found) >= 96


def test_hexalobular_valleys_are_as_deep_as_in_iso_10664():
    """ISO 10664: B / A from T6 to T25 lies between 0.71 and 0.74 (1.27/1.75, 2.05/2.80, 3.25/4.50; from memory)."""
    found = radii("T")
    assert 0.69 <= min(found) / max(found) <= 0.75


def luminance(colour):
    """Relative luminance of a colour, W3C WCAG 2, from memory."""
    channels = [int(colour[n:n + 2], 16) / 255 for n in (1, 3, 5)]
    red, green, blue = [c / 12.92 if c <= 0.03928 else ((c + 0.055) / 1.055) ** 2.4 for c in channels]
    return 0.2126 * red + 0.7152 * green + 0.0722 * blue


def contrast(one, other):
    light, dark = sorted((luminance(one), luminance(other)), reverse=True)
    return (light + 0.05) / (dark + 0.05)


def test_letters_and_texts_can_be_read():
    """WCAG 2: contrast of at least 4.5 for text; white letters stand on every letter colour."""
    assert all(contrast(colour, "#FFFFFF") >= 4.5 for colour in LETTER_COLOURS)
    for palette in (LIGHT, DARK):
        for ground in (palette.page, palette.sheet, palette.sunk):
            assert contrast(palette.ink, ground) >= 7 and contrast(palette.faint, ground) >= 4.5, palette.name
        assert contrast(palette.on_accent, palette.accent) >= 4.5
        assert contrast(palette.warn, palette.sheet) >= 4.5
    assert letter_colour("A") != letter_colour("B") and letter_colour("I") == letter_colour("A")


# Simulation of colour vision deficiency at full severity, on linear RGB: G. M. Machado, M. M. Oliveira, L. A. F.
# Fernandes, IEEE Trans. Vis. Comput. Graph. 15 (2009) 1291-1298, from memory.
DEFICIENCIES = {
    "protan": ((0.152286, 1.052583, -0.204868), (0.114503, 0.786281, 0.099216), (-0.003882, -0.048116, 1.051998)),
    "deutan": ((0.367322, 0.860646, -0.227968), (0.280085, 0.672501, 0.047413), (-0.011820, 0.042940, 0.968881)),
    "tritan": ((1.255528, -0.076749, -0.178779), (-0.078411, 0.930809, 0.147602), (0.004733, 0.691367, 0.303900))}


def lab(colour, matrix=((1, 0, 0), (0, 1, 0), (0, 0, 1))):
    """CIE L*a*b* (D65) of a colour as it is seen with a deficiency; sRGB by IEC 61966-2-1."""
    linear = [(c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4)
              for c in (int(colour[n:n + 2], 16) / 255 for n in (1, 3, 5))]
    seen = [min(1, max(0, sum(m * c for m, c in zip(row, linear)))) for row in matrix]
    xyz = [sum(m * c for m, c in zip(row, seen)) for row in (
        (0.4124, 0.3576, 0.1805), (0.2126, 0.7152, 0.0722), (0.0193, 0.1192, 0.9505))]
    f = [v ** (1 / 3) if v > 0.008856 else 7.787 * v + 16 / 116 for v in (xyz[0] / 0.95047, xyz[1], xyz[2] / 1.08883)]
    return 116 * f[1] - 16, 500 * (f[0] - f[1]), 200 * (f[1] - f[2])


@pytest.mark.parametrize("deficiency", ["none", *DEFICIENCIES])
def test_letter_colours_stay_apart_for_colour_blind_eyes(deficiency):
    """A difference of about 2.3 is just seen (CIE76, from memory); any two letters keep more than six times that."""
    matrix = DEFICIENCIES.get(deficiency, ((1, 0, 0), (0, 1, 0), (0, 0, 1)))
    seen = [lab(colour, matrix) for colour in LETTER_COLOURS]
    apart = min(math.dist(a, b) for n, a in enumerate(seen) for b in seen[n + 1:])
    assert apart > 15, apart


def test_each_column_of_the_table_holds_what_it_is_called():
    """Every figure is told apart from every other, so that two columns in each other's place are found."""
    data = device([part("lid", removal_s=7.0), part("b", on="base")], [
        joint("g", "lid", "base", kind="adhesive", ways=[{"acts": [
            {"tool": "heat-mat", "does": "heat", "active_s": 11, "wait_s": 300},
            {"tool": "card", "does": "slice", "active_s": 42}], "reuse": "renew"}])])
    plans = planner(data)
    plan = plans.plan(["lid"])
    table = sequence_table(plans.teardown, plans.structure, plan.count)
    heat, slice_, lift = csv.DictReader(to_csv(table).decode().splitlines())
    assert (heat["tool"], heat["live"], float(heat["wait_s"])) == ("heat-mat", "no", 300)
    assert float(heat["active_s"]) == 11 and heat["operation"].startswith("heat")
    assert (slice_["tool"], float(slice_["active_s"]), float(slice_["wait_s"])) == ("card", 42, 0)
    assert float(slice_["start_s"]) >= float(heat["start_s"]) + 11 + 300
    assert lift["operation"] == "lift lid" and float(lift["start_s"]) >= float(slice_["start_s"]) + 42
    assert int(lift["step"]) >= int(slice_["step"]) >= int(heat["step"]) == 1


@pytest.mark.parametrize(("settings", "says", "never"), [
    ({"hand_is_tool": True}, "bare hand counts as a tool", "not counted"),
    ({"hand_is_tool": False}, "bare hand not counted as a tool", "counts as"),
    ({"isolate_first": True}, "power isolated first", "when it comes"),
    ({"isolate_first": False}, "power isolated when it comes", "isolated first"),
    ({"each_tool": True}, "each further tool at the same time one step more", "tools that count as one"),
    ({"own_step": ["flip"]}, "a step of their own: flip", "each further tool"),
    ({"tool_groups": [["a", "b"], ["c", "d"]]}, "tools that count as one: a, b; c, d", "of their own"),
    ({"tool_change_s": 5, "turn_s": 2}, "change of tool 5 s, turn 2 s", "3.6")])
def test_the_line_of_the_convention_says_what_is_set(settings, says, never):
    """And the count follows it: the words and the rule are read from the same switch."""
    teardown = exchange.from_json(device([], [], settings=settings))
    words = convention_text(teardown.settings)
    assert says in words and never not in words


def test_the_convention_counts_as_its_line_says():
    """Two parts taken off by hand: a step only where the bare hand counts as a tool."""
    steps = {}
    for hand in (True, False):
        plans = planner(device([part("a", tool="hand")], [joint("s", "a", "base", tool="ph0")],
                               settings={"hand_is_tool": hand}))
        assert ("counts as a tool" in convention_text(plans.teardown.settings)) is hand
        steps[hand] = plans.plan(["a"]).count.steps
    assert steps[True] == steps[False] + 1
