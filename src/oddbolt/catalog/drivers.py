"""Which driver fits a recess, what else will do, and what strips it (data/drives.toml)."""

from __future__ import annotations

from collections.abc import Mapping

from msgspec import Struct

from oddbolt.catalog.tables import driver_for, table
from oddbolt.model.refusal import Refusal

HOLDS, STRIPS = "holds", "strips"


class Drive(Struct, frozen=True, kw_only=True):
    """A family of recesses. Sizes across in mm, as measured over the widest points in the screw."""

    code: str
    name: str
    source: str
    confidence: str
    across_mm: Mapping[str, float | list[float]]  # a band where the width depends on the screw too
    unconfirmed: tuple[str, ...]  # sizes whose dimension only one recollection has
    basic_2023_1670: bool
    basic_en45554: bool
    note: str

    larger_mm: Mapping[str, float]  # sizes beyond what is identified by measuring

    def sizes(self) -> list[str]:
        return [*self.across_mm, *self.larger_mm]


class Mismatch(Struct, frozen=True, kw_only=True):
    """A driver of another family, or of another size, and what comes of it."""

    driver: str  # code, or code and size
    does: str  # holds, strips
    text: str  # of the table; empty for a size beside


class Advice(Struct, frozen=True, kw_only=True):
    """The driver for a recess: its tool id, its classes, second choices, and what strips."""

    drive: Drive
    size: str
    tool: str
    class_2023_1670: str
    class_en45554: str
    size_unconfirmed: bool
    second: tuple[Mismatch, ...]
    strips: tuple[Mismatch, ...]


def drives() -> dict[str, Drive]:
    return {row["code"]: Drive(
        code=row["code"], name=row["name"], source=row["source"], confidence=row["confidence"],
        across_mm=dict(row["across"]), unconfirmed=tuple(row.get("unconfirmed", ())),
        basic_2023_1670=row["basic_2023_1670"], basic_en45554=row["basic_en45554"], note=row.get("note", ""),
        larger_mm=dict(row.get("larger", {})))
        for row in table("drives.toml")["drive"]}


def recess_of(tool: str) -> tuple[str, str] | None:
    """Drive and size of a driver's id such as "ph00"; None for any other tool."""
    for code in sorted(drives(), key=len, reverse=True):
        size = tool.upper().removeprefix(code)
        if size != tool.upper() and size in drives()[code].sizes():
            return code, size
    return None


def advise(code: str, size: str = "") -> Advice:
    """Driver advice for a recess. Raises Refusal for an unknown family; an unknown size is unconfirmed."""
    known = drives()
    if code not in known:
        raise Refusal("drive", "unknown-recess", text=code[:20], known=list(known))
    drive = known[code]
    others = [Mismatch(driver=row["driver"], does=row["does"], text=row["text"])
              for row in table("drives.toml")["mismatch"] if row["recess"] == code]
    sizes = drive.sizes()
    if size in sizes and code in ("PH", "PZ", "T", "HX", "TR"):
        place = sizes.index(size)
        if place > 0:
            others.append(Mismatch(driver=f"{code}{sizes[place - 1]}", does=STRIPS, text=""))
    unconfirmed = not size or size not in sizes or size in drive.unconfirmed or drive.confidence == "low"
    return Advice(drive=drive, size=size, tool=driver_for(code, size),
                  class_2023_1670="basic" if drive.basic_2023_1670 else "commercial",
                  class_en45554="basic" if drive.basic_en45554 else "commercial", size_unconfirmed=unconfirmed,
                  second=tuple(o for o in others if o.does == HOLDS),
                  strips=tuple(o for o in others if o.does == STRIPS))
