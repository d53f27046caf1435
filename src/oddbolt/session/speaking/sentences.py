"""The grammar of the moment: sentences that mean something now, made anew after each act.

Each sentence ends in what the keys and the one line do: it is a gesture of the table of modes, or a line, or one of the
few things that only a menu could say. What cannot be meant now is not offered, so that less can be misheard.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from msgspec import Struct
from msgspec.structs import replace

from oddbolt.catalog.drivers import drives
from oddbolt.catalog.tables import joint_kind_typed, mark_kinds, part_kinds, roles_of, table, tool_ids, tool_row
from oddbolt.hearing.grammar import Grammar, Pattern, Said, Slot
from oddbolt.hearing.listener import Heard
from oddbolt.model.things import Joint, Teardown
from oddbolt.session.modes import Mode
from oddbolt.session.recording.offers import Offer
from oddbolt.session.selection import Selection
from oddbolt.session.speaking.spelling import Knows, kind_said, kinds_said, name_said, number_said, parts_said
from oddbolt.session.standing import is_next, lifted, released
from oddbolt.session.verbs import entries

# Codes of what a sentence means. `LINE`: its tokens are a line; `GESTURE`: the token is a gesture.
LINE, GESTURE, YES, NO, UNDO, REDO, NOTE = "line", "gesture", "yes", "no", "undo", "redo", "note"
CHOOSE, WHOSE, WAIT, TOOL, CUTS, WAY, POINT = "choose", "whose", "wait", "tool", "cuts", "way", "point"
TICK, NAME, TYPE, LETTER, ANSWER, OUTCOME, START = "tick", "name", "type", "letter", "answer", "outcome", "start"
MOST_COUNT, MOST_MINUTES = 20, 60  # above twenty, figures sound alike
MAIN_BOARD = "main board"
# Gestures that are said as words of their own, wherever they mean something; the others belong to a mode or an offer.
PLAIN = ("camera", "turn-over", "next-photo", "previous-photo", "release", "lift", "swing", "usual-act", "reach-all",
         "underside", "stopwatch", "question", "next-tool", "further-tool", "at-once", "reuse", "discard",
         "covered-nothing", "see", "escape")
ONLY_OF_CHOSEN = ("release", "lift", "next-tool", "further-tool", "at-once", "reuse", "discard")


class Moment(Struct, frozen=True, kw_only=True):
    """What decides which sentences mean something now."""

    teardown: Teardown
    selection: Selection
    offered: tuple[Offer, ...] = ()
    seen: int = 0  # how many things were seen between two photographs
    asked: bool = False  # what was heard last is asked about
    knows: Knows = lambda word: True  # whether a word can be recognised


def spoken() -> Mapping[str, Mapping[str, str]]:
    """Words of the table of speech (data/spoken.toml)."""
    return table("spoken.toml")


def grammar_of(moment: Moment) -> Grammar:
    """Every sentence that can be said at a moment."""
    return Grammar([one for make in (_always, _of_mode, _of_answers, _of_joints, _of_parts, _of_tools)
                    for one in make(moment)])


def woken(grammar: Grammar) -> Grammar:
    """While nobody is listened to: the start word alone, or before a sentence."""
    start = Slot("start", dict.fromkeys(spoken()["words"]["start"].split("|"), "start"))
    return Grammar([Pattern(START, (start,)), *(Pattern(one.code, (start, *one.slots)) for one in grammar.patterns)])


def awake(heard: Heard) -> Heard:
    """What was heard with the start word, without it; nothing said but surely heard is the start word alone. What is
    not sure was not meant for the bench."""
    said = heard.said
    if said is None or not heard.is_sure:
        return Heard()
    if said.code == START:
        return Heard(is_sure=True)
    return replace(heard, said=_without_start(said), other=None)


def _without_start(said: Said) -> Said:
    return Said(said.code, {name: token for name, token in said.tokens.items() if name != "start"}, said.words)


def _word(code: str) -> Slot:
    return Slot("said", dict.fromkeys(spoken()["words"][code].split("|"), code))


def _fixed(code: str, name: str = "said", token: str = "") -> Slot:
    """A word that stands for itself, or for `token`; a token of no letters says nothing in a line."""
    return Slot(name, dict.fromkeys(spoken()["words"][code].split("|"), token))


def _table(name: str, section: str, *, optional: bool = False) -> Slot:
    return Slot(name, {said: code for code, said in spoken()[section].items()}, optional)


def _numbers(name: str, least: int, most: int) -> Slot:
    return Slot(name, {number_said(n): str(n) for n in range(least, most + 1)})


def _always(moment: Moment) -> Iterator[Pattern]:
    yield Pattern(NO, (_word("no"),))
    yield Pattern(UNDO, (_word("undo"),))
    yield Pattern(REDO, (_word("redo"),))
    yield Pattern(NOTE, (_word("note"),))
    yield Pattern(YES, (_word("yes"),))
    if moment.asked:  # which of the two that were heard
        rows = list(spoken()["answers"].items())[:2]
        yield Pattern(ANSWER, (Slot("answer", {said: code for code, said in rows}),))
    rows, chosen = spoken()["gestures"], bool(moment.selection.thing)
    yield Pattern(GESTURE, (Slot("gesture", {rows[code]: code for code in PLAIN
                                             if chosen or code not in ONLY_OF_CHOSEN}),))


def _of_mode(moment: Moment) -> Iterator[Pattern]:
    """What was seen on photographs is ticked and named by its number; what is pointed at is called by its name."""
    modes = moment.selection.modes()
    if Mode.SEEING in modes and moment.seen:
        number = _numbers("place", 1, moment.seen)
        yield Pattern(TICK, (_fixed("number"), number))
        kinds, letters = _kinds(moment, "kind"), _letters(moment)
        for about in ((), (_fixed("number"), number)):
            yield Pattern(NAME, (*about, _fixed("is", "is"), kinds))
            yield Pattern(TYPE, (*about, _fixed("is", "is"), Slot("kind", _marks())))
            yield Pattern(LETTER, (*about, _fixed("is", "is"), letters))
            yield Pattern(GESTURE, (*about, Slot("gesture", {spoken()["gestures"]["delete-mark"]: "delete-mark"})))
    told = moment.selection.telling
    if told is not None:
        number = _numbers("place", 1, len(told.operations))
        yield Pattern(CHOOSE, (_fixed("number"), number))
    if Mode.POINTING in modes:
        yield Pattern(POINT, (Slot("thing", _things(moment, off_too=True)),))
        yield Pattern(NAME, (_fixed("is", "is"), _kinds(moment, "kind")))


def _of_answers(moment: Moment) -> Iterator[Pattern]:
    told = moment.selection.telling
    number = len(moment.offered) or (4 if told is not None else 0)
    if number and not moment.asked:
        rows = list(spoken()["answers"].items())[:number]
        yield Pattern(ANSWER, (Slot("answer", {said: code for code, said in rows}),))
    if entries.last_act(moment.teardown) is not None:
        yield Pattern(OUTCOME, (_table("outcome", "outcomes"),))
    joint = moment.teardown.joint.get(moment.selection.thing)
    if joint is not None:
        yield Pattern(WHOSE, (_fixed("whose"), _kinds(moment, "kind")))
        yield Pattern(CUTS, (_fixed("cuts"), _table("source", "sources")))
        minutes, seconds = _numbers("minutes", 1, MOST_MINUTES), Slot(
            "seconds", {number_said(n): str(n) for n in (*range(1, 20), *range(20, 100, 5), 90, 120)})
        yield Pattern(WAIT, (_fixed("wait"), minutes, _fixed("minutes", "unit")))
        yield Pattern(WAIT, (_fixed("wait"), seconds, _fixed("seconds", "unit")))


def _of_joints(moment: Moment) -> Iterator[Pattern]:
    """Screws by count and letter, other joints by how they are undone; of a part on the device, or of a kind."""
    owner = _owners(moment)
    letters = {fastener.id for fastener in moment.teardown.fasteners}
    free = next((letter for letter in spoken()["letters"] if letter not in letters), "")
    count = _numbers("count", 1, MOST_COUNT)
    yield Pattern(LINE, (count, _letters(moment), owner))
    if free:
        yield Pattern(LINE, (count, Slot("recess", _recesses()), Slot("letter", {spoken()["letters"][free]: free}),
                             owner))
    verbs = joint_kind_typed()
    for kind, said in spoken()["verbs"].items():
        verb = Slot("verb", {said: verbs[kind]})
        more: tuple[Slot, ...] = ()
        if kind == "connector":
            more = (_table("type", "types", optional=True),)
        elif kind == "adhesive":
            degrees = Slot("degrees", {f"{number_said(n)} {spoken()['words']['degrees']}": f"{n}C"
                                       for n in range(40, 125, 5)}, optional=True)
            more = (_table("method", "methods", optional=True), degrees)
        again = Slot("again", {spoken()["words"]["again"]: "new"}, optional=True)
        yield Pattern(LINE, (verb, owner, *more, again))


def _of_parts(moment: Moment) -> Iterator[Pattern]:
    parts, new = _on_device(moment), _new_kinds(moment)
    lift = Slot("verb", {spoken()["words"]["lift"]: "lift"})
    yield Pattern(LINE, (lift, Slot("owner", {**new, **parts})))
    yield Pattern(LINE, (Slot("verb", {spoken()["words"]["swing"]: "swing"}), Slot("owner", parts)))
    yield Pattern(CHOOSE, (_fixed("choose"), Slot("thing", _things(moment))))
    words = spoken()["words"]
    yield Pattern(LINE, (Slot("owner", {f"{words['asks']} {said}": f"?{id_}" for said, id_ in parts.items()}),))
    yield Pattern(LINE, (Slot("verb", {words["tray"]: "tray"}),))
    yield from _roles(moment)
    told = parts_said(moment.teardown, [part.id for part in moment.teardown.parts if part.role], moment.knows)
    yield Pattern(WAY, (_fixed("way"), Slot("thing", told)))


def _roles(moment: Moment) -> Iterator[Pattern]:
    """Which of the roles of its kind a part has, on the device or off it."""
    by_kind: dict[str, dict[str, str]] = {}
    for said, id_ in _every_part(moment).items():
        by_kind.setdefault(moment.teardown.part[id_].kind, {})[said] = id_
    for kind, parts in by_kind.items():
        said_roles = {name_said(role.replace("_", " "), moment.knows): role for role in roles_of(kind)}
        said_roles.pop("", None)
        if said_roles:
            yield Pattern(LINE, (Slot("verb", {spoken()["words"]["role"]: "role"}), Slot("owner", parts),
                                 Slot("role", {**said_roles, spoken()["words"]["none"]: "none"})))


def _of_tools(moment: Moment) -> Iterator[Pattern]:
    if moment.selection.thing:
        said = {name_said(tool_row(tool).name, moment.knows): tool for tool in tool_ids()}
        said.pop("", None)
        yield Pattern(TOOL, (_fixed("tool"), Slot("tool", said)))


# -- slots of the record

def _letters(moment: Moment) -> Slot:
    rows = spoken()["letters"]
    return Slot("letter", {rows[one.id]: one.id for one in moment.teardown.fasteners if one.id in rows})


def _recesses() -> dict[str, str]:
    """Drives with the sizes that each has in the table: `cross zero zero` is PH00."""
    return {f"{said} {_size_said(size)}": f"{code}{size}"
            for code, said in spoken()["recesses"].items() for size in drives()[code].sizes()}


def _size_said(size: str) -> str:
    """Digit by digit, as figures are said by radio: thirty and forty sound alike."""
    return " ".join("point" if digit == "." else number_said(int(digit)) for digit in size)


def _kinds(moment: Moment, name: str) -> Slot:
    return Slot(name, kinds_said(moment.knows))


def _marks() -> dict[str, str]:
    """Kinds of joint as they are marked: plugs by their types, the others by how they are undone."""
    verbs, types, found = spoken()["verbs"], spoken()["types"], {}
    for row in mark_kinds().values():
        said = types.get(row.types[0] if row.types else "") if row.kind == "connector" else verbs.get(row.kind)
        if said:
            found.setdefault(said, row.id)
    return found


def _on_device(moment: Moment) -> dict[str, str]:
    """Parts that are named and still on, and the one on whose underside one works; the only one of its kind also by
    what its kind is called."""
    teardown = moment.teardown
    on = _still_on(moment)
    found = parts_said(teardown, on, moment.knows)
    rows = [_row_of(teardown, id_) for id_ in on]
    for row, id_ in zip(rows, on):
        said = kind_said(row, moment.knows) if row else ""
        if said and rows.count(row) == 1:
            found.setdefault(said, id_)
    return found


def _row_of(teardown: Teardown, part_id: str) -> str:
    """The row of the table of kinds that a part is of: the main board is one of its own."""
    kind = teardown.part[part_id].kind
    return MAIN_BOARD if kind == "board" and part_id.startswith("main-") else kind


def _still_on(moment: Moment) -> list[str]:
    teardown, off = moment.teardown, {moment.teardown.device.base, *lifted(moment.teardown)}
    on = [part.id for part in teardown.parts if part.id not in off and not is_next(part)]
    return on + ([moment.selection.carrier] if moment.selection.carrier in teardown.part else [])


def _new_kinds(moment: Moment) -> dict[str, str]:
    """Kinds of part, for what is not on record yet: where one of a kind is on, the `second` of it. Each with the name
    it gets, so that a line means no part that is called like its kind."""
    teardown = moment.teardown
    on = {_row_of(teardown, id_) for id_ in _still_on(moment)}
    every = [_row_of(teardown, part.id) for part in teardown.parts if part.id != teardown.device.base]
    found = {}
    for said, row_id in kinds_said(moment.knows).items():
        row, number = part_kinds()[row_id], every.count(row_id)
        if row_id not in on:
            found[said] = f"{row_id} {row.name} {number + 1}" if number else f"{row_id} {row.name}"
        elif not row.unique:
            found[f"{spoken()['words']['second']} {said}"] = f"{row_id} {row.name} {number + 1}"
    return found


def _owners(moment: Moment) -> Slot:
    return Slot("owner", {**_new_kinds(moment), **_on_device(moment)})


def _every_part(moment: Moment) -> dict[str, str]:
    """On the device or off it: what was in the way may be long gone."""
    base = moment.teardown.device.base
    return parts_said(moment.teardown, [part.id for part in moment.teardown.parts if part.id != base
                                        and not is_next(part)], moment.knows)


def _things(moment: Moment, *, off_too: bool = False) -> dict[str, str]:
    """Parts that are on, and joints that are not undone, by what they are called; with `off_too` also what is off."""
    teardown, done = moment.teardown, frozenset() if off_too else released(moment.teardown)
    found = {**(_every_part(moment) if off_too else {}), **_on_device(moment)}
    of = {id_: said for said, id_ in (_every_part(moment) | _on_device(moment)).items()}
    for joint in teardown.joints:
        if joint.id in done:
            continue
        said = name_said(joint.name, moment.knows) or _joint_said(joint, of.get(joint.of[0], ""))
        if said in found and not joint.name:  # the second plug of one cable
            number = next(n for n in range(2, len(teardown.joints) + 3) if f"{said} {number_said(n)}" not in found)
            said = f"{said} {number_said(number)}"
        if said:
            found.setdefault(said, joint.id)
    return found


def _joint_said(joint: Joint, owner: str) -> str:
    """What a joint without a name is called: by its kind, a screw by its letter, and its part."""
    called = spoken()["joints"].get(joint.kind, "")
    letter = spoken()["letters"].get(joint.fastener or "", "") if joint.kind == "screw" else ""
    if not owner or not called or (joint.kind == "screw" and not letter):
        return ""
    return f"{letter} {called} {owner}".strip()
