"""What it is judged to be: verdicts with evidence, what would change it, other devices, what people think."""

from __future__ import annotations

from oddbolt.reports.content.report.ground import Ground, chart_of
from oddbolt.reports.content.tree import (
    ESTIMATED,
    GUESSED,
    Block,
    Chapter,
    Drawing,
    Given,
    Grid,
    Heading,
    Line,
    Remark,
    plain_row,
)
from oddbolt.scoring.evaluate import CriterionScore, Verdict
from oddbolt.scoring.opinions import evidence_for
from oddbolt.words.figures import figure_of, signed_text, steps_text
from oddbolt.words.judging.comparing import causes_text, names_apart, reached_text
from oddbolt.words.judging.studies import outcome_lines
from oddbolt.words.judging.verdicts import (
    class_text,
    firm_text,
    ground_text,
    index_text,
    leaning_text,
    part_score_text,
    score_text,
)
from oddbolt.words.names import name_of, role_name
from oddbolt.words.translate import of_data, tr

MOST_CHANGES = 12


def verdicts(ground: Ground) -> list[Block]:
    """By each method: index and class, whether it is firm, and each point with its rule and its evidence."""
    blocks: list[Block] = [Chapter("verdicts", tr("Verdicts"))]
    for verdict in ground.verdicts:
        method = verdict.method
        said = ", ".join(text for text in (index_text(verdict), class_text(verdict)) if text)
        blocks += [Heading(of_data(method.name)), Line(said, of_data(method.source)), Line(firm_text(verdict))]
        blocks.append(_criteria_grid(ground, verdict))
        blocks += [Remark(of_data(note)) for note in method.notes]
    if not ground.verdicts:
        blocks.append(Remark(tr("No method fits the category of the device.")))
    return blocks


def _criteria_grid(ground: Ground, verdict: Verdict) -> Grid:
    rows: list[tuple[Given, ...]] = []
    for score in verdict.criteria:
        criterion = score.criterion
        texts = [ground_text(ground.teardown, one) for one in score.evidence]
        rows.append((Given(criterion.id, of_data(criterion.name)), Given(""), Given(""), _points(verdict, score),
                     Given("; ".join(texts)), Given(criterion.rule, of_data(criterion.rule)),
                     Given(criterion.confidence)))
        for part in score.parts:
            texts = [ground_text(ground.teardown, one) for one in part.evidence]
            guessed = verdict.known.get(part.part) == "guessed"
            rows.append((Given(criterion.id, " "), Given(part.role, role_name(part.role)),
                         Given(part.part, name_of(ground.teardown, part.part) if part.part else "–"),
                         Given(part.points[0], part_score_text(score, part), GUESSED if guessed else ""),
                         Given("; ".join(texts)), Given(""), Given("")))
    return Grid(name=f"verdict-{verdict.method.id}", caption=tr("{0}: points with their rule and evidence").format(
        of_data(verdict.method.name)),
        columns=(("criterion", tr("Criterion")), ("role", tr("Role")), ("part", tr("Part")), ("points", tr("Points")),
                 ("evidence", tr("Evidence")), ("rule", tr("Rule")), ("confidence", tr("Confidence"))),
        rows=tuple(rows))


def _points(verdict: Verdict, score: CriterionScore) -> Given:
    low, high = score.points
    is_time = score.criterion.unit == "s"
    return Given(low if low == high else f"{low:g}..{high:g}", score_text(score.criterion, score.points),
                 ESTIMATED if is_time else "")


def changes(ground: Ground) -> list[Block]:
    """Changes of the design, those first that save most."""
    blocks: list[Block] = [Chapter("whatif", tr("What if it were built otherwise"))]
    for outcome in ground.outcomes[:MOST_CHANGES]:
        first, *rest = outcome_lines(ground.teardown, outcome)
        blocks += [Line(first), *(Line(text.strip(), inside=True) for text in rest)]
    if not ground.outcomes:
        blocks.append(Remark(tr("No single change makes a way shorter.")))
    elif len(ground.outcomes) > MOST_CHANGES:
        blocks.append(Remark(tr("And {0} more that save less.").format(len(ground.outcomes) - MOST_CHANGES)))
    return blocks


