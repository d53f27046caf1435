"""The texts people read, for whoever translates: extracted, compiled, and stretched to see whether there is room.

From the root: .venv/bin/python -m scripts.messages extract FILE.pot      all texts, with where they are said
               .venv/bin/python -m scripts.messages compile FILE.po FILE.mo
               .venv/bin/python -m scripts.messages stretch FILE.mo       a made-up language, each word a third longer
A compiled catalogue belongs at src/oddbolt/words/locale/LANGUAGE/LC_MESSAGES/oddbolt.mo.
"""

from __future__ import annotations

import argparse
import re
import sys
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from babel.messages.catalog import Catalog
from babel.messages.extract import extract_from_dir
from babel.messages.mofile import write_mo
from babel.messages.pofile import read_po, write_po

from oddbolt.catalog.tables import read_toml

ROOT = Path(__file__).resolve().parent.parent
PACKAGE = ROOT / "src" / "oddbolt"
TABLES = {"oddbolt.catalog": "catalog/data", "oddbolt.scoring": "scoring/methods"}
# Keys of the shipped tables whose texts are said to people (`of_data`); others are codes, or why a figure stands there.
SAID = ("name", "short", "text", "limit", "source", "edition", "what", "where", "held", "opened", "renew", "direction",
        "opens", "breaks", "rule", "unit", "words", "note", "verb", "options", "values", "types", "steps", "method",
        "reason")
_WORD = re.compile(r"(\{[^}]*\}|<[^>]*>|&\w+;|https?:\S+)|([^\W\d_]{2,})")
LONGER = "ö"  # what words are stretched with: seen at once, and in every font


def catalogue() -> Catalog:
    """All texts: of the code, and of the shipped tables."""
    found = Catalog(project="Odd Bolt", charset="utf-8", fuzzy=False)
    for name, line, text, comments, context in extract_from_dir(
            PACKAGE, method_map=[("**.py", "python")], keywords={"tr": None, "N_": None}):
        found.add(text, locations=[(f"src/oddbolt/{name}", line)], auto_comments=comments, context=context)
    for package, folder in TABLES.items():
        for path in sorted((PACKAGE / folder).glob("*.toml")):
            for text in said_in(read_toml(package, f"{path.parent.name}/{path.name}")):
                found.add(text, locations=[(f"src/oddbolt/{folder}/{path.name}", 0)])
    return found


def said_in(value: Any, key: str = "") -> Iterator[str]:
    """Texts of a table that people read."""
    if isinstance(value, dict):
        for name, one in value.items():
            yield from said_in(one, name)
    elif isinstance(value, list):
        for one in value:
            yield from said_in(one, key)
    elif isinstance(value, str) and key in SAID and re.search(r"[^\W\d_]{2}", value):
        yield value


def stretched(text: str) -> str:
    """Each word a third longer; what figures go into, and markup, stays."""
    def longer(match: re.Match[str]) -> str:
        word = match.group(2)
        return match.group(1) or word + LONGER * max(1, round(len(word) / 3))

    return _WORD.sub(longer, text)


def write_stretched(path: Path) -> None:
    made = Catalog(charset="utf-8", fuzzy=False)
    for message in catalogue():
        if message.id:
            made.add(message.id, stretched(str(message.id)))
    path.parent.mkdir(parents=True, exist_ok=True)
    with path.open("wb") as file:
        write_mo(file, made)


def main(arguments: list[str]) -> int:
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    acts = parser.add_subparsers(dest="act", required=True)
    acts.add_parser("extract").add_argument("pot", type=Path)
    compiled = acts.add_parser("compile")
    compiled.add_argument("po", type=Path)
    compiled.add_argument("mo", type=Path)
    acts.add_parser("stretch").add_argument("mo", type=Path)
    options = parser.parse_args(arguments)
    if options.act == "extract":
        with options.pot.open("wb") as file:
            write_po(file, catalogue(), sort_output=True)
    elif options.act == "compile":
        with options.po.open("rb") as source, options.mo.open("wb") as file:
            write_mo(file, read_po(source))
    else:
        write_stretched(options.mo)
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
