"""A page of the manual."""

from __future__ import annotations

from msgspec import Struct


class ManualPage(Struct, frozen=True):
    """`id` is that of the workspace, or of what else it is about; headings with their paragraphs."""

    id: str
    title: str
    sections: tuple[tuple[str, tuple[str, ...]], ...]
