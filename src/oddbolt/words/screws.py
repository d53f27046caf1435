"""Screws in words: what one may be, its driver, its torque, what it is mixed up with, the order of tightening."""

from __future__ import annotations

from oddbolt.catalog.drivers import Advice, Mismatch
from oddbolt.catalog.screws import Doubt, Identified, LikelyScrew
from oddbolt.catalog.torque import TorqueCheck
from oddbolt.model.things import Teardown
from oddbolt.reassembly.bolts import LookAlike, Swap
from oddbolt.reassembly.tightening import TighteningPlan
from oddbolt.words.figures import newton_text, odds_text
from oddbolt.words.lengths import length_text
from oddbolt.words.names import name_of, names_of, tool_class_name
from oddbolt.words.translate import N_, from_table, of_data, tr

KINDS = {"forming": N_("thread-forming screw for plastic (no standard)"),
         "standoff": N_("standoff (a hexagonal post with a thread)"),
         "none": N_("none of these (shoulder screw, something else)")}
READINGS = {"diameter_mm": N_("the outer diameter"), "pitch_mm": N_("the pitch (turns over a length)"),
            "head_mm": N_("the head diameter")}
TORQUES = {"impossible": N_("impossible: {thread} of class {strength} breaks at {breaking}"),
           "breaking": N_("above what breaks it: {thread} of class {strength} breaks at {breaking}"),
           "above-usual": N_("more than {thread} is tightened to ({tightening} at 90 % of yield)"),
           "plausible": N_("plausible"), "low": N_("very low for {thread} ({tightening} would be 90 % of yield)")}
SWAPS = {"too-long": N_("{letter} in the holes of {holes_of} goes {length} too deep"),
         "too-long-into": N_("{letter} in the holes of {holes_of} goes {length} too deep, into {parts}"),
         "too-short": N_("{letter} in the holes of {holes_of} holds on {length} less thread"),
         "other-thread": N_("{letter} cuts or jams in the thread of {holes_of}"),
         "loose": N_("{letter} finds no hold in the holes of {holes_of}")}
TELLS_APART = {"length_mm": N_("measure the length: {length} apart"),
               "head_mm": N_("measure the head: {length} apart"),
               "thread": N_("measure the outer diameter: {length} apart"),
               "": N_("nothing on record tells them apart")}
LEVELS = {"started": N_("all started, loosely"), "tight": N_("tight")}
ORDERS = {"refit": N_("{name}, as the refit says:"), "order": N_("{name}, in the given order:"),
          "crosswise": N_("{name}, crosswise; no order is on record:")}


def screw_name(screw: LikelyScrew) -> str:
    if screw.name in KINDS:
        return from_table(KINDS, screw.name)
    return f"{screw.name} x {screw.pitch_mm:g}" if screw.family != "inch" else screw.name


DOUBTS = {"size": N_("Is {value} the marking on the driver, or a width that was measured? A recess that wide is "
                     "{measure}."),
          "size-no-marking": N_("{value} is no size of this recess. If it was measured, the recess is {measure}; enter "
                                "it as the width across."),
          "across_mm": N_("Is {value} a width that was measured, or the marking on the driver? Then enter it as the "
                          "size; a recess that wide is {measure}."),
          "across_mm-no-measure": N_("Is {value} the marking on the driver? No recess of this kind is that wide; then "
                                     "enter it as the size.")}


def doubt_text(doubt: Doubt) -> str:
    """The question whether a figure is a marking or a measure."""
    code = doubt.field
    if code == "size" and not doubt.marking:
        code = "size-no-marking"
    elif code == "across_mm" and not doubt.measure:
        code = "across_mm-no-measure"
    return from_table(DOUBTS, code, value=doubt.value, measure=doubt.measure)


def next_reading_text(found: Identified) -> str:
    """What to do to tell the first two apart."""
    if found.next_reading == "diameter_mm" and not found.separates:
        return tr("Measure the outer diameter: without it all else says little.")
    if len(found.candidates) < 2 or found.candidates[0].odds > 0.97:
        return tr("Nothing more needs to be measured.")
    first, second = (screw_name(screw) for screw in found.candidates[:2])
    if found.next_reading:
        return tr("Measure {0}: it tells {1} from {2}.").format(from_table(READINGS, found.next_reading), first, second)
    return tr("No calliper reading tells {0} from {1}; try a known nut, or look at the thread under a lens.").format(
        first, second)


