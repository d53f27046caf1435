"""The first pages: what this is of, by whom, and by which rules it is counted."""

from __future__ import annotations

from oddbolt.reports.content.report.ground import Ground
from oddbolt.reports.content.tree import (
    Block,
    Chapter,
    Contents,
    Figure,
    Given,
    Grid,
    Line,
    Remark,
    Title,
    plain_row,
)
from oddbolt.scoring.method import fitting_methods, load_method
from oddbolt.words.acts import caution_texts, cautions_first
from oddbolt.words.figures import figure_of
from oddbolt.words.judging.verdicts import convention_text
from oddbolt.words.known import KNOWN, known_meaning, with_sign
from oddbolt.words.translate import of_data, sentence, tr


def cover(ground: Ground) -> list[Block]:
    """Title, first photograph, by whom and when, contents."""
    teardown = ground.teardown
    device = teardown.device
    blocks: list[Block] = [Title(tr("{0}, taken apart").format(device.name or tr("Unnamed device")))]
    by = ", ".join(dict.fromkeys(one.by for one in teardown.sessions if one.by))
    days = sorted({one.started[:10] for one in teardown.sessions if one.started})
    when = days[0] if len(days) == 1 else tr("{0} to {1}").format(days[0], days[-1]) if days else ""
    place = ", ".join(dict.fromkeys(one.place for one in teardown.sessions if one.place))
    lines = [by, when, place]
    if any(lines):
        blocks.append(Line(" · ".join(line for line in lines if line)))
    first = next(iter(teardown.pictured), None)
    if first is not None:
        blocks.append(Figure(ground.shot(first), tr("Before anything was undone")))
    blocks.append(Contents())
    return blocks


def device(ground: Ground) -> list[Block]:
    """What kind of thing it is, and what it contains that can hurt."""
    teardown = ground.teardown
    own = teardown.device
    passes = len({entry.pass_ for entry in teardown.log}) or 1
    rows = [("name", tr("Name"), own.name), ("model", tr("Model"), own.model),
            ("serial", tr("Serial number"), own.serial),
            ("category", tr("Category"), sentence(own.category.replace("_", " "))),
            ("variant", tr("Variant"), own.variant),
            ("mass_g", tr("Mass, g"), figure_of(own.mass_g) if own.mass_g is not None else ""),
            ("size_mm", tr("Size, mm"), " × ".join(figure_of(one) for one in own.size_mm)),
            ("parts", tr("Parts on record"), str(len(ground.planner.structure.present))),
            ("joints", tr("Joints on record"), str(sum(teardown.is_present(j) for j in teardown.joints))),
            ("entries", tr("Entries of the log"), str(len(teardown.log))), ("passes", tr("Passes"), str(passes)),
            ("notes", tr("Notes"), own.notes)]
    blocks: list[Block] = [Chapter("device", tr("Device")), Grid(
        name="device", caption=tr("The device and its record"),
        columns=(("key", tr("What")), ("value", tr("On record"))),
        rows=tuple((Given(code, text), Given(value)) for code, text, value in rows if value))]
    if teardown.sessions:
        blocks.append(Grid(name="passes", caption=tr("Who took it apart, when and where"),
                           columns=(("pass", tr("Pass")), ("by", tr("Analyst")), ("started", tr("Begun")),
                                    ("place", tr("Place"))),
                           rows=tuple(plain_row(one.pass_, one.by, Given(one.started, one.started[:10]), one.place)
                                      for one in teardown.sessions)))
    hazards = caution_texts(dict.fromkeys(hazard for part in teardown.parts for hazard in part.hazards
                                          if part.id in ground.planner.structure.present))
    if hazards:
        blocks += [*(Line(text) for text in hazards), Remark(cautions_first())]
    return blocks


def method(ground: Ground) -> list[Block]:
    """The convention, the scoring methods with their sources, and how figures are marked."""
    methods = [load_method(id_) for id_ in fitting_methods(ground.teardown.device.category)]
    return [
        Chapter("method", tr("Method and convention")),
        Line(convention_text(ground.planner.convention.settings)),
        Line(tr("A depth is the least number of steps to a part over all orders that the record allows; it is proven "
                "unless two figures stand there.")),
        Line(tr("A figure that is estimated stands slanted behind ≈; one that rests on a guess stands behind ◌. "
                "Times are the usual ones; in brackets, between what they lie nine times of ten.")),
        *(Line(with_sign(known, known_meaning(known))) for known in KNOWN),
        Grid(name="methods", caption=tr("Scoring methods"),
             columns=(("method", tr("Method")), ("source", tr("Source")), ("edition", tr("Edition")),
                      ("criteria", tr("Criteria")), ("unconfirmed", tr("Of these unconfirmed"))),
             rows=tuple(plain_row(Given(one.id, of_data(one.name)), Given(one.source, of_data(one.source)),
                                  Given(one.edition, of_data(one.edition)), len(one.criteria), len(one.unconfirmed))
                        for one in methods)),
        Remark(tr("Figures of standards and laws are from memory of the text; the text of the law decides."))]
