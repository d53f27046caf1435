"""A wait told in passing, parsed: seconds, minutes and seconds, a span of two."""

from __future__ import annotations

import re

LONGEST_S = 48 * 3600.0
_ONE = re.compile(r"(?:(\d+):(\d\d)|(\d+(?:[.,]\d+)?)\s*(s|sec|min|h)?)$", re.IGNORECASE)
_UNITS = {"": 1.0, "s": 1.0, "sec": 1.0, "min": 60.0, "h": 3600.0}


def understand_wait(text: str) -> tuple[float, float | None] | None:
    """Seconds from and to, the second None where one figure was told; None for what is no wait. The first of a span
    without a unit has that of the second: "1-2 min"."""
    ends = [one.strip() for one in re.split(r"\s*(?:-|–|to)\s*", text.strip(), maxsplit=1)]
    if len(ends) == 2 and re.fullmatch(r"\d+(?:[.,]\d+)?", ends[0]):
        unit = re.search(r"[a-z]+$", ends[1], re.IGNORECASE)
        ends[0] += unit.group() if unit else ""
    found = [_seconds(one) for one in ends]
    if any(one is None or one > LONGEST_S for one in found):
        return None
    told = sorted(one for one in found if one is not None)
    return told[0], told[1] if len(told) > 1 and told[1] > told[0] else None


def _seconds(text: str) -> float | None:
    match = _ONE.match(text)
    if match is None:
        return None
    minutes, rest, number, unit = match.groups()
    if minutes is not None:
        return int(minutes) * 60.0 + int(rest)
    return float(number.replace(",", ".")) * _UNITS[(unit or "").lower()]
