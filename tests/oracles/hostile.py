"""Good exchange files with something in them that nobody means: what loads must not cripple anything further on."""

from __future__ import annotations

import copy
import random

VALUES = (
    None, True, False, 0, -1, 1, 7, 1.5, -0.0, 1e-9, 1e6, 1e9, 1e308, -1e308, 10 ** 400, 2 ** 63, float("nan"),
    float("inf"), "", " ", "x", "base", "e0", "\ud800", "a\0b", "\x1b[31mred", "<img src='/etc/hostname'>", "=1+1",
    "+cmd", "@x", "-1", "%s {0} {x} %(a)s", "{", "a" * 300, "a" * 19_000, "n" * 1_000_000, "\u202eabc", "e\u0301" * 40,
    "\n\n\n", "..", "/etc/passwd", "../../x", [], [[]], [None], ["base"], [["base"]], [["e0", "e0"]], {}, {"a": 1},
    {"value": [1, {"x": None}]}, [1, 2, 3], [{"id": "x"}], [0] * 5000, "2026-11-27T10:00:00+00:00", "not a time")
NAMES = frozenset(("id", "of", "on", "thing", "things", "behind", "base", "fastener", "format", "version", "at_entry",
                   "amends", "side", "basis", "do", "outcome", "portrait"))  # refused where they are not what they were
KEYS = ("limits", "passes", "facts", "behind", "ways", "acts", "of", "on", "log", "views", "marks", "answers", "refit",
        "opinions", "outline", "plane", "value", "active_s", "wait_s", "seconds", "t", "mass_g", "count", "way", "act",
        "x", "y", "n", "scale", "mm_per_px", "at", "at_entry", "amends", "after", "things", "thing", "do", "outcome",
        "role", "kind", "side", "only_in", "variant", "isolates", "needs_safe", "hazards", "tool", "also", "reuse",
        "tool_groups", "own_step", "format", "version", "extra", "photo", "portrait", "said", "captive", "given")


def places(value, path=()):
    """Every place in plain JSON."""
    yield path
    if isinstance(value, dict):
        for name in value:
            yield from places(value[name], (*path, name))
    elif isinstance(value, list):
        for n in range(len(value)):
            yield from places(value[n], (*path, n))


def changed(data, rng):
    """The same with one to three places changed, and what was done to them."""
    data, done = copy.deepcopy(data), []
    for _ in range(rng.choice((1, 1, 1, 2, 3))):
        found = [place for place in places(data) if place]
        if rng.random() < 0.75:  # as a rule where it has a chance to load
            found = [place for place in found if not NAMES.intersection(place)] or found
        *way, last = rng.choice(found)
        holder = data
        for step in way:
            holder = holder[step]
        what = rng.random()
        if what < 0.08:
            del holder[last]
            value = "deleted"
        elif what < 0.2 and isinstance(holder, dict):
            last, value = rng.choice(KEYS), copy.deepcopy(rng.choice(VALUES))
            holder[last] = value
        elif what < 0.3 and isinstance(holder, list):
            value = "twice"
            holder.insert(rng.randrange(len(holder) + 1), copy.deepcopy(holder[last]))
        elif what < 0.36 and isinstance(holder, list):
            rng.shuffle(holder)
            value = "shuffled"
        elif what < 0.5:  # a value of the same kind from elsewhere in the file
            alike = [place for place in places(data) if place and type(_at(data, place)) is type(holder[last])]
            value = copy.deepcopy(_at(data, rng.choice(alike)))
            holder[last] = value
        else:
            kind = type(holder[last]) if rng.random() < 0.7 else object
            alike = [one for one in VALUES if isinstance(one, (int, float) if kind in (int, float) else kind)]
            value = copy.deepcopy(rng.choice(alike))
            holder[last] = value
        done.append((".".join(map(str, (*way, last))), repr(value)[:60]))
    return data, done


def _at(data, place):
    for step in place:
        data = data[step]
    return data


def mutated(sources, seed):
    rng = random.Random(seed)
    return changed(rng.choice(sources), rng)
