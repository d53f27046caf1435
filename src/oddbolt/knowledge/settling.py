"""What is assumed of `behind`, brought up to date with the evidence; no guess may keep in what came off."""

from __future__ import annotations

from collections.abc import Collection, Mapping

from msgspec.structs import replace

from oddbolt.knowledge.guesses import Guesses
from oddbolt.knowledge.said.retold import needed_for
from oddbolt.model.snapshot import succeed
from oddbolt.model.things import ASSUMED, Joint, Part, Teardown
from oddbolt.rules.blocked import done_all
from oddbolt.rules.device_state import DeviceState
from oddbolt.rules.replay import readings
from oddbolt.rules.structure import structure_of

MOST = 40  # guesses that are dropped at a time


def settle(teardown: Teardown, touched: Collection[str] | None = None, *, unmet: bool = True) -> Teardown:
    """The teardown with what is assumed of `behind` brought up to date with the evidence.

    Only things whose basis is `assumed` are changed, and the basis never is: only a person raises it.
    `touched` limits the work to these and to what has not been within reach yet; None looks at everything. Without
    `unmet` what has not been within reach is left too: nothing was cleared, so nothing more may hide it.
    """
    if touched is not None and not unmet and all(teardown.thing(id_).basis != ASSUMED for id_ in touched
                                                 if id_ in teardown.part or id_ in teardown.joint):
        return teardown
    guesses = Guesses(teardown)
    changed: dict[str, tuple[tuple[str, ...], ...]] = {}
    for thing in (*teardown.joints, *teardown.parts):
        if thing.basis != ASSUMED or (touched is not None and thing.id not in touched
                                      and (not unmet or guesses.record.is_met(thing.id))):
            continue
        if thing.id not in guesses.structure.releases and thing.id not in guesses.structure.removals:
            continue
        behind = guesses.assumed(thing.id)
        if behind != thing.behind:
            changed[thing.id] = behind
    if not changed:
        return _freed(teardown, guesses) if guesses.record.is_retold else teardown

    after = succeed(with_behind(teardown, changed), teardown)
    bold = guesses.record.is_retold or any(teardown.device.base in names for behind in changed.values()
                                           for names in behind)
    return _freed(after, guesses) if bold else after


def with_behind(teardown: Teardown, behind: Mapping[str, tuple[tuple[str, ...], ...]]) -> Teardown:
    """The record with another `behind` of these things; what none of them is of stays the same object."""

    def renewed(thing: Part | Joint) -> Part | Joint:
        return replace(thing, behind=behind[thing.id]) if thing.id in behind else thing

    changed_parts = any(id_ in teardown.part for id_ in behind)
    changed_joints = any(id_ in teardown.joint for id_ in behind)
    return replace(teardown, parts=tuple(map(renewed, teardown.parts)) if changed_parts else teardown.parts,
                   joints=tuple(map(renewed, teardown.joints)) if changed_joints else teardown.joints)


def _freed(teardown: Teardown, guesses: Guesses) -> Teardown:
    """The record without guesses of `behind` by which a part that was lifted could never come off."""
    came_off = {entry.thing for entry in readings(teardown) if entry.do == "remove"}
    for _ in range(MOST):
        structure = structure_of(teardown)
        state = done_all(structure)
        if all(part in state.removed for part in structure.removals if part in came_off):
            break
        weakest = _weakest(teardown, guesses, state) or _first_said(teardown, guesses, state)
        if weakest is None:
            break
        teardown = _without(teardown, *weakest)
    return teardown


def _weakest(teardown: Teardown, guesses: Guesses, state: DeviceState) -> tuple[str, str] | None:
    """Of what is stuck the least likely pair of thing and hider; that something faced the base is the boldest guess."""
    base, structure = teardown.device.base, state.structure
    found: list[tuple[float, str, str]] = []
    for thing in (*teardown.joints, *teardown.parts):
        if thing.basis != ASSUMED or not thing.behind or not state.is_in_place(thing.id) \
                or thing.id not in structure.releases and thing.id not in structure.removals:
            continue
        guess = None
        for hider in thing.behind[0]:
            if hider != base and not state.is_in_place(hider):
                continue
            if guess is None:
                guess = guesses.guess(thing.id)
            if hider in guess.odds:
                found.append((0.0 if hider == base else guess.odds[hider], thing.id, hider))
    return min(found)[1:] if found else None


def _first_said(teardown: Teardown, guesses: Guesses, state: DeviceState) -> tuple[str, str] | None:
    """Where what a person said at several times goes round in a circle, the pair that was said first: what was said
    later counts. What was said once contradicts the record itself; that stays, and is told as what keeps it in."""
    said: list[tuple[int, str, str]] = []
    for (thing, hider), after in guesses.record.said_after.items():
        if state.is_in_place(thing) and state.is_in_place(hider) and thing in needed_for(state.structure, [hider]) \
                and teardown.thing(thing).basis == ASSUMED and hider in {x for names in teardown.thing(thing).behind
                                                                         for x in names}:
            said.append((after, thing, hider))
    return min(said)[1:] if len({after for after, _, _ in said}) > 1 else None


def _without(teardown: Teardown, thing: str, hider: str) -> Teardown:
    left = tuple(x for x in teardown.thing(thing).behind[0] if x != hider)
    return succeed(with_behind(teardown, {thing: (left,) if left else ()}), teardown)
