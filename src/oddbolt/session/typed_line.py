"""The one line: what a person types with both hands busy, parsed. Grammar: docs/line.md.

Parsing changes nothing and does nothing: it finds which verb is meant and what with, or says what is not understood and
where. Names are found by id or name, whole, by their beginning, or anywhere in them, as long as one thing is meant.
Kinds, types and methods are those of the shipped tables.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Any

from msgspec import Struct

from oddbolt.catalog.defaults import ways_of
from oddbolt.catalog.drivers import drives
from oddbolt.catalog.tables import bond_methods, line_types, line_verbs, part_kind, part_kinds, roles_of
from oddbolt.model.things import OUTCOMES, Fastener, Joint, Part, Teardown
from oddbolt.session.standing import lifted, released
from oddbolt.session.verbs import lifting
from oddbolt.session.verbs.joints import SPANS
from oddbolt.session.verbs.letters import add_fastener
from oddbolt.session.verbs.marking import Kind, new_joint

NOTE, ASKS, LIFT, LIFT_AS, SWING, RELEASE, MEET = "note", "asks", "lift", "lift-as", "swing", "release", "meet"
ROLE, HID_NOTHING, REACH, TRAY, FACT = "role", "hid-nothing", "reach", "tray", "fact"
BESIDE_TABLE = ("lift", "release", "tray", "role", "footprint", "reach", "fact", "note")  # verbs that make no joint
NONE = "none"  # the word that takes a role away, and says that a part hid nothing
ADHESIVE = "adhesive"
_SECONDS = re.compile(r"(\d+(?:[.,]\d+)?)\s*(s|sec|min)$", re.IGNORECASE)
_LETTER = re.compile(r"[A-Za-z]{1,2}")  # as the tray names its compartments: A to Z, then AA
_DEGREES = re.compile(r"(\d+(?:[.,]\d+)?)\s*°?C$", re.IGNORECASE)


class NotUnderstood(Exception):
    """What is wrong with a line: a code, the place of the word, and what could stand there."""

    def __init__(self, code: str, start: int, end: int, options: tuple[str, ...] = ()) -> None:
        super().__init__(code, start, end, options)
        self.code, self.start, self.end, self.options = code, start, end, options


class Parsed(Struct, frozen=True, kw_only=True):
    """A line as it would count: the verb as a code, and what it is about."""

    # note, asks, lift, lift-as (a kind of part), swing, release (a joint on record), meet (a joint made by this), role,
    # hid-nothing, reach, tray, fact
    code: str
    thing: str = ""  # the part or the joint; the kind of part for lift-as
    part: str = ""  # of a joint that is met
    kind: Kind | None = None  # of a joint that is met
    letter: Fastener | None = None  # a fastener that the tray does not know yet
    owner: tuple[str, str] | None = None  # kind and name of a part that nobody has named yet: it is made with its joint
    way: int = 0
    count: int | None = None
    outcome: str = "ok"
    seconds: float | None = None
    wait_s: float | None = None
    temp_c: float | None = None
    method: str = ""
    text: str = ""  # of a note, of a fact; the name of a lift-as or a tray; the role

    def figures(self) -> dict[str, Any]:
        """What was told beside the act, for the verb that releases."""
        return {name: value for name, value in (("seconds", self.seconds), ("wait_s", self.wait_s),
                                                ("temp_c", self.temp_c)) if value is not None}

    def guess(self, teardown: Teardown) -> tuple[str, ...]:
        """What a joint that is met lies behind, by first guess."""
        if self.kind is None:
            return ()
        known, part = teardown if self.letter is None else add_fastener(teardown, self.letter).teardown, self.part
        if self.owner is not None:
            known, part = lifting.met_part(known, *self.owner)
        done = new_joint(known, self.kind, part=part, count=self.count or 1)
        return tuple(name for names in done.teardown.joint[done.made].behind for name in names)


class Word(Struct, frozen=True):
    text: str
    start: int

    @property
    def end(self) -> int:
        return self.start + len(self.text)


def understand(teardown: Teardown, line: str) -> Parsed:
    """Read a line; raises NotUnderstood."""
    words = [Word(match.group(), match.start()) for match in re.finditer(r"\S+", line)]
    if not words:
        raise NotUnderstood("empty", 0, 0, tuple(verbs()))
    first = words[0]
    if first.text.startswith("?"):
        name = [Word(first.text[1:], first.start + 1)] if len(first.text) > 1 else []
        return Parsed(code=ASKS, thing=_part(teardown, [*name, *words[1:]], first).id)
    verb = first.text.lower()
    if verb == "note":
        text = line[first.end:].strip()
        if not text:
            raise NotUnderstood("text-missing", first.end, first.end)
        return Parsed(code=NOTE, text=text)
    if verb == "tray":
        return Parsed(code=TRAY, text=line[first.end:].strip())
    if verb == "fact":
        return _fact_line(teardown, first, words[1:])
    if verb == "release":
        return _release_line(teardown, first, words[1:])
    if verb == "lift":
        return _lift_line(teardown, first, words[1:])
    if verb == "role":
        return _role_line(teardown, first, words[1:])
    if verb == "reach":
        if len(words) > 1:
            raise NotUnderstood("stands-alone", words[1].start, words[-1].end)
        return Parsed(code=REACH)
    if verb == "footprint":
        return _footprint_line(teardown, first, words[1:])
    if verb in line_verbs():
        return _joint_line(teardown, line_verbs()[verb], first, words[1:])
    return _screw_line(teardown, words)


def verbs() -> list[str]:
    """The words that may begin a line."""
    return [*BESIDE_TABLE, *line_verbs()]


def complete(teardown: Teardown, line: str) -> list[str]:
    """Whole lines that the word being typed could become."""
    before, _, word = line.rpartition(" ")
    low = word.lower().lstrip("?")
    if word.startswith("?"):
        options = [part.id for part in teardown.parts]
    elif not before:
        options = [*verbs(), *(f"{j.count or ''} {j.fastener}".strip() for j in teardown.joints if j.fastener)]
    elif before == "lift":
        options = [*(part.name or part.id for part in teardown.parts), *(kind.id for kind in part_kinds().values())]
    elif before == "release":
        options = [joint.id for joint in teardown.joints if joint.id not in released(teardown)]
    elif before.startswith(("role ", "footprint ")):
        options = [NONE, *(role for kind in part_kinds().values() for role in kind.roles if before[0] == "r")]
    else:
        options = [*(part.id for part in teardown.parts), *(part.name for part in teardown.parts if part.name)]
        kind = line_verbs().get(before.split()[0])
        if kind == "connector":
            options += line_types()
        if kind == ADHESIVE:
            options += bond_methods()
    mark = "?" if word.startswith("?") else ""
    found = [option for option in dict.fromkeys(options) if option.lower().startswith(low) and option.lower() != low]
    return [f"{before} {mark}{option}".strip() for option in found][:12]


# -- words

def _part(teardown: Teardown, words: list[Word], after: Word) -> Part:
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


def _lift_line(teardown: Teardown, verb: Word, words: list[Word]) -> Parsed:
    """A part on record, else what comes off next: its kind, and the name it is to have."""
    try:
        return Parsed(code=LIFT, thing=_not_the_base(teardown, _part(teardown, words, verb), words))
    except NotUnderstood as problem:
        if problem.code != "unknown-name":
            raise
        found = _kind_and_name(words)
        if found is None:
            raise
        return Parsed(code=LIFT_AS, thing=found[0], text=found[1])


def _fact_line(teardown: Teardown, verb: Word, words: list[Word]) -> Parsed:
    """A part, if the first words name one, then what is told of it."""
    if not words:
        raise NotUnderstood("text-missing", verb.end, verb.end)
    for number in range(len(words) - 1, 0, -1):
        try:
            part = _part(teardown, words[:number], verb).id
        except NotUnderstood:
            continue
        return Parsed(code=FACT, thing=part, text=" ".join(word.text for word in words[number:]))
    return Parsed(code=FACT, text=" ".join(word.text for word in words))


def _release_line(teardown: Teardown, verb: Word, words: list[Word]) -> Parsed:
    """A joint by its id or name, else the only one that still holds a part."""
    outcome, words = _take(words, _outcome)
    seconds, words = _take(words, _seconds)
    told = " ".join(word.text for word in words).lower()
    done = released(teardown)
    found = [joint for joint in teardown.joints if told and told in (joint.id.lower(), joint.name.lower())]
    if not found:
        part = _not_the_base(teardown, _part(teardown, words, verb), words)
        of_part = [joint for joint in teardown.joints if part in joint.of]
        found = [joint for joint in of_part if joint.id not in done] or of_part
        if not found:
            raise NotUnderstood("holds-nothing", words[0].start, words[-1].end)
        if len(found) > 1 and found[0].id not in done:
            raise NotUnderstood("which-joint", words[0].start, words[-1].end, tuple(j.id for j in found[:8]))
    if found[0].id in done:
        raise NotUnderstood("released-already", words[0].start, words[-1].end, (found[0].id,))
    waits = any(act.wait_s for act in ways_of(teardown, found[0])[0].acts)
    return Parsed(code=RELEASE, thing=found[0].id, count=found[0].count, outcome=outcome or "ok",
                  **_duration(seconds, waits))


def _kind_and_name(words: list[Word]) -> tuple[str, str] | None:
    """What words say that name no part on record: a kind of part, and what it is to be called."""
    for number in range(len(words), 0, -1):  # "main board" before "main"
        kind = _kind(" ".join(word.text for word in words[:number]).lower())
        if kind is not None:
            return kind, " ".join(word.text for word in words[number:])
    return None


def _owner(teardown: Teardown, words: list[Word], after: Word) -> tuple[str, tuple[str, str] | None]:
    """Whose joint it is: a part on record; the one of the kind that is said, where no name is; else one to be made."""
    try:
        return _not_the_base(teardown, _part(teardown, words, after), words), None
    except NotUnderstood as problem:
        found = _kind_and_name(words) if problem.code == "unknown-name" else None
        if found is None:
            raise
    kind, name = found
    off = {teardown.device.base, *lifted(teardown)}
    alike = [part.id for part in teardown.parts if part.kind == part_kind(kind).kind and part.id not in off]
    if name or not alike:
        return "", found
    if len(alike) > 1:
        raise NotUnderstood("ambiguous", words[0].start, words[-1].end, tuple(alike[:8]))
    return alike[0], None


def _role_line(teardown: Teardown, verb: Word, words: list[Word]) -> Parsed:
    """A part, then the role it has: by the role's beginning, as far as its kind may have it; none by that word."""
    part = _part(teardown, words[:-1], verb)  # a name is missing where there is one word or none
    told, mine = words[-1], roles_of(part.kind)
    role = told.text.lower().replace("-", "_")
    found = [one for one in mine if one == role] or [one for one in mine if one.startswith(role)]
    if role != NONE and len(found) != 1:
        raise NotUnderstood("no-such-role", told.start, told.end, (*mine, NONE))
    return Parsed(code=ROLE, thing=part.id, text="" if role == NONE else found[0])


