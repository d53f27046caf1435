"""Measuring on the photograph: clicks become lengths and areas in mm, with their uncertainty; and the scale is set."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from PySide6.QtCore import Signal
from PySide6.QtGui import QImage
from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QPushButton, QWidget

from oddbolt.model.places import Spot
from oddbolt.model.quantity import read_length_mm
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Plane, View
from oddbolt.ui.background.jobs import Jobs
from oddbolt.ui.pieces.sheet import explain, label
from oddbolt.words.lengths import MM_PER, area_text, figure_text, unit, with_unit
from oddbolt.words.translate import tr

CAMERA_MM = 300.0  # height of the lens where none is known, to say how much parallax matters
RECTANGLE, POINTS = "rectangle", "points"


MOST_MM = 10_000.0  # of anything that lies under a camera


class Measure(QWidget):
    """A strip under the photograph while one measures."""

    line_changed = Signal(object)  # places to be shown
    scale_found = Signal(float, object)  # mm for a pixel, for the view; the plane, or None
    recorded = Signal(float)  # a length to be written into the log, mm
    said = Signal(str, bool)

    def __init__(self, picture_of: Callable[[str], QImage | None]) -> None:
        """`picture_of` gives a photograph by name where it has been decoded."""
        super().__init__()
        self._picture_of = picture_of
        self._jobs = Jobs(self)
        self._view: View | None = None
        self._places: list[Spot] = []
        self._mode = POINTS
        self._mm: float | None = None
        self.text = label("", "", wrap=True)
        self.known = QLineEdit()
        self.known.setFixedWidth(110)
        self.set_scale = QPushButton(tr("Set scale"))
        self.card = QPushButton(tr("Card"))
        self.card.setCheckable(True)
        self.card.setToolTip(tr("Four corners of an ID-1 card, 85.60 x 53.98 mm, where its edges would meet; "
                                     "or of any rectangle whose sides are entered"))
        self.dots = QPushButton(tr("Dot sheet"))
        self.dots.setToolTip(tr("Finds the printed sheet of dots under the device (File menu prints it)"))
        self.record = QPushButton(tr("Write down"))
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self.text, 1)
        for widget in (self.known, self.set_scale, self.card, self.dots, self.record):
            widget.setObjectName(widget.objectName() or "big")
            row.addWidget(widget)
        explain((self.known, tr("What is known of the length between the two points")),
                (self.set_scale, tr("Take this length for the scale of the photograph")),
                (self.record, tr("Write the length that was measured into the log")))
        self.set_scale.clicked.connect(lambda _: self._set_scale())
        self.known.returnPressed.connect(self._set_scale)
        self.card.toggled.connect(self._card_toggled)
        self.dots.clicked.connect(lambda _: self.find_dots())
        self.record.clicked.connect(lambda _: self.recorded.emit(self._mm) if self._mm else None)
        self._name_known()
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
        self._mode = RECTANGLE if on else POINTS
        self._name_known()
        self._begin()

    def _name_known(self) -> None:
        card = self._mode == RECTANGLE
        self.known.setPlaceholderText(" x ".join(figure_text(mm) for mm in (85.6, 53.98)) + f" {unit()}" if card
                                      else tr("known {0}").format(unit()))
        self.known.setAccessibleName(tr("Sides of the rectangle, {0}").format(unit()) if card
                                     else tr("Known length between the two points, {0}").format(unit()))

    def click(self, x: float, y: float) -> None:
        """One more point; a point after a whole measurement begins the next one."""
        if self._mode == RECTANGLE and len(self._places) == 4:
            self._places = []
        self._places.append((x, y))
        self.line_changed.emit(list(self._places))
        if self._mode == RECTANGLE and len(self._places) == 4:
            self._take_rectangle()
        else:
            self._tell()

    def again(self) -> None:
        """Begin the measurement anew."""
        self._begin()

    # -- what it comes to

    def _tell(self) -> None:
        number, view = len(self._places), self._view
        self._mm = None
        can_set = number == 2 and self._mode == POINTS
        self.known.setEnabled(can_set or self._mode == RECTANGLE)
        self.set_scale.setEnabled(can_set)
        self.record.setEnabled(False)
        self.dots.setEnabled(view is not None and not self._jobs.is_running("dots"))
        if self._mode == RECTANGLE:
            self.text.setText(tr("Click the rectangle's corner {0} of 4").format(number + 1))
        elif number < 2:
            self.text.setText(tr("Click two points; more of them make an area"))
        elif view is None or (view.plane is None and not view.mm_per_px):
            self.text.setText(tr("No scale yet: enter the length between the points, or use a card"))
        elif number == 2:
            self._tell_length(view)
        else:
            self.text.setText(area_text(self._area(view)))

    def _tell_length(self, view: View) -> None:
        from oddbolt.imaging import scale

        a, b = self._places
        plane = view.plane
        found = scale.length_on_plane(a, b, plane, camera_mm=CAMERA_MM) if plane is not None else \
            scale.length_by_scale(a, b, scale.Length(mm=view.mm_per_px, sd_mm=0.002 * view.mm_per_px),
                                  camera_mm=CAMERA_MM)
        self._mm = round(found.mm, 2)
        self.record.setEnabled(True)
        square_on = "" if plane is not None else tr(", camera square on")
        per = MM_PER[unit()]
        self.text.setText(tr("{0} {1}{2}; {3:.1f} % more for each mm above that plane").format(
            scale.honest(found.mm / per, found.sd_mm / per), unit(), square_on, 100 * found.parallax_per_mm))

    def _area(self, view: View) -> float:
        from oddbolt.imaging import scale

        s = view.mm_per_px
        return scale.area_mm2(self._places, view.plane or Plane(to_mm=((s, 0, 0), (0, s, 0), (0, 0, 1))))

    def _set_scale(self) -> None:
        from oddbolt.imaging import scale

        if self._mode != POINTS:
            return
        try:
            known = read_length_mm(with_unit(self.known.text()), "", MOST_MM)
            found = scale.two_point_scale(*self._places[:2], known)
        except (Refusal, ValueError, TypeError):
            self.said.emit(tr("Enter the length as a number above zero, like 85.6 mm or 3.37 in"), True)
            return
        self.scale_found.emit(found.mm, None)

    def _take_rectangle(self) -> None:
        from oddbolt.imaging import scale

        try:
            sides = read_sides(self.known.text()) or scale.CARD_MM
            plane = scale.plane_of_rectangle(self._places, sides)
        except ValueError:
            self.said.emit(tr("These points and sides make no rectangle; click its corners in order, enter its "
                                   "sides like 85.6 x 54"), True)
            self._begin()
            return
        middle = sum(x for x, _ in self._places) / 4, sum(y for _, y in self._places) / 4
        self.card.setChecked(False)
        self.scale_found.emit(scale.mm_per_px(plane, middle), plane)

    def find_dots(self) -> None:
        """Look for the printed sheet on the photograph; the scale is that of its middle."""
        view = self._view
        image = self._picture_of(view.photo) if view is not None else None
        if image is None or image.isNull():
            self.said.emit(tr("The photograph is not there yet; try again when it is shown"), True)
            return
        self.text.setText(tr("Looking for the sheet…"))
        self._jobs.start("dots", lambda: _look_for_dots(image), lambda found: self._dots_found(view.id, found),
                         self._gone_wrong)

    def _gone_wrong(self, words: str) -> None:
        self._tell()
        self.said.emit(words, True)

    def _dots_found(self, view_id: str, found: tuple[int, float, Plane] | None) -> None:
        if self._view is None or self._view.id != view_id:
            return  # another photograph is shown by now
        self._tell()
        if found is None:
            self.said.emit(tr("No sheet of dots is seen: 12 dots in three rows and columns are needed"), True)
            return
        number, mm, plane = found
        self.scale_found.emit(mm, plane)
        self.said.emit(tr("{0} dots found, {1:.2f} px beside the lattice, lens {2:+.1f} %").format(
            number, plane.residual_px or 0, 100 * plane.lens[3]), False)

    def stop(self) -> None:
        self._jobs.stop_all()


def read_sides(text: str) -> tuple[float, float] | None:
    """Two sides in mm of "85.6 x 54"; None where nothing is entered. Raises ValueError for anything else."""
    if not text.strip():
        return None
    words = [word.strip() for word in text.lower().split("x")]
    said = next((unit for word in words if (unit := word.lstrip("0123456789.,").strip())), "")  # of one is of both
    try:
        first, second = (read_length_mm(with_unit(word if not word or not word[-1].isdigit() else f"{word} {said}"), "",
                                        MOST_MM) for word in words)
    except Refusal:
        raise ValueError(text) from None
    return first, second


def _look_for_dots(image: QImage) -> Iterator[tuple[int, float, Plane] | None]:
    from oddbolt.imaging import dots, scale
    from oddbolt.ui.background.pixels import pixels_of

    yield None
    try:
        sheet = dots.find_sheet(pixels_of(image))
    except ValueError:
        return
    middle = sum(x for x, _ in sheet.spots) / len(sheet.spots), sum(y for _, y in sheet.spots) / len(sheet.spots)
    yield len(sheet.spots), scale.mm_per_px(sheet.plane, middle), sheet.plane
