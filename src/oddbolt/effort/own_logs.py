"""What a person's own logs say of their times: the pace by verb, and how long each pass over a device took."""

from __future__ import annotations

from collections.abc import Iterable

from oddbolt.effort.pace import ALL, Pace, pace_of
from oddbolt.effort.times import KnownTimes
from oddbolt.model.things import Teardown
from oddbolt.rules.replay import readings


def paces(records: Iterable[Teardown]) -> dict[str, Pace]:
    """The pace of each verb with a reading in the logs of one person, and over all of them (`ALL`)."""
    ratios: dict[str, list[float]] = {}
    for record in records:
        times = KnownTimes(record)
        for key, seconds in times.measured().items():
            estimated = times.estimated(key)
            if estimated.seconds > 0:
                for verb in (estimated.verb, ALL):
                    ratios.setdefault(verb, []).extend(value / estimated.seconds for value in seconds if value > 0)
    return {verb: pace_of(verb, values) for verb, values in sorted(ratios.items()) if values}


def pass_times_s(teardown: Teardown) -> list[float]:
    """Active seconds of each pass of a record, in order, as far as its entries have them."""
    totals: dict[int, float] = {}
    for entry in readings(teardown):
        if entry.seconds is not None and entry.do in ("release", "remove"):
            totals[entry.pass_] = totals.get(entry.pass_, 0.0) + entry.seconds
    return [total for _, total in sorted(totals.items())]
