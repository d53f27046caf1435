"""Rehearsing in words: what a choice was, hints, questions and how it went."""

from __future__ import annotations

from oddbolt.catalog.components import connector_types
from oddbolt.model.things import Teardown
from oddbolt.rehearsing import back, bench, questions
from oddbolt.rehearsing.back import Placed
from oddbolt.rehearsing.bench import Hint, Judged, Marks
from oddbolt.rehearsing.questions import Question
from oddbolt.words.acts import caution_texts
from oddbolt.words.figures import steps_text
from oddbolt.words.names import name_apart, part_kind_name, tool_name
from oddbolt.words.translate import N_, from_table, of_data, tr, within

CHOICES = {bench.FINE: N_("{thing}: done"), bench.LIVE: N_("{thing}: done, and live: the device was not safe yet"),
           bench.NEEDLESS: N_("{thing}: done, but it was not needed"),
           bench.HIDDEN: N_("{thing}: not yet, it is still behind {things}"),
           bench.TORN: N_("{thing}: it would tear, it is still tied by {things}"),
           bench.GONE: N_("{thing}: off or open already"),
           bench.TOOL: N_("{thing}: not with {tool}; it is undone with {tools}"),
           bench.UNKNOWN: N_("{thing}: nothing that can be undone")}
PLACINGS = {back.FINE: N_("{thing}: in"), back.COVERS: N_("{thing}: it would close over {things}"),
            back.NOT_YET: N_("{thing}: it cannot go in before {things}"),
            back.IN_PLACE: N_("{thing}: in place already")}
ASKED = {questions.PART: N_("What is this part?"), questions.SCREW: N_("Which screw is this?"),
         questions.PLUG: N_("What kind of connector is this?"), questions.OPENS: N_("How does this connector open?"),
         questions.FAULT: N_("What is wrong with this way to {thing}?")}
FAULTS = {questions.LEFT_OUT: N_("Something is left out"), questions.NEEDLESS: N_("Something is done for nothing"),
          questions.SWAPPED: N_("Two things stand in the wrong order"),
          questions.NOTHING: N_("Nothing is wrong with it")}


def judged_text(teardown: Teardown, one: Judged) -> str:
    """What a choice was, with the cautions that belong to what was done."""
    things = ", ".join(name_apart(teardown, thing) for thing in one.things)
    tools = tr(" or ").join(within(tool_name(teardown, tool)) for tool in one.tools)
    lines = [from_table(CHOICES, code, thing=name_apart(teardown, one.thing), things=things, tools=tools,
                        tool=within(tool_name(teardown, one.tool))) for code in one.codes]
    return " ".join([". ".join(lines) + ".", *caution_texts(one.hazards)])


def placed_text(teardown: Teardown, one: Placed) -> str:
    things = ", ".join(name_apart(teardown, thing) for thing in one.things)
    return from_table(PLACINGS, one.code, thing=name_apart(teardown, one.thing), things=things) + "."


def hint_text(teardown: Teardown, hint: Hint) -> str:
    names = [name_apart(teardown, thing) for thing in hint.things]
    if hint.degree == 1:
        return tr("1 thing that helps can be undone now.") if hint.number == 1 \
            else tr("{0} things that help can be undone now.").format(hint.number)
    if hint.degree == 2:
        return tr("One of these helps now: {0}.").format(tr(" or ").join(names))
    return tr("{0}, with {1}.").format(names[0], within(tool_name(teardown, hint.tool)))


def marks_text(marks: Marks) -> str:
    """How it went, against the best."""
    words = [tr("{0}; the best is {1}").format(steps_text(marks.steps), marks.best)]
    for text, number in ((tr("{0} live"), marks.live), (tr("{0} needless"), marks.needless),
                         (tr("{0} would have torn"), marks.torn), (tr("{0} with a wrong tool"), marks.wrong_tool),
                         (tr("{0} too early"), marks.too_early), (tr("hints: {0}"), marks.hints)):
        if number:
            words.append(text.format(number))
    return ", ".join(words)


def question_text(teardown: Teardown, question: Question) -> str:
    return from_table(ASKED, question.kind, thing=name_apart(teardown, question.thing))


def option_text(question: Question, option: str) -> str:
    if question.kind == questions.PART:
        return part_kind_name(option)
    if question.kind == questions.PLUG:
        return of_data(connector_types()[option].name)
    if question.kind == questions.FAULT:
        return from_table(FAULTS, option)
    return of_data(option) if question.kind == questions.OPENS else option
