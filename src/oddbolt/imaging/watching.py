"""When to photograph: the camera looks at the bench all the time, and a state is worth keeping when hands have been at
it and are gone.

Small pictures in, one word out. Whether something came off is not judged here: that takes the whole photograph
(`differing`). The thresholds were chosen on pictures of the simulated bench; tests/ui/test_watching.py has how they do.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from oddbolt.imaging.differing.changes import changed_for_sure

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

    Pixels = NDArray[np.float32]

GLANCE_PX = 240  # width of the pictures that are looked at
EDGE_PX = 3  # what touches so wide a rim reaches in
LEAST_PX = 40  # of what reaches in, or of what moved
LEAST_CHANGE_PX = 12  # of what is another than when the last photograph was kept
LOOKS_UNTIL_STILL = 5  # in a row the same: what reaches in is no hand, but a cover that hangs open
MOVES, REACHES, CLEAR, CALM = "moves", "reaches", "clear", "calm"


class Watch:
    """Goes by what it saw last, and by what it saw when the last photograph was kept."""

    def __init__(self, *, wanted: bool = False) -> None:
        """`wanted`: a photograph of how it is now, before hands are at it."""
        self._kept: Pixels | None = None
        self._last: Pixels | None = None
        self._busy = wanted  # hands were at it since
        self._still = 0  # looks in a row that showed the same

    def look(self, picture: Pixels) -> str:
        """One glance, (height, width, 3), 0 to 255: something `MOVES`; something that was not there `REACHES` in over
        the rim; hands were at it and are gone, so that it is `CLEAR` for a photograph; else `CALM`."""
        last, self._last = self._last, picture
        if last is None or self._kept is None or last.shape != picture.shape:
            self._kept, self._still = picture, 0
            return CALM
        if changed_for_sure(last, picture).sum() >= LEAST_PX:
            self._busy, self._still = True, 0
            return MOVES
        self._still += 1
        changed = changed_for_sure(self._kept, picture)
        if self._still < LOOKS_UNTIL_STILL and _reaches_in(changed):
            self._busy = True
            return REACHES
        return CLEAR if self._busy or changed.sum() >= LEAST_CHANGE_PX else CALM

    def keep(self) -> None:
        """A photograph of what was seen last was looked at: hands have to come and go before the next."""
        self._kept, self._busy = self._last, False


def _reaches_in(changed: NDArray[np.bool_]) -> bool:
    """Whether much of what changed hangs together and touches the rim."""
    import numpy as np
    from scipy import ndimage

    if changed.sum() < LEAST_PX:
        return False
    found, _ = ndimage.label(ndimage.binary_closing(changed, iterations=2))
    rim = np.ones(changed.shape, bool)
    rim[EDGE_PX:-EDGE_PX, EDGE_PX:-EDGE_PX] = False
    return any((found == n).sum() >= LEAST_PX for n in set(np.unique(found[rim])) - {0})
