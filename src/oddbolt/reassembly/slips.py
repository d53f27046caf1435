"""Slips of recording that nothing else shows: names, marks in the wrong place, a picture taken in twice."""

from __future__ import annotations

from collections.abc import Mapping

from oddbolt.catalog.tables import covering_kinds
from oddbolt.knowledge.checks.findings import Finding
from oddbolt.model.naming import MARKED
from oddbolt.model.things import Teardown, View

OVER_MM, OVER_PX = 1.5, 12.0  # a mark this near a screw's lies over it; pixels where a photograph has no scale


def slips(teardown: Teardown, pictures: Mapping[str, str] | None = None) -> list[Finding]:
    """`pictures` gives what each photograph shows, as a digest, where the photographs are at hand."""
    return [*_blank_names(teardown), *_same_names(teardown), *_over_screws(teardown), *_holds_nothing(teardown),
            *_same_picture(teardown, pictures or {})]


def _blank_names(teardown: Teardown) -> list[Finding]:
    """A name of nothing but blanks, or a part met at the bench that was lifted without kind and name."""
    lifted = {entry.thing for entry in teardown.log if entry.do == "remove"}
    found = [thing.id for thing in (*teardown.parts, *teardown.joints) if thing.name and not thing.name.strip()]
    found += [part.id for part in teardown.parts if not part.name and not part.kind and part.id in lifted
              and part.basis in MARKED]
    return [Finding(code="blank-name", thing=id_) for id_ in dict.fromkeys(found)]


def _same_names(teardown: Teardown) -> list[Finding]:
    found = []
    for records in (teardown.parts, teardown.joints):
        called: dict[str, list[str]] = {}
        for record in records:
            if record.name.strip():
                called.setdefault(" ".join(record.name.split()).casefold(), []).append(record.id)
        found += [Finding(code="same-name", thing=ids[0], others=tuple(ids[1:]))
                  for ids in called.values() if len(ids) > 1]
    return found


def _over_screws(teardown: Teardown) -> list[Finding]:
    """A small part whose mark lies on that of a screw of another thing: one of the two was meant."""
    small, found = covering_kinds().small, {}
    for view in teardown.views:
        near = OVER_MM / view.mm_per_px if view.mm_per_px else OVER_PX
        screws = [m for m in view.marks if m.thing in teardown.joint and teardown.joint[m.thing].kind == "screw"]
        for mark in view.marks:
            part = teardown.part.get(mark.thing)
            if part is None or mark.outline or not (part.captive or part.kind in small):
                continue
            for screw in screws:
                if (mark.x - screw.x) ** 2 + (mark.y - screw.y) ** 2 <= near ** 2 \
                        and part.id not in teardown.joint[screw.thing].of:
                    found.setdefault((part.id, screw.thing), view.id)
    return [Finding(code="over-a-screw", thing=part, others=(joint,)) for part, joint in found]


def _holds_nothing(teardown: Teardown) -> list[Finding]:
    """Screws none of whose parts has a name or a kind, beside what stays on the mat."""
    found = []
    for joint in teardown.joints:
        ends = [teardown.part[p] for p in joint.of if p != teardown.device.base]
        if joint.kind == "screw" and ends and not any(part.name or part.kind for part in ends):
            found.append(Finding(code="holds-nothing-named", thing=joint.id))
    return found


def _same_picture(teardown: Teardown, pictures: Mapping[str, str]) -> list[Finding]:
    shown: dict[str, list[View]] = {}
    for view in teardown.views:
        if view.photo:
            shown.setdefault(pictures.get(view.photo, view.photo), []).append(view)
    return [Finding(code="same-picture", thing=views[0].id, others=tuple(view.id for view in views[1:]))
            for views in shown.values() if len(views) > 1]
