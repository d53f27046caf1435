"""A report as a document: its photographs marked, its drawings drawn, HTML, PDF, and folders of drawings, photographs
and tables."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial

from PySide6.QtCore import QBuffer, QByteArray, QIODevice, QSize, Qt
from PySide6.QtGui import QImage

from oddbolt.model import exchange
from oddbolt.paint.documents.drawings import as_svg, drawn
from oddbolt.paint.documents.marked import marked_image
from oddbolt.paint.documents.sheets import PICTURE_MM, Laid, Pictures, document_pdf
from oddbolt.paint.images import image_size, read_image
from oddbolt.paint.step_picture import step_image
from oddbolt.reports.as_csv import tables
from oddbolt.reports.as_graphml import to_graphml
from oddbolt.reports.as_html import document
from oddbolt.reports.content.procedure import footer_text
from oddbolt.reports.content.report.ground import Picked, Report, Shot
from oddbolt.reports.content.tree import Drawing
from oddbolt.reports.forms import CSV, GRAPHML, HTML, PDF, PHOTOS, SVG

SHARP_DPI = 240  # of pictures of steps
SHOT_PX = 1600  # longest side of a marked photograph
QUALITY = 88
Photo = Callable[[str], bytes | None]  # the bytes of a photograph by its name
Files = dict[str, bytes]  # by name within a folder


class ReportPictures(Pictures):
    """Pictures of a report as JPEG: each photograph is decoded for as long as its picture is made, and no longer."""

    def __init__(self, report: Report, photo: Photo) -> None:
        self._report, self._photo = report, photo
        self._by_number = {one.number: one for one in report.pictures}
        self._made: dict[int, bytes] = {}
        self._sizes: dict[int, tuple[int, int] | None] = {}
        self._of_photo: dict[str, tuple[int, int] | None] = {}
        self._last: tuple[str, QImage, float] = ("", QImage(), 1.0)  # states follow each other on one photograph

    def __len__(self) -> int:
        return len(self._by_number)

    def photo_size(self, name: str) -> tuple[int, int] | None:
        if name not in self._of_photo:
            body = self._photo(name) if name else None
            self._of_photo[name] = image_size(body) if body else None
        return self._of_photo[name]

    def size(self, number: int) -> tuple[int, int] | None:
        if number not in self._sizes:
            self._sizes[number] = self._size(self._by_number[number])
        return self._sizes[number]

    def _size(self, one: Picked) -> tuple[int, int] | None:
        whole = self.photo_size(one.view.photo if isinstance(one, Shot) else one.picture.view.photo)
        if whole is None:
            return None
        if isinstance(one, Shot):
            size = QSize(*whole)
            if max(whole) > SHOT_PX:
                size = size.scaled(QSize(SHOT_PX, SHOT_PX), Qt.AspectRatioMode.KeepAspectRatio)
            return max(1, size.width()), max(1, size.height())
        return tuple(round(mm / 25.4 * SHARP_DPI) for mm in PICTURE_MM)  # type: ignore[return-value]

    def jpeg(self, number: int) -> bytes:
        """The picture with its marks; empty where its photograph cannot be read."""
        if number not in self._made:
            self._made[number] = self._make(self._by_number[number])
        return self._made[number]

    def image(self, number: int) -> QImage:
        return QImage.fromData(QByteArray(self.jpeg(number)))

    def _make(self, one: Picked) -> bytes:
        name = one.view.photo if isinstance(one, Shot) else one.picture.view.photo
        size = self.size(one.number)
        if size is None:
            return b""
        image, ratio = self._read(name)
        if image.isNull():
            return b""
        if isinstance(one, Shot):
            return _jpeg(marked_image(image, ratio, self._report.teardown, one.view))
        return _jpeg(step_image(one.picture, image, ratio, one.letter, QSize(*size)))

    def _read(self, name: str) -> tuple[QImage, float]:
        if self._last[0] != name:
            body, whole = self._photo(name), self.photo_size(name)
            image = read_image(body, SHOT_PX) if body and whole else QImage()
            if not image.isNull() and max(image.width(), image.height()) > SHOT_PX:
                image = image.scaled(SHOT_PX, SHOT_PX, Qt.AspectRatioMode.KeepAspectRatio,
                                     Qt.TransformationMode.SmoothTransformation)
            self._last = name, image, image.width() / whole[0] if whole and not image.isNull() else 1.0
        return self._last[1], self._last[2]


def _jpeg(image: QImage) -> bytes:
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    image.save(buffer, "JPEG", QUALITY)
    return bytes(buffer.data())


def report_html(report: Report, pictures: ReportPictures) -> Iterator[float | bytes]:
    """The share done, last the document."""
    made: dict[int, bytes] = {}
    for n, one in enumerate(report.pictures, start=1):
        body = pictures.jpeg(one.number)
        if body:
            made[one.number] = body
        yield n / (len(report.pictures) + 1)
    drawings = {name: as_svg(one, _caption(report, name)) for name, one in drawn(report, pictures.photo_size).items()}
    yield document(report.page, made, drawings).encode()


def report_pdf(report: Report, pictures: ReportPictures, paper: str) -> Iterator[float | bytes]:
    """The share done, last the document. Pictures are made first, so that it can be stopped between them."""
    for n, one in enumerate(report.pictures, start=1):
        pictures.jpeg(one.number)
        yield 0.8 * n / len(report.pictures)
    yield document_pdf(report.page, pictures, paper, partial(footer_text, report.teardown),
                       drawn(report, pictures.photo_size))


def report_sheets(report: Report, pictures: ReportPictures, paper: str) -> Laid:
    """To be looked at on the screen, sheet by sheet."""
    return Laid(report.page, pictures, drawn(report, pictures.photo_size), paper, partial(footer_text, report.teardown))


def report_svg(report: Report, pictures: ReportPictures) -> Files:
    """Each drawing by its name."""
    return {f"{name}.svg": as_svg(one, _caption(report, name))
            for name, one in drawn(report, pictures.photo_size).items()}


def report_photos(report: Report, pictures: ReportPictures) -> Iterator[float | Files]:
    """The photographs with their marks, numbered in the order of the document."""
    made: Files = {}
    shots = [one for one in report.pictures if isinstance(one, Shot)]
    for n, one in enumerate(shots, start=1):
        body = pictures.jpeg(one.number)
        if body:
            made[f"{n:03d}-{one.view.id}.jpg"] = body
        yield n / len(shots)
    yield made


def rendered(form: str, report: Report, pictures: ReportPictures, paper: str) -> Iterator[float | bytes | Files]:
    """The report in any of the forms: the share done, last the document, or the files of a folder."""
    if form == PDF:
        yield from report_pdf(report, pictures, paper)
    elif form == HTML:
        yield from report_html(report, pictures)
    elif form == PHOTOS:
        yield from report_photos(report, pictures)
    elif form == SVG:
        yield report_svg(report, pictures)
    elif form == CSV:
        yield tables(report.page)
    elif form == GRAPHML:
        yield to_graphml(report.teardown)
    else:
        yield exchange.dumps(report.teardown).encode()


def _caption(report: Report, name: str) -> str:
    return next((block.caption for block in report.page.blocks
                 if isinstance(block, Drawing) and block.name == name), name)
