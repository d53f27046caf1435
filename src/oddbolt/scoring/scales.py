"""Scales as people type them: "3: 10, 6: 8, more: 0", "from 5: 10, less: 0", "public: 10, none: 0"; "0 to 10"; names
with figures."""

from __future__ import annotations

import re
from collections.abc import Iterator

from msgspec.structs import replace

from oddbolt.model.refusal import Refusal
from oddbolt.scoring.method import Criterion

_FIGURE = r"-?\d{1,9}(?:[.,]\d{1,6})?"
_PAIR = re.compile(rf"\s*(.{{1,60}}?)\s*[: ]\s*({_FIGURE})\s*%?\s*")
_SCALE = re.compile(rf"\s*({_FIGURE})\s*(?:to|-|–|\.\.)\s*({_FIGURE})\s*")
MORE, LESS, FROM, FAILS = "more", "less", "from", "fails"


def _number(text: str) -> float:
    return float(text.replace(",", "."))


def read_scale(text: str, where: str) -> tuple[float, float]:
    """From and to. Raises Refusal, with `where` as its path."""
    match = _SCALE.fullmatch(text)
    if match is None:
        raise Refusal(where, "no-points-scale", text=text[:30])
    return _number(match.group(1)), _number(match.group(2))


def read_pairs(text: str, where: str) -> list[tuple[str, float]]:
    """Names with figures, between commas or semicolons; an empty text has none."""
    return list(_pairs(text, where))


def _pairs(text: str, where: str) -> Iterator[tuple[str, float]]:
    for piece in re.split(r"[;,](?=\s*[^\d\s])|;", text) if text.strip() else ():
        match = _PAIR.fullmatch(piece)
        if match is None:
            raise Refusal(where, "no-pair", text=piece.strip()[:40])
        yield match.group(1), _number(match.group(2))


def scale_text(criterion: Criterion) -> str:
    """How a criterion gives points, as it is typed."""
    if criterion.table:
        rows = [f"{limit:g}: {points:g}" for limit, points in criterion.table]
        return "; ".join([*rows, f"{MORE}: {criterion.beyond:g}"])
    if criterion.at_least:
        rows = [f"{FROM} {limit:g}: {points:g}" for limit, points in criterion.at_least]
        return "; ".join([*rows, f"{LESS}: {criterion.below:g}" if criterion.below is not None else f"{LESS}: {FAILS}"])
    if criterion.words:
        return "; ".join(f"{word}: {points:g}" for word, points in criterion.words.items())
    return "; ".join(f"{word}: {low:g}" if low == high else f"{word}: {low:g} to {high:g}"
                     for word, (low, high) in criterion.points.items())


def with_scale(criterion: Criterion, text: str, where: str) -> Criterion:
    """A criterion that gives points as typed. Raises Refusal for what cannot be read."""
    if text.strip() == scale_text(criterion):
        return criterion
    table, at_least, words, ranges = [], [], {}, {}
    beyond, below = 0.0, 0.0
    fails = False
    for piece in (one for one in re.split(r"[;,]\s*", text) if one.strip()):
        name, _, given = (part.strip() for part in piece.partition(":"))
        if not given:
            raise Refusal(where, "no-pair", text=piece[:40])
        if name == LESS and given == FAILS:
            fails = True
            continue
        span = _SCALE.fullmatch(given)
        if span is None and not re.fullmatch(_FIGURE, given):
            raise Refusal(where, "no-pair", text=piece[:40])
        low, high = (_number(span.group(1)), _number(span.group(2))) if span else (_number(given),) * 2
        if name in (MORE, LESS):
            beyond, below = (low, below) if name == MORE else (beyond, low)
        elif name.startswith(f"{FROM} ") and re.fullmatch(_FIGURE, name[len(FROM):].strip()):
            at_least.append((_number(name[len(FROM):].strip()), low))
        elif re.fullmatch(_FIGURE, name):
            table.append((_number(name), low))
        else:
            words[name], ranges[name] = low, (low, high)
    by_class = criterion.measure in ("fasteners", "tools")
    return replace(criterion, table=tuple(table), beyond=beyond, at_least=tuple(at_least),
                   below=None if fails else below, words={} if by_class else words, points=ranges if by_class else {},
                   fails={}, doubt={}, doubt_limits=0)
