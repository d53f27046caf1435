"""Ids of an exchange file that are missing, double or circular: all that the rules of the model say about names."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from oddbolt.model.refusal import Refusal
from oddbolt.model.snapshot import ids_of, is_added_to
from oddbolt.model.things import CLOSED, HAND, OPEN, REFIT_VERBS, SOMETHING, Procedure, Refit, Teardown

AMOUNTS = frozenset(("qty", "mm", "depth_mm", "torque_ncm", "min", "each_s", "seconds", "wait_s", "active_s"))
# What an answer about a way that was shown cannot do without.
_NEEDED_BY = {"blocked": ("at",), "needless": ("things",), "not_mine": ("at", "to")}
DEEPEST_PROCEDURE, MOST_ENTRIES = 30, 5000  # of procedures within each other; a long one of a device has a hundred


def check_references(teardown: Teardown, before: Teardown | None = None) -> None:
    """Refuse ids that are missing, double or circular: everything model rules say about names.

    `before` is a snapshot that has been checked: where no id was lost since, its records need no second look.
    """
    checked = _Checked(teardown, before)
    _check_unique(teardown, before)
    _check_base(teardown)
    _check_parts(teardown, checked)
    _check_joints(teardown, checked)
    _check_settings(teardown)
    _check_records(teardown, checked)


class _Checked:
    """Records of a snapshot that were checked in the one before."""

    def __init__(self, teardown: Teardown, before: Teardown | None) -> None:
        self._teardown = teardown
        self._before = before if before is not None and self._keeps_its_ids(teardown, before) else None

    def left(self, section: str) -> Iterator[tuple[int, Any]]:
        """The records of a section that are to be looked at, with their places."""
        records = getattr(self._teardown, section)
        if self._before is None:
            return iter(enumerate(records))
        checked = getattr(self._before, section)
        if records is checked:
            return iter(())
        known = len(checked)
        if is_added_to(records, checked):  # as a rule
            return iter(enumerate(records[known:], start=known))
        same = set(map(id, checked))
        return ((n, record) for n, record in enumerate(records) if id(record) not in same)

    @staticmethod
    def _keeps_its_ids(teardown: Teardown, before: Teardown) -> bool:
        return all(getattr(teardown, section) is getattr(before, section)
                   or ids_of(before, section) <= ids_of(teardown, section)
                   for section in ("parts", "joints", "fasteners")) and _entries_are_kept(teardown, before)

    def parts_lie_as_before(self) -> bool:
        before = self._before
        if before is not None and self._teardown.parts is before.parts:
            return True
        return before is not None and all(part.id in before.part and before.part[part.id].on == part.on
                                          for _, part in self.left("parts"))


def _entries_are_kept(teardown: Teardown, before: Teardown) -> bool:
    """Whether every entry of the log that something names is still there."""
    if teardown.log is before.log or is_added_to(teardown.log, before.log):
        return True
    lost = {entry.id for entry in before.log} - {entry.id for entry in teardown.log}
    return not any(entry.amends in lost for entry in teardown.log) and not any(
        said.at_entry in lost for said in (*teardown.views, *teardown.confirmed))


def _check_unique(teardown: Teardown, before: Teardown | None) -> None:
    for sections in (("parts", "joints"), *((one,) for one in ("tools", "fasteners", "log", "views", "procedures"))):
        if before is not None and all(getattr(teardown, name) is getattr(before, name) for name in sections):
            continue
        ids = [ids_of(teardown, section) for section in sections]
        if all(len(own) == len(getattr(teardown, section)) for own, section in zip(ids, sections)) \
                and frozenset.isdisjoint(ids[0], *ids[1:] or ((),)):  # as a rule
            continue
        seen: dict[str, str] = {}
        for section in sections:
            _refuse_repeats(getattr(teardown, section), section, seen)


def _refuse_repeats(records: tuple[Any, ...], section: str, seen: dict[str, str]) -> None:
    for n, record in enumerate(records):
        path = f"$.{section}[{n}].id"
        if record.id in seen:
            raise Refusal(path, "id-taken", id=record.id, by=seen[record.id])
        seen[record.id] = path


def _check_base(teardown: Teardown) -> None:
    base = teardown.part.get(teardown.device.base)
    if base is None:
        raise Refusal("$.device.base", "no-base", id=teardown.device.base)
    if not teardown.is_present(base):
        raise Refusal("$.device.base", "not-in-variant", variant=teardown.device.variant, id=base.id)
    if base.on is not None:
        n = teardown.parts.index(base)
        raise Refusal(f"$.parts[{n}].on", "base-on-nothing")


def _check_parts(teardown: Teardown, checked: _Checked) -> None:
    for n, part in checked.left("parts"):
        path = f"$.parts[{n}]"
        if part.on is not None:
            _resolve(part.on, teardown.part, f"{path}.on", "part")
        for m, name in enumerate(part.spare.includes or () if part.spare else ()):
            _resolve(name, teardown.part, f"{path}.spare.includes[{m}]", "part")
        _check_behind(teardown, part.behind, part.id, f"{path}.behind")
        if part.acts and (part.tool != HAND or part.also or part.does or part.active_s is not None):
            raise Refusal(f"{path}.acts", "acts-beside-tool")
        for m, act in enumerate(part.acts):
            _check_nested(teardown, list(act.limits), f"{path}.acts[{m}].limits")
    if checked.parts_lie_as_before():
        return
    for n, part in enumerate(teardown.parts):
        below, seen = part, {part.id}
        while below.on is not None:
            below = teardown.part[below.on]
            if below.id in seen:
                raise Refusal(f"$.parts[{n}].on", "lies-on-itself", id=part.id)
            seen.add(below.id)


def _check_joints(teardown: Teardown, checked: _Checked) -> None:
    for n, joint in checked.left("joints"):
        path = f"$.joints[{n}]"
        for m, name in enumerate(joint.of):
            _resolve(name, teardown.part, f"{path}.of[{m}]", "part")
            if name in joint.of[:m]:
                raise Refusal(f"{path}.of[{m}]", "twice-in-joint", id=name)
        if len(joint.of) < 2:
            raise Refusal(f"{path}.of", "ties-too-few")
        if joint.fastener is not None:
            _resolve(joint.fastener, teardown.fastener, f"{path}.fastener", "fastener")
        _check_behind(teardown, joint.behind, joint.id, f"{path}.behind")
        for m, way in enumerate(joint.ways):
            _check_behind(teardown, way.behind, joint.id, f"{path}.ways[{m}].behind")
            for k, name in enumerate(way.resupplied if isinstance(way.resupplied, tuple) else ()):
                _resolve(name, teardown.part, f"{path}.ways[{m}].resupplied[{k}]", "part")
            for k, act in enumerate(way.acts):
                place = f"{path}.ways[{m}]" if way.inline else f"{path}.ways[{m}].acts[{k}]"
                _check_nested(teardown, list(act.limits), f"{place}.limits")


def _check_behind(teardown: Teardown, behind: tuple[tuple[str, ...], ...], own: str, path: str) -> None:
    for n, alternative in enumerate(behind):
        for m, name in enumerate(alternative):
            if name == own:
                raise Refusal(f"{path}[{n}][{m}]", "behind-itself", id=own)
            if name not in teardown.part and name not in teardown.joint:
                raise Refusal(f"{path}[{n}][{m}]", "no-such-thing", id=name)


def _check_settings(teardown: Teardown) -> None:
    seen: set[str] = set()
    for n, group in enumerate(teardown.settings.tool_groups):
        for m, tool in enumerate(group):
            path = f"$.settings.tool_groups[{n}][{m}]"
            if tool == HAND:
                raise Refusal(path, "hand-in-group")
            if tool in seen:
                raise Refusal(path, "tool-in-group", id=tool)
            seen.add(tool)


def _check_records(teardown: Teardown, checked: _Checked) -> None:
    def is_an_entry(id_: str, path: str) -> None:
        _resolve(id_, ids_of(teardown, "log"), path, "log-entry")

    for n, entry in checked.left("log"):
        path = f"$.log[{n}]"
        if entry.thing is not None:
            _resolve_thing(teardown, entry.thing, f"{path}.thing")
        for m, name in enumerate(entry.things):
            _resolve_thing(teardown, name, f"{path}.things[{m}]")
        if entry.fastener is not None:
            _resolve(entry.fastener, teardown.fastener, f"{path}.fastener", "fastener")
        if entry.amends is not None:
            is_an_entry(entry.amends, f"{path}.amends")
            if entry.amends == entry.id:
                raise Refusal(f"{path}.amends", "amends-itself")
        if entry.after is not None and all(entry.after != before.id for before in teardown.log[:n]):
            raise Refusal(f"{path}.after", "after-what-is-later", id=entry.after)
    for n, view in checked.left("views"):
        if view.at_entry is not None:
            is_an_entry(view.at_entry, f"$.views[{n}].at_entry")
        if view.portrait is not None:
            _resolve(view.portrait, teardown.part, f"$.views[{n}].portrait", "part")
        for m, mark in enumerate(view.marks):
            _resolve_thing(teardown, mark.thing, f"$.views[{n}].marks[{m}].thing")
        for m, footprint in enumerate(view.footprints):
            _resolve_thing(teardown, footprint.of, f"$.views[{n}].footprints[{m}].of")
            for k, name in enumerate(footprint.with_):
                _resolve_thing(teardown, name, f"$.views[{n}].footprints[{m}].with[{k}]")
    _check_what_was_said(teardown, checked)
    for n, refit in checked.left("refit"):
        _check_refit(teardown, refit, f"$.refit[{n}]")
        if refit.do not in REFIT_VERBS:
            raise Refusal(f"$.refit[{n}].do", "unknown-word", word=refit.do, known=list(REFIT_VERBS))
    some = list(checked.left("procedures"))
    for n, procedure in some:
        _check_procedure(teardown, procedure, f"$.procedures[{n}]")
    if some:
        _check_unfolded(teardown)


def _check_procedure(teardown: Teardown, procedure: Procedure, path: str) -> None:
    known = {one.id: one for one in teardown.procedures}
    if procedure.for_ is not None:
        _resolve(procedure.for_, teardown.part, f"{path}.for", "part")
    if procedure.from_ not in (CLOSED, OPEN):
        _resolve(procedure.from_, known, f"{path}.from", "procedure")
    before, seen = procedure, {procedure.id}
    while before.from_ in known:
        if before.from_ in seen:
            raise Refusal(f"{path}.from", "goes-on-from-itself", id=procedure.id)
        seen.add(before.from_)
        before = known[before.from_]
    for n, entry in enumerate(procedure.entries):
        _check_refit(teardown, entry, f"{path}.entries[{n}]")
        if entry.do == "procedure" and (entry.procedure not in known or _uses(known, entry.procedure, procedure.id)):
            code = "no-procedure" if entry.procedure not in known else "goes-on-from-itself"
            raise Refusal(f"{path}.entries[{n}].procedure", code, id=entry.procedure)
        if entry.back_to and all(entry.back_to != other.label for other in procedure.entries[:n]):
            raise Refusal(f"{path}.entries[{n}].back_to", "no-label", id=entry.back_to)


def _check_unfolded(teardown: Teardown) -> None:
    """Refuse procedures that unfold to more than anybody could follow: each may do others, which do others. None of
    them is done within itself."""
    known = {one.id: one for one in teardown.procedures}
    sizes: dict[str, tuple[int, int]] = {}  # entries, and how deep

    def size_of(id_: str, depth: int, path: str) -> tuple[int, int]:
        if depth > DEEPEST_PROCEDURE:
            raise Refusal(path, "too-deep")
        if id_ not in sizes:
            one = known[id_]
            parts = [size_of(one.from_, depth + 1, path)] if one.from_ in known else []
            parts += [size_of(entry.procedure, depth + 1, path) for entry in one.entries if entry.do == "procedure"]
            number = sum(entry.do != "procedure" for entry in one.entries) + sum(n for n, _ in parts)
            sizes[id_] = number, 1 + max((deep for _, deep in parts), default=0)
        number, deep = sizes[id_]
        if number > MOST_ENTRIES:
            raise Refusal(path, "too-many-entries", number=number, most=MOST_ENTRIES)
        if depth + deep > DEEPEST_PROCEDURE + 1:
            raise Refusal(path, "too-deep")
        return sizes[id_]

    for n, one in enumerate(teardown.procedures):
        size_of(one.id, 0, f"$.procedures[{n}]")


def _uses(known: dict[str, Procedure], one: str, other: str) -> bool:
    """Whether a procedure is done within another, or is it."""
    seen: set[str] = set()
    waiting = [one]
    while waiting:
        id_ = waiting.pop()
        if id_ == other:
            return True
        if id_ in known and id_ not in seen:
            seen.add(id_)
            waiting.extend(entry.procedure for entry in known[id_].entries if entry.do == "procedure")
    return False


def _check_refit(teardown: Teardown, refit: Refit, path: str) -> None:
    if refit.thing is not None:
        _resolve_thing(teardown, refit.thing, f"{path}.thing")
    if refit.on is not None:
        _resolve_thing(teardown, refit.on, f"{path}.on")
    for n, off in enumerate(refit.keep_off):
        if off.thing is not None:
            _resolve_thing(teardown, off.thing, f"{path}.keep_off[{n}].thing")
    _check_nested(teardown, dict(refit.extra), path)


def _check_what_was_said(teardown: Teardown, checked: _Checked) -> None:
    for n, way in checked.left("confirmed"):
        path = f"$.confirmed[{n}]"
        for name, part in (("part", way.part), ("to", way.to)):
            if part is not None:
                _resolve(part, teardown.part, f"{path}.{name}", "part")
        if way.at is not None:
            _resolve_thing(teardown, way.at, f"{path}.at")
        if way.at_entry is not None:
            _resolve(way.at_entry, ids_of(teardown, "log"), f"{path}.at_entry", "log-entry")
        for name in ("operations", "by_things", "things"):
            for m, thing in enumerate(getattr(way, name)):
                _resolve_thing(teardown, thing, f"{path}.{name}[{m}]")
        for m, thing in enumerate(way.held_by):
            if thing != SOMETHING:
                _resolve(thing, teardown.joint, f"{path}.held_by[{m}]", "joint")
        for name in _NEEDED_BY.get(way.answer, ()):
            if not getattr(way, name):
                raise Refusal(f"{path}.{name}", "key-missing", noun=way.noun)
    for n, pair in checked.left("pairs"):
        _resolve_thing(teardown, pair.thing, f"$.pairs[{n}].thing")
        _resolve_thing(teardown, pair.hider, f"$.pairs[{n}].hider")
        if pair.thing == pair.hider:
            raise Refusal(f"$.pairs[{n}].hider", "behind-itself", id=pair.thing)
    for n, told in checked.left("told"):
        _resolve(told.part, teardown.part, f"$.told[{n}].part", "part")
        for m, thing in enumerate(told.things):
            _resolve_thing(teardown, thing, f"$.told[{n}].things[{m}]")


def _check_nested(teardown: Teardown, value: Any, path: str) -> None:
    """Inside advice, every `thing` must resolve (what to keep off), and no amount is negative; temperatures may be."""
    if isinstance(value, list):
        for n, item in enumerate(value):
            _check_nested(teardown, item, f"{path}[{n}]")
    elif isinstance(value, dict):
        for name, item in value.items():
            if name == "thing" and isinstance(item, str):
                _resolve_thing(teardown, item, f"{path}.thing")
            elif name in AMOUNTS:
                _refuse_negative(item, f"{path}.{name}")
            else:
                _check_nested(teardown, item, f"{path}.{name}")


def _refuse_negative(value: Any, path: str) -> None:
    for n, item in enumerate(value if isinstance(value, list) else [value]):
        if isinstance(item, (int, float)) and item < 0:
            raise Refusal(f"{path}[{n}]" if isinstance(value, list) else path, "negative", value=item)


def _resolve_thing(teardown: Teardown, name: str, path: str) -> None:
    if name not in teardown.part and name not in teardown.joint:
        raise Refusal(path, "no-such-thing", id=name)


def _resolve(name: str, known: dict[str, Any], path: str, noun: str) -> None:
    if name not in known:
        raise Refusal(path, f"no-{noun}", id=name)
