"""An exercise on paper: the sheet for the learner, and its solution for the trainer."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec.structs import replace

from oddbolt.reassembly.rebuilding.pictures import Picture
from oddbolt.rehearsing.back import torques_of
from oddbolt.rehearsing.questions import FAULT, Question, fault_question, questions_of
from oddbolt.reports.content.report.ground import Ground
from oddbolt.reports.content.tree import Block, Chapter, Figure, Heading, Line, Page, Remark, Tick, Title
from oddbolt.words.acts import caution_texts, cautions_first, operation_text
from oddbolt.words.figures import steps_text
from oddbolt.words.names import name_apart, name_of
from oddbolt.words.rehearsing import option_text, question_text
from oddbolt.words.translate import sentence, tr

LINES = 14  # to be written on


def exercise(ground: Ground, part: str, seed: int, most: int = 6) -> tuple[Page, Page]:
    """Sheet and solution of the way to a part; what is pictured is asked of the ground. Whoever has the seed has the
    same sheet."""
    planner = ground.planner
    teardown = planner.teardown
    name, device = name_of(teardown, part), teardown.device.name or tr("the device")
    asked = questions_of(teardown, seed)[:most]
    fault = fault_question(planner, part, seed)
    plan = planner.plan([part])
    sheet: list[Block] = [Title(tr("{0}: exercise {1}").format(device, seed)), Line(tr("Name:")), Line(tr("Date:"))]
    solved: list[Block] = [Title(tr("{0}: solution of exercise {1}").format(device, seed))]
    for blocks in (sheet, solved):
        blocks.append(Heading(tr("The shortest way to {0}").format(name)))
    first = next(iter(teardown.pictured), None)
    if first is not None:
        sheet.append(Figure(ground.shot(replace(first, marks=())), tr("The device as it is closed")))
    sheet += [Line(tr("Write down what is undone, in order, and with which tool:")),
              *(Line(f"{n}. {'.' * 90}") for n in range(1, LINES + 1))]
    if plan.count is None:
        solved.append(Line(tr("By the record it cannot be taken off.")))
    else:
        solved.append(Line(tr("{0}, proven.").format(steps_text(plan.count.steps)) if plan.optimal
                           else steps_text(plan.count.steps)))
        solved += [Line(tr("{0}. {1}").format(timed.step, sentence(operation_text(
            teardown, planner.structure, timed.operation)))) for timed in plan.count.timed]
        hazards = [hazard for timed in plan.count.timed if timed.operation.part
                   for hazard in teardown.part[timed.operation.part].hazards]
        texts = caution_texts(hazards)
        sheet += [*(Line(text) for text in texts), Remark(cautions_first())] if texts else []
    torques = torques_of(teardown)
    if torques:
        sheet.append(Heading(tr("Torques of putting back, N·cm")))
        solved.append(Heading(tr("Torques of putting back, N·cm")))
        for thing, ncm in torques.items():
            sheet.append(Line(f"{name_apart(teardown, thing)}: {'.' * 20}"))
            solved.append(Line(f"{name_apart(teardown, thing)}: {ncm:g}"))
    questions = [*asked, *([fault] if fault is not None else [])]
    for blocks, is_solution in ((sheet, False), (solved, True)):
        blocks.append(Chapter("questions", tr("Questions")))
        blocks += _questions(ground, questions, is_solution=is_solution)
    return Page(tuple(sheet)), Page(tuple(solved))


def _questions(ground: Ground, questions: Sequence[Question], *, is_solution: bool) -> list[Block]:
    teardown = ground.planner.teardown
    blocks: list[Block] = []
    for number, one in enumerate(questions, start=1):
        blocks.append(Heading(tr("{0}. {1}").format(number, question_text(teardown, one))))
        if one.kind == FAULT:
            blocks += [Line(tr("{0}. {1}").format(n, name_apart(teardown, thing)), inside=True)
                       for n, thing in enumerate(one.way, start=1)]
        if is_solution:
            blocks.append(Line(option_text(one, one.options[one.right])))
            continue
        if one.view:
            view = teardown.view[one.view]
            marks = tuple(mark for mark in view.marks if mark.thing == one.thing)
            blocks.append(Figure(ground.step_shot(Picture(view=view, marks=marks), ""), "", tallest_mm=60))
        blocks += [Tick(option_text(one, option)) for option in one.options]
    return blocks