def _footprint_line(teardown: Teardown, verb: Word, words: list[Word]) -> Parsed:
    """A part, and that it hid nothing; what a part did hide is drawn."""
    if words and words[-1].text.lower() != NONE:
        raise NotUnderstood("is-drawn", words[-1].start, words[-1].end, (NONE,))
    part = _part(teardown, words[:-1], verb)
    return Parsed(code=HID_NOTHING, thing=_not_the_base(teardown, part, words[:-1]))


def _kind(told: str) -> str | None:
    """The kind of part that is called so in the table."""
    return next((kind.id for kind in part_kinds().values() if told in (kind.id, kind.name.lower(), kind.short.lower())),
                None)


def _not_the_base(teardown: Teardown, part: Part, words: list[Word]) -> str:
    if part.id == teardown.device.base:
        raise NotUnderstood("base", words[0].start, words[-1].end)
    return part.id


def _take(words: list[Word], known: Callable[[Word], Any]) -> tuple[Any, list[Word]]:
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
    if match is None:
        return None
    found = float(match.group(1).replace(",", "."))
    if not 0 < found <= SPANS["temp_c"]:
        raise NotUnderstood("too-hot", word.start, word.end, (f"{SPANS['temp_c']:g}C",))
    return found


def _new(word: Word) -> bool | None:
    """The word that makes a joint although the part has one of its kind."""
    return True if word.text.lower() == "new" else None


