"""Photographs as pictures: upright, with a reduced reading where the whole is too large, and thumbnails.

What is no photograph by its first bytes is never handed to a decoder: some kinds of picture read other files.
"""

from __future__ import annotations

from PySide6.QtCore import QBuffer, QByteArray, QIODevice, QSize, Qt
from PySide6.QtGui import QImage, QImageIOHandler, QImageReader

from oddbolt.store.pictures import kind_of

THUMB_PX = 240
REDUCED_PX = 6000  # longest side of a reduced reading where the whole cannot be held
MOST_PX = 500_000_000  # of a photograph at all; a stitched panorama of a bench has a tenth
AT_ONCE_PX = 4_000_000  # smaller ones are decoded where they are asked for: it takes less than a blink
MOST_SCANS = 40  # of one JPEG that is decoded at once; each goes over the whole picture again


def is_quick(body: bytes) -> bool:
    """Whether decoding it takes less than a blink."""
    size = image_size(body)
    return size is not None and size[0] * size[1] <= AT_ONCE_PX and body.count(b"\xff\xda") <= MOST_SCANS


def _reader(body: bytes) -> tuple[QImageReader, QBuffer]:
    buffer = QBuffer()
    buffer.setData(QByteArray(body))
    buffer.open(QIODevice.OpenModeFlag.ReadOnly)
    reader = QImageReader(buffer)
    reader.setAutoDetectImageFormat(False)
    reader.setFormat(QByteArray((kind_of(body) or "none").encode()))
    reader.setAutoTransform(True)
    return reader, buffer


def image_size(body: bytes) -> tuple[int, int] | None:
    """Width and height of the upright photograph without decoding it; None where it is none."""
    reader, _buffer = _reader(body)
    size = reader.size()
    if not size.isValid() or not reader.canRead() or size.width() * size.height() > MOST_PX:
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
    if size.width() * size.height() > MOST_PX:
        return QImage()
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
