"""Holding the real file of a document: one writer at a time, by device and inode, whatever the name it was reached by.

The lock is on the file itself, so a symbolic or hard link or another name leads to the same lock, and there is no lock
file that could be planted, left over or unlinked. SQLite locks ranges of the file by another mechanism of the system.
"""

from __future__ import annotations

import fcntl
import os
import stat
from pathlib import Path

from msgspec import Struct

from oddbolt.model.refusal import Refusal


def open_regular(path: Path, flags: int = os.O_RDONLY) -> int:
    """A descriptor of a regular file; devices, pipes and folders are refused, and nothing is waited for."""
    try:
        found = os.open(path, flags | os.O_NONBLOCK | os.O_CLOEXEC)
    except FileNotFoundError:
        raise Refusal(str(path), "no-such-file") from None
    except IsADirectoryError:
        raise Refusal(str(path), "is-a-folder") from None
    except (OSError, ValueError) as error:
        raise Refusal(str(path), "unreadable", error=getattr(error, "strerror", None) or str(error)) from None
    mode = os.fstat(found).st_mode
    if stat.S_ISREG(mode):
        return found
    os.close(found)
    raise Refusal(str(path), "is-a-folder" if stat.S_ISDIR(mode) else "no-file-of-data")


def sync_folder(folder: Path) -> None:
    """Until the names in it are on disk too."""
    opened = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(opened)
    finally:
        os.close(opened)


class Stamp(Struct, frozen=True):
    """How a file looks from outside; another after each write."""

    size: int
    written_ns: int


class Hold:
    """The lock on a file, and how the file looked when we last wrote to it."""

    def __init__(self, path: Path) -> None:
        """Raises Refusal where somebody else holds it, or it may not be written to."""
        self.path = path.resolve()
        try:
            self._file = open_regular(self.path, os.O_RDWR | os.O_NOFOLLOW)
        except Refusal as refusal:
            if refusal.code == "unreadable":
                raise Refusal(str(path), "file-not-writable", **refusal.data) from None
            raise
        try:
            fcntl.flock(self._file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            os.close(self._file)
            raise Refusal(str(path), "open-elsewhere") from None
        self.stamp = self._now()

    def _now(self) -> Stamp:
        found = os.fstat(self._file)
        return Stamp(found.st_size, found.st_mtime_ns)

    @property
    def was_written(self) -> bool:
        """Whether somebody else has written to the file since the stamp."""
        return self._now() != self.stamp

    @property
    def is_in_place(self) -> bool:
        """Whether the file is still the one that its name leads to."""
        held = os.fstat(self._file)
        try:
            found = os.stat(self.path, follow_symlinks=False)
        except OSError:
            return False
        return (found.st_dev, found.st_ino) == (held.st_dev, held.st_ino)

    def take_stamp(self) -> None:
        self.stamp = self._now()

    def close(self) -> None:
        if self._file >= 0:
            os.close(self._file)
            self._file = -1

    def __enter__(self) -> Hold:
        return self

    def __exit__(self, *_: object) -> None:
        self.close()
