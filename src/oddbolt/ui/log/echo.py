"""The one line in words: what it would record, or what is not understood in it and what could stand there."""

from __future__ import annotations

from oddbolt.catalog.tables import bond_methods, part_kind
from oddbolt.model.things import Teardown
from oddbolt.session.told_fact import THING, ToldFact, understand_fact
from oddbolt.session.typed_line import (
    ASKS,
    FACT,
    HID_NOTHING,
    LIFT,
    LIFT_AS,
    MEET,
    NOTE,
    REACH,
    ROLE,
    SWING,
    TRAY,
    NotUnderstood,
    Parsed,
)
from oddbolt.words.figures import duration_text
from oddbolt.words.names import kind_name, name_of, names_of, outcome_name, part_kind_name, role_name
from oddbolt.words.translate import N_, from_table, of_data, sentence, tr

PLAIN = {NOTE: N_("Note: {0}"), ASKS: N_("What holds {0}?"), LIFT: N_("Lift {0}"), SWING: N_("Swing {0} open"),
         HID_NOTHING: N_("{0} hid nothing"),
         REACH: N_("All that is marked here could be undone now")}
PROBLEMS = {
    "empty": N_("Nothing typed"), "text-missing": N_("A text is missing here"),
    "name-missing": N_("A part is missing here"), "unknown-name": N_("No part is called {word}"),
    "no-such-role": N_("{word} is no role of such a part"), "is-drawn": N_("What a part hid is drawn, not typed"),
    "ambiguous": N_("{word} could be several"), "which-joint": N_("Several joints are meant by {word}"),
    "released-already": N_("What {word} means has been released; add the word new for another one"),
    "other-type": N_("The plug on record is of another type than {word} says; add the word new for another one"),
    "no-such-way": N_("No way on record is meant by {word}"),
    "unknown-letter": N_("No fastener has the letter {word}"), "too-hot": N_("{word} is no temperature of a bench"),
    "other-recess": N_("{word} is not the recess on record"), "other-count": N_("{word} is not the count on record"),
    "holds-nothing": N_("Nothing on record holds {word}"),
    "not-a-line": N_("{word} begins no line"), "stands-alone": N_("This line ends before {word}"),
    "base": N_("The base stays on the mat"),
}


def parsed_text(teardown: Teardown, parsed: Parsed) -> str:
    """A line that is understood, as it will count on Enter."""
    if parsed.code in PLAIN:
        about = parsed.text if parsed.code == NOTE else name_of(teardown, parsed.thing)
        return tr(PLAIN[parsed.code]).format(about)
    if parsed.code == FACT:
        return fact_text(teardown, understand_fact(parsed.text), parsed.thing)
    if parsed.code == TRAY:
        return tr("Slide the tray out and lift it")
    if parsed.code == ROLE:
        role = role_name(parsed.text) if parsed.text else tr("none")
        return tr("Role of {0}: {1}").format(name_of(teardown, parsed.thing), role)
    if parsed.code == LIFT_AS:
        return _new_text(parsed.thing, parsed.text, plain=tr("Lift a {0}"), called=tr("Lift a {0}, called {1}"))
    words = []
    if parsed.code == MEET:
        kind = parsed.kind
        what = kind.letter or kind_name(kind.joint, "" if kind.joint == "adhesive" else kind.type)
        words.append(tr("A new joint of {0}: {1}, released").format(
            _owner_text(teardown, parsed), f"{parsed.count} {what}" if (parsed.count or 1) > 1 else what))
        if parsed.letter is not None:
            words.append(tr("new letter {0}, {1}{2}").format(parsed.letter.id, parsed.letter.drive, parsed.letter.size))
        if guess := parsed.guess(teardown):
            words.append(tr("behind {0} by first guess").format(names_of(teardown, guess)))
    else:
        words.append(tr("Release {0}").format(name_of(teardown, parsed.thing)))
    if parsed.method:
        words.append(of_data(bond_methods()[parsed.method].name))
    if parsed.temp_c is not None:
        words.append(tr("{0:g} °C").format(parsed.temp_c))
    if parsed.wait_s is not None:
        words.append(tr("wait {0}").format(duration_text(parsed.wait_s)))
    if parsed.seconds is not None:
        words.append(duration_text(parsed.seconds))
    if parsed.outcome != "ok":
        words.append(outcome_name(parsed.outcome))
    return ", ".join(words)


def fact_text(teardown: Teardown, told: ToldFact, part: str) -> str:
    """A fact as it would be written down; `part` may be nothing."""
    if told.code == THING:
        what = tr("{0}: {1}").format(part_kind_name(told.kind), told.value) if told.value else part_kind_name(told.kind)
        return tr("{0}, on {1}").format(what, name_of(teardown, part)) if part else tr("{0}, here").format(what)
    value = f"{told.value} {told.unit}".strip()
    what = tr("{0}: {1}").format(sentence(of_data(told.name)), value)
    return tr("{0}, of {1}").format(what, name_of(teardown, part)) if part else what


def _owner_text(teardown: Teardown, parsed: Parsed) -> str:
    """Whose joint it is; a part that the line makes is said to be new."""
    if parsed.owner is None:
        return name_of(teardown, parsed.part)
    return _new_text(*parsed.owner, plain=tr("a new {0}"), called=tr("a new {0}, called {1}"))


def _new_text(kind: str, name: str, *, plain: str, called: str) -> str:
    """A part that is made; its name where that is not only what its kind is called."""
    row = part_kind(kind)
    said = of_data(row.name)
    return called.format(said, name) if name and name != row.name else plain.format(said)


def problem_text(problem: NotUnderstood, line: str) -> str:
    """What is wrong, at which word, and what could stand there."""
    text = from_table(PROBLEMS, problem.code, word=f"“{line[problem.start:problem.end]}”")
    options = ", ".join(option for option in problem.options if option)
    return f"{text}: {options}" if options else text
