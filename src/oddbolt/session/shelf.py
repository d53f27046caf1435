"""The shelf: every teardown of the chosen folders, first by a look at its file, then examined one after the other."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from pathlib import Path

from msgspec import Struct
from msgspec.structs import replace

from oddbolt.effort.sums import time_of
from oddbolt.effort.times import KnownTimes
from oddbolt.model.naming import called
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Teardown
from oddbolt.reassembly.findings import findings
from oddbolt.reassembly.ledger import ledger_of
from oddbolt.rules.structure import structure_of
from oddbolt.scoring.evaluate import evaluate
from oddbolt.scoring.method import INDEX, fitting_methods, load_method
from oddbolt.search.planner import Planner
from oddbolt.store.files import read_teardown
from oddbolt.store.photographs import photographs
from oddbolt.store.shelf import index
from oddbolt.store.shelf.cards import (
    DAMAGED,
    LOCKED,
    OLDER,
    OPEN,
    UNREADABLE,
    WHOLE,
    Card,
    Reach,
    Stamp,
    card_of,
    first_look,
    stamp_of,
    teardown_files,
)
from oddbolt.studies.retelling import GUESSED, known_without_plans

LARGEST = 400  # releases and removals of a device that is examined without being asked
KEPT_AT_ONCE = 20  # cards that are examined before they are kept
MakeThumb = Callable[[bytes], bytes]


class Shelf(Struct, frozen=True, kw_only=True):
    """Cards by path, in the order in which the files were found; how many of them are examined."""

    cards: dict[str, Card]
    done: int

    @property
    def is_done(self) -> bool:
        return self.done == len(self.cards)


def shelf(folders: Iterable[Path], make_thumb: MakeThumb, is_stopped: Callable[[], bool] = lambda: False,
          *, own: tuple[Path, Teardown] | None = None, at: Path | None = None) -> Iterator[Shelf]:
    """First what is kept and what a look gives, then again after each one that was examined. `own` is the document that
    is open here, `at` where the index is, if not in the cache of this user."""
    before = index.kept(at)
    cards: dict[str, Card] = {}
    news: dict[str, tuple[Stamp, Card]] = {}
    for path in teardown_files(folders):
        name, stamp = str(path), stamp_of(path)
        if own is not None and path == own[0]:
            cards[name] = card_of(*own)
            continue
        known = before.get(name)
        if known is not None and known[0] == stamp and known[1].state == WHOLE:
            cards[name] = known[1]
        else:
            cards[name] = first_look(path)
            if stamp is not None:
                news[name] = stamp, cards[name]
        if len(cards) % 50 == 0 and is_stopped():
            return
    index.keep(news, path=at)
    waiting = [name for name, card in cards.items() if not card.is_examined and card.state in (WHOLE, OPEN, LOCKED)]
    yield Shelf(cards=dict(cards), done=len(cards) - len(waiting))
    news = {}
    for n, name in enumerate(waiting, start=1):
        stamp = stamp_of(Path(name))
        is_own = own is not None and Path(name) == own[0]
        cards[name] = examined(cards[name], make_thumb, own[1] if own is not None and is_own else None)
        if stamp is not None and not is_own:
            news[name] = stamp, cards[name]
        if n % KEPT_AT_ONCE == 0 or n == len(waiting):
            index.keep(news, path=at)
            news = {}
        yield Shelf(cards=dict(cards), done=len(cards) - len(waiting) + n)


def examined(card: Card, make_thumb: MakeThumb, record: Teardown | None = None) -> Card:
    """With depths, times, verdict, odd bolts and what is open; what is wrong with it where it cannot be read. `record`
    where it is open here."""
    path = Path(card.path)
    try:
        teardown = record or read_teardown(path)
    except Refusal as refusal:
        state = DAMAGED if refusal.code == "document-damaged" else OLDER if refusal.code == "older-layout" \
            else UNREADABLE
        return replace(card, state=state, why=refusal.code, is_examined=True)
    thumb = card.thumb or _thumb(path, teardown, make_thumb)
    card = replace(card, thumb=thumb, is_examined=True, odd=ledger_of(teardown).odd, findings=len(findings(teardown)))
    structure = structure_of(teardown)
    if len(structure.releases) + len(structure.removals) > LARGEST:
        return card
    planner = Planner(teardown, KnownTimes(teardown))
    reaches = tuple(_reaches(planner))
    card = replace(card, reaches=reaches, guessed=sum(one.known == GUESSED and one.steps is not None
                                                      for one in reaches))
    methods = [load_method(id_) for id_ in fitting_methods(teardown.device.category)]
    first = next((method for method in methods if method.kind == INDEX), None)
    if first is not None:
        verdict = evaluate(teardown, first, KnownTimes(teardown))
        card = replace(card, method=first.id, classes=verdict.classes, index=verdict.index)
    return card


def _reaches(planner: Planner) -> Iterator[Reach]:
    teardown = planner.teardown
    for part in teardown.parts:
        if not part.role or part.id not in planner.structure.present:
            continue
        plan = planner.plan([part.id])
        name = str(called(teardown, part.id).get("name", "")).encode("utf-8", "replace").decode()
        if plan.count is None:
            yield Reach(part.role[0], name, None, None, GUESSED)
        else:
            yield Reach(part.role[0], name, plan.count.steps, time_of(plan.count).seconds,
                        known_without_plans(planner, plan))


def _thumb(path: Path, teardown: Teardown, make_thumb: MakeThumb) -> bytes:
    first = next((view.photo for view in teardown.pictured), "")
    if not first:
        return b""
    try:
        with photographs(path) as photo:
            body = photo(first)
    except Refusal:
        return b""
    return make_thumb(body) if body else b""
