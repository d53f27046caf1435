"""Find alike: others like the screw marked last, best first; accepted together or one by one; wrong ones teach."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any

from msgspec import Struct
from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QImage
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QSlider, QWidget

from oddbolt.model.places import Spot
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Teardown, View
from oddbolt.paint.images import read_image
from oddbolt.ui.background.jobs import Jobs
from oddbolt.ui.pieces.sheet import explain, label
from oddbolt.ui.widgets.overlay import Proposal
from oddbolt.words.translate import tr

Region = tuple[float, float, float, float]
LEARNED_MOST = 24  # wrong ones that are remembered of a letter, as long as the window is open


class Crop(Struct, frozen=True):
    """A small piece of a photograph round a place."""

    image: QImage
    x: float
    y: float
    radius_px: float

    @classmethod
    def of(cls, image: QImage, x: float, y: float, radius_px: float) -> Crop:
        reach = round(radius_px * 2.5) + 6
        left, top = max(0, round(x) - reach), max(0, round(y) - reach)
        width, height = (min(2 * reach + 1, n) for n in (image.width() - left, image.height() - top))
        return cls(image.copy(left, top, width, height), x - left, y - top, radius_px)


class Elsewhere(Struct, frozen=True):
    """Marks on another photograph; `ratio` is how many of its pixels' lengths one here is shorter or longer."""

    body: bytes
    spots: list[Spot]
    radius_px: float | None
    ratio: float


class Alike(QWidget):
    """A strip with a slider and two buttons, there while proposals are."""

    proposed = Signal(object)  # proposals above the slider, to be shown
    accepted = Signal(object)  # places
    said = Signal(str, bool)

    def __init__(self, present: Callable[[], tuple[Teardown, View | None]],
                 body_of: Callable[[str], bytes | None]) -> None:
        """`present` gives the record and the view as they are now, `body_of` a photograph's bytes."""
        super().__init__()
        self._present = present
        self._body_of = body_of
        self._learned: dict[str, list[Crop]] = {}  # letter -> what was said to be wrong
        self._of: tuple[str, QImage] = "", QImage()  # letter and photograph of the present proposal
        self._radius_px = 10.0
        self._jobs = Jobs(self)
        self._found: list[Proposal] = []
        self._wrong: list[Spot] = []
        self._again: Callable[[], None] | None = None
        self.text = label("", "faint")
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setRange(5, 95)
        self.slider.setValue(50)
        self.slider.setAccessibleName(tr("How much alike, at least"))
        self.accept = QPushButton(tr("Mark all  ⏎"))
        self.wrong = QPushButton(tr("A click says: wrong"))
        self.wrong.setCheckable(True)
        self.leave = QPushButton(tr("Leave  Esc"))
        line = QHBoxLayout(self)
        line.setContentsMargins(0, 0, 0, 0)
        line.addWidget(self.text)
        line.addWidget(self.slider, 1)
        for button in (self.accept, self.wrong, self.leave):
            button.setObjectName("big")
            line.addWidget(button)
        explain((self.slider, tr("To the right only what is very much like it")),
                (self.accept, tr("Mark all that are proposed now")),
                (self.wrong, tr("What is clicked is none; what looks like it goes too")),
                (self.leave, tr("Mark none of them")))
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
        elsewhere = self._elsewhere(teardown, view, joint) if view is not None and not seeds else None
        if image.isNull() or not (seeds or elsewhere):
            self.said.emit(tr("Mark one first; others like it are found then"), True)
            return
        record = teardown.joint.get(joint)
        self._of = (record.fastener or joint) if record else joint, image
        search = Search(image=image, seeds=seeds, radius_px=head_radius_px(teardown, view, joint),
                        mm_per_px=view.mm_per_px, region=region,
                        wrong=list(self._wrong), elsewhere=elsewhere, learned=list(self._learned.get(self._of[0], ())))
        others = [(m.x, m.y) for m in view.marks]
        self._again = lambda: self.look(image, joint, region, then)
        self.show()
        self.text.setText(tr("Looking…"))
        self._jobs.start("look", search.run, lambda found: self._arrived(found, others, then), self._gone_wrong)

    def _gone_wrong(self, words: str) -> None:
        self.clear()
        self.said.emit(words, True)

    def _elsewhere(self, teardown: Teardown, view: View, joint: str) -> Elsewhere | None:
        """Marks of the same letter on the latest other photograph that has some."""
        for other in reversed(teardown.views):
            spots = seeds_of(teardown, other, joint) if other.id != view.id and other.portrait is None else []
            body = self._body_of(other.photo) if spots else None
            if body:
                ratio = other.mm_per_px / view.mm_per_px if other.mm_per_px and view.mm_per_px else 1.0
                return Elsewhere(body, spots, head_radius_px(teardown, other, joint), ratio)
        return None

    def _arrived(self, found: tuple[list, float] | None, marked: list[Spot],
                 then: Callable[[list[Spot]], None] | None) -> None:
        from oddbolt.imaging.finding.alike import least_score

        places, radius = found or ([], 10.0)
        self._radius_px = radius
        least = least_score(places)
        near = (radius * 0.9) ** 2
        self._found = [Proposal(f.x, f.y, radius, f.score) for f in places
                       if all((f.x - x) ** 2 + (f.y - y) ** 2 > near for x, y in marked)]
        if then is not None:
            likely = [(p.x, p.y) for p in self._found if p.score >= least]
            self.clear()
            then(likely)
        else:
            if not self._wrong:  # what the person has set stays while they say what is wrong
                self.slider.setValue(round(100 * least))
            self._show()

    def _show(self) -> None:
        self.text.setText(tr("{0} alike").format(len(self.shown)))
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
            letter, image = self._of
            learned = self._learned.setdefault(letter, [])
            learned.append(Crop.of(image, chosen.x, chosen.y, self._radius_px))
            del learned[:-LEARNED_MOST]
            if self._again is not None:
                self._again()
            return
        self._found.remove(chosen)
        self.accepted.emit([(chosen.x, chosen.y)])
        self._show()

    def clear(self) -> None:
        self._jobs.cancel("look")
        self._found, self._wrong, self._of = [], [], ("", QImage())
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


