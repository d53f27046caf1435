"""Tables as CSV (RFC 4180): a comma, a point, one row a line; true and false as yes and no."""

from __future__ import annotations

import csv
import io

from oddbolt.reports.content.tree import Cell, Table


def to_csv(table: Table) -> bytes:
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(table.columns)
    writer.writerows([_cell(cell) for cell in row] for row in table.rows)
    return out.getvalue().encode()


def _cell(cell: Cell) -> str | int | float:
    return ("yes" if cell else "no") if isinstance(cell, bool) else cell
