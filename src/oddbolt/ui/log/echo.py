"""The one line in words: what it would record, or what is not understood in it and what could stand there."""

from __future__ import annotations

from PySide6.QtCore import QCoreApplication

from oddbolt.model.things import Teardown
from oddbolt.session.line import NotUnderstood, Understood
from oddbolt.words import wording


def _tr(text: str) -> str:
    return QCoreApplication.translate("Echo", text)


def understood_text(teardown: Teardown, found: Understood) -> str:
    """A line that is understood, as it will count on Enter."""
    figures = dict(found.figures)
    names = wording.names_of(teardown, found.things[:1])
    if found.code == "note":
        return _tr("Note: {0}").format(figures["text"])
    if found.code == "asks":
        return _tr("What holds {0}?").format(names)
    if found.code == "lift":
        return _tr("Lift {0}").format(names)
    words = []
    if found.code == "made-and-release":
        count = "" if figures.get("count", 1) == 1 else f"{figures['count']} "
        words.append(_tr("A new joint {0}of {1}, released").format(count, wording.names_of(teardown, found.things)))
        if found.guess:
            words.append(_tr("behind {0} by first guess").format(wording.names_of(teardown, found.guess)))
    else:
        words.append(_tr("Release {0}").format(names))
    for name, text in (("method", "{0}"), ("degrees", "{0:g} °C")):
        if name in figures:
            words.append(text.format(figures[name]))
    if "duration_s" in figures:
        words.append(wording.duration_text(figures["duration_s"]))
    if figures["outcome"] != "ok":
        words.append(figures["outcome"])
    return ", ".join(words)


def problem_text(problem: NotUnderstood, line: str) -> str:
    """What is wrong, at which word, and what could stand there."""
    word = line[problem.start:problem.end]
    options = ", ".join(option for option in problem.options if option)
    texts = {
        "empty": _tr("Nothing typed"), "text-missing": _tr("A note needs a text"),
        "name-missing": _tr("A part is missing here"), "unknown-name": _tr("No part is called {0}"),
        "ambiguous": _tr("{0} could be several"), "which-joint": _tr("Several joints are meant by {0}"),
        "released-already": _tr("What {0} means has been released; add the word new for another one"),
        "other-type": _tr("The plug on record is of another type than {0} says; add the word new for another one"),
        "no-such-way": _tr("No way on record is meant by {0}"), "unknown-letter": _tr("No fastener has the letter {0}"),
        "other-recess": _tr("{0} is not the recess on record"), "other-count": _tr("{0} is not the count on record"),
        "not-a-line": _tr("{0} begins no line"), "base": _tr("The base stays on the mat"),
    }
    text = texts[problem.code].format(f"“{word}”")
    return f"{text}: {options}" if options else text
