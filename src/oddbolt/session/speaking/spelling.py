"""How names and numbers are said: words of the recogniser's language for parts, kinds and counts."""

from __future__ import annotations

import re
from collections.abc import Callable

from oddbolt.catalog.tables import part_kind, part_kinds, table
from oddbolt.model.things import Part, Teardown

ONES = ("zero", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve",
        "thirteen", "fourteen", "fifteen", "sixteen", "seventeen", "eighteen", "nineteen")
TENS = ("", "", "twenty", "thirty", "forty", "fifty", "sixty", "seventy", "eighty", "ninety")
Knows = Callable[[str], bool]  # whether a word can be recognised
_WORD = re.compile(r"[a-z]+(?:'[a-z]+)?|\d+")


def number_said(number: int) -> str:
    """0 to 999 in words."""
    if number < 20:
        return ONES[number]
    if number < 100:
        return f"{TENS[number // 10]} {ONES[number % 10]}" if number % 10 else TENS[number // 10]
    rest = f" {number_said(number % 100)}" if number % 100 else ""
    return f"{ONES[number // 100]} hundred{rest}"


def name_said(name: str, knows: Knows) -> str:
    """A name as it is said; empty where one of its words is not known, or it has none."""
    said = []
    for word in _WORD.findall(name.lower()):
        if word.isdigit():
            if int(word) > 999:
                return ""
            said.append(number_said(int(word)))
        elif knows(word):
            said.append(word)
        else:
            return ""
    return " ".join(said)


def kind_said(kind: str, knows: Knows) -> str:
    """A kind of part as it is said: by the table of speech, else by its name."""
    row = part_kind(kind)
    return table("spoken.toml")["kinds"].get(row.id) or name_said(row.name, knows)


def kinds_said(knows: Knows) -> dict[str, str]:
    """How every kind of part of the bench is said -> its id."""
    found = {kind_said(id_, knows): id_ for id_ in part_kinds()}
    found.pop("", None)
    return found


def parts_said(teardown: Teardown, parts: list[str], knows: Knows) -> dict[str, str]:
    """How parts are called: by their names; where a name cannot be said, or is another's too, by kind and number."""
    found: dict[str, str] = {}
    numbers: dict[str, int] = {}
    for id_ in parts:
        part = teardown.part[id_]
        kind = kind_said(part.kind, knows) if part.kind else ""
        numbers[kind] = numbers.get(kind, 0) + 1
        said = _own_name(part, knows)
        if not said or said in found:
            said = f"{kind or 'part'} {number_said(numbers[kind])}"
        if said not in found:
            found[said] = id_
    return found


def _own_name(part: Part, knows: Knows) -> str:
    """Its name; where that is only what its kind is called, with a number or without, as the kind is said."""
    name, called = (part.name or part.id.replace("-", " ")).lower(), part_kind(part.kind).name.lower()
    if part.kind and (name == called or re.fullmatch(re.escape(called) + r" \d+", name)):
        return f"{kind_said(part.kind, knows)} {name_said(name[len(called):], knows)}".strip()
    return name_said(name, knows)
