"""A large record made up for benchmarks: 300 parts, 2,000 joints, 5,000 marks, 3,000 entries, 200 photographs."""

from __future__ import annotations

import random

PARTS, JOINTS, MARKS, ENTRIES, PHOTOGRAPHS = 300, 2_000, 5_000, 3_000, 200
KINDS = ("bracket", "board", "camera", "cable", "speaker", "cover")
ROLES = ("battery", "display", "back_cover", "front_camera", "rear_camera", "charging_port", "speaker", "microphone")


def large_record(seed: int = 1) -> dict:
    """An exchange-file object: layers of parts under covers, several joints a part, nearly all of it taken off by the
    log, photographs of every fifteenth entry with the marks of what was worked on then. Seeded, realistic by intention
    only."""
    rng = random.Random(seed)
    letters = [{"id": chr(65 + n), "drive": ("PH", "T", "Y")[n % 3], "size": ("00", "5", "000")[n % 3],
                "thread": ("M1.4", "M1.6", "M2")[n % 3], "length_mm": 3 + n * 0.5, "head_mm": 2.5} for n in range(12)]
    parts: list[dict] = [{"id": "base", "name": "Frame", "kind": "frame", "mass_g": 100}]
    covers: list[str] = []  # what opens the present layer
    for n in range(1, PARTS):
        if n % 25 == 1:  # a new layer
            covers = [f"p{n - 25}"] if n > 25 else []
        parts.append({"id": f"p{n}", "name": f"Part {n}", "kind": "cover" if n % 25 == 1 else KINDS[n % 5],
                      "mass_g": 1.5, "basis": "assumed", **({"behind": [covers]} if covers else {})})
    for n, role in enumerate(ROLES):
        parts[20 + 34 * n]["role"] = [role]
    joints = [_joint(rng, n, parts) for n in range(JOINTS)]
    log = _log(parts, joints)
    return {"format": "oddbolt-teardown", "version": 1,
            "device": {"name": "Large record", "base": "base", "category": "slate_tablet"}, "fasteners": letters,
            "parts": parts, "joints": joints, "log": log, "views": _views(rng, joints, log)}


def _joint(rng: random.Random, n: int, parts: list[dict]) -> dict:
    part = parts[1 + n % (PARTS - 1)]
    kind = ("screw", "screw", "connector", "clip", "adhesive")[n % 5]
    made = {"id": f"j{n}", "kind": kind, "of": [part["id"], "base"], "basis": "assumed",
            **({"behind": part["behind"]} if "behind" in part else {})}
    if kind == "screw":
        made |= {"fastener": chr(65 + rng.randrange(12)), "count": 3}
    if kind == "connector":
        made |= {"type": "zif"}
    return made


def _log(parts: list[dict], joints: list[dict]) -> list[dict]:
    """Everything is released and lifted in the order of the layers, with notes between, to the number of entries; the
    last parts stay on, so that there is something left to do."""
    of: dict[str, list[str]] = {}
    for joint in joints:
        of.setdefault(joint["of"][0], []).append(joint["id"])
    acts = []
    for part in parts[1:-10]:
        acts += [{"do": "release", "thing": joint, "way": 0} for joint in of.get(part["id"], ())]
        acts.append({"do": "remove", "thing": part["id"]})
    notes = ENTRIES - len(acts)
    every = len(acts) / notes
    log: list[dict] = []
    for n, act in enumerate(acts):
        log.append(act)
        while len(log) - n - 1 < int((n + 1) / every):
            log.append({"do": "note", "text": f"looked at {n}"})
    return [{"id": f"e{n}", "t": n * 4, **entry} for n, entry in enumerate(log[:ENTRIES], start=1)]


def _views(rng: random.Random, joints: list[dict], log: list[dict]) -> list[dict]:
    each = MARKS // PHOTOGRAPHS
    views = []
    for k in range(PHOTOGRAPHS):
        first = k * JOINTS // PHOTOGRAPHS
        things = [joints[(first + n) % JOINTS]["id"] for n in range(each)]
        marks = [{"thing": thing, "n": 1, "x": rng.randrange(40, 1160), "y": rng.randrange(40, 760)}
                 for thing in things]
        entry = log[min(len(log) - 1, k * len(log) // PHOTOGRAPHS)]["id"]
        views.append({"id": f"v{k}", "side": ("back", "back", "front")[k % 3], "photo": f"v{k}.jpg", "mm_per_px": 0.1,
                      "at_entry": entry, "marks": marks})
    return views
