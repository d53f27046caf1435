"""What a record tells beside the work, and the record without it: for what is given out of hand."""

from __future__ import annotations

from collections.abc import Collection

from msgspec.structs import replace

from oddbolt.model.things import Teardown

PLACE, AUTHOR, SERIALS = "place", "author", "serials"
TELLS = (PLACE, AUTHOR, SERIALS)


def without_tales_of(teardown: Teardown, leave_out: Collection[str]) -> Teardown:
    """The record without where, by whom, and of which single device it is."""
    device, passes, opinions, confirmed = teardown.device, teardown.sessions, teardown.opinions, teardown.confirmed
    told, log = teardown.told, teardown.log
    if SERIALS in leave_out:
        device = replace(device, serial="")
    if AUTHOR in leave_out:
        passes = tuple(replace(one, by="") for one in passes)
        opinions = tuple(replace(one, by="") for one in opinions)
        confirmed = tuple(replace(one, by="") for one in confirmed)
        told = tuple(replace(one, by="") for one in told)
        log = tuple(replace(one, sound="") for one in log)  # a voice tells who it is
    if PLACE in leave_out:
        passes = tuple(replace(one, place="") for one in passes)
    return replace(teardown, device=device, sessions=passes, opinions=opinions, confirmed=confirmed, told=told, log=log)
