"""The way to a part as it can be read aloud, with its cautions."""

from __future__ import annotations

from oddbolt.reassembly.rebuilding.jobs import Replacing
from oddbolt.reports.content.strata import Column, Layer
from oddbolt.reports.content.tree import Block, Heading, Line, Page, Remark, Title
from oddbolt.search.planner import Planner
from oddbolt.words.acts import caution_texts, cautions_first, operation_text, remark_text
from oddbolt.words.figures import duration_text, interval_text, steps_text
from oddbolt.words.known import known_text
from oddbolt.words.names import name_of
from oddbolt.words.times import time_text
from oddbolt.words.translate import sentence, tr


def path_in_words(planner: Planner, column: Column) -> list[tuple[int, str, str]]:
    """Step, sentence and remark of each act and lift."""
    return [(timed.step, sentence(operation_text(planner.teardown, planner.structure, timed.operation)),
             ", ".join(_remarks(layer, live=timed.live))) for timed, layer in zip(column.count.timed, column.layers)]


def _remarks(layer: Layer, *, live: bool) -> list[str]:
    found = []
    if layer.isolates:
        found.append(remark_text("isolates"))
    if live:
        found.append(remark_text("live"))
    if layer.wait_s:
        found.append(tr("then wait {0}").format(duration_text(layer.wait_s)))
    if layer.destroyed:
        found.append(remark_text("destroyed"))
    if layer.renew:
        found.append(remark_text("renew"))
    found.extend(layer.hazards)
    if layer.assumed:
        found.append(remark_text("assumed"))
    return found


def way_in(planner: Planner, column: Column, back: Replacing | None = None, *, within: bool = False) -> Page:
    """`back` is the replacement of the part, where it is at hand: how long putting back takes. `within` a larger
    document the part is a heading, and what is under it are lines."""
    teardown, plan = planner.teardown, column.plan
    carrier = planner.structure.stand_in[column.part]
    name = name_of(teardown, column.part)
    blocks: list[Block] = [Heading(name) if within else Title(name)]
    if carrier != column.part:
        blocks.append(Line(tr("comes off with {0}:").format(name_of(teardown, carrier))))
    proven = tr("proven") if plan.optimal else tr("at least {0}").format(plan.lower_bound)
    blocks.append(Line(tr("{0}, {1}; {2}; {3} acts live; {4}").format(
        steps_text(column.count.steps), proven, time_text(column.count), column.count.live_acts,
        known_text(column.known))))
    if back is not None:
        times = dict.fromkeys(interval_text(job.time.seconds, job.time.low_s, job.time.high_s)
                              for job in (back.few, back.many))
        untimed = back.many.untimed
        blocks.append(Remark(tr("Replaced: putting back takes {0}").format(tr(" or ").join(times)) + (
            tr("; of {0} steps no time is known").format(untimed) if untimed else "")))
    step = 0
    for number, text, remark in path_in_words(planner, column):
        if number != step:
            step = number
            title = tr("Step {0}").format(step)
            blocks.append(Line(title) if within else Heading(title))
        blocks.append(Line(text, remark, inside=True))
    texts = caution_texts(hazard for layer in column.layers for hazard in layer.hazards)
    if texts:
        blocks += [Line(tr("Cautions")) if within else Heading(tr("Cautions")),
                   *(Line(text, inside=True) for text in texts), Remark(cautions_first())]
    return Page(tuple(blocks))
