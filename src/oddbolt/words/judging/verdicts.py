"""Verdicts in words: what points rest on, what could move them, and the convention they are counted by."""

from __future__ import annotations

import math
from collections.abc import Sequence

from oddbolt.model.things import Settings, Teardown
from oddbolt.scoring.asking import Ask
from oddbolt.scoring.changes import UP, DesignChange, Enough, Turn
from oddbolt.scoring.choosing import ACCESS, ANSWER, BOUND, ESTIMATE, LIMITS, NO_PART, ROW, SILENT, TIE, TOOL, Source
from oddbolt.scoring.evaluate import CriterionScore, PartScore, Verdict, letters_of
from oddbolt.scoring.measures.looking import Ground
from oddbolt.scoring.method import FIGURES, INDEX, PROFILE, Criterion, Method, Points
from oddbolt.scoring.opinions import Leaning
from oddbolt.scoring.unknowns import Move
from oddbolt.studies.retelling import GUESSED
from oddbolt.words.figures import MINUS, duration_text, interval_text, points_text, steps_text
from oddbolt.words.judging.studies import redesign_text
from oddbolt.words.known import known_text
from oddbolt.words.names import name_of, names_of, role_name, tool_class_name, tool_name
from oddbolt.words.translate import N_, from_table, of_data, sentence, tr, within

GROUNDS = {"unanswered": N_("not answered yet"), "no-part": N_("no part has this role yet"),
           "absent": N_("not in this device"),
           "answer-not-understood": N_("the answer {value} does not fit this criterion"),
           "never-free": N_("cannot be taken off; kept in by {things}"),
           "tool-count": N_("{value} tools"), "renewals": N_("{value} to renew: {things}"),
           "destroyed": N_("{value} destroyed: {things}"), "in-the-way": N_("{value} in the way: {things}"),
           "no-fact": N_("no {value} is noted of {things}"), "fact": N_("{things}: {value} ({basis})"),
           "depth-of": N_("{things}: {value} steps"), "no-mark": N_("no mark is on record"),
           "mark": N_("mark {value}, {things}"),
           "tasks": N_("done on the way: {value}"), "no-marks": N_("marks still to be given: {value}"),
           "edim-outside": N_("no row in eDiM, counted as nothing: {things}"),
           "no-rate": N_("still to be entered: {value}"), "chance": N_("{things}: chance of failure {value}"),
           "orders": N_("{value} orders"), "more-orders": N_("more than {value} orders")}
ASKED = {"labour_rate": N_("labour rate per hour"), "spare_price": N_("price of the spare"),
         "consumables": N_("consumables"), "product_price": N_("price of the product"),
         "chance_of_failure": N_("chance of failure over the life")}
READINGS = {True: N_("yes"), False: N_("no"), "full": N_("full points"), "least": N_("least points"),
            "worst": N_("the worst"), "best": N_("the best")}
SOURCES = {ACCESS: N_("access that is assumed"), BOUND: N_("depth of {things}, only bounded so far"),
           ESTIMATE: N_("time to {things}"), NO_PART: N_("{role}: no part has this role yet"),
           TOOL: N_("class of the tool {things}")}


def ground_text(teardown: Teardown, ground: Ground) -> str:
    """What points rest on."""
    things = names_of(teardown, [one for one in ground.things if one]) if ground.things and ground.code not in (
        "answer", "mark", "tool", "tool-count", "tools-of") else ""
    if ground.code == "depth":
        return f"{steps_text(ground.value)}, {ground.basis}, {known_text(ground.known)}"
    if ground.code == "fastener":
        return f"{ground.value}: {things}" if things else tr("{0}: nothing to undo").format(ground.value)
    if ground.code == "tool":
        return f"{tool_name(teardown, ground.things[0])}: {tool_class_name(ground.value)}"
    if ground.code == "answer":
        source = f", {ground.things[0]}" if ground.things and ground.things[0] else ""
        return tr("answered {0} ({1})").format(ground.value, f"{ground.basis}{source}")
    if ground.code == "time":
        return tr("{0}, {1}").format(interval_text(*map(float, ground.value.split(","))), ground.basis)
    if ground.code == "cost":
        whole, _, share = ground.value.partition(",")
        return tr("{0}, {1:.0%} of the product").format(whole, float(share)) if share else whole
    if ground.code == "edim":
        tmu, seconds = ground.value.split(",")
        return tr("{0} TMU, {1} s").format(tmu, seconds)
    if ground.code in ("tool-count", "mark"):
        things = ", ".join(tool_name(teardown, one) if ground.code == "tool-count" else one for one in ground.things)
    if ground.code == "tools-of":
        return tr("{0}: {1}").format(name_of(teardown, ground.things[0]),
                                     ", ".join(tool_name(teardown, one) for one in ground.things[1:]))
    if ground.code == "fasteners-of":
        others = f" ({names_of(teardown, ground.things[1:])})" if ground.things[1:] else ""
        return tr("{0}: {1}{2}").format(name_of(teardown, ground.things[0]), ground.value, others)
    value = from_table(ASKED, ground.value) if ground.value in ASKED else ground.value
    return from_table(GROUNDS, ground.code, value=value, things=things, basis=ground.basis)


