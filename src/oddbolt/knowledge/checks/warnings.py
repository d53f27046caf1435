"""Checks as one goes: what a practitioner at the next bench would say. Codes and ids; the interface words them."""

from __future__ import annotations

from collections import Counter

from msgspec import Struct

from oddbolt.catalog.defaults import ways_of
from oddbolt.model.things import Fastener, Teardown
from oddbolt.rules.replay import readings

SAME_LOOK_MM = 0.3  # heads that differ by less are taken for each other: common practice, no source


class Alert(Struct, frozen=True, kw_only=True):
    code: str  # live, count-short, look-alike, solvent-beside-heat
    things: tuple[str, ...]
    figures: tuple[tuple[str, float], ...] = ()


def look_alikes(teardown: Teardown, letter: str) -> list[Fastener]:
    """Other fasteners that a person would take for this one, of another length or thread."""
    one = teardown.fastener.get(letter)
    if one is None:
        return []
    return [f for f in teardown.fasteners if f.id != letter and (f.drive, f.size, f.colour, f.head)
            == (one.drive, one.size, one.colour, one.head) and abs((f.head_mm or 0) - (one.head_mm or 0)) < SAME_LOOK_MM
            and (f.length_mm, f.thread) != (one.length_mm, one.thread)]


def on_letter(teardown: Teardown, letter: str) -> list[Alert]:
    """When a letter is taken up to mark with: a longer screw in a shorter one's hole ruins what is under it."""
    alike = look_alikes(teardown, letter)
    if not alike:
        return []
    lengths = tuple((f.id, f.length_mm or 0) for f in (teardown.fastener[letter], *alike))
    return [Alert(code="look-alike", things=tuple(f.id for f in alike), figures=lengths)]


def on_release(teardown: Teardown, joint_id: str, live: bool) -> list[Alert]:
    """After a release: opened live, fewer screws marked than counted, solvent while something is still hot."""
    found = []
    joint = teardown.joint[joint_id]
    if live:
        found.append(Alert(code="live", things=(joint_id,)))
    most = max((Counter(m.thing for m in view.marks)[joint_id] for view in teardown.views), default=0)
    if joint.kind == "screw" and joint.count is not None and 0 < most < joint.count:
        found.append(Alert(code="count-short", things=(joint_id,), figures=(("marks", most), ("count", joint.count))))
    if _uses(teardown, joint_id, "soak") and _heated_lately(teardown):
        found.append(Alert(code="solvent-beside-heat", things=(joint_id,)))
    return found


def _uses(teardown: Teardown, joint_id: str, verb: str) -> bool:
    last = next((e for e in reversed(readings(teardown)) if e.thing == joint_id and e.do == "release"), None)
    ways = ways_of(teardown, teardown.joint[joint_id])
    way = (last.way if last else 0) or 0
    return way < len(ways) and any(act.does == verb for act in ways[way].acts)


def _heated_lately(teardown: Teardown, within_s: float = 600) -> bool:
    log = [e for e in readings(teardown) if e.t is not None]
    if not log:
        return False
    return any(e.do == "heat" and log[-1].t - e.t < within_s for e in log)
