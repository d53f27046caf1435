"""Which screw it is, from calliper readings and a look: every thread that could be, with its odds.

A reading is the true figure plus noise; the true figure of a thread lies in the tolerance of ISO 965, that of a
thread-forming screw anywhere in a band. Bayes' rule does the rest. What is met more often has the higher odds to start
with (data/screws.toml: common practice, no source). "None of these" is always among the answers.
"""

from __future__ import annotations

import math
from collections.abc import Callable

from msgspec import Struct

from oddbolt.catalog.tables import table
from oddbolt.catalog.threads import FAMILIES, Thread, threads
from oddbolt.model.refusal import Refusal

FORMING, STANDOFF, NONE = "forming", "standoff", "none"
OF_STANDOFFS = "SO"  # what turns a post
LARGEST_MM = 100.0
BANDS = {"diameter_mm": (0.3, 8.0), "pitch_mm": (0.05, 2.5), "head_mm": (0.5, 16.0)}  # what anything else may have
READINGS = {"diameter_mm": "diameter", "pitch_mm": "pitch", "head_mm": "head_mm"}


class Readings(Struct, frozen=True, kw_only=True):
    """What was measured and seen; None where it was not. Lengths in mm; `drive` is a code as in data/drives.toml."""

    diameter_mm: float | None = None
    pitch_mm: float | None = None
    length_mm: float | None = None
    head_mm: float | None = None
    head_height_mm: float | None = None
    drive: str = ""
    size: str = ""
    across_mm: float | None = None
    colour: str = ""
    magnetic: bool | None = None

    def __post_init__(self) -> None:
        for name in self.__struct_fields__:
            value = getattr(self, name)
            if name.endswith("_mm") and value is not None and not 0 < value <= LARGEST_MM:
                raise Refusal(name, "no-screw-length", value=value, most=LARGEST_MM)
        if self.drive and self.drive not in {row["code"] for row in table("drives.toml")["drive"]}:
            raise Refusal("drive", "unknown-recess", text=self.drive[:20],
                          known=[row["code"] for row in table("drives.toml")["drive"]])


class LikelyScrew(Struct, frozen=True, kw_only=True):
    """A kind of screw and how likely it is, 0 to 1. For what follows no series the pitch is None."""

    name: str  # of the thread; "forming" and "none" for the kinds that have none
    family: str
    odds: float
    pitch_mm: float | None = None
    source: str = ""
    confidence: str = ""
    heads: tuple[tuple[str, str], ...] = ()  # head forms whose standard fits the head as measured, and the standard


class Doubt(Struct, frozen=True, kw_only=True):
    """A figure of a recess that may have been read off a driver or measured: the field it stands in, the size whose
    marking it is, and the size whose width it is; either may be empty."""

    field: str  # size, across_mm
    value: str
    marking: str
    measure: str


class Identified(Struct, frozen=True, kw_only=True):
    """Candidates, likeliest first; sizes of the recess with their odds; the step of length; what to measure next."""

    candidates: tuple[LikelyScrew, ...]
    sizes: tuple[tuple[str, float], ...] = ()
    length_step_mm: float | None = None
    next_reading: str = ""  # the field that would tell the first two apart best; empty where none would
    separates: float = 0.0  # how many times the noise apart the two are in it
    doubt: Doubt | None = None  # a figure that may be a marking or a measure


# -- likelihoods

def _normal(x: float, mean: float, sd: float) -> float:
    return math.exp(-0.5 * ((x - mean) / sd) ** 2) / (sd * math.sqrt(2 * math.pi))


def _cumulative(x: float) -> float:
    return 0.5 * (1 + math.erf(x / math.sqrt(2)))


def _band(x: float, low: float, high: float, sd: float) -> float:
    """Density of a reading whose true value lies anywhere in a band: uniform, blurred by the noise."""
    wide = max(high - low, 1e-9)
    return (_cumulative((x - low) / sd) - _cumulative((x - high) / sd)) / wide


def _weights() -> dict[str, float]:
    return table("screws.toml")["prior"]


