"""What a person's own logs say of their times: the pace by verb, and how long each pass over a device took."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from oddbolt.effort.pace import ALL, Pace, pace_of
from oddbolt.effort.times import KnownTimes
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Teardown
from oddbolt.rules.replay import readings

LEAST_ALIKE = 0.5  # share of each pass that the acts of all passes have to be
Done = tuple[str, str, int | None, int | None]  # verb, thing, way, act


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


def pass_times_s(records: Sequence[Teardown]) -> list[float]:
    """Active seconds of each pass over the model of the first record, the records by when they were begun; those of
    other models are left aside. Like is compared with like: where passes differ in what was timed, only the acts that
    all of them have count.

    Raises Refusal where these are less than half of what a pass took.
    """
    alike = sorted((record for record in records if _model_of(record) == _model_of(records[0])), key=_begun)
    timed = [acts for record in alike for acts in _timed(record).values()]
    common = set[Done].intersection(*map(set, timed)) if timed else set()
    times = [sum(seconds for act, seconds in acts.items() if act in common) for acts in timed]
    if any(time < LEAST_ALIKE * sum(acts.values()) for time, acts in zip(times, timed)):
        raise Refusal("repetitions", "learning-unlike", number=len(timed))
    return times


def _model_of(record: Teardown) -> tuple[str, str]:
    return record.device.name, record.device.model


def _begun(record: Teardown) -> str:
    return min((one.started for one in record.sessions if one.started), default="")


def _timed(record: Teardown) -> dict[int, dict[Done, float]]:
    """By pass, in order, the active seconds of each act that has them."""
    found: dict[int, dict[Done, float]] = {}
    for entry in readings(record):
        if entry.seconds is not None and entry.do in ("release", "remove"):
            acts, act = found.setdefault(entry.pass_, {}), (entry.do, entry.thing or "", entry.way, entry.act)
            acts[act] = acts.get(act, 0.0) + entry.seconds
    return dict(sorted(found.items()))
