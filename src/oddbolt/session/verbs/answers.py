"""Answers to what a scoring method asks, and to open questions about access."""

from __future__ import annotations

from typing import Any

from msgspec.structs import replace

from oddbolt.knowledge.evidence import ACCESS, HANGS, HIDES, WITHIN
from oddbolt.knowledge.settling import settle
from oddbolt.model.label import Label
from oddbolt.model.things import Answer, Teardown
from oddbolt.session.verbs.plain import Done, label_of


def answer(teardown: Teardown, method: str, criterion: str, value: Any, part: str | None = None) -> Done:
    """Answer what a scoring method asks; an answer to the same question is replaced, None takes it away."""
    kept = tuple(a for a in teardown.answers if (a.method, a.criterion, a.part) != (method, criterion, part))
    if value is not None:
        kept = (*kept, Answer(method=method, criterion=criterion, part=part, value=value, basis="told"))
    return Done(Label("answer", {"criterion": criterion}), replace(teardown, answers=kept))


def hangs(teardown: Teardown, cover: str, enough: bool) -> Done:
    """Whether it would have been enough to leave a cover hanging open: then nothing lies behind the cover itself."""
    kept = tuple(a for a in teardown.answers if (a.method, a.criterion, a.part) != (ACCESS, HANGS, cover))
    said = Answer(method=ACCESS, criterion=HANGS, part=cover, value={"enough": enough}, basis="seen")
    return Done(label_of("answer-access", teardown, cover), settle(replace(teardown, answers=(*kept, said))))


def answer_access(teardown: Teardown, kind: str, about: str, given: dict[str, Any]) -> Done:
    """Answer an open question about access (docs/format.md says what answers hold), and write down what it proves."""
    if kind == HIDES:
        value: dict[str, Any] = {"hides": [t for t, yes in given.items() if yes],
                                 "spares": [t for t, yes in given.items() if not yes]}
    elif kind == WITHIN:
        value = {"within": [t for t, yes in given.items() if yes],
                 "without": [t for t, yes in given.items() if not yes]}
    else:
        value = {"by": {thing: list(hiders) for thing, hiders in given.items()}}
    answered = Answer(method=ACCESS, criterion=kind, part=about, value=value, basis="seen")
    return Done(label_of("answer-access", teardown, about),
                settle(replace(teardown, answers=(*teardown.answers, answered))))