def priors() -> dict[str, float]:
    """Odds of each kind before anything is measured; they sum to one."""
    weights = _weights()
    found: dict[str, float] = {}
    for family in FAMILIES:
        own = threads(family)
        shares = {t.name: 1.0 if t.choice == 1 else weights["second_choice"] for t in own}
        total = sum(shares.values())
        found |= {name: weights[family] * share / total for name, share in shares.items() if weights[family]}
    found |= {FORMING: weights["forming"], STANDOFF: weights["standoff"], NONE: weights["none"]}
    total = sum(found.values())
    return {name: odds / total for name, odds in found.items()}


def _noise() -> dict[str, float]:
    return table("screws.toml")["noise"]


def _of_diameter(reading: float, thread: Thread | None, name: str) -> float:
    sd = _noise()["diameter_mm"]
    if thread is not None:
        return _band(reading, *thread.major_mm, sd)
    data = table("screws.toml")
    return _band(reading, *(data[name]["diameter_mm"] if name in (FORMING, STANDOFF) else BANDS["diameter_mm"]), sd)


def _of_pitch(reading: float, thread: Thread | None, name: str, diameter: float | None) -> float:
    share = _noise()["pitch_share"]
    if thread is not None:
        return _normal(reading, thread.pitch_mm, share * thread.pitch_mm)
    if name == FORMING:
        forming = table("screws.toml")["forming"]
        low, high = forming["pitch_over_diameter"]
        if diameter is None:
            return _band(reading, low * forming["diameter_mm"][0], high * forming["diameter_mm"][1], share * reading)
        return _band(reading, low * diameter, high * diameter, share * reading)
    return _band(reading, *BANDS["pitch_mm"], share * reading)


def _of_head(reading: float, thread: Thread | None, name: str, diameter: float | None, drive: str) -> float:
    sd, trust = _noise()["head_mm"], table("screws.toml")["head_trust"]
    low, high = trust["diameter_over_thread"]
    size = thread.d_mm if thread is not None else diameter
    if name == STANDOFF:
        return _band(reading, *table("screws.toml")["standoff"]["across_flats_mm"], sd)
    if size is None or name == NONE:
        return _band(reading, *BANDS["head_mm"], sd)
    any_head = _band(reading, low * size, high * size, sd)
    heads = [row for row in table("screws.toml")["head"] if thread is not None and thread.name in row["rows"]
             and (not drive or drive in row["drive"])]
    if not heads:
        return any_head
    standard = sum(_band(reading, row["rows"][thread.name][0] - row["slack_mm"], row["rows"][thread.name][0], sd)
                   for row in heads) / len(heads)
    return trust["follows_standard"] * standard + (1 - trust["follows_standard"]) * any_head


def size_odds(readings: Readings, thread: Thread | None = None) -> dict[str, float]:
    """Density of the reading across the recess under each size of the drive, weighed by how the size goes with the
    thread; without a reading the weights alone."""
    row = next((row for row in table("drives.toml")["drive"] if row["code"] == readings.drive), None)
    if row is None:
        return {}
    order = [t.name for t in threads("coarse")]
    sd, found = _noise()["across_mm"], {}
    for size, across in row["across"].items():
        weight = _goes_with(row["threads"].get(size), order, thread)
        if readings.size and size != readings.size:
            weight *= 0.02  # a size that was read off a driver that fits may be one beside it
        found[size] = weight * (_of_across(readings.across_mm, across, sd) if readings.across_mm is not None else 1.0)
    return found


def _of_across(reading: float, across: float | list[float], sd: float) -> float:
    """A recess has the width of its size; that of a cross depends on the screw too and lies in a band."""
    return _band(reading, *across, sd) if isinstance(across, list) else _normal(reading, across, sd)


def doubt_of(readings: Readings) -> Doubt | None:
    """Whether a size of the recess may be a measure, or a measure a marking: 1.5 is both for a hexagon."""
    row = next((row for row in table("drives.toml")["drive"] if row["code"] == readings.drive), None)
    if row is None:
        return None
    sizes, field = {**row["across"], **row.get("larger", {})}, "across_mm"
    if readings.across_mm is not None:
        value = f"{readings.across_mm:g}"
        marking = value if value in sizes else ""
        measure = _size_across(sizes, readings.across_mm)
        return Doubt(field=field, value=value, marking=marking, measure=measure) if marking and marking != measure \
            else None
    try:
        width = float(readings.size)
    except ValueError:
        return None
    marking = readings.size if readings.size in sizes else ""
    measure = _size_across(sizes, width)
    doubtful = measure != marking if marking and _looks_measured(readings.size) else not marking
    return Doubt(field="size", value=readings.size, marking=marking, measure=measure) if measure and doubtful else None


