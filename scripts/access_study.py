"""How well access relations fall out of a record: a table and a plot.

From the root: .venv/bin/python -m scripts.access_study [--devices N]. Prints the table of docs/methods/access.md and
draws docs/methods/access.svg.
"""

from __future__ import annotations

import argparse
import os
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import QPointF, QRectF, Qt  # noqa: E402
from PySide6.QtGui import QColor, QGuiApplication, QPainter, QPen  # noqa: E402
from PySide6.QtSvg import QSvgGenerator  # noqa: E402
from tests.oracles.test_access_relations import STAGES, Tally, study  # noqa: E402

FOLDER = Path(__file__).resolve().parent.parent / "docs" / "methods"
NAMES = {"strict": "safe guess", "guess": "first guess", "reach": "with one reach a layer"}


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("--devices", type=int, default=300)
    options = parser.parse_args()
    app = QGuiApplication(["study"])
    tally = Tally()
    study(range(options.devices), tally)
    print("| | parts with exact depth | mean error, steps | devices all exact |\n|---|---|---|---|")
    for stage in STAGES:
        print(f"| {NAMES.get(stage, 'and ' + stage)} | {tally.share(stage):.1%} | {tally.mean_error(stage):.2f} | "
              f"{tally.whole[stage] / options.devices:.0%} |")
    print(f"\n{tally.all['guess']} parts of {options.devices} devices.")
    for number in (1, 3, 5):
        print(f"question {number}: {tally.rows[number] / options.devices:.1f} rows on average, "
              f"{tally.corrected[number] / options.devices:.1f} of them guessed wrongly")
    draw(tally, FOLDER / "access.svg")
    del app


def draw(tally: Tally, path: Path) -> None:
    width, height = 560, 300
    svg = QSvgGenerator()
    svg.setFileName(str(path))
    svg.setViewBox(QRectF(0, 0, width, height))
    svg.setTitle("Parts with exact depth")
    painter = QPainter(svg)
    left, bottom, top, step = 52, 252, 20, 92
    for share in (0, 25, 50, 75, 95, 100):
        y = bottom - (bottom - top) * share / 100
        painter.setPen(QPen(QColor("#B5541C" if share == 95 else "#C9C3B6"), 1))
        painter.drawLine(QPointF(left, y), QPointF(width - 10, y))
        painter.setPen(QColor("#3B4442"))
        painter.drawText(QRectF(0, y - 9, left - 6, 18), Qt.AlignmentFlag.AlignRight, f"{share} %")
    for n, stage in enumerate(STAGES):
        x = left + 12 + n * (step - 8)
        value = tally.share(stage) * (bottom - top)
        painter.fillRect(QRectF(x, bottom - value, 46, value), QColor("#24424D"))
        painter.setPen(QColor("#3B4442"))
        painter.drawText(QRectF(x - 18, bottom - value - 18, 82, 16), Qt.AlignmentFlag.AlignCenter,
                         f"{tally.share(stage):.0%}")
        painter.drawText(QRectF(x - 19, bottom + 6, 84, 40), Qt.AlignmentFlag.AlignHCenter | Qt.TextFlag.TextWordWrap,
                         NAMES.get(stage, "and " + stage))
    painter.end()


if __name__ == "__main__":
    main()
