"""Content as plain frozen trees: what a page says, without how it looks. Renderers stand beside this folder."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec import Struct

Cell = str | int | float | bool


class Title(Struct, frozen=True):
    text: str


class Heading(Struct, frozen=True):
    text: str


class Line(Struct, frozen=True):
    """A line with what is remarked beside it, calmer; `inside` where it belongs to the heading before it."""

    text: str
    remark: str = ""
    inside: bool = False


class Remark(Struct, frozen=True):
    """A line that is calmer than the others."""

    text: str


class Tick(Struct, frozen=True):
    """A line with a box to tick, and what is remarked beside it; one of a check is set apart: nothing follows before
    it is fine."""

    text: str
    remark: str = ""
    is_check: bool = False


class Figure(Struct, frozen=True):
    """The picture of this number."""

    number: int


Block = Title | Heading | Line | Remark | Tick | Figure


class Page(Struct, frozen=True):
    blocks: tuple[Block, ...]


class Table(Struct, frozen=True):
    """Names of columns are codes with their units, the same in every language."""

    columns: tuple[str, ...]
    rows: tuple[tuple[Cell, ...], ...]


def section(heading: str, lines: Sequence[str], *, otherwise: str = "") -> list[Block]:
    """A heading with lines; where there are none, what is said instead."""
    return [Heading(heading), *(Line(line) for line in lines or ([otherwise] if otherwise else []))]