def convention_text(settings: Settings) -> str:
    """The convention in a sentence; it is part of every result."""
    words = [tr("Fewest steps (EN 45554)"), tr("bare hand counts as a tool") if settings.hand_is_tool
             else tr("bare hand not counted as a tool")]
    if settings.own_step:
        words.append(tr("a step of their own: {0}").format(", ".join(settings.own_step)))
    if settings.each_tool:
        words.append(tr("each further tool at the same time one step more"))
    if settings.tool_groups:
        words.append(tr("tools that count as one: {0}").format(
            "; ".join(", ".join(group) for group in settings.tool_groups)))
    words.append(tr("power isolated first") if settings.isolate_first else tr("power isolated when it comes"))
    words.append(tr("change of tool {0:g} s, turn {1:g} s").format(settings.tool_change_s, settings.turn_s))
    return " · ".join(words)


def asked_text(method: Method, ask: Ask) -> str:
    """What an answer is asked for."""
    criterion = ask.of
    if criterion is None:
        return from_table(ASKED, ask.criterion) if ask.criterion in ASKED \
            else tr("mark for: {0}").format(ask.criterion)
    name = of_data(criterion.name)
    return tr("{0}, {1}").format(name, of_data(criterion.unit)) if criterion.unit and not criterion.words else name


MEASURES = {"depth": N_("steps to the part"), "fasteners": N_("worst fastener"), "tools": N_("worst tool"),
            "tool_count": N_("number of tools"), "renewals": N_("joints to renew"), "destroyed": N_("joints destroyed"),
            "time": N_("seconds to the part"), "fact": N_("a figure of the part"), "in_the_way": N_("parts in the way"),
            "answer": N_("an answer"), "mark": N_("a person's mark"), "cost": N_("cost of replacing"),
            "edim": N_("eDiM"), "by_verb": N_("marks by task"), "access_time": N_("weighted access time"),
            "repair_effort": N_("expected repair effort"), "freedom": N_("freedom of order")}
LEANS = {"for": "+", "against": "−", "neither": "·"}


def measure_name(measure: str) -> str:
    """What a criterion looks at."""
    return from_table(MEASURES, measure)


def leaning_text(teardown: Teardown, verdict: Verdict, leaning: Leaning) -> str:
    """Evidence for or against an opinion."""
    criterion = next(one for one in verdict.method.criteria if one.id == leaning.criterion)
    grounds = "; ".join(ground_text(teardown, ground) for ground in leaning.grounds)
    return tr("{0} {1}: {2}, {3}").format(LEANS[leaning.says], leaning.matter, of_data(criterion.name), grounds)


# -- results

def figure_text(value: float, unit: str = "") -> str:
    """A figure of a method; a dash where there is none."""
    if math.isnan(value):
        return "–"
    if unit == "s":
        return duration_text(value)
    return f"{value:.2f}".rstrip("0").rstrip(".")


def index_text(verdict: Verdict) -> str:
    """The index, or from and to; halves both ways where the rule of rounding is not known."""
    method = verdict.method
    if method.kind == PROFILE:
        return tr("profile, no total")
    if method.kind == FIGURES:
        low, high = (figure_text(value, method.unit) for value in verdict.index)
        return low if low == high else tr("{0} to {1}").format(low, high)
    low, high = verdict.index
    if low == high:
        return tr(" or ").join(f"{value:.{method.decimals}f}" for value in method.rounded(low))
    return tr("{0} to {1}").format(f"{method.rounded(low)[-1]:.{method.decimals}f}",
                                   f"{method.rounded(high)[-1]:.{method.decimals}f}")