def driver_text(advice: Advice) -> str:
    """The driver in a line, with its class."""
    if advice.class_2023_1670 == advice.class_en45554:
        class_ = tool_class_name(advice.class_2023_1670)
    else:
        class_ = tr("{0} by (EU) 2023/1670, {1} by EN 45554").format(
            tool_class_name(advice.class_2023_1670), tool_class_name(advice.class_en45554))
    text = tr("{0} driver {1} (size not confirmed by a standard): {2}") if advice.size_unconfirmed \
        else tr("{0} driver {1}: {2}")
    return text.format(of_data(advice.drive.name), f"{advice.drive.code}{advice.size}", class_)


def mismatch_text(mismatch: Mismatch) -> str:
    if mismatch.text:
        return f"{mismatch.driver}: {of_data(mismatch.text)}"
    return tr("{0}: one size too small; it turns in the recess and rounds it.").format(mismatch.driver)


def identified_lines(found: Identified, advice: Advice | None) -> list[str]:
    """An identification as lines of text."""
    lines = []
    for screw in found.candidates:
        source = tr("  [{0}; confidence {1}]").format(screw.source, screw.confidence) if screw.source else ""
        lines.append(f"{odds_text(screw.odds):>14}  {screw_name(screw)}{source}")
    if found.length_step_mm is not None:
        lines.append(tr("nearest usual length: {0}; what was read stays as it is").format(
            length_text(found.length_step_mm)))
    if found.sizes:
        sizes = ", ".join(f"{size} {odds_text(odds)}" for size, odds in found.sizes[:3])
        lines.append(tr("recess size: {0}").format(sizes))
    lines.append(next_reading_text(found))
    if found.doubt is not None:
        lines.append(doubt_text(found.doubt))
    if advice is not None:
        lines.append(tr("driver: {0}").format(driver_text(advice)))
        lines += [tr("second choice: {0}").format(mismatch_text(m)) for m in advice.second]
        lines += [tr("strips: {0}").format(mismatch_text(m)) for m in advice.strips]
        if advice.drive.note:
            lines.append(tr("note: {0}").format(of_data(advice.drive.note)))
    lines.append(tr("Odds rest on what is usual as well as on what was measured."))
    return lines


def torque_text(check: TorqueCheck) -> str:
    """The judgement of a torque in words, with the slip that would explain it."""
    text = from_table(TORQUES, check.verdict, thread=check.thread, breaking=newton_text(check.breaking_nm),
                      tightening=newton_text(check.tightening_nm[1]), strength=check.strength)
    if check.by_recess:
        text = tr("{0} (no thread is on record; {1} is the largest that the recess takes)").format(text, check.thread)
    return tr("{0}; was it {1}?").format(text, check.slips[0]) if check.slips else text


def swap_text(teardown: Teardown, swap: Swap) -> str:
    code = f"{swap.code}-into" if swap.parts and f"{swap.code}-into" in SWAPS else swap.code
    return from_table(SWAPS, code, letter=swap.letter, holes_of=swap.holes_of, length=length_text(swap.mm or 0),
                      parts=names_of(teardown, swap.parts))


def tells_apart_text(pair: LookAlike) -> str:
    return from_table(TELLS_APART, pair.measure, length=length_text(pair.difference_mm or 0))


def tightening_text(teardown: Teardown, plan: TighteningPlan) -> str:
    """A plan of tightening in words; a round in another order than the one shown names its marks by their numbers."""
    shown = plan.rounds[-1].order
    lines = [from_table(ORDERS, plan.source, name=name_of(teardown, plan.joint))]
    for number, one in enumerate(plan.rounds, start=1):
        level = from_table(LEVELS, one.level) if one.level in LEVELS else one.level
        order = tr("in the order shown") if one.order == shown \
            else tr("marks {0}").format(", ".join(map(str, one.order)))
        lines.append(tr("{0}. {1}, {2}").format(number, level, order) if one.torque is None
                     else tr("{0}. {1} to {2:g} {3}, {4}").format(number, level, one.torque, one.unit, order))
    return "\n".join([*lines, tr("The maker's instructions come first.")])
