"""The one line: what a person types with both hands busy, understood before it counts. Grammar: docs/line.md.

Reading a line changes nothing. It gives words to echo and a command to carry out, or says what is not understood and
where. Names are found by id or name, whole, by their beginning, or anywhere in them, as long as one thing is meant.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from typing import Any

from oddbolt.catalog.defaults import ways_of
from oddbolt.knowledge.guesses import other_end, settle
from oddbolt.model.things import OUTCOMES, Act, Joint, Part, Teardown, Way
from oddbolt.session import commands
from oddbolt.session.commands import Command, free_id, log_entry
from oddbolt.session.recording import released

TYPES = {"b2b": "board-to-board", "board-to-board": "board-to-board", "zif": "zif", "lif": "lif", "coax": "coaxial",
         "coaxial": "coaxial", "wire": "wire-to-board", "wire-to-board": "wire-to-board", "card": "card-edge"}
METHODS = ("heat", "solvent", "pull", "pry")
VERBS = {"lift": "", "plug": "connector", "glue": "adhesive", "peel": "film", "clip": "clip", "swing": "swing",
         "draw": "routing", "note": ""}
_SCREW = re.compile(r"(PH|PZ|IP|PL|SL|HX|TX|T|Y)(\d+)$", re.IGNORECASE)
_SECONDS = re.compile(r"(\d+(?:[.,]\d+)?)\s*(s|sec|min)$", re.IGNORECASE)
_DEGREES = re.compile(r"(\d+(?:[.,]\d+)?)\s*°?C$", re.IGNORECASE)


class NotUnderstood(Exception):
    """What is wrong with a line: a code, the place of the word, and what could stand there."""

    def __init__(self, code: str, start: int, end: int, options: tuple[str, ...] = ()) -> None:
        super().__init__(code, start, end, options)
        self.code, self.start, self.end, self.options = code, start, end, options


@dataclass(frozen=True, slots=True, kw_only=True)
class Understood:
    """A line as it would count. `code` and `figures` are for the echo; `asks` names a part that was asked about."""

    code: str  # release, made-and-release, lift, note, asks
    things: tuple[str, ...] = ()
    figures: tuple[tuple[str, Any], ...] = ()
    guess: tuple[str, ...] = ()  # what a joint that is made lies behind by first guess
    command: Command | None = None


@dataclass(frozen=True, slots=True)
class Word:
    text: str
    start: int

    @property
    def end(self) -> int:
        return self.start + len(self.text)


def understand(teardown: Teardown, line: str, t: float) -> Understood:
    """Read a line; raises NotUnderstood. `t` is the time that a log entry would get."""
    words = [Word(match.group(), match.start()) for match in re.finditer(r"\S+", line)]
    if not words:
        raise NotUnderstood("empty", 0, 0, tuple(VERBS))
    first = words[0]
    if first.text.startswith("?"):
        name = [Word(first.text[1:], first.start + 1)] if len(first.text) > 1 else []
        part = _thing(teardown, [*name, *words[1:]], first, parts=True)
        return Understood(code="asks", things=(part.id,))
    verb = first.text.lower()
    if verb == "note":
        text = line[first.end:].strip()
        if not text:
            raise NotUnderstood("text-missing", first.end, first.end)
        return Understood(code="note", figures=(("text", text),), command=commands.note(teardown, text, t))
    if verb == "lift":
        part = _thing(teardown, words[1:], first, parts=True)
        return Understood(code="lift", things=(part.id,), command=commands.remove(teardown, part.id, t))
    if verb in VERBS:
        return _joint_line(teardown, VERBS[verb], first, words[1:], t)
    return _screw_line(teardown, words, t)


def complete(teardown: Teardown, line: str) -> list[str]:
    """Whole lines that the word being typed could become."""
    before, _, word = line.rpartition(" ")
    low = word.lower().lstrip("?")
    if not before:
        options = [*VERBS, *(f"{j.count or ''} {j.fastener}".strip() for j in teardown.joints if j.fastener)]
    else:
        options = [*(part.id for part in teardown.parts), *(part.name for part in teardown.parts if part.name)]
        if before.split()[0] == "plug":
            options += TYPES
        if before.split()[0] == "glue":
            options += METHODS
    mark = "?" if word.startswith("?") else ""
    if mark:
        options = [part.id for part in teardown.parts]
    found = [option for option in dict.fromkeys(options) if option.lower().startswith(low) and option.lower() != low]
    return [f"{before} {mark}{option}".strip() for option in found][:12]


# -- names

def _thing(teardown: Teardown, words: list[Word], after: Word, *, parts: bool) -> Part:
    """The part that the words name; all of them together."""
    if not words:
        raise NotUnderstood("name-missing", after.end, after.end, tuple(part.id for part in teardown.parts[:8]))
    wanted = " ".join(word.text for word in words).lower()
    names = [(part, {part.id.lower(), part.name.lower()} - {""}) for part in teardown.parts]
    for fits in (lambda name: name == wanted, lambda name: name.startswith(wanted), lambda name: wanted in name):
        found = [part for part, own in names if any(fits(name) for name in own)]
        if len(found) == 1:
            return found[0]
        if found:
            raise NotUnderstood("ambiguous", words[0].start, words[-1].end, tuple(part.id for part in found[:8]))
    raise NotUnderstood("unknown-name", words[0].start, words[-1].end, tuple(part.id for part in teardown.parts[:8]))


def _take(words: list[Word], known: Any) -> tuple[Any, list[Word]]:
    """The first word that `known` gives a value for, and the other words."""
    for n, word in enumerate(words):
        value = known(word)
        if value is not None:
            return value, words[:n] + words[n + 1:]
    return None, words


def _seconds(word: Word) -> float | None:
    match = _SECONDS.match(word.text)
    if match is None:
        return None
    return float(match.group(1).replace(",", ".")) * (60 if match.group(2).lower() == "min" else 1)


def _degrees(word: Word) -> float | None:
    match = _DEGREES.match(word.text)
    return float(match.group(1).replace(",", ".")) if match else None


def _new(word: Word) -> bool | None:
    """The word that makes a joint although the part has one of its kind."""
    return True if word.text.lower() == "new" else None


def _outcome(word: Word) -> str | None:
    return word.text.lower() if word.text.lower() in OUTCOMES else None


# -- joints

def _joint_line(teardown: Teardown, kind: str, verb: Word, words: list[Word], t: float) -> Understood:
    outcome, words = _take(words, _outcome)
    new, words = _take(words, _new)
    duration_s, words = _take(words, _seconds)
    degrees, words = _take(words, _degrees) if kind == "adhesive" else (None, words)
    method, words = _take(words, lambda w: w.text.lower() if w.text.lower() in METHODS else None) \
        if kind == "adhesive" else (None, words)
    type_, words = _take(words, lambda w: TYPES.get(w.text.lower())) if kind == "connector" else (None, words)
    part = _thing(teardown, words, verb, parts=True)
    joint = None if new else _open_joint(teardown, kind, part.id, verb, type_=type_ or "")
    made = joint is None
    if joint is None:
        joint = _new_joint(teardown, kind, part, type_ or "", method, degrees, duration_s)
    way = _way(teardown, joint, method, verb)
    heats = method == "heat" and duration_s is not None
    return _release(teardown, joint, made, way, None if heats else duration_s, outcome or "ok", t,
                    {"degrees": degrees, "duration_s": duration_s, "method": method})


def _open_joint(teardown: Teardown, kind: str, part: str, at: Word, *, type_: str = "", letter: str = "") -> \
        Joint | None:
    """The joint of this kind on the part that has not been released; None where there is none at all."""
    done = released(teardown)
    of_kind = [joint for joint in teardown.joints if joint.kind == kind and part in joint.of
               and (not letter or joint.fastener == letter)]
    found = [joint for joint in of_kind if not type_ or joint.type in ("", type_)]
    if of_kind and not found:
        raise NotUnderstood("other-type", at.start, at.end, tuple(dict.fromkeys(joint.type for joint in of_kind)))
    left = [joint for joint in found if joint.id not in done]
    own = [joint for joint in left if joint.of[0] == part]
    if len(left) == 1 or len(own) == 1:
        return (left if len(left) == 1 else own)[0]
    if left:
        raise NotUnderstood("which-joint", at.start, at.end, tuple(joint.id for joint in left[:8]))
    if found:
        raise NotUnderstood("released-already", at.start, at.end, tuple(joint.id for joint in found[:8]))
    return None


def _new_joint(teardown: Teardown, kind: str, part: Part, type_: str, method: str | None, degrees: float | None,
               duration_s: float | None) -> Joint:
    below = other_end(teardown, part.id) if kind == "connector" else part.on or teardown.device.base
    return Joint(id=free_id(teardown, f"{part.id}-{kind}-"), name=f"{part.name or part.id}, {kind}", kind=kind,
                 type=type_, of=(part.id, below), basis="assumed",
                 ways=_ways_for(method, degrees, duration_s))


def _ways_for(method: str | None, degrees: float | None, duration_s: float | None) -> tuple[Way, ...]:
    limits = ({"temp_c": [degrees, degrees]},) if degrees is not None else ()
    if method == "heat":
        acts = (Act(tool="heat-mat", does="heat", wait_s=duration_s or 0, limits=limits),
                Act(tool="pick", does="pry", at_once=True))
        return (Way(acts=acts, inline=False, reuse="renew", hazards=("hot",)),)
    if method == "solvent":
        acts = (Act(tool="dropper", does="soak"), Act(tool="card", does="pry"))
        return (Way(acts=acts, inline=False, reuse="renew", hazards=("solvent",)),)
    tool = {"pull": "tweezers", "pry": "card"}.get(method or "")
    return (Way(acts=(Act(tool=tool, does=method or ""),), reuse="renew"),) if tool else ()


def _way(teardown: Teardown, joint: Joint, method: str | None, at: Word) -> int:
    """The way that the method means; the first where none was said."""
    if method is None:
        return 0
    for n, way in enumerate(ways_of(teardown, joint)):
        verbs = {act.does for act in way.acts} | {act.tool for act in way.acts}
        means = {"heat": {"heat", "heat-mat", "heat-gun"}, "solvent": {"soak", "dropper"},
                 "pull": {"pull", "tweezers"}}
        if method in means and verbs & means[method]:
            return n
        if method == "pry" and not any(verbs & words for words in means.values()):
            return n
    raise NotUnderstood("no-such-way", at.start, at.end,
                        tuple(", ".join(act.tool for act in way.acts) for way in ways_of(teardown, joint)))


def _screw_line(teardown: Teardown, words: list[Word], t: float) -> Understood:
    """[count] [drive and size] letter part [duration] [outcome]"""
    first = words[0]
    outcome, words = _take(words, _outcome)
    new, words = _take(words, _new)
    duration_s, words = _take(words, _seconds)
    count, words = _take(words[:1], lambda w: int(w.text) if w.text.isdigit() and int(w.text) > 0 else None)[0], words
    words = words[1:] if count is not None else words
    recess = words[0] if words and _SCREW.match(words[0].text) else None
    words = words[1:] if recess else words
    letters = {fastener.id.lower(): fastener for fastener in teardown.fasteners}
    if not words or words[0].text.lower() not in letters:
        at = words[0] if words else first
        raise NotUnderstood("not-a-line" if count is None and recess is None else "unknown-letter", at.start, at.end,
                            tuple(fastener.id for fastener in teardown.fasteners) or tuple(VERBS))
    fastener = letters[words[0].text.lower()]
    if recess and recess.text.upper().replace("TX", "T") != f"{fastener.drive}{fastener.size}".upper():
        raise NotUnderstood("other-recess", recess.start, recess.end, (f"{fastener.drive}{fastener.size}",))
    part = _thing(teardown, words[1:], words[0], parts=True)
    joint = None if new else _open_joint(teardown, "screw", part.id, words[0], letter=fastener.id)
    made = joint is None
    if joint is None:
        joint = Joint(id=free_id(teardown, f"{part.id}-{fastener.id.lower()}"), kind="screw", fastener=fastener.id,
                      name=f"{part.name or part.id}, {fastener.id}", of=(part.id, part.on or teardown.device.base),
                      count=count, basis="assumed")
        if part.id == teardown.device.base:
            raise NotUnderstood("base", words[1].start, words[-1].end)
    elif count is not None and joint.count is not None and count != joint.count:
        raise NotUnderstood("other-count", first.start, first.end, (str(joint.count),))
    return _release(teardown, joint, made, 0, duration_s, outcome or "ok", t, {"duration_s": duration_s})


def _release(teardown: Teardown, joint: Joint, made: bool, way: int, seconds: float | None, outcome: str, t: float,
             figures: dict[str, Any]) -> Understood:
    label = f"release {joint.name or joint.id}"

    def change(before: Teardown) -> Teardown:
        after = replace(before, joints=(*before.joints, joint)) if made else before
        ways = ways_of(after, joint)
        return log_entry(after, do="release", thing=joint.id, way=way, t=t, outcome=outcome, seconds=seconds,
                         tool=ways[way].acts[-1].tool)

    kept = tuple((name, value) for name, value in {**figures, "outcome": outcome, "count": joint.count}.items()
                 if value is not None)
    guess: tuple[str, ...] = ()
    if made:
        guessed = settle(replace(teardown, joints=(*teardown.joints, joint)), (joint.id,)).joint[joint.id]
        guess = tuple(name for names in guessed.behind for name in names)
    things = (joint.id, *joint.of) if not made else joint.of
    return Understood(code="made-and-release" if made else "release", things=things, figures=kept, guess=guess,
                      command=Command(label=label, change=change))
