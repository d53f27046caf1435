"""Verdicts, methods and times as lines of text, for the command line."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

from oddbolt.effort.learning import LearningCurve
from oddbolt.effort.pace import ALL, Pace
from oddbolt.effort.sums import Interval
from oddbolt.model.things import Teardown
from oddbolt.rules.times import Estimate
from oddbolt.scoring.evaluate import Verdict
from oddbolt.scoring.method import Method
from oddbolt.words.figures import duration_text, interval_text
from oddbolt.words.judging.verdicts import (
    class_text,
    firm_text,
    ground_text,
    index_text,
    move_text,
    part_score_text,
    score_text,
)
from oddbolt.words.names import name_of, role_name
from oddbolt.words.translate import of_data, tr

MOST_MOVES = 12


def verdict_lines(teardown: Teardown, verdict: Verdict) -> list[str]:
    """A verdict with the rule and the evidence of each point, and what could move it."""
    method = verdict.method
    said = [text for text in (index_text(verdict), class_text(verdict)) if text]
    lines = [tr("{0} ({1}): {2}, {3}").format(of_data(method.name), of_data(method.source), ", ".join(said),
                                              tr("firm") if verdict.is_firm else tr("open")), firm_text(verdict)]
    for score in verdict.criteria:
        criterion = score.criterion
        weight = tr(", weight {0:.0%}").format(criterion.weight) if criterion.weight else ""
        lines.append(tr("{0}{1}: {2}  [{3}; confidence {4}]").format(
            of_data(criterion.name), weight, score_text(criterion, score.points), of_data(criterion.rule),
            criterion.confidence))
        lines += [f"  {ground_text(teardown, ground)}" for ground in score.evidence]
        for part in score.parts:
            texts = "; ".join(ground_text(teardown, ground) for ground in part.evidence)
            name = f" ({name_of(teardown, part.part)})" if part.part else ""
            lines.append(f"  {role_name(part.role)}{name}: {part_score_text(score, part)}  {texts}")
    if verdict.standing is not None and verdict.standing.moves:
        lines.append(tr("could move it:"))
        lines += [f"  {move_text(teardown, method, move)}" for move in verdict.standing.moves[:MOST_MOVES]]
    if verdict.assumed:
        lines.append(tr("assumed: {0}").format(", ".join(verdict.assumed)))
    lines += [of_data(note) for note in method.notes]
    return lines


def method_lines(methods: Iterable[Method], fitting: Sequence[str] = ()) -> list[str]:
    """A line a method: id, name, source, edition, and whether all of it is confirmed."""
    return [tr("{0}: {1} ({2}, {3}); {4}").format(
        one.id, of_data(one.name), of_data(one.source), of_data(one.edition),
        tr("{0} of {1} criteria unconfirmed").format(len(one.unconfirmed), len(one.criteria)) if one.unconfirmed
        else tr("all confirmed")) + (tr(" *") if one.id in fitting else "") for one in methods]


def effort_lines(teardown: Teardown, rows: Iterable[tuple[str, str, Estimate]],
                 ways: Iterable[tuple[str, Interval]]) -> list[str]:
    """Times of acts and lifts, then of the ways to the priority parts."""
    lines = [tr("{0}, {1}: {2}  [{3}; {4}]").format(
        name_of(teardown, thing), verb, interval_text(one.seconds, one.low_s, one.high_s), one.basis,
        one.source if not one.readings else tr("{0}, {1} readings").format(one.source, one.readings))
        for thing, verb, one in rows]
    for part, took in ways:
        shares = ", ".join(tr("{0} {1:.0%}").format(basis, share) for basis, share in took.shares)
        lines.append(tr("way to {0}: {1}  [{2}]").format(
            name_of(teardown, part), interval_text(took.seconds, took.low_s, took.high_s), shares))
    return lines


def pace_lines(known: Mapping[str, Pace]) -> list[str]:
    """The analyst's pace by verb."""
    return [tr("pace, {0}: {1:.2f} ({2:.2f} to {3:.2f}), {4} readings{5}").format(
        pace.verb if pace.verb != ALL else tr("all verbs"), pace.ratio, pace.low, pace.high, pace.readings,
        tr(", drawn towards 1") if pace.is_shrunk else "") for pace in known.values()]


def learning_lines(curve: LearningCurve) -> list[str]:
    """A learning curve over the passes."""
    return [tr("learning, Wright's unit model: first pass {0}, each doubling leaves {1:.0%} ({2:.0%} to {3:.0%}), "
               "{4} passes; the next would take {5}").format(
        duration_text(curve.first_s), curve.rate, curve.rate_low, curve.rate_high, curve.repetitions,
        duration_text(curve.time_s(curve.repetitions + 1)))]