def _looks_measured(text: str) -> bool:
    return "." in text


def _size_across(sizes: dict[str, float | list[float]], width_mm: float) -> str:
    """The size whose recess is that wide; empty where none is."""
    within = 2 * _noise()["across_mm"]

    def off(across: float | list[float]) -> float:
        low, high = across if isinstance(across, list) else (across, across)
        return max(low - width_mm, width_mm - high, 0.0)

    nearest = min(sizes, key=lambda size: off(sizes[size]), default="")
    return nearest if nearest and off(sizes[nearest]) <= within else ""


def _goes_with(range_: list[str] | None, order: list[str], thread: Thread | None) -> float:
    """How well a size of a recess goes with a thread, 0 to 1: in its range of threads, beside it, or far off."""
    if thread is None or range_ is None:
        return 0.3
    if thread.name not in order:
        return 0.2
    low, high = (order.index(name) for name in range_)
    off = max(low - order.index(thread.name), order.index(thread.name) - high, 0)
    return {0: 1.0, 1: 0.3, 2: 0.1}.get(off, 0.02)


def _of_drive(readings: Readings, thread: Thread | None, name: str) -> float:
    shares, by_socket = table("screws.toml")["standoff"], readings.drive == OF_STANDOFFS
    if name == STANDOFF:
        return shares["turned_by_socket"] if by_socket else 1 - shares["turned_by_socket"]
    if by_socket:
        return shares["others_turned_by_socket"]
    sizes = size_odds(readings, thread)
    return sum(sizes.values()) / len(sizes) if sizes else 1.0  # no size known: it says nothing


def _likelihood(readings: Readings, thread: Thread | None, name: str) -> float:
    value = 1.0
    if readings.diameter_mm is not None:
        value *= _of_diameter(readings.diameter_mm, thread, name)
    if readings.pitch_mm is not None:
        value *= _of_pitch(readings.pitch_mm, thread, name, readings.diameter_mm)
    if readings.head_mm is not None:
        value *= _of_head(readings.head_mm, thread, name, readings.diameter_mm, readings.drive)
    if readings.drive:
        value *= _of_drive(readings, thread, name)
    if readings.magnetic is not None:
        shares = table("screws.toml")["magnetic"]
        share = shares.get(name, shares["metal"])
        value *= share if readings.magnetic else 1 - share
    if readings.colour:
        colours = table("screws.toml")["colour"].get(readings.colour.strip().lower())
        if colours is not None:
            value *= colours.get(name, colours["metal"])
    return value


# -- the answer

def identify(readings: Readings) -> Identified:
    """Rank what the screw may be. Raises Refusal for readings that cannot be, with the field."""
    known = {thread.name: thread for thread in threads()}
    weights = {name: prior * _likelihood(readings, known.get(name), name) for name, prior in priors().items()}
    total = sum(weights.values())
    if total <= 0:  # nothing fits at all, by any odds
        weights, total = {NONE: 1.0}, 1.0
    ranked = sorted(weights.items(), key=lambda item: -item[1])
    found = tuple(_candidate(name, weight / total, known.get(name), readings) for name, weight in ranked
                  if weight / total >= 5e-4 or name == NONE)
    reading, apart = _next_reading(found, known, readings)
    return Identified(candidates=found, sizes=_sizes(readings, weights, known),
                      length_step_mm=_length_step(readings.length_mm), next_reading=reading, separates=apart,
                      doubt=doubt_of(readings))


def _candidate(name: str, odds: float, thread: Thread | None, readings: Readings) -> LikelyScrew:
    if thread is None:
        data = table("screws.toml")[name if name in (FORMING, STANDOFF) else "prior"]
        return LikelyScrew(name=name, family=name, odds=odds, source=data["source"], confidence="medium")
    return LikelyScrew(name=name, family=thread.family, odds=odds, pitch_mm=thread.pitch_mm, source=thread.source,
                     confidence=thread.confidence, heads=_heads(thread, readings))


