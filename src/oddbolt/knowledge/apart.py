"""Screws that were marked as one group and held several parts: which of them are about what comes off.

Screws of several parts are undone in a row, and one search marks all that are alike. What holds one part lies together,
and further from what holds another than its screws are from each other.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

from oddbolt.catalog.tables import covering_kinds
from oddbolt.knowledge.covering import UNKNOWN_MM_PER_PX
from oddbolt.knowledge.owners import Lift
from oddbolt.model.places import Spot
from oddbolt.model.things import ASSUMED, Joint, Teardown

FEWEST = 2  # screws that hold a part, where they are told apart from others
APART = 2.0  # times as far from other screws as from each other; common practice, no source


def about(teardown: Teardown, joint: Joint, lift: Lift) -> tuple[str, list[int]]:
    """The photograph, and the places there of the marks of those screws of a group that lie round what was lifted while
    others lie together elsewhere. Nothing ("" and no places) where all may be its own: what holds a cover or a board
    lies all over it; and nothing where a person said what the group holds."""
    kinds = covering_kinds()
    if joint.kind != "screw" or joint.basis != ASSUMED or joint.was_said("of") or lift.spot is None \
            or lift.kind.kind in kinds.large | kinds.bulky:
        return "", []
    shown = [(view, own) for view in teardown.views if view.side == lift.side
             and (own := [n for n, mark in enumerate(view.marks) if mark.thing == joint.id])]
    if not shown:
        return "", []
    view, own = max(reversed(shown), key=lambda one: len(one[1]))  # on a later photograph some may be out of sight
    scale = view.mm_per_px or UNKNOWN_MM_PER_PX
    spots = [(view.marks[n].x * scale, view.marks[n].y * scale) for n in own]
    round_it = [sorted(one) for one in _together(spots) if _is_round([spots[n] for n in one], lift.spot)]
    return (view.id, [own[n] for n in round_it[0]]) if len(round_it) == 1 else ("", [])


def _together(spots: Sequence[Spot]) -> list[list[int]]:
    """Groups of spots, by their numbers, each further from the others than any of its own is from the next; none where
    they are not told apart so."""
    links = _links(spots)
    lengths = sorted(length for length, _, _ in links)
    cuts = sorted(((longer / max(length, 1e-9), length) for length, longer in zip(lengths, lengths[1:])), reverse=True)
    for times, length in cuts:
        if times < APART:
            break
        group_of = {0: 0}
        for far, from_, to in links:
            group_of[to] = group_of[from_] if far <= length else to
        groups = [[n for n in group_of if group_of[n] == group] for group in dict.fromkeys(group_of.values())]
        if min(map(len, groups)) >= FEWEST:
            return groups
    return []


def _links(spots: Sequence[Spot]) -> list[tuple[float, int, int]]:
    """The shortest tree through all spots, grown from the first (Prim): length, from, to."""
    links: list[tuple[float, int, int]] = []
    nearest = {n: (math.dist(spots[0], spots[n]), 0) for n in range(1, len(spots))}
    while nearest:
        to = min(nearest, key=lambda n: nearest[n])
        length, from_ = nearest.pop(to)
        links.append((length, from_, to))
        nearest = {n: min(before, (math.dist(spots[to], spots[n]), to)) for n, before in nearest.items()}
    return links


def _is_round(spots: Sequence[Spot], spot: Spot) -> bool:
    """Whether a spot is no further from the middle of others than the furthest of these is."""
    middle = sum(x for x, _ in spots) / len(spots), sum(y for _, y in spots) / len(spots)
    return math.dist(middle, spot) <= max(math.dist(middle, one) for one in spots)