def classes_text(names: Sequence[str]) -> str:
    if not names:
        return ""
    if len(names) == 1:
        return tr("class {0}").format(names[0])
    return tr("class {0} or {1}").format(", ".join(names[:-1]), names[-1])


def span_of(names: Sequence[str]) -> str:
    """Classes in a cell: the one, or from the worst to the best."""
    if not names:
        return ""
    return names[0] if len(names) == 1 else tr("{0} to {1}").format(names[-1], names[0])


def class_text(verdict: Verdict) -> str:
    """The classes that the index may fall in; none where the text gives the device none."""
    if verdict.fails:
        return tr("no class: {0} below the legal minimum").format(
            ", ".join(within(of_data(score.criterion.name)) for score in verdict.criteria if score.fails))
    return classes_text(verdict.classes)


def score_text(criterion: Criterion, points: Points) -> str:
    """Points, letters or a figure of a criterion."""
    if criterion.letters:
        letters = letters_of(criterion, points)
        if len(letters) > 2:
            return tr("{0} to {1}").format(letters[0], letters[-1])
        return tr(" or ").join(letters) or "–"
    if math.isnan(points[0]):
        return "–"
    if criterion.unit == "s":
        low, high = (duration_text(value) for value in points)
        return low if low == high else tr("{0} to {1}").format(low, high)
    return points_text(points)


def part_score_text(score: CriterionScore, part: PartScore) -> str:
    return score_text(score.criterion, part.points)


# -- how far it holds

def firm_text(verdict: Verdict, tell_keys: str = "") -> str:
    """Whether a verdict is firm, and if not, why."""
    if verdict.method.kind != INDEX:
        return tr("No class, so nothing that could be firm.")
    if verdict.fails:
        return tr("The text gives such a device no class.")
    standing = verdict.standing
    if standing is None:
        return tr("How far it holds is being looked into.")
    if verdict.is_firm:
        return tr("The class is firm: it holds over all that is unknown, assumed, unconfirmed or left open.")
    over = tr("Over all that is open: {0}, {1}.").format(
        range_text(standing.index, verdict.method.decimals), classes_text(standing.classes))
    if verdict.is_guessed and len(standing.classes) == 1:
        number = sum(known == GUESSED for known in verdict.known.values())
        if not tell_keys:
            return tr("The class is not firm: {0} of its ways are guessed.").format(number)
        return tr("The class is not firm: {0} of the ways that it rests on are guessed. Look at them in the Log "
                  "({1}).").format(number, tell_keys)
    if len(standing.classes) == 1:
        return tr("The class held in all {0} worlds of assumed access that were tried; there are more.").format(
            standing.worlds)
    if len(verdict.classes) == 1:
        return tr("The class is not firm. {0}").format(over)
    return tr("The class is open: what is not known decides it. {0}").format(over)


def range_text(values: Points, decimals: int) -> str:
    low, high = (f"{math.floor(value * 10 ** decimals + 0.5 + 1e-9) / 10 ** decimals:.{decimals}f}" for value in values)
    return low if low == high else tr("{0} to {1}").format(low, high)


def source_text(teardown: Teardown, method: Method, source: Source) -> str:
    """A matter that may be one way or another, in words."""
    names = {one.id: of_data(one.name) for one in method.criteria}
    if source.kind == SILENT:
        silent = next(one for one in method.silent if one.id == source.name)
        return tr("left open by the text: {0}").format(of_data(silent.name))
    if source.kind == ROW and source.name == LIMITS:
        return tr("{0}: the limits are not confirmed").format(names[source.criterion])
    if source.kind == ROW:
        return tr("{0}: the row “{1}” is not confirmed").format(names[source.criterion], source.name)
    if source.kind == ANSWER:
        name = names.get(source.criterion, of_data(source.criterion))
        return tr("{0}, {1}: not answered").format(name, role_name(source.role)) if source.role \
            else tr("{0}: not answered").format(name)
    if source.kind == TIE:
        joint, part = source.things
        return tr("whether the spare {0} brings new fixing for {1}").format(name_of(teardown, part),
                                                                          name_of(teardown, joint))
    things = tool_name(teardown, source.things[0]) if source.kind == TOOL else names_of(teardown, source.things)
    return from_table(SOURCES, source.kind, things=things, role=role_name(source.role) if source.role else "")


