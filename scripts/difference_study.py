"""How well two photographs say what came off: drawn pairs of the demo devices, with what was truly done.

From the root: .venv/bin/python -m scripts.difference_study [--pairs N] [--tuned]

Pairs with even seeds were looked at while thresholds were chosen (--tuned); the others are held out.
Light, shift to 40 px, turn to 3 degrees, scale 1 %, parallax, mirrored lamps and grain differ within each pair; opened
plugs lie aside. One pair in eight has something reaching in over the rim, one in eight shows the other side, and in one
in eight nothing was done. Invented devices, drawn by us: a hint, not a promise.
"""

from __future__ import annotations

import argparse
import json
import math
import os
import random
import statistics
import time
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from functools import cache
from importlib.resources import files
from typing import Any

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from msgspec import Struct  # noqa: E402
from msgspec.structs import replace  # noqa: E402

from oddbolt.imaging.differing.difference import (  # noqa: E402
    CAME_OFF,
    GONE,
    HEAD,
    PRESENT,
    SMALL,
    UNSURE,
    Difference,
    Screw,
    differ,
)
from oddbolt.imaging.differing.outlines import overlap  # noqa: E402
from oddbolt.imaging.grey import grey_of  # noqa: E402
from oddbolt.imaging.registering import device_mask, register  # noqa: E402
from oddbolt.knowledge.covering import IN, RIM_OF_IT, contains, lies_to, rim_of  # noqa: E402
from oddbolt.paint.drawn_bench.instruments import demo_scene  # noqa: E402
from oddbolt.paint.drawn_bench.photo import HANDS, Photo, Scene, Shot  # noqa: E402
from oddbolt.session.recording.seeing.proposals import seen_edge  # noqa: E402
from scripts.study.score import share  # noqa: E402

DEVICES = ("dunlin-2", "bittern")
WORK_PX = 1800  # as the window looks at them
MOST_ACTS = 5
UNMARKED = 0.35  # of the groups of screws
DRAWN_OFF = 0.07  # of its size: so far off is each edge that a person draws
FINELY = 800  # pixels across, for overlaps
FOUND = 0.3  # overlap from which a part counts as found
NOTICED = 0.01  # of the device, from which something that reaches in is shown as hiding it
LEAST_SEEN_MM2 = 12.0  # of a part that can be said to have come off


class Pair(Struct, kw_only=True):
    """What was found of one pair, beside what was done."""

    sort: str  # "acts", "nothing", "hand", "turned over"
    seconds: float
    off_px: float | None  # registration error, median over the device, pixels of the whole photograph
    refused: str
    hidden_share: float
    screws: list[tuple[str, str]]  # true, said
    outlined: list[tuple[bool, bool]]  # came off, said so
    blind: list[float]  # of each part that came off and was seen: the best overlap with a region, 0 to 1
    uncovered: list[bool]  # of each of these under which something is left: whether it has a region
    unmarked: list[bool]  # of each head that went and had no mark: whether a round change was said there
    false_heads: int  # round changes where no head went
    plugs: list[bool]  # of each plug that was opened: whether a small change was said there
    false_regions: int
    inside: list[tuple[bool, str]]  # of each thing that is left, and each part that came off blind: under it, and said
    rough: list[tuple[bool, str]]  # the same of parts with an outline, as badly drawn as people draw


@cache
def _application() -> object:
    """That of the windows, and kept: they may follow in the same process."""
    from oddbolt.ui.shell import application

    return application()


