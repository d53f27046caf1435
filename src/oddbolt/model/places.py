"""Places on a photograph."""

from __future__ import annotations

Spot = tuple[float, float]  # pixels of the upright photograph: from the left, from the top
