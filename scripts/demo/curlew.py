"""The third demo device: field camera Curlew of the Saltmarsh Survey, waterproof, left out on the marsh for weeks. Two
analysts recorded one each; everything is invented.

What they differ in is named at the end, and so are the faults of each record; a test looks for all of them.
"""

from __future__ import annotations

from typing import Any

from msgspec import Struct

from scripts.demo.describing import Device

OPEN = [["door-hinge"]]
FASTENERS = [
    {"id": "A", "drive": "T", "size": "8", "thread": "M2.5", "length_mm": 8.0, "head_mm": 4.5, "head": "pan",
     "colour": "black"},
    {"id": "B", "drive": "PH", "size": "0", "thread": "M2", "length_mm": 5.0, "head_mm": 3.8, "head": "pan",
     "colour": "silver"},
    {"id": "C", "drive": "PH", "size": "00", "thread": "M1.6", "length_mm": 4.0, "head_mm": 2.9, "head": "pan",
     "colour": "silver"},
]


class Camera(Struct):
    """One analyst's record: the same device, seen by other eyes."""

    by: str
    is_second: bool
    here: Device

    def teardown(self) -> dict[str, Any]:
        second = self.is_second
        return {
            "format": "oddbolt-teardown", "version": 1,
            "device": {"name": "Curlew", "model": "CW-4", "serial": "SMS-C112" if not second else "SMS-C087",
                       "category": "camera", "base": "case", "mass_g": 412, "size_mm": [120, 96, 54],
                       "notes": "Field camera of the Saltmarsh Survey; invented for the demo"},
            "settings": {}, "fasteners": FASTENERS, "parts": self.here.parts, "joints": self.here.joints,
            "sessions": [{"pass": 1, "by": self.by, "place": "Bench 3" if second else "Bench 2",
                          "started": "2026-06-09T08:15:00+00:00" if second else "2026-06-02T09:00:00+00:00"}],
            "log": self.here.log, "views": self.here.views_json(),
            "opinions": [_opinion(self.by, second)],
            "told": [] if second else [
                {"id": "t1", "part": "lens", "by": "", "source": "maker's leaflet",
                 "things": ["door-screws", "door-hinge", "lens-plug", "lens-screws", "lens"],
                 "text": "The leaflet leaves the label and the cell out."}]}

    def scene_json(self) -> dict[str, Any]:
        """What the photographs are drawn from, as it ships for the simulated camera."""
        return self.here.scene_json(cover="door", seam="door-seal", glass="none", tab=[54, 84, 6, 6],
                                    cover_cable=[[62, -3], [60, 4], [63, 10], [61, 18]])


def _opinion(by: str, second: bool) -> dict[str, Any]:
    marks = (("lens", 2, 5), ("battery", 4, 5), ("door", 3, 5)) if second else (
        ("lens", 3, 5), ("battery", 4, 5), ("door", 4, 5))
    return {"by": by, "mark": 5 if second else 7, "of": 10,
            "reasons": "lens behind too much" if second else "door opens well, lens takes long",
            "marks": [{"name": name, "mark": mark, "of": of} for name, mark, of in marks]}


def recorded(by: str, *, is_second: bool) -> Camera:
    here = Device(size_mm=(120.0, 96.0), margin_mm=(12.0, 12.0), mm_per_px=0.09, photo_px=(1600, 1330), opened=OPEN,
                  fasteners=FASTENERS)
    camera = Camera(by=by, is_second=is_second, here=here)
    _parts(here, is_second)
    _joints(here, is_second)
    _log(here, is_second)
    return camera