def move_text(teardown: Teardown, method: Method, move: Move) -> str:
    """What could move a verdict, and how far."""
    what = sentence(source_text(teardown, method, move.source))
    if move.spread < 0.005:
        return tr("{0}. Moves it only together with others").format(what)
    text = tr("{0}. {1:.2f} of the index").format(what, move.spread)
    return tr("{0}, tells {1:.2f} bits of the class").format(text, move.bits) if move.bits >= 0.005 else text


def turn_text(teardown: Teardown, method: Method, turn: Turn) -> str:
    """A matter and how it turns out."""
    source = turn.source
    if source.kind == SILENT:
        silent = next(one for one in method.silent if one.id == source.name)
        return tr("{0}: read otherwise").format(of_data(silent.name))
    if source.kind == ACCESS:
        return tr("access other than assumed")
    criterion = next((one for one in method.criteria if one.id == source.criterion), None)
    if source.kind in (ANSWER, NO_PART):
        name = of_data(criterion.name) if criterion is not None else role_name(source.role)
        return tr("{0} answered {1}").format(name, _level_text(method, criterion, turn))
    if source.kind == ROW and criterion is not None:
        if source.name == LIMITS:
            text = tr("{0}: limits {1:g} further") if turn.place else tr("{0}: limits {1:g} closer")
            return text.format(of_data(criterion.name), criterion.doubt_limits)
        text = tr("{0}: “{1}” gives more") if turn.place else tr("{0}: “{1}” gives less")
        return text.format(of_data(criterion.name), source.name)
    if source.kind == TIE:
        joint, part = source.things
        text = tr("the spare {0} brings new fixing for {1}") if turn.place else tr(
            "the spare {0} brings no new fixing for {1}")
        return text.format(name_of(teardown, part), name_of(teardown, joint))
    what = source_text(teardown, method, source)
    return tr("{0}, at its best").format(what) if turn.place else tr("{0}, at its worst").format(what)


def _level_text(method: Method, criterion: Criterion | None, turn: Turn) -> str:
    if criterion is not None and criterion.words:
        levels = sorted(set(criterion.words.values()))
        return next(of_data(word) for word, points in criterion.words.items() if points == levels[turn.place])
    if criterion is not None and criterion.at_least:
        levels = sorted({given for _, given in criterion.at_least})
        return next(tr("at least {0:g}").format(limit) for limit, given in criterion.at_least
                    if given == levels[min(turn.place, len(levels) - 1)])
    low, high = method.scale
    return f"{low + (high - low) * turn.place / (turn.levels - 1):g}"


def enough_text(teardown: Teardown, method: Method, enough: Enough) -> str:
    """A smallest set of facts that moves the class."""
    what = tr("; ").join(turn_text(teardown, method, turn) for turn in enough.turns)
    arrow = tr("Up to {0}") if enough.direction == UP else tr("Down to {0}")
    return tr("{0} ({1:.2f}): {2}").format(arrow.format(classes_text((enough.to,))), enough.index, what)


def points_line(change: DesignChange) -> str:
    """What a change of the design does to the index, and to the class where it moves it."""
    text = tr("  index {0:+.2f}").format(change.gain).replace("-", MINUS)
    return tr("{0}, {1}").format(text, classes_text(change.classes[1])) if change.moves_class else text


def design_text(teardown: Teardown, method: Method, change: DesignChange) -> str:
    """A change of the design with what it does to the verdict."""
    what = redesign_text(teardown, change.kind, change.thing)
    if change.second is not None:
        what = tr("{0} and {1}").format(what, within(redesign_text(teardown, *change.second)))
    text = tr("{0}: {1:+.2f}, {2}").format(what, change.gain, range_text(change.index[1], method.decimals))
    return tr("{0}, {1}").format(text, classes_text(change.classes[1])) if change.moves_class else text
