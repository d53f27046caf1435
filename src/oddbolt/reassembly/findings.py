"""What a record does not let be true: all of it, and of bolts that their counts differ."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping

from oddbolt.catalog.torque import BREAKING, IMPOSSIBLE
from oddbolt.knowledge.checks.findings import Finding, access_findings
from oddbolt.model.things import Teardown
from oddbolt.reassembly.bolts import torques
from oddbolt.reassembly.slips import slips


def findings(teardown: Teardown, pictures: Mapping[str, str] | None = None) -> list[Finding]:
    """All findings of a snapshot: of access first, then of bolts, then slips. `pictures` gives a digest of each
    photograph, where they are at hand."""
    return [*access_findings(teardown), *_screw_counts(teardown), *_torques(teardown), *slips(teardown, pictures)]


def _torques(teardown: Teardown) -> list[Finding]:
    """Torques that cannot be, with the units in which the figure could."""
    return [Finding(code="torque-cannot-be", thing=one.joint, others=one.check.slips,
                    figures=(("torque", f"{one.value:g} {one.unit}"), ("where", one.where)))
            for one in torques(teardown) if one.check is not None and one.check.verdict in (IMPOSSIBLE, BREAKING)]


def _screw_counts(teardown: Teardown) -> list[Finding]:
    """Marks on one view against the joint's count, and the tally of a view against its marks."""
    found = []
    most: Counter[str] = Counter()
    for view in teardown.views:
        marked = Counter(mark.thing for mark in view.marks)
        for thing, number in marked.items():
            most[thing] = max(most[thing], number)
        screws = sum(n for thing, n in marked.items() if thing in teardown.joint
                     and teardown.joint[thing].kind == "screw")
        if view.tally is not None and view.marks and view.tally != screws:
            found.append(Finding(code="tally-differs", thing=view.id,
                                 figures=(("tally", view.tally), ("marks", screws))))
    for joint in teardown.joints:
        if joint.kind == "screw" and joint.id in most and joint.count is not None and most[joint.id] != joint.count:
            # A record in the making has its marks before its count and one view may not show all: fewer marks than
            # counted is worth a word too, because a screw under tape is what gets forgotten.
            found.append(Finding(code="marks-differ", thing=joint.id,
                                 figures=(("count", joint.count), ("marks", most[joint.id]))))
    return found
