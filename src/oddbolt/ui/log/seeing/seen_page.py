"""What was seen between two photographs, a line each: ticked or not, with small pictures of before and after."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QRect, QSize, Qt, QTimer, Signal
from PySide6.QtGui import QColor, QImage, QMouseEvent, QPainter, QPen, QPixmap, QResizeEvent
from PySide6.QtWidgets import QCheckBox, QHBoxLayout, QPushButton, QScrollArea, QVBoxLayout, QWidget

from oddbolt.knowledge.said.seen import Outline, Seen
from oddbolt.model.things import Teardown
from oddbolt.session.modes import Gesture
from oddbolt.session.recording.seeing.seen_acts import SeenActs
from oddbolt.session.recording.seeing.waiting import NAMED
from oddbolt.ui.log.seeing.seeing import Pictures
from oddbolt.ui.pieces.sheet import explain, label, tip
from oddbolt.words.recording.seen import seen_advice, seen_text
from oddbolt.words.translate import N_, tr

NOTHING_YET = N_("After the next photograph stands here what it says came off. F11 compares any with the one "
                 "before.")
CROP = QSize(72, 50)
ROOM = 1.5  # of what is shown, around it
LEAST_OF_WIDTH = 0.07  # of the photograph is seen, at least


class SeenPage(QWidget):
    """Lines in the order in which they are proposed; shows and forwards."""

    asked = Signal(object)  # a gesture
    ticked = Signal(int)
    chosen = Signal(int)

    def __init__(self) -> None:
        super().__init__()
        self.rows: list[SeenRow] = []
        self._current = -1
        self.page_before = 0  # what was in front before this was
        self.is_in_hand = False  # it was brought in front for what is shown
        self._waits = False  # what is shown came in by itself, and nobody has looked at it yet
        self.take = QPushButton(tr("Take what is ticked  ⏎"))
        self.take_on = QPushButton(tr("+ photo  ⇧⏎"))
        self.leave = QPushButton(tr("Leave  Esc"))
        explain((self.take, tr("Record all that is ticked, in an order that the rules allow; one step back undoes it")),
                (self.take_on, tr("Record all that is ticked, and photograph what was done since by the camera")),
                (self.leave, tr("Record nothing of it")))
        self.take.clicked.connect(lambda _: self.asked.emit(Gesture.SEE if self._waits else Gesture.USUAL))
        self.take_on.clicked.connect(lambda _: self.asked.emit(Gesture.TAKE_ON))
        self.leave.clicked.connect(lambda _: self.asked.emit(Gesture.ESCAPE))
        self.watch = QPushButton(tr("Watch  ⇧F11"))
        self.watch.setCheckable(True)
        self.watching = label("", "faint", wrap=True)
        explain((self.watch, tr("The camera looks at the bench all the time, and photographs by itself when hands were "
                                "at the device and are gone; what shows nothing new is not kept")),)
        self.watch.clicked.connect(lambda _: self._asked_to_watch())
        buttons = QHBoxLayout()
        for button in (self.take, self.take_on, self.leave):
            button.setObjectName("offer")
            buttons.addWidget(button)
        self.empty = label(tr(NOTHING_YET), "faint", wrap=True)
        self._box = QVBoxLayout(self)
        self._box.setContentsMargins(4, 4, 4, 4)
        self._box.setSpacing(3)
        above = QHBoxLayout()
        above.addWidget(self.watch)
        above.addWidget(self.watching, 1)
        self._box.addLayout(above)
        self._box.addLayout(buttons)
        self._box.addWidget(self.empty)
        self._box.addStretch(1)
        for button in (self.take, self.take_on, self.leave):
            button.hide()

    def _asked_to_watch(self) -> None:
        """What it does now is shown when it does it."""
        self.watch.setChecked(not self.watch.isChecked())
        self.asked.emit(Gesture.WATCH)

    def tell_watching(self, text: str) -> None:
        """How watching stands; empty while nothing is watched."""
        self.watching.setText(text)

    def note(self, text: str) -> None:
        """What came of the comparison, where nothing is proposed; empty: nothing yet."""
        self.empty.setText(text or tr(NOTHING_YET))

    def show_seen(self, teardown: Teardown, acts: SeenActs, pictures_of: Callable[[int], Pictures | None]) -> None:
        """As it is now."""
        for row in self.rows:
            self._box.removeWidget(row)
            row.hide()
            row.deleteLater()
        self.rows = []
        for n, one in enumerate(acts.shown):
            row = SeenRow(n, seen_text(teardown, one), one, pictures_of(n), self.devicePixelRatioF(),
                          is_ticked=acts.is_ticked(n), is_current=n == acts.current)
            row.ticked.connect(self.ticked)
            row.chosen.connect(self.chosen)
            self._box.insertWidget(2 + n, row)
            self.rows.append(row)
        self._current = acts.current
        QTimer.singleShot(0, self, self.bring_in_sight)
        number = len(acts.ticked)
        self._waits = not acts.asks
        self.take.setText(tr("Look at {0}  F11").format(len(acts.shown)) if self._waits else
                          tr("Take {0}  ⏎").format(number) if number else tr("Take  ⏎"))
        self.empty.setVisible(not acts.shown)
        for button in (self.take, self.take_on, self.leave):
            button.setEnabled(button is self.take if self._waits else number > 0 or button is self.leave)
            button.setVisible(bool(acts.shown))

    def resizeEvent(self, event: QResizeEvent) -> None:  # noqa: N802 (Qt's name)
        """The lines have been laid out anew."""
        super().resizeEvent(event)
        QTimer.singleShot(0, self, self.bring_in_sight)

    def bring_in_sight(self) -> None:
        """The line that is named next."""
        area = self.parentWidget().parentWidget() if self.parentWidget() is not None else None
        if 0 <= self._current < len(self.rows) and isinstance(area, QScrollArea):
            area.ensureWidgetVisible(self.rows[self._current], 0, 4)


class SeenRow(QWidget):
    """A line: the tick with its words, and the two pictures."""

    ticked = Signal(int)
    chosen = Signal(int)

    def __init__(self, place: int, text: str, one: Seen, pictures: Pictures | None, ratio: float, *, is_ticked: bool,
                 is_current: bool) -> None:
        super().__init__()
        self.place = place
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setObjectName("named-next" if is_current else "inside")
        self.tick = QCheckBox(str(place + 1))
        self.tick.setChecked(is_ticked)
        self.tick.setAccessibleName(text)
        self.tick.setToolTip(tip(text))
        self.tick.clicked.connect(lambda _: self.ticked.emit(self.place))
        self.words = label(text, "", wrap=True)
        line = QHBoxLayout(self)
        line.setContentsMargins(4, 3, 4, 3)
        line.setSpacing(5)
        line.addWidget(self.tick, 0, Qt.AlignmentFlag.AlignTop)
        said = QVBoxLayout()
        said.setSpacing(1)
        said.addWidget(self.words)
        if is_current and one.code in NAMED:
            said.addWidget(label(seen_advice(one), "faint", wrap=True))
        said.addStretch(1)
        line.addLayout(said, 1)
        self.crops = []
        if pictures is not None:
            for picture, scale, outline, called in (
                    (pictures.before, pictures.scales[0], one.before or one.spots, tr("before")),
                    (pictures.after, pictures.scales[1], one.after or one.spots, tr("now"))):
                shown = label("")
                shown.setFixedSize(CROP)
                made = QPixmap.fromImage(crop(picture, scale, outline, ratio))
                made.setDevicePixelRatio(ratio)
                shown.setPixmap(made)
                shown.setAccessibleName(tr("{0}, {1}").format(text, called))
                line.addWidget(shown, 0, Qt.AlignmentFlag.AlignTop)
                self.crops.append(shown)

    def mousePressEvent(self, event: QMouseEvent) -> None:  # noqa: N802 (Qt's name)
        super().mousePressEvent(event)
        self.chosen.emit(self.place)


def crop(picture: QImage, scale: float, outline: Outline, ratio: float) -> QImage:
    """What lies round an outline, of the whole photograph, with a thin line round it."""
    places = [(x * scale, y * scale) for x, y in outline]
    xs, ys = [x for x, _ in places] or [0.0], [y for _, y in places] or [0.0]
    shape = CROP.width() / CROP.height()
    width = max(ROOM * (max(xs) - min(xs)), ROOM * (max(ys) - min(ys)) * shape, LEAST_OF_WIDTH * picture.width(), 8.0)
    width = min(width, picture.width(), picture.height() * shape)
    height = width / shape
    left = min(max(0.0, (min(xs) + max(xs) - width) / 2), picture.width() - width)
    top = min(max(0.0, (min(ys) + max(ys) - height) / 2), picture.height() - height)
    made = picture.copy(QRect(round(left), round(top), max(1, round(width)), max(1, round(height)))).scaled(
        QSize(round(CROP.width() * ratio), round(CROP.height() * ratio)), Qt.AspectRatioMode.IgnoreAspectRatio,
        Qt.TransformationMode.SmoothTransformation)
    painter = QPainter(made)
    painter.setPen(QPen(QColor(255, 255, 255, 170), ratio))
    painter.drawRect(made.rect().adjusted(0, 0, -1, -1))
    painter.end()
    return made