def _heads(thread: Thread, readings: Readings) -> tuple[tuple[str, str], ...]:
    """Standard heads that fit what was measured of the head."""
    if readings.head_mm is None:
        return ()
    sd, fits = 3 * _noise()["head_mm"], []
    for row in table("screws.toml")["head"]:
        if thread.name not in row["rows"] or (readings.drive and readings.drive not in row["drive"]):
            continue
        wide, high, _ = row["rows"][thread.name]
        if not wide - row["slack_mm"] - sd <= readings.head_mm <= wide + sd:
            continue
        if readings.head_height_mm is None or high * 0.85 - sd <= readings.head_height_mm <= high + sd:
            fits.append((row["form"], row["source"]))
    return tuple(fits)


def _sizes(readings: Readings, weights: dict[str, float], known: dict[str, Thread]) -> tuple[tuple[str, float], ...]:
    """Sizes of the recess, over all candidates."""
    total: dict[str, float] = {}
    for name, weight in weights.items():
        sizes = size_odds(readings, known.get(name))
        whole = sum(sizes.values())
        for size, odds in sizes.items():
            total[size] = total.get(size, 0.0) + (weight * odds / whole if whole else 0.0)
    whole = sum(total.values())
    if not whole:
        return ()
    return tuple(sorted(((size, odds / whole) for size, odds in total.items() if odds / whole >= 0.01),
                        key=lambda item: -item[1]))


def _length_step(length_mm: float | None) -> float | None:
    """The usual length nearest to a reading; None where none is near."""
    if length_mm is None:
        return None
    nearest = min(table("screws.toml")["length"]["steps_mm"], key=lambda step: abs(step - length_mm))
    return nearest if abs(nearest - length_mm) <= max(0.2, 3 * _noise()["length_mm"]) else None


def _next_reading(found: tuple[LikelyScrew, ...], known: dict[str, Thread], readings: Readings) -> tuple[str, float]:
    """The further reading in which the first two differ most, in its own noise."""
    if len(found) < 2:
        return "", 0.0
    one, other = found[0], found[1]
    best = ("", 0.0)
    if readings.diameter_mm is None:  # nothing says as much of a screw, and all else is judged by it
        return "diameter_mm", best[1]
    for field, middle in _EXPECTED.items():
        if getattr(readings, field) is not None:
            continue
        a, b = (middle(known.get(c.name), c.name, readings) for c in (one, other))
        if a is None or b is None:
            continue
        apart = abs(a[0] - b[0]) / math.hypot(a[1], b[1])
        if apart > best[1]:
            best = field, apart
    return best if best[1] >= 1.5 else ("", best[1])


def _expect_diameter(thread: Thread | None, name: str, readings: Readings) -> tuple[float, float] | None:
    if thread is None:
        return None
    low, high = thread.major_mm
    return (low + high) / 2, math.hypot((high - low) / math.sqrt(12), _noise()["diameter_mm"])


def _expect_pitch(thread: Thread | None, name: str, readings: Readings) -> tuple[float, float] | None:
    share = _noise()["pitch_share"]
    if thread is not None:
        return thread.pitch_mm, share * thread.pitch_mm
    if name != FORMING or readings.diameter_mm is None:
        return None
    low, high = (k * readings.diameter_mm for k in table("screws.toml")["forming"]["pitch_over_diameter"])
    return (low + high) / 2, math.hypot((high - low) / math.sqrt(12), share * low)


def _expect_head(thread: Thread | None, name: str, readings: Readings) -> tuple[float, float] | None:
    size = thread.d_mm if thread is not None else readings.diameter_mm
    if size is None:
        return None
    low, high = (k * size for k in table("screws.toml")["head_trust"]["diameter_over_thread"])
    return (low + high) / 2, (high - low) / math.sqrt(12)


_EXPECTED: dict[str, Callable[[Thread | None, str, Readings], tuple[float, float] | None]] = {
    "diameter_mm": _expect_diameter, "pitch_mm": _expect_pitch, "head_mm": _expect_head}
