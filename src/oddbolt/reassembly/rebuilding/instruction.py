"""An instruction as a list that is worked on: made from the reverse of the log, and what access says of its order."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec.structs import replace

from oddbolt.model.things import Refit, Teardown
from oddbolt.reassembly.rebuilding.putting_back import APPLY, Off, off_by_log, order_of, put_back
from oddbolt.rules.replay import PUT_BACK, this_pass
from oddbolt.rules.structure import structure_of


def entries_from_log(teardown: Teardown) -> list[Refit]:
    """Everything that came off in the present pass, in the reverse order, as entries to go on from; new bonds stand
    before what goes onto them."""
    undone = replace(teardown, log=tuple(entry for entry in teardown.log if entry.do not in PUT_BACK))
    found = []
    for step in put_back(undone, off_by_log(undone)).steps:
        if step.do == APPLY:
            part = next((one for one in teardown.joint[step.thing].of[1:]), None)
            found.append(Refit(do=APPLY, on=part, uses=step.uses))
        else:
            found.append(Refit(do=step.do, thing=step.thing, uses=step.uses))
    return found


def closes_over(teardown: Teardown, entries: Sequence[Refit]) -> dict[int, tuple[str, ...]]:
    """By the place of an entry: what the entries put in later, and could not any more after this one. Everything else
    is taken for still off."""
    structure = structure_of(teardown)
    places: dict[str, int] = {}
    for n, entry in enumerate(entries):
        thing = structure.stand_in.get(entry.thing or "", entry.thing or "")
        closes = entry.do in PUT_BACK or (entry.do == "route" and thing in structure.releases)
        if closes and (thing in structure.removals or thing in structure.releases):
            places.setdefault(thing, n)
    off = [Off(thing) for thing in (*structure.releases, *structure.removals)]
    order = order_of(structure, off)
    found: dict[int, tuple[str, ...]] = {}
    closed: set[str] = set()
    fine = set(order)
    for thing, place in places.items():
        closed.add(thing)
        still = set(order_of(structure, [Off(other) for other in order if other not in closed]))
        news = tuple(other for other in places if other not in closed and other in fine and other not in still)
        if news:
            found[place] = news
        fine = still
    return found


def proven_by(teardown: Teardown, entries: Sequence[Refit]) -> set[int]:
    """Places of the entries that were done as they stand, in the present pass."""
    done = {(entry.step, entry.do, entry.thing) for entry in this_pass(teardown)
            if entry.step is not None and entry.outcome != "failed"}
    verbs = {"route": ("route", "fasten")}  # laying a cable closes its joint
    return {n for n, entry in enumerate(entries)
            if any((n, do, entry.thing or entry.on) in done for do in verbs.get(entry.do, (entry.do,)))}
