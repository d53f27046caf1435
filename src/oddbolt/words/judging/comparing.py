"""Devices beside each other, in words: depth and time by role, the causes of a difference, facts told otherwise, and
ways that somebody told."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Sequence
from typing import Any

from oddbolt.comparing.causes import BEHIND, EXTRA, ONE, TOOL, Cause, Causes
from oddbolt.comparing.devices import Reached, Row
from oddbolt.comparing.facts import THERE, Difference
from oddbolt.comparing.profile import FIGURES
from oddbolt.comparing.told import Held
from oddbolt.model.things import Teardown
from oddbolt.words.figures import figure_of, interval_text, signed_text, steps_text
from oddbolt.words.names import name_apart, names_of, part_kind_name, role_name, side_name, tool_name
from oddbolt.words.recording.labels import REUSES
from oddbolt.words.translate import N_, from_table, of_data, tr, within

CAUSES = {EXTRA: N_("{device} alone has {thing}"), TOOL: N_("{thing} with another tool"),
          BEHIND: N_("{thing} lies behind something else")}
FACTS = {"kind": N_("kind"), "type": N_("type"), "role": N_("role"), "on": N_("lies on"), "count": N_("number"),
         "behind": N_("behind"), "hazards": N_("hazards"), "captive": N_("comes off by itself"),
         "isolates": N_("cuts the power"), "mass_g": N_("mass, g"), "side": N_("side"), "of": N_("ties"),
         "fastener": N_("screw"), "ways": N_("how it is undone"),
         "lift": N_("how it is lifted"), THERE: N_("on record")}
MADE_WITH = {"bolts": N_("Bolts"), "bolt_types": N_("Types of bolts"), "tools": N_("Tools to what matters"),
             "renewed": N_("Joints to renew"), "destroyed": N_("Joints destroyed"), "glue": N_("Glued joints"),
             "connectors": N_("Connectors"), "parts": N_("Parts on record"), "mass_g": N_("Mass, g")}
assert set(MADE_WITH) == set(FIGURES)


def names_apart(records: Sequence[Teardown]) -> list[str]:
    """What records are called beside each other: the device; where two are of the same, with who took it apart, else
    with a number."""
    names = [record.device.name or tr("Unnamed device") for record in records]
    for how in (lambda n: next((one.by for one in records[n].sessions if one.by), ""), lambda n: str(n + 1)):
        often = Counter(names)
        told = [how(n) for n in range(len(records))]
        names = [tr("{0} ({1})").format(name, told[n]) if often[name] > 1 and told[n] else name
                 for n, name in enumerate(names)]
    return names


def comparison_lines(records: Sequence[Teardown], names: Sequence[str], rows: Sequence[Row]) -> Iterator[str]:
    for row in rows:
        yield tr("{0}: {1}").format(role_name(row.role), "; ".join(
            tr("{0} {1}").format(name, reached_text(one)) for name, one in zip(names, row.reached)))
        for n, found in enumerate(row.why, start=1):
            if found is not None and found.difference:
                yield tr("  {0} against {1}: {2}").format(names[n], names[0], causes_text(
                    found, (records[0], records[n]), (names[0], names[n])))


def reached_text(one: Reached | None) -> str:
    if one is None:
        return tr("has none")
    if one.steps is None or one.time is None:
        return tr("cannot be taken off")
    time = interval_text(one.time.seconds, one.time.low_s, one.time.high_s)
    return tr("{0}, {1}").format(steps_text(one.steps), time)


def causes_text(found: Causes, records: tuple[Teardown, Teardown], names: tuple[str, str]) -> str:
    """"-2: A alone has Cover seam -1; B alone has Cover screws +1; -2 by nothing that was found"."""
    parts = [
        tr("{0} {1}").format(cause_text(cause, records, names), signed_text(cause.steps)) for cause in found.causes
    ]
    if found.remainder:
        parts.append(tr("{0} by several things together").format(signed_text(found.remainder)))
    return tr("{0} steps: {1}").format(signed_text(found.difference), "; ".join(parts))


def cause_text(cause: Cause, records: tuple[Teardown, Teardown], names: tuple[str, str]) -> str:
    place = 0 if cause.side == ONE else 1
    return from_table(CAUSES, cause.what, device=names[place], thing=name_apart(records[place], cause.thing))


def made_with_name(figure: str) -> str:
    return from_table(MADE_WITH, figure)


# -- two records of one model

def fact_name(fact: str) -> str:
    return from_table(FACTS, fact)


def thing_of(records: tuple[Teardown, Teardown], found: Difference) -> str:
    """What a difference is about."""
    return name_apart(records[0], found.one) if found.one else name_apart(records[1], found.other)


def _acts_text(record: Teardown, acts: Sequence[tuple[str, str]]) -> str:
    return ", ".join(tr("{0} with {1}").format(of_data(does), within(tool_name(record, tool))) if does
                     else tool_name(record, tool) for tool, does in acts)


def fact_text(record: Teardown, fact: str, value: Any) -> str:
    """A fact as it is told; names are those of `record`, which is the first of two."""
    if fact == THERE or isinstance(value, bool):
        return tr("yes") if value else tr("no")
    if value in (None, "", ()):
        return tr("not told") if fact != "behind" else tr("nothing")
    if fact == "behind":
        return tr(" or ").join(names_of(record, names) for names in value)
    if fact == "lift":
        return _acts_text(record, value)
    if fact == "ways":
        return tr(" or ").join(tr("{0}, {1}").format(_acts_text(record, acts), from_table(REUSES, reuse))
                               for reuse, acts in value)
    if fact == "of":
        return names_of(record, value)
    if fact == "on":
        return names_of(record, [value])
    if fact == "role":
        return ", ".join(role_name(one) for one in value)
    if fact == "kind":
        return part_kind_name(value)
    if fact == "side":
        return side_name(value)
    return ", ".join(value) if isinstance(value, tuple) else figure_of(value)


# -- ways told

def held_lines(teardown: Teardown, held: Held) -> list[str]:
    """What comes of a told way, the verdict first."""
    lines = []
    told, best = held.as_told, held.best
    if best is None or best.count is None:
        lines.append(tr("By the record this part cannot be taken off at all."))
    elif not held.reaches:
        lines.append(tr("By the record the part does not come off like this, whatever is put in."))
    elif held.is_too_good and told is not None and held.mended is not None:
        lines.append(tr("Too good: as told it would be {0}; with what was left out it is {1}. The best is {2}.").format(
            steps_text(told.steps), steps_text(held.mended.steps), steps_text(best.count.steps)))
    elif held.mended is not None and held.mended.steps > best.count.steps:
        lines.append(tr("It works: {0}. The best is {1}.").format(
            steps_text(held.mended.steps), steps_text(best.count.steps)))
    elif held.mended is not None:
        lines.append(tr("It works, and there is no shorter one: {0}.").format(steps_text(held.mended.steps)))
    for text, things in ((tr("Left out: {0}"), held.left_out), (tr("Needless: {0}"), held.needless),
                         (tr("Told before what must go first: {0}"), held.out_of_order),
                         (tr("Done live: {0}"), held.live), (tr("Nothing that is undone here: {0}"), held.unknown)):
        if things:
            lines.append(text.format(", ".join(name_apart(teardown, thing) for thing in things)))
    return lines
