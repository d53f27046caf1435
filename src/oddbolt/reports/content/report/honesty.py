"""What is not firm: assumed, open, contradicted; and where the figures are from; and the log itself."""

from __future__ import annotations

from collections.abc import Iterable

from oddbolt.catalog.tables import tool_row
from oddbolt.model.things import ASSUMED, Joint
from oddbolt.reassembly.findings import findings
from oddbolt.reports.content.report.ground import Ground
from oddbolt.reports.content.tree import GUESSED, Block, Chapter, Given, Grid, Heading, Line, Remark, plain_row
from oddbolt.rules.replay import in_order
from oddbolt.scoring.evaluate import Verdict
from oddbolt.studies.retelling import GUESSED as WAY_GUESSED
from oddbolt.studies.retelling import known_without_plans, unconfirmed
from oddbolt.words.figures import figure_of
from oddbolt.words.findings import finding_text
from oddbolt.words.judging.verdicts import move_text
from oddbolt.words.known import known_text, with_sign
from oddbolt.words.names import kind_name, name_apart, name_of, names_of, outcome_name, part_kind_name, tool_name
from oddbolt.words.recording.entries import entry_text
from oddbolt.words.recording.labels import entry_name
from oddbolt.words.translate import of_data, sentence, tr

MOST_MOVES = 6


def unsettled(ground: Ground) -> list[Block]:
    """Ways that nobody confirmed, guesses they rest on, findings, what could move a class."""
    teardown = ground.teardown
    blocks: list[Block] = [Chapter("open", tr("Assumed, unconfirmed, open"))]
    lines = []
    for part in ground.priority:
        plan = ground.plan(part)
        if plan.count is None:
            continue
        known = known_without_plans(ground.planner, plan)
        on = unconfirmed(ground.planner, plan)
        text = with_sign(known, f"{name_of(teardown, part)}: {known_text(known)}")
        lines.append(tr("{0}; rests on guesses about {1}").format(text, names_of(teardown, on, 6))
                     if on and known == WAY_GUESSED else text)
    if lines:
        blocks += [Heading(tr("How known the ways are")), *(Line(line) for line in lines)]
    found = findings(teardown)
    blocks.append(Heading(tr("Findings")))
    blocks += [Line(sentence(finding_text(teardown, one))) for one in found] or [Remark(tr("No findings."))]
    blocks += _moves(ground.verdicts, ground)
    guessed: list[tuple[str, str, tuple[tuple[str, ...], ...]]] = [
        (thing.id, kind_name(thing.kind, thing.type) if isinstance(thing, Joint) else part_kind_name(thing.kind),
         thing.behind) for thing in (*teardown.parts, *teardown.joints)
        if thing.basis == ASSUMED and teardown.is_present(thing) and any(thing.behind)]
    if guessed:
        blocks.append(Grid(
            name="assumed", caption=tr("Access that is assumed: the program's guess, which nobody has confirmed"),
            columns=(("thing", tr("What")), ("kind", tr("Kind")), ("behind", tr("Behind"))),
            rows=tuple((Given(id_, name_apart(teardown, id_)), Given(kind),
                        Given("; ".join(", ".join(names) for names in behind), "; ".join(
                            names_of(teardown, names) for names in behind if names), GUESSED))
                       for id_, kind, behind in guessed)))
    return blocks


def _moves(verdicts: Iterable[Verdict], ground: Ground) -> list[Block]:
    blocks: list[Block] = []
    for verdict in verdicts:
        if verdict.standing is not None and verdict.standing.moves:
            blocks.append(Heading(tr("What could move {0}").format(of_data(verdict.method.name))))
            blocks += [Line(move_text(ground.teardown, verdict.method, move))
                       for move in verdict.standing.moves[:MOST_MOVES]]
    return blocks


def sources(ground: Ground) -> list[Block]:
    """Where what is not of the record is from: tools by their class, and answers with who gave them."""
    teardown = ground.teardown
    tools = dict.fromkeys(timed.tool for part in ground.priority if (counted := ground.plan(part).count) is not None
                          for timed in counted.timed)
    blocks: list[Block] = [Chapter("sources", tr("Sources"))]
    blocks.append(Grid(name="tools", caption=tr("Tools of the ways, with their class"),
                       columns=(("tool", tr("Tool")), ("class", tr("Class by (EU) 2023/1670")),
                                ("en45554", tr("By EN 45554")), ("confidence", tr("Confidence"))),
                       rows=tuple(plain_row(Given(tool, tool_name(teardown, tool)), row.tool_class, row.en45554,
                                            row.confidence) for tool in tools for row in [tool_row(tool)])))
    if teardown.answers:
        blocks.append(Grid(name="answers", caption=tr("Answers that the verdicts rest on"),
                           columns=(("method", tr("Method")), ("criterion", tr("Criterion")), ("part", tr("Part")),
                                    ("value", tr("Answer")), ("basis", tr("Basis")), ("source", tr("Source"))),
                           rows=tuple(plain_row(one.method, Given(one.criterion, one.criterion.replace("_", " ")),
                                                Given(one.part, name_of(teardown, one.part) if one.part else ""),
                                                Given(str(one.value), figure_of(one.value)), one.basis, one.source)
                                      for one in teardown.answers)))
    facts = [(part, fact) for part in teardown.parts for fact in part.facts]
    if facts:
        blocks.append(Grid(name="facts", caption=tr("Facts of parts, with how each is known"),
                           columns=(("part", tr("Part")), ("fact", tr("Fact")), ("value", tr("Value")),
                                    ("unit", tr("Unit")), ("basis", tr("Basis"))),
                           rows=tuple(plain_row(Given(part.id, name_of(teardown, part.id)), fact.name.replace("_", " "),
                                                Given(str(fact.value), figure_of(fact.value)), fact.unit, Given(
                                                    fact.basis, fact.basis, GUESSED if fact.basis == ASSUMED else ""))
                                      for part, fact in facts)))
    blocks.append(Remark(tr("Times that nobody measured are estimated by the tables of the program (docs/methods, "
                            "effort); torques are by the instruction.")))
    return blocks


def log(ground: Ground) -> list[Block]:
    """Every entry, in the order in which it stands."""
    teardown = ground.teardown
    rows = []
    for entry in in_order(teardown):
        rows.append(plain_row(entry.id, entry.pass_, Given(entry.t, entry_text(teardown, entry)), Given(
            entry.do, entry_name(entry.do)), Given(entry.thing, name_of(teardown, entry.thing) if entry.thing else ""),
            entry.seconds, Given(entry.outcome, outcome_name(entry.outcome)), entry.basis, entry.text))
    if not rows:
        return [Chapter("log", tr("Log")), Remark(tr("The log is empty."))]
    return [Chapter("log", tr("Log")), Grid(
        name="log", caption=tr("Every entry"),
        columns=(("entry", ""), ("pass", tr("Pass")), ("t_s", tr("Entry")), ("do", ""), ("thing", ""), ("seconds", ""),
                 ("outcome", ""), ("basis", tr("Basis")), ("text", "")), rows=tuple(rows))]
