"""Colours of the program, light and dark. Letters of fasteners keep their colour in both.

The eight letter colours were searched for so that any two stay apart for full colour vision and for the three kinds of
colour blindness (tests/unit/test_content.py measures it), with white letters on them readable; a letter and the
silhouette of its recess always go with them.
"""

from __future__ import annotations

from typing import NamedTuple

LETTER_COLOURS = ("#AA6120", "#362E79", "#8C5B9E", "#057C6E", "#5A3B00", "#702135", "#6A66C8", "#215269")


class Palette(NamedTuple):
    """A named tuple, not a data class: it is needed before the first paint and must cost nothing to import."""

    name: str
    page: str  # behind everything
    sheet: str  # panels and drawings
    sunk: str  # fields and lists
    ink: str
    faint: str  # secondary text; contrast at least 4.5 on sheet
    line: str
    accent: str
    on_accent: str
    warn: str
    screws: str
    lift: str
    plug: str
    glue: str
    glue_line: str
    wait: str
    wait_dot: str
    film: str
    act: str
    target: str
    on_dark: str
    on_light: str


LIGHT = Palette(name="light", page="#ECE8DF", sheet="#FAF8F3", sunk="#FFFFFF", ink="#1E2B30", faint="#566168",
                line="#D5CFC1", accent="#24424D", on_accent="#FFFFFF", warn="#A63A12", screws="#B9C7CF",
                lift="#5A7884", plug="#8FB8A8", glue="#E8D3A8", glue_line="#CFA95C", wait="#F1EEE4", wait_dot="#9A937F",
                film="#DCCFE0", act="#D3D6C6", target="#24424D", on_dark="#FFFFFF", on_light="#1E2B30")
DARK = Palette(name="dark", page="#171C1F", sheet="#1F262A", sunk="#14191C", ink="#E7E4DB", faint="#A3ADB1",
               line="#39444A", accent="#7FB2C2", on_accent="#10181B", warn="#F09A6C", screws="#8496A0",
               lift="#3F606D", plug="#5F9482", glue="#A68A52", glue_line="#7A6130", wait="#2A3135", wait_dot="#77817F",
               film="#7C6B86", act="#70756A", target="#A9D3E0", on_dark="#F4F2EC", on_light="#10181B")


def letter_colour(letter: str) -> str:
    """The colour of a fastener letter; letters beyond the palette go round again."""
    number = ord(letter[0].upper()) - ord("A") if letter else 0
    return LETTER_COLOURS[number % len(LETTER_COLOURS)]
