"""Access: the section, and for the part under the pointer the way in, in words."""

from __future__ import annotations

import html

from PySide6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import (
    QBrush,
    QGuiApplication,
    QHelpEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QResizeEvent,
)
from PySide6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QPushButton,
    QScrollArea,
    QTextBrowser,
    QToolTip,
    QVBoxLayout,
    QWidget,
)

from oddbolt.model.things import Settings
from oddbolt.paint.palette import Palette
from oddbolt.paint.section import Placed, SectionPicture, legend
from oddbolt.reports import strata, wording
from oddbolt.reports.strata import Column, Section
from oddbolt.session.session import Change, Session
from oddbolt.ui.panels.sheet import label, lay_out, sheet


class SectionView(QWidget):
    """The picture as a widget: columns are chosen by pointer or arrow keys."""

    column_chosen = Signal(int)

    def __init__(self, session: Session, palette: Palette) -> None:
        super().__init__()
        self._session = session
        self._palette = palette
        self._section = Section(columns=(), top=(), blocked=())
        self._picture: SectionPicture | None = None
        self.chosen = 0
        self.available_width = 800
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName(self.tr("Section"))
        self.setAccessibleDescription(self.tr("Left and right choose a part"))

    def show_section(self, section: Section, chosen: int) -> None:
        self._section = section
        self.chosen = chosen
        self._lay_out()

    def fit_width(self, width: int) -> None:
        self.available_width = width
        self._lay_out()

    def _lay_out(self) -> None:
        scale = self.fontMetrics().height() / 16
        self._picture = SectionPicture(self._section, self._session.teardown, self.available_width, max(1.0, scale))
        size = self._picture.size.toSize()
        self.setFixedSize(QSize(max(size.width(), self.available_width), size.height()))
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: N802 (Qt's name)
        if self._picture is not None:
            painter = QPainter(self)
            painter.setFont(self.font())
            self._picture.draw(painter, self._palette, self.chosen)
            painter.end()

    def mousePressEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        column = self._picture.column_at(event.position()) if self._picture else -1
        if column >= 0:
            self._choose(column)

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(event.key(), 0)
        if step and 0 <= self.chosen + step < len(self._section.columns):
            self._choose(self.chosen + step)
        elif not step:
            super().keyPressEvent(event)

    def _choose(self, column: int) -> None:
        self.chosen = column
        self.update()
        self.column_chosen.emit(column)

    def layer_under(self, spot: QPointF) -> Placed | None:
        return self._picture.layer_at(spot) if self._picture else None

    def event(self, event: QEvent) -> bool:
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip:
            placed = self.layer_under(QPointF(event.pos()))
            QToolTip.showText(event.globalPos(), self._tip(placed) if placed else "", self)
            return True
        return super().event(event)

    def _tip(self, placed: Placed) -> str:
        layer, teardown = placed.node.layer, self._session.teardown
        words = [layer.label, wording.duration_text(layer.seconds)]
        if layer.wait_s:
            words.append(self.tr("then wait {0}").format(wording.duration_text(layer.wait_s)))
        if layer.hazards:
            words.append(self.tr("hazards: {0}").format(", ".join(layer.hazards)))
        if layer.live:
            words.append(self.tr("done live"))
        if layer.assumed:
            words.append(self.tr("assumed"))
        words.append(self.tr("ties or is: {0}").format(wording.names_of(teardown, layer.things)))
        return "\n".join(words)


class Key(QWidget):
    """The key of the fills."""

    def __init__(self, palette: Palette) -> None:
        super().__init__()
        self._palette = palette
        self.setAccessibleName(self.tr("Key of the section"))

    def _places(self) -> list[tuple[float, float, str, QBrush]]:
        """Left upper corner, text and fill of each entry; the row breaks where the width ends."""
        x, y, row = 4.0, 0.0, self.fontMetrics().height() + 8.0
        places = []
        for text, brush in legend(self._palette):
            width = 36.0 + self.fontMetrics().horizontalAdvance(text)
            if x + width > self.width() and x > 4:
                x, y = 4.0, y + row
            places.append((x, y, text, brush))
            x += width
        return places

    def resizeEvent(self, event: QResizeEvent) -> None:  # noqa: N802
        super().resizeEvent(event)
        self.setFixedHeight(round(self._places()[-1][1] + self.fontMetrics().height() + 8))

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: N802
        painter = QPainter(self)
        height = self.fontMetrics().height()
        for x, y, text, brush in self._places():
            painter.setBrush(brush)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.drawRoundedRect(QRectF(x, y + 4 + (height - 13) / 2, 20, 13), 2, 2)
            painter.setPen(self.palette().windowText().color())
            painter.drawText(QRectF(x + 25, y, 400, height + 8), Qt.AlignmentFlag.AlignVCenter, text)
        painter.end()


class AccessPanel(QWidget):
    """The section of the priority parts and of any part added to it."""

    def __init__(self, session: Session, palette: Palette) -> None:
        super().__init__()
        self._session = session
        self._added: list[str] = []
        self._part = ""
        self._columns: tuple[Column, ...] = ()
        self._stale = True
        self.section = SectionView(session, palette)
        self.words = QTextBrowser()
        self.words.setAccessibleName(self.tr("The way in, in words"))
        self.add = QComboBox()
        self.add.setAccessibleName(self.tr("Add a part to the section"))
        self.only_priority = QPushButton(self.tr("Priority parts only"))
        self.copy = QPushButton(self.tr("Copy the words"))
        self.convention = label("", "faint", wrap=True)
        self.blocked = label("", "echo", wrap=True)
        self._scroll = QScrollArea()
        self._build(palette)
        session.listen(self._on_change)

    def _build(self, palette: Palette) -> None:
        self._scroll.setWidget(self.section)
        self._scroll.setWidgetResizable(False)
        self._scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        head = QHBoxLayout()
        head.addWidget(label(self.tr("How deep each part lies"), "title"))
        head.addStretch(1)
        head.addWidget(self.add)
        head.addWidget(self.only_priority)
        left = QVBoxLayout()
        left.addLayout(head)
        left.addWidget(self._scroll, 1)
        left.addWidget(self.blocked)
        left.addWidget(Key(palette))
        left.addWidget(self.convention)
        side = sheet(self.tr("The way in"), self.words, self.copy, stretch=1)
        lay_out(self, left, side)
        self.section.column_chosen.connect(self._column_chosen)
        self.add.activated.connect(self._add_chosen)
        self.only_priority.clicked.connect(self._forget_added)
        self.copy.clicked.connect(lambda: QGuiApplication.clipboard().setText(self.words.toPlainText()))

    def _on_change(self, change: Change) -> None:
        if change.kind == "opened":
            self._added, self._part = [], ""
        self._stale = True
        if self.isVisible():
            self.refresh()

    def showEvent(self, event: QEvent) -> None:  # noqa: N802
        super().showEvent(event)
        if self._stale:
            self.refresh()

    def resizeEvent(self, event: QResizeEvent) -> None:  # noqa: N802
        super().resizeEvent(event)
        self.section.fit_width(self._scroll.viewport().width())

    def show_part(self, part: str) -> None:
        """Choose a part, adding it to the section if it is not there."""
        self._part = part
        priority = self._session.derived.priority_parts()
        if part not in priority and part not in self._added:
            self._added.append(part)
        self.refresh()

    def refresh(self) -> None:
        self._stale = False
        derived, teardown = self._session.derived, self._session.teardown
        self._added = [part for part in self._added if part in derived.planner.structure.present]
        section = strata.build_section(derived.planner, [*derived.priority_parts(), *self._added])
        self._columns = section.columns
        parts = [column.part for column in section.columns]
        chosen = parts.index(self._part) if self._part in parts else 0
        self.section.fit_width(self._scroll.viewport().width())
        self.section.show_section(section, chosen)
        self._fill_add(parts)
        self.blocked.setText("\n".join(
            self.tr("{0} cannot be taken off; kept in by {1}").format(
                wording.name_of(teardown, plan.targets[0]), wording.names_of(teardown, plan.blocked_by))
            for plan in section.blocked))
        self.blocked.setVisible(bool(section.blocked))
        self.convention.setText(convention_text(derived.planner.convention.settings))
        if parts:
            self._column_chosen(chosen)
        else:
            self.words.setPlainText(self.tr("No part has a role yet. Add any part above."))

    def _fill_add(self, shown: list[str]) -> None:
        self.add.clear()
        self.add.addItem(self.tr("Add a part"), "")
        for id_ in self._session.derived.planner.structure.removals:
            if id_ not in shown:
                self.add.addItem(wording.name_of(self._session.teardown, id_), id_)

    def _add_chosen(self, row: int) -> None:
        if part := self.add.itemData(row):
            self.show_part(part)

    def _forget_added(self) -> None:
        self._added = []
        self.refresh()

    def _column_chosen(self, number: int) -> None:
        column = self._columns[number]
        self._part = column.part
        derived, teardown = self._session.derived, self._session.teardown
        plan = column.plan
        proven = self.tr("proven") if plan.optimal else self.tr("at least {0}").format(plan.lower_bound)
        rows, step = [], 0
        for number_of_step, text, remark in strata.path_in_words(derived.planner, column):
            if number_of_step != step:
                step = number_of_step
                rows.append(f"<p style='margin:9px 0 2px 0; font-weight:600'>{self.tr('Step')} {step}</p>")
            note = f" <span style='color:gray'>({html.escape(remark)})</span>" if remark else ""
            rows.append(f"<p style='margin:1px 0 1px 10px'>{html.escape(text)}{note}</p>")
        carrier = derived.planner.structure.stand_in[column.part]
        through = "" if carrier == column.part else self.tr(" comes off with {0}:").format(
            wording.name_of(teardown, carrier))
        head = (f"<p style='font-size:large; font-weight:600'>"
                f"{html.escape(wording.name_of(teardown, column.part))}</p><p>{html.escape(through)} "
                f"<span style='font-weight:600'>{column.count.steps} {self.tr('steps')}</span>, {proven}; "
                f"{wording.duration_text(column.count.time_ms / 1000)}; "
                f"{self.tr('{0} acts live').format(column.count.live_acts)}</p>")
        self.words.setHtml(head + "".join(rows) + _cautions_html(column))


def _cautions_html(column: Column) -> str:
    texts = wording.caution_texts(hazard for layer in column.layers for hazard in layer.hazards)
    if not texts:
        return ""
    lines = "".join(f"<p style='margin:3px 0 3px 10px'>{html.escape(text)}</p>" for text in texts)
    return (f"<p style='margin:12px 0 2px 0; font-weight:600'>Cautions</p>{lines}"
            f"<p style='margin:3px 0 3px 10px; color:gray'>{html.escape(wording.CAUTIONS_FIRST)}</p>")


def convention_text(settings: Settings) -> str:
    """The convention in a sentence; it is part of every result."""
    hand = "bare hand counts as a tool" if settings.hand_is_tool else "bare hand not counted as a tool"
    words = ["Fewest steps (EN 45554)", hand]
    if settings.own_step:
        words.append(f"a step of their own: {', '.join(settings.own_step)}")
    if settings.each_tool:
        words.append("each further tool at the same time one step more")
    if settings.tool_groups:
        words.append("tools that count as one: " + "; ".join(", ".join(group) for group in settings.tool_groups))
    words.append("power isolated first" if settings.isolate_first else "power isolated when it comes")
    words.append(f"change of tool {settings.tool_change_s:g} s, turn {settings.turn_s:g} s")
    words.append("thickness grows with the square root of the time")
    return " · ".join(words)
