"""Where the program keeps what is its own, by the rules of the system (XDG)."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from platformdirs import PlatformDirs

NAME = "odd-bolt"


def data_folder() -> Path:
    """New work until it is given a name and a place, and the user's corrections of tables."""
    return Path(_folders().user_data_dir)


def config_folder() -> Path:
    """What a person prefers."""
    return Path(_folders().user_config_dir)


def settings_path() -> Path:
    """Where what a person prefers is kept."""
    return config_folder() / "settings.json"


def desktop_folder() -> Path:
    """Where the desktop looks for what is of this user."""
    from platformdirs import PlatformDirs

    return Path(PlatformDirs().user_data_dir)


def state_folder() -> Path:
    """What is of this machine only: the log of errors."""
    return Path(_folders().user_state_dir)


def cache_folder() -> Path:
    """What can be thrown away at any time."""
    return Path(_folders().user_cache_dir)


def _folders() -> PlatformDirs:
    from platformdirs import PlatformDirs  # when first asked for: not before the first paint

    return PlatformDirs(NAME, appauthor=False)
