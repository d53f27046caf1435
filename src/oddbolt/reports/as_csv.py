"""Tables as CSV (RFC 4180): a comma, a point, one row a line; true and false as yes and no.

A text that a spreadsheet would compute gets an apostrophe before it.
"""

from __future__ import annotations

import csv
import io

from oddbolt.reports.content.tree import Cell, Grid, Page, Table

COMPUTED = ("=", "+", "-", "@", "\t", "\r")  # a spreadsheet takes such a text for a formula (common practice)


def to_csv(table: Table) -> bytes:
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(table.columns)
    writer.writerows([_cell(cell) for cell in row] for row in table.rows)
    return out.getvalue().encode()


def tables(page: Page) -> dict[str, bytes]:
    """Each table of a page, by the name of its file."""
    return {f"{block.name}.csv": to_csv(block.table) for block in page.blocks if isinstance(block, Grid)}


def _cell(cell: Cell) -> str | int | float:
    if cell is None:
        return ""
    if isinstance(cell, bool):
        return "yes" if cell else "no"
    return f"'{cell}" if isinstance(cell, str) and cell.startswith(COMPUTED) else cell
