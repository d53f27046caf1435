"""Threads of screws with the diameters that follow from the profile (data/threads.toml).

Source: ISO 68-1 (profile), ISO 724 (basic dimensions), ISO 965-1 (tolerances), from memory; the tables say how sure.
"""

from __future__ import annotations

import functools
import math
from pathlib import Path
from typing import Any

from msgspec import Struct

from oddbolt.catalog.tables import corrections_folder, table

METRIC = ("coarse", "older", "larger", "miniature")
FAMILIES = (*METRIC, "inch")


class Thread(Struct, frozen=True, kw_only=True):
    """A thread by its name; lengths in mm, `choice` is the column of ISO 261."""

    name: str
    family: str  # coarse, older, larger, miniature, inch
    d_mm: float
    pitch_mm: float
    choice: int
    es_mm: float  # allowance: how far the largest bolt stays below the nominal diameter
    td_mm: float  # tolerance of the major diameter
    td2_mm: float  # tolerance of the pitch diameter
    source: str
    confidence: str

    @property
    def d2_mm(self) -> float:
        """Pitch diameter."""
        return self.d_mm - 0.649519 * self.pitch_mm

    @property
    def d1_mm(self) -> float:
        """Minor diameter of the nut (D1), which ISO 724 gives for the bolt too."""
        return self.d_mm - 1.082532 * self.pitch_mm

    @property
    def d3_mm(self) -> float:
        """Minor diameter of the bolt, with the rounded root."""
        return self.d_mm - 1.226869 * self.pitch_mm

    @property
    def stress_area_mm2(self) -> float:
        return math.pi / 4 * ((self.d2_mm + self.d3_mm) / 2) ** 2

    @property
    def major_mm(self) -> tuple[float, float]:
        """Smallest and largest major diameter of a bolt within tolerance."""
        largest = self.d_mm - self.es_mm
        return largest - self.td_mm, largest

    @property
    def d3_min_mm(self) -> float:
        """Smallest minor diameter with the root rounded by an eighth of the pitch."""
        return self.d2_mm - self.es_mm - self.td2_mm - 0.616025 * self.pitch_mm


def threads(*families: str) -> list[Thread]:
    """Threads of the families asked for, else of all."""
    return [thread for thread in _threads(corrections_folder()) if not families or thread.family in families]


@functools.cache
def _threads(_folder: Path) -> tuple[Thread, ...]:
    data = table("threads.toml")
    return tuple(_thread(row, family, data[family]) for family in FAMILIES for row in data[family]["rows"])


def _thread(row: dict[str, Any], family: str, about: dict[str, Any]) -> Thread:
    return Thread(name=row["thread"], family=family, d_mm=row["d_mm"], pitch_mm=row["pitch_mm"], choice=row["choice"],
                  es_mm=row["es_um"] / 1000, td_mm=row["td_um"] / 1000, td2_mm=row["td2_um"] / 1000,
                  source=about["source"], confidence=row.get("confidence", about["confidence"]))


def thread_named(name: str) -> Thread | None:
    """The thread of a name, however it is written: "M1.6", "m1,6 x 0.35"; None where it is not known."""
    plain = name.strip().upper().replace(",", ".").replace("×", "X").replace(" ", "")
    known = {thread.name.upper().replace(" ", ""): thread for thread in threads()}
    if plain in known:
        return known[plain]
    base, _, pitch = plain.partition("X")
    thread = known.get(base)
    if thread is not None and pitch:
        try:
            return thread if abs(float(pitch) - thread.pitch_mm) < 0.011 else None
        except ValueError:
            return None
    return thread
