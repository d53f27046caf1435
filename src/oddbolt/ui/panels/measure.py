"""Measuring on the photograph: clicks become lengths and areas in mm, with their uncertainty; and the scale is set."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QPushButton, QWidget

from oddbolt.model.things import View
from oddbolt.ui.panels.sheet import label

Spot = tuple[float, float]
CAMERA_MM = 300.0  # height of the lens where none is known, to say how much parallax matters
CARD, POINTS = "card", "points"


class Measure(QWidget):
    """A strip under the photograph while one measures."""

    line_changed = Signal(object)  # places to be shown
    scale_found = Signal(float)  # mm for a pixel, for the view
    recorded = Signal(float)  # a length to be written into the log, mm
    said = Signal(str, bool)

    def __init__(self) -> None:
        super().__init__()
        self._view: View | None = None
        self._places: list[Spot] = []
        self._mode = POINTS
        self._planes: dict[str, object] = {}  # view -> plane, from a card
        self._mm: float | None = None
        self.text = label("", "", wrap=True)
        self.known = QLineEdit()
        self.known.setPlaceholderText(self.tr("known mm"))
        self.known.setAccessibleName(self.tr("Known length between the two points, mm"))
        self.known.setFixedWidth(96)
        self.set_scale = QPushButton(self.tr("Set scale"))
        self.card = QPushButton(self.tr("Card corners"))
        self.card.setCheckable(True)
        self.card.setToolTip(self.tr("Four corners of an ID-1 card, 85.60 x 53.98 mm, where its edges would meet"))
        self.record = QPushButton(self.tr("Write down"))
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self.text, 1)
        for widget in (self.known, self.set_scale, self.card, self.record):
            widget.setObjectName(widget.objectName() or "big")
            row.addWidget(widget)
        self.set_scale.clicked.connect(lambda _: self._set_scale())
        self.known.returnPressed.connect(self._set_scale)
        self.card.toggled.connect(self._card_toggled)
        self.record.clicked.connect(lambda _: self.recorded.emit(self._mm) if self._mm else None)
        self.hide()

    @property
    def is_on(self) -> bool:
        return self.isVisible()

    def switch(self, on: bool, view: View | None) -> None:
        self._view = view
        self.setVisible(on)
        self.card.setChecked(False)
        self._begin()

    def show_view(self, view: View | None) -> None:
        if self.is_on and (view is None or self._view is None or view.id != self._view.id):
            self._begin()
        self._view = view
        if self.is_on:
            self._tell()

    def _begin(self) -> None:
        self._places, self._mm = [], None
        self.line_changed.emit([])
        self._tell()

    def _card_toggled(self, on: bool) -> None:
        self._mode = CARD if on else POINTS
        self._begin()

    def click(self, x: float, y: float) -> None:
        """One more point; a point after a whole measurement begins the next one."""
        if self._mode == CARD and len(self._places) == 4:
            self._places = []
        self._places.append((x, y))
        self.line_changed.emit(list(self._places))
        if self._mode == CARD and len(self._places) == 4:
            self._take_card()
        else:
            self._tell()

    def again(self) -> None:
        """Begin the measurement anew."""
        self._begin()

    # -- what it comes to

    def _tell(self) -> None:
        from oddbolt.imaging import scale

        number, view = len(self._places), self._view
        self._mm = None
        plane = self._planes.get(view.id) if view else None
        can_set = number == 2 and self._mode == POINTS
        self.known.setEnabled(can_set)
        self.set_scale.setEnabled(can_set)
        self.record.setEnabled(False)
        if self._mode == CARD:
            self.text.setText(self.tr("Click the card's corner {0} of 4").format(number + 1))
        elif number < 2:
            self.text.setText(self.tr("Click two points; more of them make an area"))
        elif plane is None and (view is None or not view.mm_per_px):
            self.text.setText(self.tr("No scale yet: enter the length between the points, or use a card"))
        elif number == 2:
            a, b = self._places
            found = scale.length_on_plane(a, b, plane, camera_mm=CAMERA_MM) if plane is not None else \
                scale.length_by_scale(a, b, scale.Length(mm=view.mm_per_px, sd_mm=0.002 * view.mm_per_px),
                                      camera_mm=CAMERA_MM)
            self._mm = round(found.mm, 2)
            self.record.setEnabled(True)
            square_on = "" if plane is not None else self.tr(", camera square on")
            self.text.setText(self.tr("{0} mm{1}; {2:.1f} % more for each mm above that plane").format(
                scale.honest(found.mm, found.sd_mm), square_on, 100 * found.parallax_per_mm))
        else:
            self.text.setText(self.tr("{0} mm²").format(f"{self._area():.3g}"))

    def _area(self) -> float:
        from oddbolt.imaging import scale

        plane = self._planes.get(self._view.id)
        if plane is None:
            s = self._view.mm_per_px
            plane = scale.Plane(to_mm=((s, 0, 0), (0, s, 0), (0, 0, 1)), covariance=())
        return scale.area_mm2(self._places, plane)

    def _set_scale(self) -> None:
        from oddbolt.imaging import scale

        try:
            known = float(self.known.text().strip().replace(",", "."))
            found = scale.two_point_scale(*self._places[:2], known)
        except (ValueError, TypeError):
            self.said.emit(self.tr("Enter the length in mm as a number above zero, like 85.6"), True)
            return
        self._planes.pop(self._view.id if self._view else "", None)
        self.scale_found.emit(found.mm)

    def _take_card(self) -> None:
        from oddbolt.imaging import scale

        try:
            plane = scale.plane_of_rectangle(self._places)
        except ValueError:
            self.said.emit(self.tr("These four points span no card; click its corners in order"), True)
            self._begin()
            return
        middle = sum(x for x, _ in self._places) / 4, sum(y for _, y in self._places) / 4
        if self._view is not None:
            self._planes[self._view.id] = plane
        self.card.setChecked(False)
        self.scale_found.emit(plane.mm_per_px(middle))
