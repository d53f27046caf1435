"""Sentences with the moment at which each is said: as the work goes, and any that the grammar of the moment has."""

from __future__ import annotations

import random
from collections.abc import Iterator
from pathlib import Path

from msgspec import Struct
from msgspec.structs import replace

from oddbolt.hearing.grammar import Grammar, Pattern, Said, Slot
from oddbolt.model.things import LogEntry, Teardown
from oddbolt.session.recording.offers import ROLE, Offer
from oddbolt.session.selection import Selection
from oddbolt.session.speaking import sentences as code
from oddbolt.session.speaking.sentences import Moment, grammar_of
from oddbolt.session.speaking.spelling import Knows
from oddbolt.store.files import read_json

DEMO = Path(__file__).resolve().parents[2] / "src" / "oddbolt" / "demo"
TUNED_ON, HELD_OUT_ON = ("dunlin-2", "bittern"), ("curlew", "curlew-2")
# How often each kind of sentence is among those beside the work.
# How often what may be left out is said, and something rare: as one works, not as one tries a program out.
OPTIONAL, SELDOM, USUAL = 0.3, 0.2, 8
WEIGHTS = {code.LINE: 6, code.GESTURE: 5, code.YES: 1, code.NO: 2, code.UNDO: 2, code.REDO: 0.5, code.NOTE: 1,
           code.CHOOSE: 1, code.WHOSE: 2, code.WAIT: 2, code.TOOL: 2, code.CUTS: 0.5, code.WAY: 1, code.POINT: 1,
           code.TICK: 1, code.NAME: 2, code.TYPE: 1, code.LETTER: 2, code.ANSWER: 3, code.OUTCOME: 2}


class Spoken(Struct, frozen=True):
    """A sentence, what it means, and what could be said at that moment."""

    text: str
    said: Said
    grammar: Grammar


def sentences(device: str, number: int, seed: int, knows: Knows, *, of_the_work: float = 0.6) -> Iterator[Spoken]:
    """At random moments of a recorded job. That share of them is what the analyst said he did next; the others are any
    sentence that could be said."""
    rng = random.Random(seed)
    teardown = read_json(DEMO / f"{device}.json")
    acts = [n for n, entry in enumerate(teardown.log) if entry.do in ("release", "remove") and entry.thing]
    made = 0
    while made < number:
        at = rng.choice(acts)
        known = met_before(teardown, at)
        wanted = _as_said(teardown, known, teardown.log[at]) if rng.random() < of_the_work else None
        moment = _moment(known, rng, knows, plain=wanted is not None)
        grammar = grammar_of(moment)
        found = _fitting(grammar, wanted, rng) if wanted is not None else _any(grammar, rng)
        said = grammar.understand(found.split()) if found else None
        if said is not None:
            made += 1
            yield Spoken(found, said, grammar)


def met_before(teardown: Teardown, at: int) -> Teardown:
    """The record as it stood before an entry of its log: with what the log had met by then."""
    log = teardown.log[:at]
    joints = {entry.thing for entry in log} | {thing for entry in log for thing in entry.things}
    kept = tuple(joint for joint in teardown.joints if joint.id in joints)
    parts = joints | {part for joint in kept for part in joint.of} | {teardown.device.base}
    letters = {joint.fastener for joint in kept}
    return replace(teardown, log=log, joints=kept, parts=tuple(p for p in teardown.parts if p.id in parts), views=(),
                   fasteners=tuple(f for f in teardown.fasteners if f.id in letters))


def _moment(known: Teardown, rng: random.Random, knows: Knows, *, plain: bool) -> Moment:
    chosen = Selection()
    if known.joints and rng.random() < 0.7:
        chosen.thing = rng.choice(known.joints).id
    offered: tuple[Offer, ...] = ()
    seen = 0
    if not plain and rng.random() < 0.35:
        offered = tuple(Offer(code=ROLE, about="", choice="") for _ in range(rng.choice((2, 3, 4))))
    elif not plain and rng.random() < 0.4:
        chosen.seeing, seen = True, rng.randint(1, 7)
    return Moment(teardown=known, selection=chosen, offered=offered, seen=seen, knows=knows)


def _as_said(teardown: Teardown, known: Teardown, entry: LogEntry) -> dict[str, str]:
    """Tokens that the sentence about an act has to have; what its part is called is left to the grammar."""
    joint = teardown.joint.get(entry.thing or "")
    part = teardown.part[joint.of[0] if joint is not None else entry.thing or ""]
    wanted = {"owner": part.id if part.id in known.part else part.kind}
    if joint is None:
        return {"verb": "lift", **wanted}
    if joint.kind == "screw":
        letters = {fastener.id for fastener in known.fasteners}
        letter = teardown.fastener[joint.fastener or ""]
        if letter.id in letters:
            return {"count": str(joint.count), "letter": letter.id, **wanted}
        return {"count": str(joint.count), "recess": f"{letter.drive}{letter.size}", **wanted}
    return {"kind": joint.kind, **wanted}


def _fitting(grammar: Grammar, wanted: dict[str, str], rng: random.Random) -> str:
    """A sentence of the grammar with these tokens; empty where it has none, as of a kind that the bench has no word
    for."""
    from oddbolt.catalog.tables import joint_kind_typed

    tokens = dict(wanted)
    if "kind" in tokens:
        tokens["verb"] = joint_kind_typed().get(tokens.pop("kind"), "")
    for pattern in grammar.patterns:
        names = {slot.name for slot in pattern.slots}
        if pattern.code != code.LINE or not set(tokens) <= names or ("recess" in names) != ("recess" in tokens):
            continue
        words = []
        for slot in pattern.slots:
            fits = [phrase for phrase, token in slot.phrases.items() if token == tokens.get(slot.name, token)]
            if slot.name not in tokens and slot.optional and rng.random() > OPTIONAL:
                continue
            if not fits:
                break
            words.append(rng.choice(sorted(fits)))
        else:
            return " ".join(words)
    return ""


def _any(grammar: Grammar, rng: random.Random) -> str:
    def phrase(slot: Slot) -> str:
        usual = sorted(phrase for phrase, token in slot.phrases.items() if slot.name != "count" or int(token) <= USUAL)
        return rng.choice(usual if usual and rng.random() > SELDOM else sorted(slot.phrases))

    def drawn(pattern: Pattern) -> str:
        return " ".join(phrase(slot) for slot in pattern.slots
                        if slot.phrases and not (slot.optional and rng.random() > OPTIONAL))

    return drawn(rng.choices(grammar.patterns, [WEIGHTS[one.code] for one in grammar.patterns])[0])
