"""The one translation function. Needs no Qt: gettext, with catalogues extracted and compiled by Babel in development.

`tr` takes a text as it stands in the code, whole: never built from variables, never cut apart afterwards. Figures and
names go in with `format`. A table of texts by code marks them with `N_` and says one with `from_table`. Texts of the
shipped tables (names, cautions, rules) are said with `of_data`; `scripts/messages.py` extracts both.
"""

from __future__ import annotations

import gettext
from collections.abc import Mapping
from pathlib import Path
from typing import Any

DOMAIN = "oddbolt"
FOLDER = Path(__file__).parent / "locale"  # language/LC_MESSAGES/oddbolt.mo; none ships yet

_in_use: gettext.NullTranslations = gettext.NullTranslations()


def use_system_language(folder: Path = FOLDER) -> str:
    """Take the language of the environment (LANGUAGE, LC_ALL, LC_MESSAGES, LANG), where there is a catalogue for it.
    Returns which it is, as its folder is called; nothing where the texts stay as they stand in the code."""
    global _in_use
    found = gettext.find(DOMAIN, folder)
    _in_use = gettext.translation(DOMAIN, folder, fallback=True)
    return Path(found).parent.parent.name if found else ""


def use_catalogue(path: Path | None) -> None:
    """Take one compiled catalogue; None: the texts as they stand in the code."""
    global _in_use
    if path is None:
        _in_use = gettext.NullTranslations()
    else:
        with path.open("rb") as file:
            _in_use = gettext.GNUTranslations(file)


def catalogues(folder: Path = FOLDER) -> list[str]:
    """Languages there is a catalogue for, as their folders are called."""
    return sorted(path.parent.parent.name for path in folder.glob(f"*/LC_MESSAGES/{DOMAIN}.mo"))


def use_language(code: str, folder: Path = FOLDER) -> str:
    """Take a language that was chosen, or the system's. Returns which it is; nothing for the texts as they are."""
    if not code:
        return use_system_language(folder)
    path = folder / code / "LC_MESSAGES" / f"{DOMAIN}.mo"
    use_catalogue(path if code in catalogues(folder) else None)
    return code if code in catalogues(folder) else ""


def language() -> str:
    """The language that texts are in, for documents."""
    return _in_use.info().get("language", "") or "en"


def tr(text: str) -> str:
    return _in_use.gettext(text) if text else ""  # gettext gives its own header for an empty text


def N_(text: str) -> str:  # noqa: N802 (the usual name)
    """Marks a text of a table for extraction; it is translated where it is said."""
    return text


def from_table(table: Mapping[str, str], code: str, **figures: Any) -> str:
    """The text of a table for a code, with its figures."""
    return tr(table[code]).format(**figures)


def of_data(text: str) -> str:
    """A text of a shipped table."""
    return tr(text)


def sentence(text: str) -> str:
    """With a capital at its beginning."""
    return text[:1].upper() + text[1:]


def within(text: str) -> str:
    """As it stands within a sentence; a word all in capitals, or a letter by itself, stays."""
    return text if text[:2].isupper() or len(text) < 2 or not text[1].isalpha() else text[:1].lower() + text[1:]
