"""A picture's pixels as an array, for the imaging core."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtGui import QImage

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray


def pixels_of(image: QImage) -> NDArray[np.uint8]:
    """(height, width, 3), red, green, blue; a copy."""
    import numpy as np

    plain = image.convertToFormat(QImage.Format.Format_RGB888)
    rows = np.frombuffer(plain.constBits(), np.uint8).reshape(plain.height(), plain.bytesPerLine())
    return rows[:, :plain.width() * 3].reshape(plain.height(), plain.width(), 3).copy()
