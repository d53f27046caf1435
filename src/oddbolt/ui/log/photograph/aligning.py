"""How the photograph of one state lies to another of the same side: found in a job, kept as long as both are there."""

from __future__ import annotations

from collections.abc import Callable, Generator, Iterator, Sequence
from typing import TYPE_CHECKING

from msgspec import Struct
from msgspec.structs import replace
from PySide6.QtCore import QObject, QRectF, Signal
from PySide6.QtGui import QImage, QPainter, QTransform

from oddbolt.model.things import Mark, View
from oddbolt.paint.images import image_size, read_image
from oddbolt.session.session import Session
from oddbolt.ui.background.jobs import Jobs

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

    from oddbolt.imaging.registering import Registration

    Pixels = NDArray[np.float32]

WORK_PX = 1800  # on the longer side: finer than a mark is set, and quick
KEPT = 40  # pairs
LEAST_MARKS = 4  # that tell where the device lies


class Aligned(Struct, frozen=True, eq=False):
    """A pair of photographs, each shrunk by its own factor, and how the one lies to the other on those."""

    found: Registration
    scales: tuple[float, float]  # of before and after: pixels looked at for one of the photograph
    sizes: tuple[tuple[int, int], tuple[int, int]]  # width and height of what was looked at

    @property
    def is_same_side(self) -> bool:
        return self.found.is_same_side

    def carry(self, x: float, y: float) -> tuple[float, float]:
        """A place of before on after, in pixels of the whole photographs."""
        before, after = self.scales
        u, v = self.found.carry(x * before, y * before)
        return u / after, v / after

    def carry_mark(self, mark: Mark) -> Mark:
        x, y = self.carry(mark.x, mark.y)
        outline = tuple((round(a, 1), round(b, 1)) for a, b in (self.carry(*spot) for spot in mark.outline))
        return replace(mark, x=round(x, 1), y=round(y, 1), outline=outline)


class Aligning(QObject):
    """One pair at a time; what is asked again is answered at once."""

    said = Signal(str, bool)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._jobs = Jobs(self)
        self._known: dict[tuple[str, str], Aligned | None] = {}

    def ask(self, before: View, after: View, told: Callable[[Aligned | None], None]) -> None:
        """How `before` lies to `after`; None where either cannot be read, or shows nothing to go by. In the window's
        thread, later or at once."""
        key = before.photo, after.photo
        if key in self._known:
            told(self._known[key])
            return
        bodies = [self._session.photo(name) or b"" for name in key]
        if any(image_size(body) is None for body in bodies):
            told(None)
            return

        def arrived(found: Aligned | None) -> None:
            self.keep(before, after, found)
            told(found)

        self._jobs.start("align", lambda: _align(bodies, before), arrived, lambda words: self.said.emit(words, True))

    def keep(self, before: View, after: View, found: Aligned | None) -> None:
        """What is known of a pair by now."""
        while len(self._known) >= KEPT:
            del self._known[next(iter(self._known))]
        self._known[before.photo, after.photo] = found

    def forget(self) -> None:
        self._jobs.cancel("align")
        self._known.clear()

    def stop(self) -> None:
        self._jobs.stop_all()


class Read(Struct, frozen=True, eq=False):
    """A pair of photographs as they are looked at."""

    images: tuple[QImage, QImage]
    scales: tuple[float, float]  # pixels looked at for one of the photograph
    before: Pixels  # (height, width, 3), 0 to 255
    after: Pixels
    mask: Pixels  # where the device lies on before


def read_pair(bodies: Sequence[bytes], view: View) -> Generator[None, None, Read]:
    """Within a job: both photographs, and where the device lies on the one before by its marks."""
    from oddbolt.imaging.registering import device_mask
    from oddbolt.ui.background.pixels import pixels_of

    images, pictures, scales = [], [], []
    for body in bodies:
        image = read_image(body, WORK_PX)
        yield None
        whole = image_size(body) or (image.width(), image.height())
        images.append(image)
        scales.append(image.width() / whole[0])
        pictures.append(pixels_of(image).astype("float32"))
    places = [(mark.x * scales[0], mark.y * scales[0]) for mark in view.marks]
    near = places if len(places) >= LEAST_MARKS else []
    mask = device_mask(pictures[0], near, pictures[0].shape[1] * 0.06)
    return Read((images[0], images[1]), (scales[0], scales[1]), pictures[0], pictures[1], mask)


def registered(pair: Read) -> Generator[None, None, Aligned | None]:
    """Within a job: how the two lie to each other; None where there is nothing to go by."""
    from oddbolt.imaging.grey import grey_of
    from oddbolt.imaging.registering import register

    sizes = [(one.shape[1], one.shape[0]) for one in (pair.before, pair.after)]
    found = None
    for step in register(grey_of(pair.before), grey_of(pair.after), pair.mask):
        found = step
        yield None
    if found is None or not found.is_textured:
        return None
    return Aligned(found=found, scales=pair.scales, sizes=(sizes[0], sizes[1]))


def _align(bodies: Sequence[bytes], view: View) -> Iterator[Aligned | None]:
    """The job: read both, register."""
    pair = yield from read_pair(bodies, view)
    yield (yield from registered(pair))


def laid_over(picture: QImage, aligned: Aligned) -> QImage:
    """A picture of before as it would have been taken from where after was; black where it shows nothing of that."""
    (width, height), size = aligned.sizes
    m = aligned.found.matrix
    if aligned.found.bend is not None:
        return _laid_over_bent(picture.scaled(width, height), aligned)
    out = QImage(*size, QImage.Format.Format_RGB32)
    out.fill(0)
    painter = QPainter(out)
    painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
    painter.setTransform(QTransform(m[0, 0], m[1, 0], m[2, 0], m[0, 1], m[1, 1], m[2, 1], m[0, 2], m[1, 2], m[2, 2]))
    painter.drawImage(QRectF(0, 0, width, height), picture)
    painter.end()
    return out


def _laid_over_bent(picture: QImage, aligned: Aligned) -> QImage:
    """The same where a plane is not enough: pixel by pixel."""
    import numpy as np

    from oddbolt.imaging.registering import laid_back
    from oddbolt.ui.background.pixels import pixels_of

    width, height = aligned.sizes[1]
    there = laid_back(pixels_of(picture).astype("float32"), aligned.found, (height, width))
    rows = np.ascontiguousarray(np.clip(there, 0, 255).astype(np.uint8))
    return QImage(rows.tobytes(), width, height, 3 * width, QImage.Format.Format_RGB888).copy()