def _outcome(word: Word) -> str | None:
    return word.text.lower() if word.text.lower() in OUTCOMES else None


# -- joints

def _joint_line(teardown: Teardown, kind: str, verb: Word, words: list[Word]) -> Parsed:
    outcome, words = _take(words, _outcome)
    new, words = _take(words, _new)
    duration_s, words = _take(words, _seconds)
    temp_c, method, type_ = None, None, ""
    if kind == ADHESIVE:
        temp_c, words = _take(words, _degrees)
        method, words = _take(words, lambda w: w.text.lower() if w.text.lower() in bond_methods() else None)
    if kind == "connector":
        type_, words = _take(words, lambda w: line_types().get(w.text.lower()))
    if kind == "swing":
        return Parsed(code=SWING, thing=_not_the_base(teardown, _part(teardown, words, verb), words))
    part, owner = _owner(teardown, words, verb)
    joint = None if new or owner else _open_joint(teardown, kind, part, verb, type_=type_ or "")
    told = {"outcome": outcome or "ok", "temp_c": temp_c, "method": method or ""}
    if joint is None:
        made = Kind(joint=kind, type=(method or "pry") if kind == ADHESIVE else type_ or "")
        waits = kind == ADHESIVE and any(act.get("wait_s") for act in bond_methods()[made.type].acts)
        return Parsed(code=MEET, part=part, owner=owner, kind=made, **_duration(duration_s, waits), **told)
    way = _way(teardown, joint, method, verb)
    waits = any(act.wait_s for act in ways_of(teardown, joint)[way].acts)
    return Parsed(code=RELEASE, thing=joint.id, part=part, way=way, count=joint.count,
                  **_duration(duration_s, waits), **told)


