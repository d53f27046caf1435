"""What a real record can contain and a person should know of: derived, never stored. Codes and ids; no wording."""

from __future__ import annotations

from msgspec import Struct

from oddbolt.knowledge.said.retold import WORKS
from oddbolt.model.things import Teardown
from oddbolt.rules.blocked import blocking_set, never_free
from oddbolt.rules.device_state import DeviceState, apply_whole
from oddbolt.rules.replay import readings, replay
from oddbolt.rules.structure import Alternatives, Structure, structure_of


class Finding(Struct, frozen=True, kw_only=True):
    """`code` says what; `thing` where; `others` what else is concerned; `figures` what was counted."""

    code: str
    thing: str
    others: tuple[str, ...] = ()
    figures: tuple[tuple[str, int | str], ...] = ()


def access_findings(teardown: Teardown) -> list[Finding]:
    """What does not fit together about access, in the order of the groups below and of the file."""
    structure = structure_of(teardown)
    return [*_never_free(structure), *_never_clear(structure), *_held_by_nothing(structure),
            *_captive_isolators(teardown, structure), *_no_isolator(structure), *_never_released(teardown, structure),
            *left_on(teardown), *_first_met_at_refit(teardown), *_contradictions(teardown, structure),
            *_confirmed_blocked(teardown, structure)]


def _never_free(structure: Structure) -> list[Finding]:
    return [Finding(code="never-free", thing=part, others=blocking_set(structure, (part,)))
            for part in never_free(structure)]


def _never_clear(structure: Structure) -> list[Finding]:
    """Entries of `behind` that name something on every assembly around the thing."""
    found = []
    for id_, release in structure.releases.items():
        for behind in (release.behind, *release.way_behind):
            found.extend(Finding(code="never-clear", thing=id_, others=(name,))
                         for name in _stuck_names(structure, behind, release.of))
    for id_, removal in structure.removals.items():
        found.extend(Finding(code="never-clear", thing=id_, others=(name,))
                     for name in _stuck_names(structure, removal.behind, frozenset((id_,))))
    return list(dict.fromkeys(found))


def _stuck_names(structure: Structure, behind: Alternatives, parts: frozenset[str]) -> list[str]:
    """A part that no lifting parts from the thing while the thing is still where it was.

    Lifting an assembly with only some of the parts that a joint ties needs the joint released first, so it cannot
    clear what hides that joint; lifting the part itself cannot clear what hides that part.
    """
    stuck = []
    for alternative in behind:
        for entry in alternative:
            if entry.is_joint:
                continue
            helpful = [s for s in structure.separators(entry.id, parts)
                       if len({s in structure.above[p] for p in parts}) == 1]
            if not [s for s in helpful if parts != frozenset((s,))]:
                stuck.append(entry.id)
    return stuck


def _held_by_nothing(structure: Structure) -> list[Finding]:
    return [Finding(code="held-by-nothing", thing=part) for part, removal in structure.removals.items()
            if not removal.ties]


def _captive_isolators(teardown: Teardown, structure: Structure) -> list[Finding]:
    found = [Finding(code="captive-isolator", thing=part.id) for part in teardown.parts
             if part.isolates is not False and structure.stand_in.get(part.id, part.id) != part.id]
    found.extend(Finding(code="idle-isolator", thing=joint.id) for joint in teardown.joints
                 if joint.isolates is not False and joint.id in structure.idle_joints)
    return found


def _no_isolator(structure: Structure) -> list[Finding]:
    wants = [id_ for id_, operation in (*structure.releases.items(), *structure.removals.items())
             if operation.needs_safe]
    if wants and not structure.sources:
        return [Finding(code="no-isolator", thing=structure.base, others=tuple(wants))]
    return []


def _never_released(teardown: Teardown, structure: Structure) -> list[Finding]:
    log = readings(teardown)
    if not log:
        return []
    released = {entry.thing for entry in log if entry.do == "release" and entry.outcome != "failed"}
    return [Finding(code="never-released", thing=joint) for joint in structure.releases if joint not in released]


def left_on(teardown: Teardown) -> list[Finding]:
    """Temporary protections: `aid` entries say in `value` whether it went "on" or "off", in `text` what, in `thing`
    where; without a text the thing is what was put on. Taken off without a place, it is off everywhere."""
    on: dict[tuple[str, ...], str] = {}
    for entry in readings(teardown):
        if entry.do == "aid":
            where = (entry.thing,) if entry.text and entry.thing else ()
            what = (entry.text or entry.thing or "", *where)
            if entry.value == "off":
                on = {own: id_ for own, id_ in on.items() if own != what and (where or own[0] != what[0])}
            else:
                on[what] = entry.id
    return [Finding(code="left-on", thing=entry, others=what) for what, entry in on.items()]


def _first_met_at_refit(teardown: Teardown) -> list[Finding]:
    log = readings(teardown)
    if not log:
        return []
    met = {name for entry in log if entry.do not in ("fit", "fasten") for name in (entry.thing, *entry.things) if name}
    named = [refit.thing for refit in teardown.refit
             if refit.thing and refit.do in ("fit", "fasten", "route", "adjust")]
    named += [entry.thing for entry in log if entry.thing and entry.do in ("fit", "fasten")]
    return [Finding(code="first-met-at-refit", thing=thing) for thing in dict.fromkeys(named)
            if thing not in met and thing != teardown.device.base]


def _confirmed_blocked(teardown: Teardown, structure: Structure) -> list[Finding]:
    """Ways that a person said work, last of all that was said of the part, and that the record does not allow."""
    last = {way.part: way for way in teardown.confirmed}
    found = []
    for way in last.values():
        if way.answer != WORKS:
            continue
        state = DeviceState(structure)
        for thing in way.operations:
            if not state.is_in_place(thing) or thing not in structure.releases and thing not in structure.removals:
                continue
            found.extend(Finding(code="confirmed-blocked", thing=thing, others=obstacle.things)
                         for obstacle in state.obstacles_of(thing))
            apply_whole(state, thing)
    return list(dict.fromkeys(found))


def _contradictions(teardown: Teardown, structure: Structure) -> list[Finding]:
    found = []
    for pass_ in sorted({entry.pass_ for entry in teardown.log}):
        walked = replay(teardown, structure, pass_)
        found.extend(Finding(code=f"log-{c.obstacle.code}", thing=c.entry, others=c.obstacle.things)
                     for c in walked.contradictions)
        found.extend(Finding(code="log-unknown", thing=entry) for entry in walked.unknown)
    return found
