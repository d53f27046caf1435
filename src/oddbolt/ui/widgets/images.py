"""Photographs as pictures: upright, with a reduced reading where the whole is too large, and thumbnails."""

from __future__ import annotations

from PySide6.QtCore import QBuffer, QByteArray, QIODevice, QSize, Qt
from PySide6.QtGui import QImage, QImageReader

THUMB_PX = 240


def read_image(body: bytes, longest_px: int = 0) -> QImage:
    """Decode a photograph upright (EXIF); `longest_px` reads it reduced. A null image where it cannot be read."""
    data = QByteArray(body)
    buffer = QBuffer(data)
    buffer.open(QIODevice.OpenModeFlag.ReadOnly)
    reader = QImageReader(buffer)
    reader.setAutoTransform(True)
    size = reader.size()
    if longest_px and max(size.width(), size.height()) > longest_px:
        reader.setScaledSize(size.scaled(QSize(longest_px, longest_px), Qt.AspectRatioMode.KeepAspectRatio))
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