def work(seed: int) -> Pair:
    from PySide6.QtCore import Qt

    from oddbolt.ui.background.pixels import pixels_of

    smooth = Qt.TransformationMode.SmoothTransformation
    _application()
    rng = random.Random(f"pair {seed}")
    sort = {0: "nothing", 1: "hand", 2: "turned over"}.get(seed // 2 % 8, "acts")
    scene = demo_scene(rng.choice(DEVICES) if sort != "turned over" else "dunlin-2")
    log = done_on(scene)
    opened = next((n for n in range(len(log)) if scene.seam in log[:n]), 3)
    first = rng.randint(opened + 1, len(log) - MOST_ACTS - 8)
    last = first + (rng.randint(1, MOST_ACTS) if sort in ("acts", "hand") else 0)
    before, after = (shot(scene, log[:n], rng, seed * 2 + k) for k, n in enumerate((first, last)))
    if sort == "hand":
        after = replace(after, hand=rng.choice(tuple(HANDS)))
    if sort == "turned over":
        after = replace(after, side="front")
    shrink = WORK_PX / scene.photo_px[0]
    pictures = [pixels_of(Photo(scene, one).draw().scaledToWidth(WORK_PX, smooth)).astype("float32")
                for one in (before, after)]
    seen = visible(scene, before)
    unmarked = {id_ for id_ in scene.spots if random.Random(f"{seed} {id_}").random() < UNMARKED}
    screws = [Screw(joint=f"{id_} {n}", x=x * shrink, y=y * shrink, radius_px=r * shrink,
                    part=scene.records[id_]["of"][0])
              for (id_, n), (x, y, r) in seen.items() if id_ not in unmarked]
    outlines = {part: [(x * shrink, y * shrink) for x, y in corners]
                for part, corners in parts_seen(scene, before).items()}
    start = time.perf_counter()
    mask = device_mask(pictures[0])
    *_, registration = register(grey_of(pictures[0]), grey_of(pictures[1]), mask)
    *_, found = differ(pictures[0], pictures[1], registration, mask, screws, list(outlines.items()))
    seconds = time.perf_counter() - start
    now = visible(scene, after)  # heads that both show: things at all levels, as marks are
    both = [] if sort == "turned over" else [(seen[one], now[one]) for one in seen.keys() & now.keys()]
    off = statistics.median(math.dist([one / shrink for one in registration.carry(x * shrink, y * shrink)], (u, v))
                            for (x, y, _), (u, v, _) in both) if both else None
    bare = {at: (x * shrink, y * shrink, r * shrink) for at, (x, y, r) in seen.items() if at[0] in unmarked}
    sockets = [(x * shrink, y * shrink) for x, y in opened_plugs(scene, before, after)]
    left = {at: (x * shrink, y * shrink) for at, (x, y) in things_left(scene, before, after).items()}
    return compared(sort, scene, found, before, after, outlines, bare, sockets, left, seconds, off)


def compared(sort: str, scene: Scene, found: Difference, before: Shot, after: Shot, outlines: dict[str, Any],
             bare: dict[tuple[str, int], tuple[float, float, float]], sockets: list[tuple[float, float]],
             left: dict[tuple[str, int], tuple[float, float]], seconds: float, off: float | None) -> Pair:
    now = visible(scene, after)
    screws = []
    for verdict in found.screws:
        id_, n = verdict.screw.joint.rsplit(" ", 1)
        screws.append((PRESENT if (id_, int(n)) in now else GONE, verdict.says))
    gone = after.removed - before.removed
    here = {part for part in outlines if all(one not in gone for one in carriers(scene, part))}
    outlined = [(part not in here, part in found.lifted) for part in outlines] if not found.refused else []
    blind, uncovered, inside, rough = [], [], [], []
    across = math.hypot(*scene.size_mm) * scene.per_mm * WORK_PX / scene.photo_px[0]
    if not found.refused:
        regions = [region.outline for region in found.regions if region.says in (CAME_OFF, SMALL)]
        for part in gone & outlines.keys():
            best, region = max(((overlap(outlines[part], region, FINELY), region) for region in regions),
                               default=(0.0, ()))
            blind.append(best)
            if any(contains(tuple(outlines[part]), spot) for spot in left.values()):
                uncovered.append(best > FOUND)
            if best > FOUND:
                inside += [(contains(tuple(outlines[part]), spot), lies(spot, region, across))
                           for spot in left.values()]
        for part in gone & outlines.keys() & set(found.lifted):
            drawn = roughly(outlines[part], random.Random(f"{part} {before.seed}"))
            edge = seen_edge(drawn, [region.outline for region in found.regions if region.says == CAME_OFF])
            rough += [(contains(tuple(outlines[part]), spot), lies(spot, edge or drawn, across, is_seen=bool(edge)))
                      for spot in left.values()]
    went = {at: place for at, place in bare.items() if at not in now}
    heads = [region for region in found.regions if region.says == HEAD]
    return Pair(sort=sort, seconds=seconds, off_px=off, refused=found.refused,
                hidden_share=found.hidden_share, screws=screws, outlined=outlined, blind=blind, uncovered=uncovered,
                unmarked=[any(math.dist(place[:2], one.middle) < place[2] for one in heads) for place in went.values()],
                false_heads=sum(all(math.dist(place[:2], one.middle) > place[2] for place in went.values())
                                for one in heads),
                plugs=[any(region.box[0] - 6 <= x <= region.box[2] + 6 and region.box[1] - 6 <= y <= region.box[3] + 6
                           for region in found.regions if region.says in (SMALL, HEAD, CAME_OFF)) for x, y in sockets],
                inside=inside, rough=rough,
                false_regions=sum(r.says in (CAME_OFF, SMALL) for r in found.regions) if sort == "nothing" else 0)


# -- what is drawn

def done_on(scene: Scene) -> list[str]:
    """Things in the order in which they were undone on the demo."""
    name = next(name for name in DEVICES if demo_scene(name) is scene)
    entries = json.loads(files("oddbolt").joinpath("demo", f"{name}.json").read_text("utf-8"))["log"]
    return [entry["thing"] for entry in entries if entry["do"] in ("release", "remove") and entry.get("thing")]


def shot(scene: Scene, done: list[str], rng: random.Random, seed: int) -> Shot:
    near = rng.uniform
    released = frozenset(thing for thing in done if "of" in scene.records.get(thing, {"of": ()}))
    return Shot(released=released | {scene.seam}, removed=frozenset(done) - released, seed=seed,
                shift_mm=(near(-4.6, 4.6) / 2, near(-4.6, 4.6) / 2), turn_deg=near(-1.5, 1.5), zoom=near(0.995, 1.005),
                lamp=(near(0.1, 0.5), near(0.1, 0.4)), brightness=near(0.85, 1.15), parallax=True, aside=True,
                glare=(near(0.1, 0.9), near(0.1, 0.9)) if rng.random() < 0.5 else None)


def carriers(scene: Scene, part: str) -> Iterator[str]:
    while part:
        yield part
        part = scene.records.get(part, {}).get("on", "")


def visible(scene: Scene, one: Shot) -> dict[tuple[str, int], tuple[float, float, float]]:
    """Heads that can be seen: place and radius, px of the photograph."""
    picture = Photo(scene, one)
    picture.painter.end()
    found = {}
    for id_, spots in scene.spots.items():
        record = scene.records[id_]
        if record["kind"] != "screw" or record["side"] == "front" or id_ in one.released \
                or any(part in one.removed for part in record["of"]):
            continue
        level = scene.level_of(id_)
        for n, spot in enumerate(spots):
            if not picture._is_covered(id_, spot):
                out = picture._raised(level, spot)
                x, y = one.to_pixels(scene, spot[0] + out[0], spot[1] + out[1])
                found[id_, n] = (x, y, scene.fasteners[record["fastener"]]["head_mm"] / 2 * scene.per_mm)
    return found


def opened_plugs(scene: Scene, before: Shot, after: Shot) -> list[tuple[float, float]]:
    """Where plugs were opened that could be seen, of parts that are still there; px of the photograph."""
    picture = Photo(scene, before)
    picture.painter.end()
    found = []
    for id_ in after.released - before.released:
        record = scene.records[id_]
        if record["kind"] == "connector" and not any(part in after.removed for part in record["of"]):
            level = scene.level_of(id_)
            for spot in scene.spots.get(id_, ()):
                if not picture._is_covered(id_, spot):
                    out = picture._raised(level, spot)
                    found.append(before.to_pixels(scene, spot[0] + out[0], spot[1] + out[1]))
    return found


def things_left(scene: Scene, before: Shot, after: Shot) -> dict[tuple[str, int], tuple[float, float]]:
    """Places of joints that are still there afterwards and will be undone from this side; px of the photograph."""
    picture = Photo(scene, before)
    picture.painter.end()
    found = {}
    for id_, spots in scene.spots.items():
        record = scene.records[id_]
        if record["side"] == "front" or id_ in after.released or any(part in after.removed for part in record["of"]):
            continue
        for n, spot in enumerate(spots):
            out = picture._raised(scene.level_of(id_), spot)
            found[id_, n] = before.to_pixels(scene, spot[0] + out[0], spot[1] + out[1])
    return found


def lies(spot: tuple[float, float], outline: Any, across_px: float, *, is_seen: bool = True) -> str:
    """As the record tells how a thing lies to what was covered."""
    return lies_to(spot, outline, rim_of(outline, across_px, is_seen=is_seen))


def roughly(outline: list[tuple[float, float]], rng: random.Random) -> tuple[tuple[float, float], ...]:
    """As a person draws it: every edge off by up to `DRAWN_OFF` of its size."""
    spans = []
    for i in (0, 1):
        low, high = min(p[i] for p in outline), max(p[i] for p in outline)
        size = high - low
        new = low + rng.uniform(-DRAWN_OFF, DRAWN_OFF) * size, high + rng.uniform(-DRAWN_OFF, DRAWN_OFF) * size
        spans.append((low, max(size, 1e-6), *new))
    return tuple(tuple(new + (v - low) / size * (far - new) for v, (low, size, new, far) in zip(spot, spans))
                 for spot in outline)


def parts_seen(scene: Scene, one: Shot) -> dict[str, list[tuple[float, float]]]:
    """Outlines of parts that lie there and that nothing higher covers, px of the photograph."""
    picture = Photo(scene, one)
    picture.painter.end()
    there = {id_: shape for id_, shape in scene.shapes.items()
             if 0 < shape.level < 90 and not shape.path and picture._is_there(id_, shape)}
    found = {}
    for id_, shape in there.items():
        x, y, width, height = shape.rect
        covered = sum(overlap_mm2(shape.rect, other.rect) for name, other in there.items()
                      if other.level > shape.level and scene.records[name].get("on", "") != id_)
        if width * height >= LEAST_SEEN_MM2 and covered < 0.3 * width * height:
            out = picture._raised(shape.level, (x + width / 2, y + height / 2))
            found[id_] = [one.to_pixels(scene, a + out[0], b + out[1])
                          for a, b in ((x, y), (x + width, y), (x + width, y + height), (x, y + height))]
    return found


def overlap_mm2(a: tuple[float, ...], b: tuple[float, ...]) -> float:
    wide = min(a[0] + a[2], b[0] + b[2]) - max(a[0], b[0])
    high = min(a[1] + a[3], b[1] + b[3]) - max(a[1], b[1])
    return max(0.0, wide) * max(0.0, high)


# -- the tables

def within(how: str, told: list[tuple[bool, str]]) -> list[str]:
    """Two rows: of what is said to lie within what a part had covered how much does, and the other way round."""
    under = [said for true, said in told if true]
    return [f"| things within what a part had covered, {how}: said within, right | "
            f"{share(sum(true for true, said in told if said == IN), sum(said == IN for _, said in told))} |",
            f"| things that it had covered: said within | {share(sum(said == IN for said in under), len(under))}, "
            f"at the rim {sum(said == RIM_OF_IT for said in under)} |"]


def table(pairs: list[Pair]) -> list[str]:
    same = [pair for pair in pairs if pair.sort != "turned over"]
    off = sorted(pair.off_px for pair in same if pair.off_px is not None)
    screws = [one for pair in pairs if pair.sort in ("acts", "nothing") for one in pair.screws]
    said_gone = [true for true, says in screws if says == GONE]
    truly_gone = [says for true, says in screws if true == GONE]
    said_present = [true for true, says in screws if says == PRESENT]
    outlined = [one for pair in pairs if pair.sort in ("acts", "nothing") for one in pair.outlined]
    off_ones, on_ones = [said for true, said in outlined if true], [said for true, said in outlined if not true]
    blind, uncovered, unmarked, plugs, inside, rough = (
        [one for pair in pairs if pair.sort == "acts" for one in getattr(pair, name)]
        for name in ("blind", "uncovered", "unmarked", "plugs", "inside", "rough"))
    nothing = [pair for pair in pairs if pair.sort == "nothing"]
    hands, over = ([pair for pair in pairs if pair.sort == sort] for sort in ("hand", "turned over"))
    noticed = [pair.refused == "hand" or pair.hidden_share > NOTICED for pair in hands]
    calm = [pair.hidden_share > NOTICED for pair in pairs if pair.sort in ("acts", "nothing")]
    return ["| | |", "|---|---|",
            f"| pairs | {len(pairs)}: {', '.join(f'{sum(p.sort == s for p in pairs)} {s}' for s in SORTS)} |",
            f"| registration error | median {statistics.median(off):.2f} px, worst {off[-1]:.2f} px; under 1 px: "
            f"{share(sum(one < 1 for one in off), len(off))} |",
            f"| turned over: refused | {share(sum(p.refused == 'not-same-side' for p in over), len(over))} |",
            f"| something reaches in: noticed | {share(sum(noticed), len(noticed))} |",
            f"| nothing reaches in: said so all the same | {share(sum(calm), len(calm))} |",
            f"| screws said gone: right | {share(sum(t == GONE for t in said_gone), len(said_gone))} |",
            f"| screws that went: said gone | {share(sum(s == GONE for s in truly_gone), len(truly_gone))}, unsure "
            f"{sum(s == UNSURE for s in truly_gone)} |",
            f"| screws said present: right | {share(sum(t == PRESENT for t in said_present), len(said_present))} |",
            f"| parts with an outline that came off: said so | {share(sum(off_ones), len(off_ones))} |",
            f"| parts that lie there: said to have come off | {share(sum(on_ones), len(on_ones))} |",
            f"| parts without an outline: a region | {share(sum(one > FOUND for one in blind), len(blind))}, overlap "
             f"median {statistics.median(blind) if blind else 0:.2f} |",
            f"| those under which something is left: a region | {share(sum(uncovered), len(uncovered))} |",
            *within("found blind", inside), *within("its outline roughly drawn", rough),
            f"| unmarked heads that went: a round change | {share(sum(unmarked), len(unmarked))}; said where none "
            f"went: {sum(pair.false_heads for pair in same)} in {len(same)} pairs |",
            f"| plugs opened, unmarked: a small change | {share(sum(plugs), len(plugs))} |",
            f"| false regions, a pair where nothing was done | "
            f"{sum(p.false_regions for p in nothing) / max(1, len(nothing)):.2f} |",
            f"| seconds a pair, median | {statistics.median(p.seconds for p in pairs):.2f} |"]

SORTS = ("acts", "nothing", "hand", "turned over")


def study(pairs: int, *, tuned: bool, processes: int = 2) -> list[Pair]:
    seeds = [2 * n + (not tuned) for n in range(pairs)]
    if processes < 2:
        return [work(seed) for seed in seeds]
    with ProcessPoolExecutor(processes) as pool:
        return list(pool.map(work, seeds, chunksize=2))


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("--pairs", type=int, default=120)
    parser.add_argument("--tuned", action="store_true", help="the pairs that thresholds were chosen on")
    parser.add_argument("--processes", type=int, default=2)
    options = parser.parse_args()
    print("\n".join(table(study(options.pairs, tuned=options.tuned, processes=options.processes))))


if __name__ == "__main__":
    main()
