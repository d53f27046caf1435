"""The simulated bench: the demo device under an overhead camera, in the state that the open record says it is in."""

from __future__ import annotations

import json
import random
from collections.abc import Callable
from functools import cache
from importlib.resources import files
from typing import TYPE_CHECKING

from oddbolt.instruments.protocols import BenchInstruments
from oddbolt.instruments.simulated import (
    SimulatedCamera,
    SimulatedFootSwitch,
    SimulatedScale,
    SimulatedStrapTester,
    SimulatedThermometer,
    SimulatedTorqueDriver,
    Stand,
    state_by_places,
)
from oddbolt.model.things import Teardown
from oddbolt.rules.replay import OUTCOMES_THAT_RELEASE, readings
from oddbolt.words.translate import tr

if TYPE_CHECKING:  # what draws is loaded with the first photograph
    from oddbolt.paint.drawn_bench.photo import Scene

PART = "any part"
HANDS_SEEN = 3  # pictures
SCENES = ("dunlin-2", "bittern", "curlew")  # the demo devices, the first for whatever else is under the camera


@cache
def demo_scene(name: str = "dunlin-2") -> Scene:
    """What a demo device is drawn from."""
    from oddbolt.paint.drawn_bench.photo import Scene

    return Scene.from_json(files("oddbolt").joinpath("demo", f"{name}.scene.json").read_bytes())


def scene_for(teardown: Teardown) -> Scene:
    """The device that lies under the simulated camera: the one that the record is called after."""
    name = teardown.device.name.lower()
    return demo_scene(next((scene for scene in SCENES if name.startswith(scene)), SCENES[0]))


def state_of(scene: Scene, teardown: Teardown) -> tuple[frozenset[str], frozenset[str]]:
    """What is released and removed of the drawn device, by the log: by id, else by where the marks lie."""
    released = {e.thing for e in readings(teardown) if e.do == "release" and e.thing
                and e.outcome in OUTCOMES_THAT_RELEASE and (e.act is None or e.act > 0)}
    removed = {e.thing for e in readings(teardown) if e.do == "remove" and e.thing}
    strange = {thing for thing in released | removed if thing not in scene.records}
    part_kinds = {record["kind"] for record in scene.records.values() if "of" not in record}
    marks: dict[str, tuple[str, list[tuple[float, float]]]] = {}
    for view in teardown.views:
        for mark in view.marks:
            if mark.thing in strange and view.side != "front":
                kind = teardown.thing(mark.thing).kind
                if mark.thing in teardown.part and kind not in part_kinds:
                    kind = PART
                marks.setdefault(mark.thing, (kind, []))[1].append((mark.x, mark.y))
    kinds = {id_: record["kind"] for id_, record in scene.records.items()}
    places = places_px(scene)
    kinds |= {f"{PART} {id_}": PART for id_ in scene.shapes if scene.shapes[id_].level > 0}
    places |= {f"{PART} {id_}": places[id_] for id_ in scene.shapes}
    matched = state_by_places(places, kinds, marks)
    found = {thing: id_.removeprefix(f"{PART} ") for thing, id_ in matched.items()}
    for thing, joint in teardown.joint.items():
        if thing in released and joint.kind == "swing":
            # A swing has no mark: the cover is open, whatever held it.
            found[thing] = scene.seam
    return (frozenset(found.get(thing, thing) for thing in released),
            frozenset(found.get(thing, thing) for thing in removed))


def places_px(scene: Scene) -> dict[str, list[tuple[float, float]]]:
    """Where each part and joint of the scene lies on a photograph from the back."""
    found = {}
    for id_, record in scene.records.items():
        spots = scene.spots.get(id_) or ()
        if not spots and "of" not in record and id_ in scene.shapes:
            spots = (middle_mm(scene, id_),)
        if not spots and "of" in record and record["of"][0] in scene.shapes:
            spots = (middle_mm(scene, record["of"][0]),)
        found[id_] = [scene.to_pixels(x, y, "back") for x, y in spots]
    return found


def middle_mm(scene: Scene, part: str) -> tuple[float, float]:
    x, y, width, height = scene.shapes[part].rect
    return x + width / 2, y + height / 2


class SimulatedHands:
    """They go ahead of the record: the next things of the drawn device are undone, in the order of its demo."""

    def __init__(self, present: Callable[[], Teardown]) -> None:
        self._present = present
        self._ahead: list[str] = []
        self._in_for = 0  # pictures on which they are still to be seen

    def work(self, number: int) -> int:
        """Undo so many things more; how many there were."""
        self._in_for = HANDS_SEEN
        released, removed = self.state()
        left = [thing for thing in _order(scene_for(self._present())) if thing not in released | removed]
        self._ahead += left[:number]
        return len(left[:number])

    def are_at_it(self) -> bool:
        """Whether they are seen on the next picture: for the first few after they went to work."""
        self._in_for -= self._in_for > 0
        return self._in_for > 0

    def state(self) -> tuple[frozenset[str], frozenset[str]]:
        """What is released and removed: by the record, and what they did before it is recorded."""
        scene = scene_for(self._present())
        released, removed = state_of(scene, self._present())
        own = frozenset(thing for thing in self._ahead if thing in scene.records)
        joints = frozenset(thing for thing in own if "of" in scene.records[thing])
        return released | joints | ({scene.seam} if "cover-swing" in joints else frozenset()), removed | (own - joints)


def _order(scene: Scene) -> list[str]:
    """Things of a drawn device in the order in which its demo undoes them."""
    name = next(name for name in SCENES if demo_scene(name) is scene)
    log = json.loads(files("oddbolt").joinpath("demo", f"{name}.json").read_text("utf-8"))["log"]
    return list(dict.fromkeys(entry["thing"] for entry in log if entry["do"] in ("release", "remove")))


def simulated_bench(present: Callable[[], Teardown], seed: int = 1) -> BenchInstruments:
    """All instruments, simulated; the camera draws what `present` says, and what the simulated hands did since."""
    hands = SimulatedHands(present)

    def draw(side: str, stand: Stand) -> bytes:
        from oddbolt.paint.drawn_bench.photo import Shot, render, smaller

        scene = scene_for(present())
        released, removed = hands.state()
        if stand.across_px:
            scene = smaller(scene, stand.across_px)
        return render(scene, Shot(side="front" if side == "front" else "back", removed=removed, released=released,
                                  seed=stand.seed, shift_mm=stand.shift_mm, turn_deg=stand.turn_deg, lamp=stand.lamp,
                                  brightness=stand.brightness, hand="glove" if stand.hand else ""))

    camera = SimulatedCamera(draw, random.Random(seed), mm_per_px_of=lambda: scene_for(present()).mm_per_px,
                             hands_at_it=hands.are_at_it)
    return BenchInstruments(name=tr("simulated bench"), simulated=True, camera=camera, scale=SimulatedScale(),
                            thermometer=SimulatedThermometer(), torque_driver=SimulatedTorqueDriver(),
                            strap=SimulatedStrapTester(), foot_switch=SimulatedFootSwitch(),
                            talk_switch=SimulatedFootSwitch(), hands=hands)