def _duration(seconds: float | None, waits: bool) -> dict[str, float | None]:
    """Where the way waits a duration is the wait, else it is the measured time."""
    return {"wait_s" if waits else "seconds": seconds}


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


def _way(teardown: Teardown, joint: Joint, method: str | None, at: Word) -> int:
    """The way that the method means; the first where none was said."""
    if method is None:
        return 0
    ways, known_by = ways_of(teardown, joint), {id_: set(row.known_by) for id_, row in bond_methods().items()}
    for n, way in enumerate(ways):
        own = {act.does for act in way.acts} | {act.tool for act in way.acts}
        told = {id_ for id_, words in known_by.items() if own & words}
        if method in told or (not known_by[method] and not told):
            return n
    raise NotUnderstood("no-such-way", at.start, at.end, tuple(", ".join(act.tool for act in way.acts) for way in ways))


def _screw_line(teardown: Teardown, words: list[Word]) -> Parsed:
    """[count] [drive and size] letter part [duration] [outcome]"""
    first = words[0]
    outcome, words = _take(words, _outcome)
    new, words = _take(words, _new)
    seconds, words = _take(words, _seconds)
    count = int(words[0].text) if words and words[0].text.isdigit() and int(words[0].text) > 0 else None
    words = words[1:] if count is not None else words
    recess = words[0] if words and _recess().match(words[0].text) else None
    words = words[1:] if recess else words
    letters = {fastener.id.lower(): fastener for fastener in teardown.fasteners}
    if recess and len(words) > 1 and _LETTER.fullmatch(words[0].text) and words[0].text.lower() not in letters:
        return _new_letter(teardown, words, recess, count, outcome=outcome or "ok", seconds=seconds)
    if not words or words[0].text.lower() not in letters:
        at = words[0] if words else first
        known, begins = tuple(fastener.id for fastener in teardown.fasteners), count is None and recess is None
        raise NotUnderstood("not-a-line" if begins else "unknown-letter", at.start, at.end,
                            (*known, *verbs()) if begins or not known else known)
    fastener = letters[words[0].text.lower()]
    if recess and recess.text.upper().replace("TX", "T") != f"{fastener.drive}{fastener.size}".upper():
        raise NotUnderstood("other-recess", recess.start, recess.end, (f"{fastener.drive}{fastener.size}",))
    part, owner = _owner(teardown, words[1:], words[0])
    joint = None if new or owner else _open_joint(teardown, "screw", part, words[0], letter=fastener.id)
    told = {"outcome": outcome or "ok", "seconds": seconds}
    if joint is None:
        return Parsed(code=MEET, part=part, owner=owner, kind=Kind(letter=fastener.id), count=count, **told)
    if count is not None and joint.count is not None and count != joint.count:
        raise NotUnderstood("other-count", first.start, first.end, (str(joint.count),))
    return Parsed(code=RELEASE, thing=joint.id, part=part, count=joint.count, **told)


def _new_letter(teardown: Teardown, words: list[Word], recess: Word, count: int | None, **told: Any) -> Parsed:
    """Screws of a letter that the tray does not know yet: the recess that is said makes it."""
    part, owner = _owner(teardown, words[1:], words[0])
    drive, size = _recess().match(recess.text).groups()
    letter = Fastener(id=words[0].text.upper(), drive=drive.upper().replace("TX", "T"), size=size)
    return Parsed(code=MEET, part=part, owner=owner, kind=Kind(letter=letter.id), letter=letter, count=count, **told)


def _recess() -> re.Pattern[str]:
    """A drive with its size, as typed; TX is understood for T."""
    codes = sorted({*drives(), "TX"}, key=len, reverse=True)
    return re.compile(rf"({'|'.join(codes)})(\d+(?:\.\d+)?)$", re.IGNORECASE)
