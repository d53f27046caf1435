"""What a session holds while no document is open: an empty record that nothing can be written to."""

from __future__ import annotations

from pathlib import Path
from typing import Any, NoReturn

from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Teardown


class NothingOpen:
    """Takes the place of a `Document`; whatever would write is refused, with the way out of it."""

    path = Path()
    undo_label = redo_label = None
    is_open, is_read_only = False, True

    def __init__(self) -> None:
        self.teardown = Teardown.nothing()

    def _refuse(self, *_: Any) -> NoReturn:
        raise Refusal("", "nothing-open")

    commit = add_photo = add_thumb = keep_on_desk = copy_to = _refuse

    def _none(self, *_: Any) -> None:
        return None

    undo = redo = photo = thumb = on_desk = close = _none

    def photo_names(self) -> list[str]:
        return []
