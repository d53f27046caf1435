"""Small random devices with every feature of the model switched on now and then. Seeded; invented."""

from __future__ import annotations

import random

TOOLS = ("hand", "hand", "ph00", "t5", "pick", "spudger")
VERBS = ("", "", "", "heat", "clean")


def random_device(seed: int, most_acts: int) -> dict:
    """An exchange-file object with at most `most_acts` acts and removals in all its ways."""
    rng = random.Random(seed)
    while True:
        device = _try_device(rng)
        if 2 <= count_acts(device) <= most_acts:
            return device


def count_acts(device: dict) -> int:
    acts = sum(len(way.get("acts", [0])) for joint in device["joints"] if joint["kind"] != "contact"
               for way in joint["ways"])
    return acts + sum(len(part.get("acts", [0])) for part in device["parts"] if not part.get("captive")) - 1


def _try_device(rng: random.Random) -> dict:
    parts = [{"id": "base", "kind": "frame"}]
    for n in range(rng.randint(1, 5)):
        part = {"id": f"p{n}", "kind": rng.choice(("cover", "board", "battery")), "active_s": rng.randint(0, 60) / 10,
                "side": rng.choice(("any", "front", "back"))}
        if rng.random() < 0.4:
            part["on"] = rng.choice(parts)["id"]
        if rng.random() < 0.12:
            part["captive"] = True
        if rng.random() < 0.15:
            part["tool"] = rng.choice(TOOLS)
        if rng.random() < 0.08:
            part["needs_safe"] = True
        if rng.random() < 0.08:
            part["isolates"] = rng.choice((True, "mains"))
        if rng.random() < 0.08:
            part["does"] = rng.choice(VERBS)
        if rng.random() < 0.06:
            part["also"] = ["tweezers"]
        if rng.random() < 0.12:
            _lift_in_acts(rng, part)
        parts.append(part)
    joints = []
    for n in range(rng.randint(1, 6)):
        tied = rng.sample([p["id"] for p in parts], min(len(parts), rng.choice((2, 2, 2, 3))))
        joint = {"id": f"j{n}", "kind": rng.choice(("screw", "connector", "adhesive", "clip", "film", "contact")),
                 "of": tied, "side": rng.choice(("any", "front", "back")),
                 "ways": [_way(rng) for _ in range(rng.choice((1, 1, 1, 2, 3)))]}
        if rng.random() < 0.2:
            joint["isolates"] = rng.choice((True, True, "mains"))
        for key, odds in (("needs_safe", 0.1), ("passive", 0.1)):
            if rng.random() < odds:
                joint[key] = True
        joints.append(joint)
    for thing in (*parts[1:], *joints):
        if rng.random() < 0.5:
            thing["behind"] = _behind(rng, thing["id"], parts, joints)
        if rng.random() < 0.08:
            thing["only_in"] = [rng.choice(("one", "two"))]
    for joint in joints:
        for way in joint["ways"]:
            if rng.random() < 0.1:
                way["behind"] = _behind(rng, joint["id"], parts, joints)
    settings = {"hand_is_tool": rng.random() < 0.2, "each_tool": rng.random() < 0.3,
                "isolate_first": rng.random() < 0.75, "tool_change_s": 3.6, "turn_s": rng.choice((0, 1.5, 3.6))}
    if rng.random() < 0.3:
        settings["tool_groups"] = [["pick", "spudger"]]
    if rng.random() < 0.3:
        settings["own_step"] = ["heat", "clean"]
    return {"format": "oddbolt-teardown", "version": 1,
            "device": {"base": "base", "variant": rng.choice(("", "", "one"))},
            "settings": settings, "parts": parts, "joints": joints}


def _lift_in_acts(rng: random.Random, part: dict) -> None:
    """The part is taken hold of with one tool and lifted with another: acts in place of the keys for one."""
    for name in ("tool", "also", "does", "active_s"):
        part.pop(name, None)
    part["acts"] = [{name: value for name, value in act.items() if name != "at_once"}
                    for act in _acts(rng, rng.choice((1, 2, 2, 3)))]


def _way(rng: random.Random) -> dict:
    acts = _acts(rng, rng.choice((1, 1, 1, 2, 2, 3)))
    return acts[0] if len(acts) == 1 and rng.random() < 0.5 else {"acts": acts}


def _acts(rng: random.Random, number: int) -> list[dict]:
    acts = []
    for n in range(number):
        act = {"tool": rng.choice(TOOLS), "active_s": rng.randint(0, 90) / 10}
        if rng.random() < 0.3:
            act["wait_s"] = rng.randint(1, 200) / 10
        if rng.random() < 0.25:
            act["does"] = rng.choice(VERBS)
        if rng.random() < 0.1:
            act["also"] = rng.sample(("tweezers", "suction-cup"), rng.randint(1, 2))
        if n and rng.random() < 0.4:
            act["at_once"] = True
        acts.append(act)
    return acts


def _behind(rng: random.Random, own: str, parts: list[dict], joints: list[dict]) -> list[list[str]]:
    names = [thing["id"] for thing in (*parts, *joints) if thing["id"] != own]
    return [rng.sample(names, min(len(names), rng.choice((1, 1, 2)))) for _ in range(rng.choice((1, 1, 1, 2)))]
