"""Putting back, in words: steps, the one figure of a step, why it stands where it does, what is in the way of closing,
the list of what it takes, the ledger of bolts."""

from __future__ import annotations

from collections.abc import Iterable

from oddbolt.catalog.components import first_out
from oddbolt.model.things import KeepOff, Refit, Teardown, Tightening, Use
from oddbolt.reassembly.ledger import Ledger, LetterRow
from oddbolt.reassembly.rebuilding.doses import LESS, MORE, SAME, UNLIKE, Reconciled
from oddbolt.reassembly.rebuilding.progress import BOLTS, PROTECTED, SKIPPED, UNKNOWN, Matter
from oddbolt.reassembly.rebuilding.putting_back import APPLY, CHECK, FASTEN, FIT, SCREW, Step
from oddbolt.reassembly.rebuilding.shopping import SPARE, Discard, Item
from oddbolt.reassembly.tightening import torque_ncm, torque_of
from oddbolt.words.figures import duration_text, newton_text
from oddbolt.words.lengths import length_text
from oddbolt.words.names import fastener_text, fixing_text, name_of, names_of
from oddbolt.words.recording.labels import aid_name, entry_name
from oddbolt.words.screws import LEVELS
from oddbolt.words.translate import N_, from_table, of_data, sentence, tr

FATES = {"new": N_("{0} new"), "discarded": N_("{0} thrown away"), "lost": N_("{0} lost"), "wrong": N_("{0} wrong")}
ACTS = {"screw": N_("screw in {what}"), "connector": N_("close {what}"), "adhesive": N_("press down {what}"),
        "clip": N_("snap in {what}"), "film": N_("stick on {what}"), "swing": N_("close {what}"),
        "press-fit": N_("press in {what}"), "routing": N_("lay {what}"), "solder": N_("solder {what}")}
OTHERS = {"press": N_("press {what}"), "route": N_("lay {what}"), "clean": N_("clean {what}"),
          "adjust": N_("adjust {what}"), "calibrate": N_("calibrate {what}"), "loosen": N_("loosen {what}"),
          "wait": N_("wait"), "release": N_("open {what} again"), "remove": N_("lift {what} again"),
          "fasten": N_("tighten {what}"), "fit": N_("fit {what}")}
REASONS = {"instruction": N_("by the instruction"), "log": N_("the reverse of the log"),
           "rule": N_("bonds that were opened are renewed"), "way-in": N_("the reverse of the way in")}
SUPPLIES = {"with_part": N_("comes with the spare"), "ordered": N_("to be ordered"), "in_stock": N_("in stock")}
MATTERS = {SKIPPED: N_("left out: {what}"), PROTECTED: N_("still on: {what}"),
           UNKNOWN: N_("count not known: {what}"), BOLTS: N_("without their bolt: {what}")}


# -- steps

def step_text(teardown: Teardown, step: Step) -> str:
    """A step as it would be read aloud."""
    what = name_of(teardown, step.thing) if step.thing else tr("the device")
    if step.do == FIT:
        return sentence(tr("fit the new {0}").format(what) if step.is_new else tr("fit {0}").format(what))
    joint = teardown.joint.get(step.thing)
    if step.do == FASTEN and joint is not None:
        if joint.kind == "screw" and joint.fastener:
            what = f"{fixing_text(teardown, joint)} ({what})"
        return sentence(from_table(ACTS, joint.kind, what=what) if joint.kind in ACTS
                        else tr("fasten {0}").format(what))
    if step.do == APPLY:
        return sentence(tr("apply {0} on {1}").format(", ".join(use_text(use) for use in step.uses)
                                                      or tr("new fixing"), what))
    if step.do == CHECK:
        return sentence(step.refit.text if step.refit is not None and step.refit.text else tr("check {0}").format(what))
    if step.do == "aid":
        return sentence(tr("protection: {0}").format(aid_name(step.refit.text if step.refit is not None else "")))
    return sentence(from_table(OTHERS, step.do, what=what) if step.do in OTHERS else entry_name(step.do))


def use_text(use: Use) -> str:
    amount = f"{use.qty:g} {use.unit}".strip() if use.qty is not None else tr("some")
    return tr("{0} of {1}").format(amount, use.material) if use.unit else f"{amount} {use.material}"


def rounds(step: Step) -> tuple[Tightening, ...]:
    return step.refit.passes if step.refit is not None else ()


def figure_text(step: Step) -> str:
    """The one figure of a step that is shown large: torque, dose or time; empty where it has none."""
    for one in reversed(rounds(step)):
        value, unit = torque_of(one)
        ncm = torque_ncm(one)
        if ncm is not None and value is not None:
            own, usual = f"{value:g} {unit}", newton_text(ncm / 100)
            return own if usual == own or unit == "N·cm" else tr("{0} ({1})").format(usual, own)
    if step.refit is not None and step.refit.repeat is not None and step.refit.repeat.each_s:
        each = step.refit.repeat.each_s
        span = f"{each[0]:g}" if each[0] == each[-1] else tr("{0:g} to {1:g}").format(each[0], each[-1])
        return tr("{0} × {1} s").format(step.refit.repeat.min, span)
    if step.refit is not None and step.refit.wait_s:
        return duration_text(step.refit.wait_s)
    doses = [use_text(use) for use in step.uses if use.qty is not None and use.unit not in ("", SCREW)]
    return doses[0] if doses else ""


