"""Large made-up devices for the planner's benchmark: layers, covers over them, parts held by screws, plugs and glue.

Realistic by intention only; seeded. `operations` is about how many acts and removals there are.
"""

from __future__ import annotations

import random

TOOLS = ("ph00", "t5", "y000", "spudger", "tweezers", "pick")


def layered_device(operations: int, seed: int) -> dict:
    """An exchange-file object. Each layer lies behind covers of the one above; some access has alternatives."""
    rng = random.Random(f"{operations} {seed}")
    parts: list[dict] = [{"id": "base", "kind": "frame"}]
    joints: list[dict] = []
    opened: list[str] = []  # what a thing of the present layer may be behind
    number = layer = 0
    while number < operations:
        made = []
        for k in range(rng.randint(3, 7)):
            part = {"id": f"p{len(parts)}", "kind": rng.choice(("bracket", "board", "camera", "speaker", "cable")),
                    "active_s": rng.randint(15, 60) / 10, "side": rng.choice(("back", "back", "back", "front")),
                    "behind": _behind(rng, opened)}
            if k == 0:
                part["kind"] = "cover"
            elif made and rng.random() < 0.15:
                part["on"] = rng.choice(made)
            parts.append(part)
            number += 1
            for _ in range(rng.choice((1, 1, 2, 2, 3))):
                joints.append(_joint(rng, len(joints), part, made, opened))
                number += sum(len(way.get("acts", (0,))) for way in joints[-1]["ways"])
            made.append(part["id"])
        opened = [made[0], *(rng.sample(made[1:], min(2, len(made) - 1)) if rng.random() < 0.5 else [])]
        layer += 1
    return {"format": "oddbolt-teardown", "version": 1, "device": {"base": "base"}, "parts": parts, "joints": joints}


def _behind(rng: random.Random, opened: list[str]) -> list[list[str]]:
    if not opened:
        return []
    if len(opened) > 1 and rng.random() < 0.15:
        return [[opened[0]], [opened[1]]]
    return [rng.sample(opened, 1 if rng.random() < 0.8 else len(opened))]


def _joint(rng: random.Random, n: int, part: dict, made: list[str], opened: list[str]) -> dict:
    kind = rng.choice(("screw", "screw", "screw", "connector", "adhesive", "clip"))
    tool = {"screw": rng.choice(TOOLS[:3]), "connector": "spudger", "adhesive": "tweezers", "clip": "pick"}[kind]
    ways = [{"tool": tool, "active_s": rng.randint(30, 600) / 10}]
    if kind == "adhesive" and rng.random() < 0.4:
        ways.append({"acts": [{"tool": "dropper", "active_s": 8, "wait_s": rng.choice((30, 60, 120))},
                              {"tool": "card", "active_s": rng.randint(10, 60)}]})
    below = part.get("on") or "base"
    if kind == "connector" and made:
        below = rng.choice(made)  # of the same layer: a cable across layers could lock a device for good
    return {"id": f"j{n}", "kind": kind, "of": [part["id"], below], "side": part["side"],
            "behind": _behind(rng, opened), "ways": ways}
