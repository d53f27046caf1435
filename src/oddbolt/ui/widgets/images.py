"""Photographs as pictures: upright, with a reduced reading where the whole is too large, and thumbnails."""

from __future__ import annotations

from PySide6.QtCore import QBuffer, QByteArray, QIODevice, QSize, Qt
from PySide6.QtGui import QImage, QImageIOHandler, QImageReader

THUMB_PX = 240
REDUCED_PX = 6000  # longest side of a reduced reading where the whole cannot be held


def _reader(body: bytes) -> tuple[QImageReader, QBuffer]:
    buffer = QBuffer()
    buffer.setData(QByteArray(body))
    buffer.open(QIODevice.OpenModeFlag.ReadOnly)
    reader = QImageReader(buffer)
    reader.setAutoTransform(True)
    return reader, buffer


def image_size(body: bytes) -> tuple[int, int] | None:
    """Width and height of the upright photograph without decoding it; None where it is none."""
    reader, _buffer = _reader(body)
    size = reader.size()
    if not size.isValid() or not reader.canRead():
        return None
    turned = reader.transformation() & QImageIOHandler.Transformation.TransformationRotate90
    return (size.height(), size.width()) if turned else (size.width(), size.height())


def read_image(body: bytes, longest_px: int = 0) -> QImage:
    """Decode a photograph upright (EXIF); `longest_px` reads it reduced. A null image where it cannot be read.

    What is too large to be held whole is read reduced.
    """
    image = _read(body, longest_px)
    return image if not image.isNull() or longest_px else _read(body, REDUCED_PX)


def _read(body: bytes, longest_px: int) -> QImage:
    reader, _buffer = _reader(body)
    size = reader.size()
    if longest_px and max(size.width(), size.height()) > longest_px:
        reader.setScaledSize(size.scaled(QSize(longest_px, longest_px), Qt.AspectRatioMode.KeepAspectRatio)
                             .expandedTo(QSize(1, 1)))
    return reader.read()


def make_thumb(body: bytes) -> bytes:
    """A JPEG of at most 240 px; empty where the photograph cannot be read."""
    image = read_image(body, THUMB_PX)
    if image.isNull():
        return b""
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    image.save(buffer, "JPEG", 85)
    return bytes(buffer.data())
