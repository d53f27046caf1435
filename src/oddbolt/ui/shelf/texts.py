"""What a card tells, in words."""

from __future__ import annotations

from oddbolt.model.refusal import Refusal
from oddbolt.scoring.method import load_method
from oddbolt.store.shelf.cards import DAMAGED, LOCKED, OLDER, OPEN, UNREADABLE, WHOLE, Card, Reach
from oddbolt.words.figures import duration_text, steps_text
from oddbolt.words.judging.verdicts import span_of
from oddbolt.words.known import known_text, with_sign
from oddbolt.words.names import role_name
from oddbolt.words.refusals import REASONS
from oddbolt.words.translate import N_, from_table, of_data, sentence, tr

STATES = {WHOLE: N_("whole"), OPEN: N_("open here"), LOCKED: N_("open elsewhere"), DAMAGED: N_("damaged"),
          UNREADABLE: N_("cannot be read"), OLDER: N_("of an older layout: open it once")}


def state_text(card: Card) -> str:
    return from_table(STATES, card.state)


def category_name(category: str) -> str:
    return sentence(category.replace("_", " "))


def about_text(card: Card) -> str:
    return " · ".join(one for one in (category_name(card.category), card.variant, card.date, card.by) if one)


def reach_text(one: Reach) -> str:
    """Depth and time in short: "Battery 5, 8 min 42"."""
    if one.steps is None or one.seconds is None:
        return tr("{0}: cannot be taken off").format(one.name or role_name(one.role))
    return with_sign(one.known, tr("{0} {1}, {2}").format(one.name or role_name(one.role), one.steps,
                                                          duration_text(one.seconds)))


def verdict_text(card: Card) -> str:
    """By the first index that fits: its class, or from the worst to the best; the index where it has none."""
    if not card.method:
        return ""
    try:
        name = of_data(load_method(card.method).name)
    except Refusal:
        return ""
    low, high = (f"{value:.1f}" for value in card.index)
    figure = span_of(card.classes) if card.classes else low if low == high else tr("{0} to {1}").format(low, high)
    return tr("{0} · {1}").format(figure, name)


def open_text(card: Card) -> str:
    """What is still to be settled."""
    lines = []
    if card.findings:
        lines.append(tr("1 finding") if card.findings == 1 else tr("{0} findings").format(card.findings))
    if card.guessed:
        lines.append(tr("1 way guessed") if card.guessed == 1 else tr("{0} ways guessed").format(card.guessed))
    return ", ".join(lines)


def whole_text(card: Card, tags: tuple[str, ...]) -> str:
    """All of a card, for the tooltip and for those who do not see the picture."""
    lines = [card.name, about_text(card), card.path]
    if card.state != WHOLE:
        reason = from_table(REASONS, card.why) if card.why in REASONS and "{" not in REASONS[card.why] else card.why
        lines.append(tr("{0}: {1}").format(state_text(card), reason) if reason else state_text(card))
    for one in card.reaches:
        depth = tr("cannot be taken off") if one.steps is None else tr("{0}, {1}, {2}").format(
            steps_text(one.steps), duration_text(one.seconds or 0), known_text(one.known))
        lines.append(tr("{0}: {1}").format(one.name or role_name(one.role), depth))
    lines += [verdict_text(card), tr("{0} odd bolts").format(card.odd) if card.is_examined else "", open_text(card),
              tr("Tags: {0}").format(", ".join(tags)) if tags else ""]
    return "\n".join(line for line in lines if line)
