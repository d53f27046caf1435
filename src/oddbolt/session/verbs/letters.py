"""The letters of the tray: which fasteners there are, and what is known of them."""

from __future__ import annotations

from msgspec.structs import replace

from oddbolt.model.label import Label
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Fastener, Teardown
from oddbolt.session.verbs.plain import Done


def add_fastener(teardown: Teardown, fastener: Fastener) -> Done:
    """One more letter on the tray; `made` is the letter."""
    if fastener.id in teardown.fastener:
        raise Refusal(fastener.id, "letter-taken")
    return Done(Label("letter", {"letter": fastener.id}),
                replace(teardown, fasteners=(*teardown.fasteners, fastener)), fastener.id)


def set_fastener(teardown: Teardown, fastener: Fastener) -> Done:
    """What is known of a letter, written anew; what the new says nothing of stays."""
    if fastener.id not in teardown.fastener:
        raise Refusal(fastener.id, "no-such-letter")
    names = ("drive", "size", "thread", "length_mm", "head_mm", "head", "colour")
    given = {name: getattr(fastener, name) for name in names if getattr(fastener, name)}
    return Done(Label("fastener", {"letter": fastener.id}), replace(teardown, fasteners=tuple(
        replace(f, **given) if f.id == fastener.id else f for f in teardown.fasteners)))


def next_letter(teardown: Teardown) -> str:
    """The next free letter of the tray: A to Z, then AA, AB ..."""
    taken = {fastener.id for fastener in teardown.fasteners}
    letters = [chr(65 + n) for n in range(26)]
    return next(x for x in (*letters, *(a + b for a in letters for b in letters)) if x not in taken)
