"""The order of tightening as a plan on the photograph: numbers in the order, a line from one to the next."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QFont, QImage, QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QComboBox, QVBoxLayout, QWidget

from oddbolt.model.refusal import Refusal
from oddbolt.paint.images import image_size, read_image
from oddbolt.paint.palette import letter_colour
from oddbolt.reassembly.tightening import GIVEN, LOOSELY_FIRST, TighteningPlan, tightening_plan
from oddbolt.session.session import Session
from oddbolt.ui.pieces.sheet import explain, label
from oddbolt.words.names import name_of
from oddbolt.words.refusals import at_field_text
from oddbolt.words.screws import tightening_text
from oddbolt.words.translate import tr

PICTURE_PX = 1600
ROOM_PX = 26.0  # round the outermost screws


class PlanPicture(QWidget):
    """The piece of the photograph with the screws, and their order on it."""

    def __init__(self) -> None:
        super().__init__()
        self._image = QImage()
        self._plan: TighteningPlan | None = None
        self._ratio = 1.0  # pixels of the reduced picture for one of the photograph
        self._colour = QColor("#24424D")
        self.setMinimumHeight(190)
        self.setAccessibleName(tr("Order of tightening on the photograph"))

    def sizeHint(self) -> QSize:  # noqa: N802 (Qt's name)
        return QSize(300, 220)

    def show_plan(self, plan: TighteningPlan | None, image: QImage, ratio: float, letter: str) -> None:
        self._plan, self._image, self._ratio = plan, image, ratio
        self._colour = QColor(letter_colour(letter))
        self.update()

    def paintEvent(self, _event: QPaintEvent) -> None:  # noqa: N802
        if self._plan is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        spots = {n: QPointF(m.x, m.y) * self._ratio for n, m in self._plan.marks.items()}
        box = QPolygonF(list(spots.values())).boundingRect()
        side = max(box.width(), box.height(), 40.0)
        box = box.adjusted(-side * 0.25, -side * 0.25, side * 0.25, side * 0.25)
        scale = min((self.width() - 2 * ROOM_PX) / box.width(), (self.height() - 2 * ROOM_PX) / box.height(), 3.0)
        middle = QPointF(self.width() / 2, self.height() / 2)
        shown = QRectF(box.center() - middle / scale, QPointF(box.center() + middle / scale))
        painter.fillRect(self.rect(), QColor("#3B4442"))  # as round the photograph in the Log
        if not self._image.isNull():
            painter.drawImage(QRectF(self.rect()), self._image, shown)
        at = {n: (spot - shown.topLeft()) * scale for n, spot in spots.items()}
        order = self._plan.rounds[-1].order
        line = QPolygonF([at[n] for n in order])
        for colour, width in ((QColor(0, 0, 0, 150), 5.0), (QColor("#FFD9A8"), 2.2)):
            painter.setPen(QPen(colour, width, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
            painter.drawPolyline(line)
        font = QFont(self.font())
        font.setBold(True)
        painter.setFont(font)
        for place, n in enumerate(order, start=1):
            painter.setPen(QPen(QColor("#FFFFFF"), 2))
            painter.setBrush(self._colour)
            painter.drawEllipse(at[n], 12, 12)
            painter.drawText(QRectF(at[n].x() - 14, at[n].y() - 12, 28, 24), Qt.AlignmentFlag.AlignCenter, str(place))
        painter.end()


class Tightening(QWidget):
    """The plan of one group; the school is chosen where the refit does not say."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._joint = ""
        self.picture = PlanPicture()
        self.school = QComboBox()
        self.school.setAccessibleName(tr("School of tightening"))
        self.school.addItem(tr("All loosely first, then tight"), LOOSELY_FIRST)
        self.school.addItem(tr("Tight at once, in the given order"), GIVEN)
        self.words = label("", "", wrap=True)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(self.school)
        box.addWidget(self.picture, 1)
        box.addWidget(self.words)
        explain((self.school, tr("Practitioners differ; where the record has an order of its own, it counts")))
        self.school.currentIndexChanged.connect(lambda _: self.refresh())

    def show_joint(self, joint: str) -> None:
        self._joint = joint
        if self.isVisible():
            self.refresh()

    def showEvent(self, _event: object) -> None:  # noqa: N802 (Qt's name)
        self.refresh()

    def refresh(self) -> None:
        teardown = self._session.teardown
        joint = teardown.joint.get(self._joint)
        try:
            plan = tightening_plan(teardown, self._joint, self.school.currentData()) if joint is not None else None
        except Refusal as refusal:
            plan = None
            self.words.setText(f"{name_of(teardown, self._joint)}: {at_field_text(refusal)}")
        else:
            self.words.setText(tightening_text(teardown, plan) if plan is not None
                               else tr("Choose a group in the tray"))
        self.school.setEnabled(plan is None or plan.source != "refit")
        image, ratio = QImage(), 1.0
        body = self._session.photo(plan.view.photo) if plan is not None else None
        size = image_size(body) if body else None
        if size is not None:
            image = read_image(body, PICTURE_PX)
            ratio = image.width() / size[0]
        self.picture.show_plan(plan, image, ratio, joint.fastener or "" if joint is not None else "")