def comparison(ground: Ground) -> list[Block]:
    """Depths and times beside other devices, by one convention, and what makes each difference."""
    records = [ground.teardown, *ground.others]
    names = names_apart(records)
    blocks: list[Block] = [Chapter("comparison", tr("Beside other devices"))]
    if not ground.others:
        return [*blocks, Remark(tr("No other record was named."))]
    rows = [(Given(row.role, role_name(row.role)), *(Given(None if one is None else one.steps, reached_text(one))
                                                     for one in row.reached)) for row in ground.compared]
    blocks.append(Grid(name="comparison", caption=tr("Priority parts, by the convention of the first"),
                       columns=(("role", tr("Part")),
                                *((f"device_{n}", name) for n, name in enumerate(names, start=1))),
                       rows=tuple(rows)))
    chart = chart_of(names, ground.compared)
    if chart.points:
        ground.drawings["chart"] = chart
        blocks.append(Drawing("chart", tr("Depth against time, with the span in which it lies nine times of ten")))
    for row in ground.compared:
        for n, found in enumerate(row.why, start=1):
            if found is not None and found.difference:
                blocks.append(Line(tr("{0}, {1}: {2}").format(role_name(row.role), names[n], causes_text(
                    found, (records[0], records[n]), (names[0], names[n])))))
    return blocks


def opinions(ground: Ground) -> list[Block]:
    """Marks that people gave, with what the record says for and against them."""
    teardown = ground.teardown
    blocks: list[Block] = [Chapter("opinions", tr("Opinions"))]
    rows = []
    for opinion in teardown.opinions:
        for name, mark, of, reasons in [("", opinion.mark, opinion.of, opinion.reasons),
                                        *((m.name, m.mark, m.of, m.reasons) for m in opinion.marks)]:
            text = "" if mark is None else f"{figure_of(mark)} / {figure_of(of)}" if of else figure_of(mark)
            rows.append(plain_row(opinion.by, Given(name, name or tr("the whole")), Given(mark, text), reasons))
    if not rows:
        return [*blocks, Remark(tr("Nobody has given a mark."))]
    blocks.append(Grid(name="opinions", caption=tr("Marks by persons; they count in no class"),
                       columns=(("by", tr("By")), ("matter", tr("Matter")), ("mark", tr("Mark")),
                                ("reasons", tr("Reasons"))), rows=tuple(rows)))
    verdict = next((one for one in ground.verdicts if any(score.parts for score in one.criteria)), None)
    if verdict is not None:
        for opinion in teardown.opinions:
            lines = [leaning_text(teardown, verdict, one) for one in evidence_for(teardown, verdict, opinion)]
            if lines:
                blocks += [Heading(tr("What the record says of it, by {0}").format(of_data(verdict.method.name))),
                           *(Line(line) for line in lines)]
    return blocks


def headline(ground: Ground) -> list[str]:
    """The three facts that matter, of the short form: the deepest and the shallowest part, the verdict, bolts."""
    plans = [(part, ground.plan(part)) for part in ground.priority]
    reached = [(part, plan) for part, plan in plans if plan.count is not None]
    lines = []
    if reached:
        part, plan = max(reached, key=lambda pair: (pair[1].count.steps, pair[1].count.time_ms))
        first, short = min(reached, key=lambda pair: (pair[1].count.steps, pair[1].count.time_ms))
        lines.append(tr("Deepest: {0}, {1}, {2}. Shallowest: {3}, {4}.").format(
            name_of(ground.teardown, part), steps_text(plan.count.steps), ground.time(plan).said,
            name_of(ground.teardown, first), steps_text(short.count.steps)))
    stuck = [name_of(ground.teardown, part) for part, plan in plans if plan.count is None]
    if stuck:
        lines.append(tr("Cannot be taken off: {0}.").format(", ".join(stuck)))
    best = next((one for one in ground.outcomes if one.steps > 0), None)
    if best is not None:
        lines.append(tr("What would help most: {0} ({1} steps over all parts).").format(
            outcome_lines(ground.teardown, best)[0], signed_text(-best.steps)))
    return lines