def details(teardown: Teardown, step: Step) -> list[str]:
    """Everything else of a step, a line each."""
    entry = step.refit if step.refit is not None else Refit(do=step.do)
    joint = teardown.joint.get(step.thing)
    lines = []
    if joint is not None and joint.kind == "screw" and joint.fastener:
        lines.append(fastener_text(teardown.fastener[joint.fastener]))
    if step.moves_to:
        lines.append(tr("from the old {0}").format(name_of(teardown, step.moves_to)))
    if entry.places:
        lines.append(tr("only numbers {0}").format(", ".join(map(str, entry.places))))
    if entry.align:
        lines.append(tr("align: {0}").format(entry.align))
    if entry.strip:
        lines.append(tr("peel off first: {0}").format(", ".join(entry.strip)))
    if entry.one_shot:
        lines.append(tr("it cannot be moved once it touches"))
    lines += [_round_text(one) for one in entry.passes if len(entry.passes) > 1 or one.order]
    lines += [keep_off_text(teardown, one) for one in entry.keep_off]
    if entry.until:
        most = tr(", at most {0} times").format(entry.most) if entry.most else ""
        lines.append(tr("until {0}").format(entry.until) + (
            tr("; else back to {0}{1}").format(entry.back_to, most) if entry.back_to else ""))
    if entry.only_if:
        lines.append(tr("only if: {0}").format(_condition(teardown, entry.only_if)))
    if entry.text and step.do not in (CHECK, "aid"):
        lines.append(entry.text)
    if step.is_live:
        lines.append(tr("closed live: the power is on already"))
    if step.is_forced:
        lines.append(tr("by what is on record it does not go in here: look first"))
    return lines


def _round_text(one: Tightening) -> str:
    level = from_table(LEVELS, one.level) if one.level in LEVELS else one.level
    ncm, (value, unit) = torque_ncm(one), torque_of(one)
    torque = tr(" to {0}").format(newton_text(ncm / 100)) if ncm is not None else (
        tr(" to {0:g} {1}").format(value, unit) if value is not None else "")
    order = tr(", in the order {0}").format(", ".join(map(str, one.order))) if one.order else ""
    return f"{level}{torque}{order}"


def keep_off_text(teardown: Teardown, one: KeepOff) -> str:
    what = name_of(teardown, one.thing) if one.thing else tr("the edge: {0}").format(one.edge)
    return tr("keep {0} off {1}").format(length_text(one.mm), what) if one.mm is not None \
        else tr("keep off {0}").format(what)


def _condition(teardown: Teardown, only_if: object) -> str:
    if isinstance(only_if, dict) and isinstance(only_if.get("part"), str):
        return f"{name_of(teardown, only_if['part'])}: {only_if.get('is', '')}"
    return str(only_if)


def reason_text(step: Step) -> str:
    return from_table(REASONS, step.reason)


DOSES = {SAME: N_("{given}: as much as was told ({told})"), LESS: N_("{given}: less than was told ({told}), {share}"),
         MORE: N_("{given}: more than was told ({told}), {share}"),
         UNLIKE: N_("{given} and {told} cannot be compared")}


def dose_text(found: Reconciled, told: Use, amount: float, unit: str) -> str:
    """What went on against what was told."""
    share = f"{found.low:.0%}" if abs(found.high - found.low) < 0.005 else tr("{0:.0%} to {1:.0%}").format(
        found.low, found.high)
    return from_table(DOSES, found.code, given=f"{amount:g} {unit}".strip(), told=use_text(told), share=share)


# -- what is in the way of closing

def matter_text(teardown: Teardown, matter: Matter) -> str:
    names = names_of(teardown, matter.things) if matter.things else ""
    what = ": ".join(text for text in (aid_name(matter.what) if matter.code == PROTECTED else
                                       entry_name(matter.what) if matter.what else "", names) if text)
    return sentence(from_table(MATTERS, matter.code, what=what or tr("a step")))


def gap_text(teardown: Teardown, gaps: Iterable[str]) -> str:
    """That a step would close over parts that were left out."""
    return tr("This would close over what was left out: {0}").format(names_of(teardown, gaps))


def where_to_look(teardown: Teardown, ledger: Ledger) -> list[str]:
    """Which holes have no bolt, and what lies on the tray."""
    lines = [tr("{0}: {1} without its bolt").format(name_of(teardown, one.joint), ", ".join(map(str, one.numbers)))
             for one in ledger.holes]
    lines += [tr("{0}: number {1} holds a {2}").format(name_of(teardown, one.joint), number, letter)
              for one in ledger.holes for number, letter in one.wrong]
    return lines + [tr("compartment {0}: {1} lie there").format(row.letter, row.loose) for row in ledger.rows
                    if row.loose]


def letter_text(row: LetterRow) -> str:
    """The bolts of a letter in a line: "A: 7 out, 6 back, 1 new"."""
    figures = [tr("{0}: {1} out, {2} back").format(row.letter, row.out, row.back)]
    figures += [tr(text).format(getattr(row, name)) for name, text in FATES.items() if getattr(row, name)]
    return ", ".join(figures)


# -- the list

def item_text(teardown: Teardown, item: Item) -> str:
    amount = tr("some") if item.qty is None else f"{item.qty:g} {item.unit}".strip()
    what = item.material
    if item.kind == SPARE:
        what = name_of(teardown, item.material)
    elif item.kind == SCREW and item.material in teardown.fastener:
        what = tr("screw {0}").format(fastener_text(teardown.fastener[item.material]))
    supply = from_table(SUPPLIES, item.supply) if item.supply in SUPPLIES else item.supply
    things = [thing for thing in item.things if thing != item.material]
    return tr("{0} {1} ({2})").format(amount, what, supply) + (
        tr(": {0}").format(names_of(teardown, things)) if things else "")


def discard_text(teardown: Teardown, one: Discard) -> str:
    name = name_of(teardown, one.thing)
    return name if one.rule is None else tr("{0}: {1} are kept apart, by {2}").format(
        name, of_data(one.rule.name), of_data(first_out()[1]))
