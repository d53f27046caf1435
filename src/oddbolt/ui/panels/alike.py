"""Find alike: others like the screw marked last, best first; accepted together or one by one; wrong ones teach."""

from __future__ import annotations

from collections.abc import Callable
from statistics import median

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QImage
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QSlider, QWidget

from oddbolt.model.things import Teardown, View
from oddbolt.ui.binding.jobs import Jobs
from oddbolt.ui.panels.sheet import label
from oddbolt.ui.widgets.overlay import Proposal

Spot = tuple[float, float]
Region = tuple[float, float, float, float]


class Alike(QWidget):
    """A strip with a slider and two buttons, there while proposals are."""

    proposed = Signal(object)  # proposals above the slider, to be shown
    accepted = Signal(object)  # places
    said = Signal(str, bool)

    def __init__(self, present: Callable[[], tuple[Teardown, View | None]]) -> None:
        """`present` gives the record and the view as they are now."""
        super().__init__()
        self._present = present
        self._jobs = Jobs(self)
        self._found: list[Proposal] = []
        self._wrong: list[Spot] = []
        self._again: Callable[[], None] | None = None
        self.text = label("", "faint")
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setRange(5, 95)
        self.slider.setValue(50)
        self.slider.setAccessibleName(self.tr("How much alike, at least"))
        self.accept = QPushButton(self.tr("Mark all  ⏎"))
        self.wrong = QPushButton(self.tr("A click says: wrong"))
        self.wrong.setCheckable(True)
        self.leave = QPushButton(self.tr("Leave  Esc"))
        line = QHBoxLayout(self)
        line.setContentsMargins(0, 0, 0, 0)
        line.addWidget(self.text)
        line.addWidget(self.slider, 1)
        for button in (self.accept, self.wrong, self.leave):
            button.setObjectName("big")
            line.addWidget(button)
        self.slider.valueChanged.connect(lambda _: self._show())
        self.accept.clicked.connect(lambda _: self.accept_all())
        self.leave.clicked.connect(lambda _: self.clear())
        self.hide()

    @property
    def shown(self) -> list[Proposal]:
        return [p for p in self._found if p.score * 100 >= self.slider.value()]

    def look(self, image: QImage, joint: str, region: Region | None = None,
             then: Callable[[list[Spot]], None] | None = None) -> None:
        """Look for places like the joint's marks on the view. With `then` what is likely goes there, unseen."""
        teardown, view = self._present()
        seeds = seeds_of(teardown, view, joint) if view is not None else []
        if image.isNull() or not seeds:
            self.said.emit(self.tr("Mark one first; others like it are found then"), True)
            return
        radius = head_radius_px(teardown, view, joint)
        others = [(m.x, m.y) for m in view.marks]
        wrong = list(self._wrong)
        self._again = lambda: self.look(image, joint, region, then)
        self.show()
        self.text.setText(self.tr("Looking…"))
        self._jobs.start("look", lambda: _search(image, seeds, radius, wrong, region), lambda found: self._arrived(
            found, others, then), failed=lambda text: self.said.emit(text, True))

    def _arrived(self, found: tuple[list, float] | None, marked: list[Spot],
                 then: Callable[[list[Spot]], None] | None) -> None:
        places, radius = found or ([], 10.0)
        near = (radius * 0.9) ** 2
        self._found = [Proposal(f.x, f.y, radius, f.score) for f in places
                       if all((f.x - x) ** 2 + (f.y - y) ** 2 > near for x, y in marked)]
        if then is not None:
            likely = [(p.x, p.y) for p in self._found if p.score >= 0.5]
            self.clear()
            then(likely)
        else:
            self._show()

    def _show(self) -> None:
        self.text.setText(self.tr("{0} alike").format(len(self.shown)))
        self.accept.setEnabled(bool(self.shown))
        self.proposed.emit(self.shown)

    @property
    def is_proposing(self) -> bool:
        return bool(self._found)

    def accept_all(self) -> None:
        places = [(p.x, p.y) for p in self.shown]
        self.clear()
        if places:
            self.accepted.emit(places)

    def clicked(self, place: int) -> None:
        """A click on a proposal: right, or wrong, which teaches the next proposal."""
        chosen = self.shown[place]
        if self.wrong.isChecked():
            self._wrong.append((chosen.x, chosen.y))
            if self._again is not None:
                self._again()
            return
        self._found.remove(chosen)
        self.accepted.emit([(chosen.x, chosen.y)])
        self._show()

    def clear(self) -> None:
        self._jobs.cancel("look")
        self._found, self._wrong = [], []
        self.wrong.setChecked(False)
        self.hide()
        self.proposed.emit([])

    def stop(self) -> None:
        self._jobs.stop_all()


def seeds_of(teardown: Teardown, view: View, joint: str) -> list[Spot]:
    """Marks of the joint on the view, the last ones first; else of its letter."""
    own = [(m.x, m.y) for m in reversed(view.marks) if m.thing == joint]
    record = teardown.joint.get(joint)
    letter = record.fastener if record else None
    same = {j.id for j in teardown.joints if letter and j.fastener == letter}
    return (own + [(m.x, m.y) for m in reversed(view.marks) if m.thing in same and m.thing != joint])[:8]


def head_radius_px(teardown: Teardown, view: View, joint: str) -> float | None:
    record = teardown.joint.get(joint)
    fastener = teardown.fastener.get(record.fastener) if record and record.fastener else None
    if fastener is None or not fastener.head_mm or not view.mm_per_px:
        return None
    return fastener.head_mm / 2 / view.mm_per_px


def _search(image: QImage, seeds: list[Spot], radius: float | None, wrong: list[Spot], region: Region | None):
    from oddbolt.imaging.alike import agreeing, find_alike, snap
    from oddbolt.ui.binding.pixels import pixels_of

    pixels = pixels_of(image)
    yield [], 0.0
    size = radius or median(snap(pixels, *seed)[2] for seed in seeds)
    seeds = agreeing(pixels, [snap(pixels, *seed, size)[:2] for seed in seeds], size)
    for found in find_alike(pixels, seeds, size, wrong=wrong, region=region):
        yield found, size