class Search(Struct, frozen=True, kw_only=True):
    """What one proposal is made from; `run` is the job."""

    image: QImage
    seeds: list[Spot]
    radius_px: float | None
    mm_per_px: float | None
    region: Region | None
    wrong: list[Spot]
    elsewhere: Elsewhere | None
    learned: list[Crop]

    def run(self) -> Iterator[tuple[list[Any], float]]:
        from statistics import median

        from oddbolt.imaging.finding.alike import LEAST_HEAD_MM, Example, agreeing, clearest, find_alike, likely_head
        from oddbolt.imaging.finding.circles import snap
        from oddbolt.ui.background.pixels import pixels_of

        pixels = pixels_of(self.image)
        yield [], 0.0
        like, seeds, radius = [], self.seeds, self.radius_px
        if self.elsewhere is not None:
            other = pixels_of(read_image(self.elsewhere.body))
            yield [], 0.0
            there = self.elsewhere.radius_px or median(snap(other, *spot)[2] for spot in self.elsewhere.spots)
            spots = agreeing(other, [snap(other, *spot, there)[:2] for spot in self.elsewhere.spots], there)
            like = [Example(other, x, y, there) for x, y in spots]
            radius = radius or there * self.elsewhere.ratio
        if not radius:
            for tried in likely_head(pixels, clearest(pixels, seeds), self.region):
                radius = tried[2]
                yield [], 0.0
            radius = median(snap(pixels, *seed, radius)[2] for seed in seeds)
        if self.mm_per_px and 2 * radius * self.mm_per_px < LEAST_HEAD_MM:
            raise Refusal("", "head-too-small", mm=round(2 * radius * self.mm_per_px, 2), least=LEAST_HEAD_MM)
        seeds = agreeing(pixels, [snap(pixels, *seed, radius)[:2] for seed in seeds], radius)
        unlike = [Example(pixels_of(crop.image), crop.x, crop.y, crop.radius_px) for crop in self.learned]
        for found in find_alike(pixels, seeds, radius, wrong=self.wrong, like=like, unlike=unlike, region=self.region):
            yield found, radius
