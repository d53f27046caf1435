"""Cables: which joins which parts, at any moment of the log; how each opens, what breaks, how often it was mated."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QResizeEvent
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QSlider, QVBoxLayout, QWidget

from oddbolt.catalog.components import connector_types
from oddbolt.paint.net import NetPicture
from oddbolt.paint.palette import Palette
from oddbolt.reassembly.net import Link, Net, mating_cycles, net_of, untouched_net
from oddbolt.rules.replay import current_pass
from oddbolt.session.session import Session
from oddbolt.ui.pieces.sheet import explain, label, scrolled, tip
from oddbolt.words.names import name_of
from oddbolt.words.parts import connector_lines, tether_text
from oddbolt.words.translate import tr


class NetDrawing(QWidget):
    """The picture; cables and parts are chosen by pointer, cables by arrow keys too."""

    link_chosen = Signal(int)
    part_chosen = Signal(str)

    def __init__(self, palette: Palette) -> None:
        super().__init__()
        self._palette = palette
        self._net = Net(parts=(), links=(), tethers=())
        self._names: dict[str, str] = {}
        self._picture: NetPicture | None = None
        self.chosen: int | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("Boards and cables"))
        self.setAccessibleDescription(tr("Arrow keys choose a cable"))

    def show_net(self, net: Net, names: dict[str, str]) -> None:
        self._net, self._names = net, names
        if self.chosen is not None and self.chosen >= len(net.links):
            self.chosen = None
        self._lay_out()

    def _lay_out(self) -> None:
        self._picture = NetPicture(self._net, self._names, self._palette, max(420.0, self.width() - 24.0))
        self.setMinimumHeight(round(self._picture.height))
        self.update()

    def sizeHint(self) -> QSize:  # noqa: N802 (Qt's name)
        return QSize(600, 300)

    def resizeEvent(self, _event: QResizeEvent) -> None:  # noqa: N802
        self._lay_out()

    def choose(self, number: int) -> None:
        self.chosen = number
        self.update()
        self.link_chosen.emit(number)

    def mousePressEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        if self._picture is None:
            return
        spot = event.position() - QPointF(12, 12)
        part = self._picture.part_at(spot)
        link = self._picture.link_at(spot)
        if part:
            self.part_chosen.emit(part)
        elif link is not None:
            self.choose(link)

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        steps = {Qt.Key.Key_Right: 1, Qt.Key.Key_Down: 1, Qt.Key.Key_Left: -1, Qt.Key.Key_Up: -1}
        if event.key() in steps and self._net.links:
            now = -1 if self.chosen is None else self.chosen
            self.choose(max(0, min(len(self._net.links) - 1, now + steps[event.key()])))
        else:
            super().keyPressEvent(event)

    def paintEvent(self, _event: QPaintEvent) -> None:  # noqa: N802
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.translate(12, 12)
        if self._picture is not None and self._net.parts:
            self._picture.draw(painter, self.chosen)
        else:
            painter.drawText(QPointF(8, 24), tr("No connectors yet: mark plugs in the Log; they are drawn here"))
        painter.end()


class NetView(QWidget):
    """The drawing with the moment of the log below it and the chosen cable in words."""

    part_chosen = Signal(str)
    type_said = Signal(str, str)  # joint, type

    def __init__(self, session: Session, palette: Palette) -> None:
        super().__init__()
        self._session = session
        self.drawing = NetDrawing(palette)
        self.moment = QSlider(Qt.Orientation.Horizontal)
        self.moment.setAccessibleName(tr("Moment of the log"))
        self.moment.setMinimumHeight(36)
        self.when = label("", "", wrap=True)
        self.tethers = label("", "caution", wrap=True)
        self.words = label("", "", wrap=True)
        row = QHBoxLayout()
        row.addWidget(label(tr("Before"), "faint"))
        row.addWidget(self.moment, 1)
        row.addWidget(label(tr("Now"), "faint"))
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(scrolled(self.drawing), 1)
        box.addLayout(row)
        self.types = [QComboBox() for _ in range(2)]
        kinds = QHBoxLayout()
        explain((self.moment, tr("A moment of the work: what was tethered to what then")),
                (self.types[0], tr("The type at this end")), (self.types[1], tr("The type at the other end")))
        for combo, name in zip(self.types, (tr("Type of this end"), tr("Type of the other end"))):
            combo.setAccessibleName(name)
            for type_ in connector_types().values():
                combo.addItem(type_.name, type_.type)
            combo.setMinimumHeight(34)
            combo.hide()
            combo.activated.connect(lambda _, c=combo: self._type_said(c))
            kinds.addWidget(combo)
        kinds.addStretch(1)
        box.addLayout(kinds)
        for widget in (self.when, self.tethers, self.words):
            box.addWidget(widget)
        self._net = Net(parts=(), links=(), tethers=())
        self._entries: list[str] = []
        self.moment.valueChanged.connect(lambda _: self._show_moment())
        self.drawing.link_chosen.connect(self._show_link)
        self.drawing.part_chosen.connect(self.part_chosen)

    def forget(self) -> None:
        """Another record was opened: no cable is chosen."""
        self.drawing.chosen = None

    def refresh(self) -> None:
        """After a change: at the present again."""
        teardown = self._session.teardown
        number = current_pass(teardown)
        self._entries = [e.id for e in teardown.log if e.pass_ == number and not e.amends]
        self.moment.blockSignals(True)
        self.moment.setRange(0, len(self._entries))
        self.moment.setValue(len(self._entries))
        self.moment.blockSignals(False)
        self._show_moment()

    def _show_moment(self) -> None:
        teardown, structure = self._session.teardown, self._session.derived.structure
        place = self.moment.value()
        if place == 0:
            self._net = untouched_net(teardown, structure)
            self.when.setText(tr("Untouched"))
        else:
            entry = self._entries[place - 1]
            self._net = net_of(teardown, structure, current_pass(teardown), entry)
            record = next(e for e in teardown.log if e.id == entry)
            thing = name_of(teardown, record.thing) if record.thing else ""
            self.when.setText(tr("{0} of {1}: after {2} {3}").format(place, len(self._entries), record.do, thing))
        self.drawing.show_net(self._net, {part: name_of(teardown, part) for part, _ in self._net.parts})
        texts = [tether_text(teardown, tether) for tether in self._net.tethers]
        self.tethers.setText("\n".join(texts))
        self.tethers.setVisible(bool(texts))
        if self.drawing.chosen is not None:
            self._show_link(self.drawing.chosen)
        else:
            self.words.setText("")
            self._show_types([])

    def _show_link(self, number: int) -> None:
        teardown = self._session.teardown
        link: Link = self._net.links[number]
        cycles = {c.joint: c for c in mating_cycles(teardown)}
        via = tr(" by {0}").format(name_of(teardown, link.via)) if link.via else ""
        lines = [f"{name_of(teardown, link.one)} – {name_of(teardown, link.other)}{via}"]
        for joint in link.joints:
            lines += connector_lines(teardown, joint, cycles.get(joint))
        self.words.setText("\n".join(lines))
        self._show_types([j for j in link.joints if teardown.joint[j].kind == "connector"])

    def _show_types(self, joints: list[str]) -> None:
        """The type of each connector of the link, to be set right."""
        for n, combo in enumerate(self.types):
            combo.setVisible(n < len(joints))
            combo.setProperty("joint", joints[n] if n < len(joints) else "")
            if n < len(joints):
                name = name_of(self._session.teardown, joints[n])
                combo.setAccessibleName(tr("Type of {0}").format(name))
                combo.setToolTip(tip(tr("Type of {0}").format(name)))
                combo.setCurrentIndex(combo.findData(self._session.teardown.joint[joints[n]].type))

    def _type_said(self, combo: QComboBox) -> None:
        joint = combo.property("joint")
        record = self._session.teardown.joint.get(joint or "")
        if record is not None and combo.currentData() != record.type:
            self.type_said.emit(joint, combo.currentData())