def _parts(d: Device, second: bool) -> None:
    back = {"side": "back", "behind": OPEN, "basis": "done"}
    d.part("case", "Case", "frame", (0, 0, 120, 96), "frame", 0, mass_g=148)
    d.part("door", "Door", "cover", (1, 1, 118, 94), "cover", 90, role=["back_cover"], basis="done", side="back",
           mass_g=62, label="CURLEW")
    d.part("cell-tray", "Cell tray", "bracket", (8, 56, 70, 34), "plastic", 40, mass_g=9, **back)
    d.part("cell", "Cell", "battery", (10, 58, 66, 30), "cell", 22, role=["battery"], label="Li-ion 7.2 V  3400 mAh",
           side="back", behind=[["door-hinge", "cell-tray"]], basis="done", hazards=["lithium"], mass_g=96, facts=[
               {"name": "capacity", "value": 3400, "unit": "mAh", "basis": "seen"}])
    d.part("main-board", "Main board", "board", (8, 8, 70, 44), "pcb", 15, label="CW-MB rev 4", mass_g=31, **back)
    d.part("card-board", "Card board", "board", (84, 8, 28, 22), "pcb", 14, role=["charging_port"], mass_g=6, **back)
    d.part("lens-bracket", "Lens bracket", "bracket", (84, 36, 30, 8), "steel", 44, mass_g=5, **back)
    lens_behind = [["door-hinge", "lens-bracket", "main-board"]] if second else [["door-hinge", "lens-bracket"]]
    d.part("lens" if not second else "objective", "Lens module" if not second else "Objective", "camera",
           (84, 46, 30, 30), "lens", 20, role=["rear_camera"], side="back", behind=lens_behind, basis="done",
           hazards=["glass"], mass_g=28)
    d.part("lamp-board", "Night lamp", "board", (84, 80, 30, 10), "pcb", 16, mass_g=7, **back)
    d.part("display", "Display", "display", (20, 14, 44, 32), "display", 10, role=["display"], side="back",
           behind=[["door-hinge", "main-board"]], basis="done", hazards=["glass"], mass_g=12)
    d.part("desiccant", "Desiccant bag", "gasket", (14, 44, 16, 8), "foam", 12, basis="seen", captive=True)


def _joints(d: Device, second: bool) -> None:
    lens = "objective" if second else "lens"
    plug_tool = "tweezers" if second else "spudger"
    d.joint("door-label", "Caution label over a screw", "film", ["door", "case"], [(108, 84)], side="back",
            basis="done", ways=[{"tool": "tweezers", "reuse": "destroyed"}]) if not second else None
    spots = [(8, 8), (60, 6), (112, 8), (112, 88), (60, 90), (8, 88)]
    d.screws("door-screws", "Door screws", "A", ["door", "case"], spots, behind=[] if second else [["door-label"]])
    d.joint("door-seal", "Door seal", "adhesive", ["door", "case"], side="back", basis="done",
            behind=[["door-screws"]], ways=[{"tool": "pick", "does": "pry", "active_s": 40,
                                            "reuse": "reusable" if second else "renew"}])
    d.joint("door-hinge", "Door on its cable", "swing", ["door", "case"], side="back", basis="done",
            behind=[["door-screws", "door-seal"]], ways=[{"tool": "hand"}])
    d.plug("door-plug", "Door plug", "wire-to-board", ["door", "main-board"], (62, 12), plug_tool)
    d.screws("tray-screws", "Cell tray screws", "B", ["cell-tray", "case"], [(10, 58), (76, 58), (10, 88), (76, 88)])
    d.plug("cell-plug", "Cell plug", "wire-to-board", ["cell", "main-board"], (40, 54), plug_tool, isolates=True)
    d.joint("cell-pad", "Cell pad", "adhesive", ["cell", "case"], [(43, 73)], side="back", basis="done",
            behind=[["door-hinge", "cell-tray"]], ways=[{"tool": "spudger" if second else "tweezers", "does": "pull",
                                                        "active_s": 25, "reuse": "renew", "hazards": ["cell-bend"]}])
    d.screws("bracket-screws", "Lens bracket screws", "B", ["lens-bracket", "case"], [(86, 40), (112, 40)])
    d.plug("lens-plug", "Lens plug", "board-to-board", [lens, "main-board"], (80, 50), plug_tool,
           behind=[["door-hinge", "lens-bracket"]])
    d.screws("lens-screws", "Lens screws", "C", [lens, "case"], [(86, 48), (112, 48), (86, 74), (112, 74)],
             behind=[["door-hinge", "lens-bracket"]])
    d.plug("lamp-plug", "Lamp plug", "zif", ["lamp-board", "main-board"], (82, 84), plug_tool)
    d.screws("lamp-screws", "Lamp screws", "C", ["lamp-board", "case"], [(86, 85), (112, 85)])
    d.plug("card-plug", "Card plug", "zif", ["card-board", "main-board"], (80, 18), plug_tool)
    d.screws("card-screws", "Card board screws", "B", ["card-board", "case"], [(86, 12), (110, 26)])
    d.screws("board-screws", "Main board screws", "B", ["main-board", "case"], [(10, 10), (76, 10), (10, 50), (76, 50)],
             **({"count": 3} if second else {}))
    d.joint("display-tack", "Display adhesive", "adhesive", ["display", "case"], side="back", basis="done",
            behind=[["door-hinge", "main-board"]], ways=[{"tool": "heat-mat" if second else "pick", "does": "pry",
                                                         "active_s": 60, "reuse": "renew", "hazards": ["glass"]}])
    d.plug("display-plug", "Display plug", "zif", ["display", "main-board"], (42, 46), plug_tool)


