"""Content as plain frozen trees: what a page says, without how it looks. Renderers stand beside this folder."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec import Struct

Cell = str | int | float | bool | None
MEASURED, ESTIMATED, GUESSED = "measured", "estimated", "guessed"  # how a figure is known, as it is to look


class Title(Struct, frozen=True):
    text: str


class Chapter(Struct, frozen=True):
    """Begins a section of a document: a bookmark in print, a place to go to by its code elsewhere."""

    code: str
    text: str


class Contents(Struct, frozen=True):
    """The chapters of the document, with their pages where there are pages."""


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
    """The picture of this number, and what it shows; on paper no higher than that, where it is told."""

    number: int
    caption: str = ""
    tallest_mm: float = 0


class Drawing(Struct, frozen=True):
    """A drawing by its name, and what it shows; whoever renders has it as lines, not as pixels."""

    name: str
    caption: str = ""
    tallest_mm: float = 0


class Given(Struct, frozen=True):
    """A figure of a table: its value for a machine, how it is said to people, and how it is known where that is less
    than measured or told."""

    value: Cell
    text: str = ""
    known: str = ""

    @property
    def said(self) -> str:
        return self.text or ("" if self.value is None else str(self.value))


class Grid(Struct, frozen=True, kw_only=True):
    """A table to be read: each column by its code (with its unit, the same in every language) and its title."""

    name: str
    caption: str
    columns: tuple[tuple[str, str], ...]
    rows: tuple[tuple[Given, ...], ...]

    @property
    def table(self) -> Table:
        """The same for a machine."""
        return Table(tuple(code for code, _ in self.columns),
                     tuple(tuple(cell.value for cell in row) for row in self.rows))


Block = Title | Chapter | Contents | Heading | Line | Remark | Tick | Figure | Drawing | Grid


class Page(Struct, frozen=True):
    blocks: tuple[Block, ...]


class Table(Struct, frozen=True):
    """Names of columns are codes with their units, the same in every language."""

    columns: tuple[str, ...]
    rows: tuple[tuple[Cell, ...], ...]


def section(heading: str, lines: Sequence[str], *, otherwise: str = "") -> list[Block]:
    """A heading with lines; where there are none, what is said instead."""
    return [Heading(heading), *(Line(line) for line in lines or ([otherwise] if otherwise else []))]


def plain_row(*cells: Cell | Given) -> tuple[Given, ...]:
    """A row of a grid; what is given as it is says itself."""
    return tuple(cell if isinstance(cell, Given) else Given(cell) for cell in cells)
