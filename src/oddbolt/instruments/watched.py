"""A folder that is watched: the other camera, for whoever saves photographs from a program of the camera's maker."""

from __future__ import annotations

from pathlib import Path

from msgspec import Struct, field

PHOTOS = frozenset((".jpg", ".jpeg", ".png", ".webp", ".tif", ".tiff", ".bmp"))


class WatchedFolder(Struct):
    """New photographs in a folder. A file counts when its size has not changed between two looks: it is whole then."""

    folder: Path
    _known: dict[Path, int] = field(default_factory=dict)
    _given: set[Path] = field(default_factory=set)

    def __post_init__(self) -> None:
        self._given = set(self._sizes())

    def arrived(self) -> list[Path]:
        sizes = self._sizes()
        found = [path for path, size in sizes.items()
                 if path not in self._given and size and self._known.get(path) == size]
        self._known = sizes
        self._given.update(found)
        return sorted(found, key=lambda path: path.name)

    def _sizes(self) -> dict[Path, int]:
        """Empty where the folder is not there (any more); it may come back."""
        try:
            return {path: path.stat().st_size for path in self.folder.iterdir() if path.suffix.lower() in PHOTOS}
        except OSError:
            return {}
