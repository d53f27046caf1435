"""The work itself: the sequence as performed and the best, the section, each way in words, putting back."""

from __future__ import annotations

from oddbolt.comparing.told import held
from oddbolt.model.things import Teardown
from oddbolt.reassembly.rebuilding.jobs import whole_job
from oddbolt.reports.content.procedure import job_blocks
from oddbolt.reports.content.report.ground import DrawnLanes, Ground
from oddbolt.reports.content.sequence import sequence_table
from oddbolt.reports.content.strata import section_alone
from oddbolt.reports.content.tree import ESTIMATED, Block, Chapter, Drawing, Given, Grid, Heading, Line, Remark
from oddbolt.reports.content.way_in import way_in
from oddbolt.rules.counting import Count
from oddbolt.rules.replay import current_pass, replay
from oddbolt.rules.structure import Structure
from oddbolt.words.acts import comes_to, operation_text
from oddbolt.words.figures import duration_text
from oddbolt.words.judging.comparing import held_lines
from oddbolt.words.names import name_of, names_of, tool_name
from oddbolt.words.times import estimate_text
from oddbolt.words.translate import sentence, tr


def sequence(ground: Ground) -> list[Block]:
    """What was done, and the best way to take everything off, as lanes and as a table."""
    planner = ground.planner
    teardown, structure = planner.teardown, planner.structure
    blocks: list[Block] = [Chapter("sequence", tr("Sequence"))]
    performed = replay(teardown, structure, current_pass(teardown)).counted(
        structure, planner.convention, planner.times)
    cannot = planner.never_free
    best = planner.plan([id_ for id_ in structure.removals if id_ not in cannot])
    lanes = []
    if performed.timed:
        lanes.append((tr("As performed"), performed))
        blocks.append(Line(tr("As performed: {0}").format(comes_to(performed))))
    if best.count is not None:
        lanes.append((tr("The best there is, for all parts"), best.count))
        blocks.append(Line(tr("The best there is, for all parts: {0}").format(comes_to(best.count))))
    if cannot:
        blocks.append(Line(tr("Can never be taken off: {0}").format(names_of(teardown, cannot))))
    if lanes:
        ground.drawings["lanes"] = DrawnLanes(lanes=tuple(lanes))
        blocks.append(Drawing("lanes", tr("Tool by tool in time; a change of tool is a jump, a wait is hatched")))
    if best.count is not None:
        blocks.append(_sequence_grid(teardown, structure, best.count))
    return blocks


def _sequence_grid(teardown: Teardown, structure: Structure, counted: Count) -> Grid:
    table = sequence_table(teardown, structure, counted)
    titles = {"step": tr("Step"), "start_s": tr("From"), "active_s": tr("Takes"), "active_low_s": "",
              "active_high_s": "", "time_known": "", "wait_s": tr("Then wait"), "tool": tr("Tool"),
              "operation": tr("What"), "live": tr("Live")}
    rows = []
    for row, timed in zip(table.rows, counted.timed):
        by_code = dict(zip(table.columns, row))
        says = {"start_s": duration_text(timed.start_ms / 1000),
                "active_s": estimate_text(timed.known), "tool": tool_name(teardown, timed.tool),
                "wait_s": duration_text(timed.kind.wait_ms / 1000) if timed.kind.wait_ms else "–",
                "operation": sentence(operation_text(teardown, structure, timed.operation)),
                "live": tr("live") if timed.live else "–"}
        rows.append(tuple(Given(by_code[code], says.get(code, ""),
                                ESTIMATED if code == "active_s" and timed.known.basis == ESTIMATED else "")
                          for code in table.columns))
    return Grid(name="sequence", caption=tr("The best sequence for all parts"),
                columns=tuple((code, titles[code]) for code in table.columns), rows=tuple(rows))


def section(ground: Ground) -> list[Block]:
    """The signature picture, and the depths as a table."""
    teardown = ground.teardown
    blocks: list[Block] = [Chapter("section", tr("Section"))]
    if not ground.priority:
        return [*blocks, Remark(tr("No part has a role."))]
    ground.drawings["section"] = section_alone(ground.planner, ground.priority)
    blocks.append(Drawing("section", tr("From the surface down to each part; thickness grows with the square root of "
                                        "the time")))
    rows = []
    for part in ground.priority:
        plan = ground.plan(part)
        live = plan.count.live_acts if plan.count is not None else None
        rows.append((Given(part, name_of(teardown, part)), ground.depth(plan), ground.time(plan), Given(live)))
    blocks.append(Grid(name="depths", caption=tr("Depth of the priority parts"),
                       columns=(("part", tr("Part")), ("steps", tr("Steps")), ("time_s", tr("Time")),
                                ("live_acts", tr("Live acts"))), rows=tuple(rows)))
    stuck = [part for part in ground.priority if not ground.plan(part).feasible]
    blocks += [Line(tr("{0} cannot be taken off; kept in by {1}").format(
        name_of(teardown, part), names_of(teardown, ground.plan(part).blocked_by))) for part in stuck]
    return blocks


def ways(ground: Ground) -> list[Block]:
    """The way to each priority part, to be read aloud."""
    blocks: list[Block] = [Chapter("ways", tr("The ways in, in words"))]
    if not ground.priority:
        return [*blocks, Remark(tr("No part has a role."))]
    for column in section_alone(ground.planner, ground.priority).section.columns:
        blocks += way_in(ground.planner, column, within=True).blocks
    for told in ground.teardown.told:
        name = name_of(ground.teardown, told.part)
        whose = ", ".join(one for one in (told.by, told.source) if one) or tr("nobody named")
        blocks += [Heading(tr("{0}, as told by {1}").format(name, whose)),
                   Line(names_of(ground.teardown, told.things)), *([Remark(told.text)] if told.text else []),
                   *(Line(line) for line in held_lines(ground.teardown, held(ground.planner, told)))]
    return blocks


def back(ground: Ground) -> list[Block]:
    """Putting everything back, step by step."""
    job = whole_job(ground.planner)
    blocks: list[Block] = [Chapter("back", tr("Putting back"))]
    if not job.plan.steps:
        return [*blocks, Remark(tr("Nothing is off: there is nothing to put back."))]
    return [*blocks, *job_blocks(ground.planner, job, ground.step_shot)]