def _log(r: Device, second: bool) -> None:
    lens = "objective" if second else "lens"
    r.view("s0-back", "back", None, ["door", *(["door-label"] if not second else [])])
    r.entry("note", text="Dried for a day, card out")
    if not second:
        r.release("door-label", 5, outcome="destroyed")
    r.release("door-screws", 44)
    r.release("door-seal", 52)
    r.release("door-hinge", 4)
    first = ["door-plug", "tray-screws", "cell-plug", "bracket-screws", "lamp-plug", "lamp-screws", "card-plug",
             "card-screws", "board-screws", "display-plug"]
    marked = sum(r.by_id[one].get("count", 0) for one in first if r.by_id[one]["kind"] == "screw")
    r.view("s1-back", "back", marked if second else marked + 1, [*first, "cell-tray", "main-board", "lens-bracket"])
    if not second:  # a fault of the second: the door's plug is opened live
        r.release("cell-plug", 5)
    r.release("door-plug", 5)
    r.remove("door", 3)
    if second:
        r.release("cell-plug", 6)
    cell = [lambda: r.release("tray-screws", 22), lambda: r.remove("cell-tray", 2), lambda: r.release("cell-pad", 28),
            lambda: r.remove("cell", 4)]
    eye = [lambda: r.release("bracket-screws", 12), lambda: r.remove("lens-bracket", 2),
           lambda: r.release("lens-plug", 5), lambda: r.release("lens-screws", 26), lambda: r.remove(lens, 5)]
    side = [lambda: r.release("lamp-plug", 6), lambda: r.release("lamp-screws", 11), lambda: r.remove("lamp-board", 2),
            lambda: r.release("card-plug", 6), lambda: r.release("card-screws", 12), lambda: r.remove("card-board", 2)]
    board = [lambda: r.release("display-plug", 6), lambda: r.release("board-screws", 24),
             lambda: r.remove("main-board", 5)]
    order = [*cell, *side, *board, *eye] if second else [*cell, *eye, *side, *board]
    for n, does in enumerate(order):
        if n == 4:
            r.view("s2-back", "back", None, ["bracket-screws", "lens-bracket"] if not second else ["lamp-screws"])
        if n == 9:
            r.view("s3-back", "back", None, ["card-screws", "board-screws"])
        does()
    r.view("s4-back", "back", None, ["display"])
    r.release("display-tack", 75)
    r.remove("display", 4)
    r.view("s5-back", "back", None, [])


ONE, TWO = recorded("W. Ansel", is_second=False), recorded("M. Ferring", is_second=True)
# What is wrong with each record: the code of the finding, and what it is about.
FAULTS = {"curlew": (("tally-differs", "s1-back"),),
          "curlew-2": (("marks-differ", "board-screws"), ("tally-differs", "s1-back"), ("log-tied", "main-board"))}
LIVE = {"curlew": (), "curlew-2": ("door-plug",)}
# What the two differ in: the thing in the first record, and the fact.
DIFFER = (("door-label", "there"), ("door-screws", "behind"), ("door-seal", "ways"), ("lens", "behind"),
          ("board-screws", "count"), ("display-tack", "ways"), ("cell-plug", "ways"), ("cell-pad", "ways"))
