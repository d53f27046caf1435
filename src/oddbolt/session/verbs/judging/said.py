"""What a person says that a verdict rests on: whose spare brings a fixing, an opinion with its marks."""

from __future__ import annotations

from collections.abc import Iterable

from msgspec.structs import replace

from oddbolt.model.label import Label
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Opinion, Teardown
from oddbolt.session.verbs.plain import Done, label_of

WITH_LISTS = 2  # version of the exchange file: a reader of version 1 would refuse a list


def set_resupplied(teardown: Teardown, joint: str, parts: Iterable[str]) -> Done:
    """Which spares bring new fixing for a joint: of all its ways after which a spare brings some."""
    if joint not in teardown.joint:  # asked of another record, which was open a moment before
        raise Refusal(joint, "no-such-thing", id=joint)
    record = teardown.joint[joint]
    said = tuple(dict.fromkeys(parts))
    ways = tuple(replace(one, resupplied=said) if one.resupplied is not False else one for one in record.ways)
    joints = tuple(replace(record, ways=ways) if one is record else one for one in teardown.joints)
    return Done(label_of("resupplied", teardown, joint),
                replace(teardown, joints=joints, version=max(teardown.version, WITH_LISTS)))


def set_opinion(teardown: Teardown, place: int, opinion: Opinion | None) -> Done:
    """Someone's own mark with its reasons: a new one behind the last, one changed in its place, or (None) taken
    away."""
    kept = list(teardown.opinions)
    if opinion is None:
        if not 0 <= place < len(kept):
            raise Refusal("opinions", "no-such-opinion", number=place + 1)
        del kept[place]
    else:
        for mark in (opinion, *opinion.marks):
            if mark.mark is not None and (not mark.of or mark.mark > mark.of):
                raise Refusal("mark", "mark-out-of", mark=mark.mark, of=mark.of or 0)
        kept[place:place + 1] = [opinion]
    return Done(Label("opinion", {"whose": opinion.by if opinion is not None else ""}),
                replace(teardown, opinions=tuple(kept)))
