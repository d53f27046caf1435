"""Dunlin 3, the successor of the demo device: an invented design that took findings to heart. No log yet."""

from __future__ import annotations

from typing import Any

from scripts.demo import dunlin_2

GONE_PARTS = ("battery-lid", "port-bracket")
GONE_JOINTS = ("label-film", "battery-lid-screws", "port-film", "port-bracket-screws", "port-cable-run")
COVER_SCREWS = {"id": "cover-screws", "name": "Cover screws", "kind": "screw", "of": ["back-cover", "frame"],
                "fastener": "A", "count": 6, "side": "back", "basis": "seen"}
PULL_TABS = [{"tool": "tweezers", "does": "pull", "active_s": 45, "reuse": "renew", "resupplied": True,
              "hazards": ["cell-bend"]}]


def teardown() -> dict[str, Any]:
    """An exchange-file object: cover on screws, cell on pull tabs with its plug in reach, port board by itself."""
    data = dunlin_2.teardown()
    for key in ("log", "views", "refit", "opinions", "answers", "sessions"):
        data.pop(key, None)
    data["device"] |= {"name": "Dunlin 3", "model": "DL3-LTE", "serial": "SMS-0702", "mass_g": 538}
    data["parts"] = [_freed(part) for part in data["parts"] if part["id"] not in GONE_PARTS]
    data["joints"] = [COVER_SCREWS if joint["id"] == "cover-seam" else _freed(joint)
                      for joint in data["joints"] if joint["id"] not in GONE_JOINTS]
    return data


def _freed(thing: dict[str, Any]) -> dict[str, Any]:
    """A part or joint behind what the new design has in place of the old."""
    made = {key: value for key, value in thing.items() if key != "behind"}
    if thing["id"] == "cell-glue":
        made["ways"] = PULL_TABS
    if "basis" in made:
        made["basis"] = "seen"
    if "behind" in thing:
        behind = [[_renamed(name) for name in names] for names in thing["behind"]]
        made["behind"] = [list(dict.fromkeys(names)) for names in behind]
    return made


def _renamed(name: str) -> str:
    if name == "cover-seam":
        return "cover-screws"
    return "cover-swing" if name in (*GONE_PARTS, *GONE_JOINTS) else name
