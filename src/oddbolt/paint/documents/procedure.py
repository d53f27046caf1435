"""A procedure as PDF and HTML, with the pictures of its steps drawn."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QBuffer, QIODevice, QSize
from PySide6.QtGui import QImage

from oddbolt.paint.documents.sheets import PICTURE_MM, HeldPictures, document_pdf
from oddbolt.paint.images import image_size, read_image
from oddbolt.paint.step_picture import step_image
from oddbolt.reports.as_html import document
from oddbolt.reports.content.procedure import Procedure

SHARP_DPI = 240  # of the pictures on paper
READ_PX = 3000
Photo = Callable[[str], bytes | None]  # the bytes of a photograph by its name


def drawn_pictures(procedure: Procedure, photo: Photo) -> dict[int, QImage]:
    """The pictures by number; those whose photograph is not at hand are left out."""
    size = QSize(*(round(mm / 25.4 * SHARP_DPI) for mm in PICTURE_MM))
    found: dict[int, QImage] = {}
    kept: dict[str, tuple[QImage, float]] = {}
    for one in procedure.pictures:
        name = one.picture.view.photo
        if name not in kept:
            body = photo(name)
            whole = image_size(body) if body else None
            image = read_image(body, READ_PX) if body and whole else QImage()
            kept[name] = image, image.width() / whole[0] if whole else 1.0
        image, ratio = kept[name]
        if not image.isNull():
            found[one.number] = step_image(one.picture, image, ratio, one.letter, size)
    return found


def procedure_pdf(procedure: Procedure, photo: Photo, paper: str, footer: Callable[[int, int], str]) -> bytes:
    return document_pdf(procedure.page, HeldPictures(drawn_pictures(procedure, photo)), paper, footer)


def procedure_html(procedure: Procedure, photo: Photo) -> str:
    pictures = {number: _jpeg(image) for number, image in drawn_pictures(procedure, photo).items()}
    return document(procedure.page, pictures)


def _jpeg(image: QImage) -> bytes:
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    image.save(buffer, "JPEG", 88)
    return bytes(buffer.data())
