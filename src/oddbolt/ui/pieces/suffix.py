"""Names of files that are asked for: people leave the suffix away."""

from __future__ import annotations


def suffixed(name: str, suffix: str) -> str:
    """The name with its suffix (as `.json`), whichever way it was typed."""
    return name if name.lower().endswith(suffix) else f"{name}{suffix}"
