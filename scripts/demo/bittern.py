"""The second demo device: bench radio Bittern of the Saltmarsh Survey, charged from the mains. Everything is invented.

Its record has faults to find, as real ones have: they are named at the end, and a test looks for each of them.
"""

from __future__ import annotations

from typing import Any

from scripts.demo.describing import Device

OPEN = [["cover-swing"]]  # what lies in the first layer
GUARDED = [["cover-swing", "supply-guard"]]
FASTENERS = [
    {"id": "A", "drive": "PH", "size": "1", "thread": "M3", "length_mm": 10.0, "head_mm": 5.6, "head": "pan",
     "colour": "black"},
    {"id": "B", "drive": "PH", "size": "1", "thread": "M3", "length_mm": 6.0, "head_mm": 5.6, "head": "pan",
     "colour": "silver"},
    {"id": "C", "drive": "PH", "size": "0", "thread": "M2", "length_mm": 5.0, "head_mm": 3.8, "head": "pan",
     "colour": "silver"},
    {"id": "D", "drive": "T", "size": "10", "thread": "M3", "length_mm": 8.0, "head_mm": 5.6, "head": "pan",
     "colour": "silver"},
]
TOOLS = [{"id": "discharge-resistor", "name": "Discharge resistor with probes", "class": "commercial"}]

here = Device(size_mm=(220.0, 140.0), margin_mm=(14.0, 13.0), mm_per_px=0.12, photo_px=(2060, 1380), opened=OPEN,
              fasteners=FASTENERS)
part, joint, screws, plug = here.part, here.joint, here.screws, here.plug
BACK = {"side": "back", "behind": OPEN, "basis": "done"}


def describe_parts() -> None:
    part("frame", "Chassis", "frame", (0, 0, 220, 140), "frame", 0, mass_g=410)
    part("top-cover", "Top cover", "cover", (1, 1, 218, 138), "cover", 90, role=["back_cover"], basis="done",
         side="back",
         mass_g=236, label="BITTERN", behind=[["foot-left", "foot-right"]])
    part("foot-left", "Left foot", "gasket", (10, 8, 14, 8), "foam", 92, side="back", basis="done", mass_g=2.1)
    part("foot-right", "Right foot", "gasket", (196, 8, 14, 8), "foam", 92, side="back", basis="done", mass_g=2.1)
    part("speaker", "Loudspeaker", "speaker", on="top-cover", role=["speaker"], side="front", basis="done",
         behind=[["frame"]], mass_g=118, hazards=["magnet"])
    part("mains-lead", "Mains lead", "cable", side="edge", basis="done", mass_g=140)
    part("supply-guard", "Supply guard", "shield", (10, 10, 62, 56), "plastic", 50, label="HIGH VOLTAGE", mass_g=24,
         **BACK)
    part("supply-board", "Mains supply", "mains supply", (12, 12, 58, 52), "pcb", 20, label="SUPPLY 230 V", side="back",
         behind=GUARDED, basis="done", hazards=["mains", "capacitor"], mass_g=96)
    part("reservoir", "Reservoir capacitor", "capacitor", (20, 18, 20, 20), "lens", 24, on="supply-board", captive=True,
         basis="seen", hazards=["capacitor"], facts=[
             {"name": "capacitance", "value": 150, "unit": "µF", "basis": "seen"},
             {"name": "rated voltage", "value": 400, "unit": "V", "basis": "seen"}])
    part("fuse", "Fuse", "fuse", (48, 50, 18, 6), "glass", 26, on="supply-board", side="back", behind=GUARDED,
         basis="done", facts=[{"name": "rating", "value": "T 1 A", "basis": "seen"}])
    part("cell-strap", "Cell strap", "bracket", (30, 94, 12, 40), "steel", 40, mass_g=9, **BACK)
    part("cell", "Cell", "battery", (10, 90, 84, 46), "cell", 22, role=["battery"], label="Li-ion 7.4 V  5200 mAh",
         side="back", behind=[["cover-swing", "cell-strap"]], basis="done", hazards=["lithium"], mass_g=212, facts=[
             {"name": "capacity", "value": 5200, "unit": "mAh", "basis": "seen"},
             {"name": "nominal voltage", "value": 7.4, "unit": "V", "basis": "seen"}])
    part("main-board", "Main board", "board", (84, 12, 84, 74), "pcb", 15, label="BT-MB rev 2", mass_g=72, **BACK)
    part("tuner-shield", "Tuner shield", "shield", (92, 18, 34, 28), "shield", 30, on="main-board", mass_g=7, **BACK)
    part("tuner-board", "Tuner", "board", (94, 20, 30, 24), "pcb", 25, on="main-board", side="back",
         behind=[["cover-swing", "tuner-shield"]], basis="done", mass_g=11)
    part("display-cable", "Display cable", "cable", (128, 84, 40, 8), "cable", 32, path=[(132, 80), (132, 98), (182,
         98)],
         mass_g=1, **BACK)
    part("display", "Display module", "display", (176, 88, 38, 44), "display", 18, role=["display"], side="back",
         behind=[["cover-swing", "display-bracket"]], basis="done", hazards=["glass"], mass_g=38)
    part("display-bracket", "Display bracket", "bracket", (174, 104, 42, 10), "steel", 36, mass_g=8, **BACK)
    part("jack-board", "Socket board", "port", (182, 12, 32, 26), "pcb", 14, role=["charging_port"], label="AUX",
         mass_g=9,
         **BACK)
    part("aerial", "Rod aerial", "antenna", (178, 44, 36, 6), "antenna", 16, mass_g=31, **BACK)
    part("knob", "Tuning knob", "button", role=["button"], side="front", basis="done", mass_g=14)
    part("seal", "Panel seal", "gasket", side="back", behind=[["cover-swing"]], basis="seen")


def describe_joints() -> None:
    joint("mains-inlet", "Mains inlet", "connector", ["mains-lead", "frame"], type="mains", side="edge", basis="done",
          isolates="mains", ways=[{"tool": "hand"}])
    joint("foot-left-tack", "Left foot adhesive", "adhesive", ["foot-left", "top-cover"], [(17, 12)], side="back",
          basis="done", ways=[{"tool": "spudger", "does": "pry", "active_s": 8, "reuse": "renew"}])
    joint("foot-right-tack", "Right foot adhesive", "adhesive", ["foot-right", "top-cover"], [(203, 12)], side="back",
          basis="done", ways=[{"tool": "spudger", "does": "pry", "active_s": 8, "reuse": "renew"}])
    screws("cover-screws", "Top cover screws", "A", ["top-cover", "frame"], [(17, 12), (203, 12), (17, 128), (203,
           128)],
           behind=[["foot-left", "foot-right"]])
    joint("cover-clips", "Top cover clips", "clip", ["top-cover", "frame"], side="back", basis="done",
          behind=[["cover-screws"]], ways=[{"tool": "pick"}])
    joint("cover-swing", "Cover on its cable", "swing", ["top-cover", "frame"], side="back", basis="done",
          behind=[["cover-screws", "cover-clips"]], ways=[{"tool": "hand"}])
    plug("speaker-plug", "Loudspeaker plug", "wire-to-board", ["speaker", "main-board"], (150, 22), "tweezers")
    screws("speaker-screws", "Loudspeaker screws", "B", ["speaker", "top-cover"], [], count=4, side="front",
           behind=[["frame"]])
    joint("guard-label", "Caution label", "film", ["supply-guard", "frame"], [(66, 60)], behind=OPEN, side="back",
          basis="done", ways=[{"tool": "tweezers", "reuse": "destroyed"}])
    screws("guard-screws", "Supply guard screws", "B", ["supply-guard", "frame"], [(14, 14), (66, 60)],
           behind=[["cover-swing", "guard-label"]])
    joint("charge", "Charge of the reservoir", "charge", ["supply-board", "frame"], [(30, 28)], side="back",
          behind=GUARDED, basis="done", isolates="capacitor", ways=[
              {"tool": "discharge-resistor", "does": "discharge", "active_s": 15, "wait_s": 60,
               "hazards": ["capacitor"]}])
    joint("fuse-clips", "Fuse clips", "clip", ["fuse", "supply-board"], [(57, 53)], side="back", behind=GUARDED,
          basis="done", needs_safe=True, ways=[{"tool": "spudger"}])
    plug("supply-plug", "Supply plug", "wire-to-board", ["supply-board", "main-board"], (88, 60), "spudger",
         behind=[["cover-swing"]])
    screws("supply-screws", "Mains supply screws", "B", ["supply-board", "frame"], [(16, 58), (64, 18), (18, 44)],
           behind=GUARDED, needs_safe=True)
    plug("cell-plug", "Cell plug", "wire-to-board", ["cell", "main-board"], (96, 80), "spudger", isolates="cell")
    screws("strap-screws", "Cell strap screws", "B", ["cell-strap", "frame"], [(36, 97), (36, 131)])
    joint("cell-pads", "Cell pads", "adhesive", ["cell", "frame"], [(52, 113)], side="back",
          behind=[["cover-swing", "cell-strap"]], basis="done", ways=[
              {"tool": "hand", "does": "pull", "active_s": 20, "reuse": "renew", "hazards": ["cell-bend"]}])
    joint("shield-clips", "Tuner shield clips", "clip", ["tuner-shield", "main-board"], [(94, 32), (124, 32)],
          side="back",
          behind=OPEN, basis="done", ways=[{"tool": "spudger"}])
    plug("tuner-plug", "Tuner plug", "board-to-board", ["tuner-board", "main-board"], (109, 32), "spudger",
         behind=[["cover-swing", "tuner-shield"]])
    plug("aerial-coax", "Aerial coaxial", "coaxial", ["aerial", "main-board"], (162, 40), "plug-lifter", passive=True)
    screws("aerial-screw", "Aerial screw", "C", ["aerial", "frame"], [(196, 47)])
    plug("display-plug", "Display plug on the board", "zif", ["display-cable", "main-board"], (132, 80), "spudger")
    plug("display-far", "Display plug at the display", "zif", ["display-cable", "display"], (182, 98), "spudger")
    screws("display-screws", "Display bracket screws", "C", ["display-bracket", "frame"], [(178, 109), (212, 109)])
    joint("display-clips", "Display clips", "clip", ["display", "frame"], [(180, 126), (210, 126)], side="back",
          behind=[["cover-swing", "display-bracket"]], basis="done", ways=[{"tool": "pick"}])
    plug("jack-plug", "Socket plug", "wire-to-board", ["jack-board", "main-board"], (158, 58), "tweezers")
    screws("jack-screws", "Socket screws", "C", ["jack-board", "frame"], [(186, 34), (210, 34)])
    screws("board-screws", "Main board screws", "D", ["main-board", "frame"],
           [(88, 16), (164, 16), (88, 48), (164, 82), (126, 70)])
    joint("knob-fit", "Tuning knob fit", "press-fit", ["knob", "main-board"], side="front", basis="done",
          ways=[{"tool": "hand"}])


def record_log() -> None:
    r = here
    r.view("s0-back", "back", None, ["top-cover", "foot-left-tack", "foot-right-tack"])
    r.entry("note", text="Mains lead out, cell at 20 %, left for ten minutes")
    r.release("mains-inlet", 3)
    r.remove("mains-lead", 2)
    r.entry("aid", text="tape over terminals", thing="mains-inlet", value="on")
    r.release("foot-left-tack", 8)
    r.remove("foot-left", 2)
    r.release("foot-right-tack", 9)
    r.remove("foot-right", 2)
    r.release("cover-screws", 31)
    r.release("cover-clips", 14)
    r.release("cover-swing", 4)
    first = ["guard-label", "guard-screws", "strap-screws", "shield-clips", "aerial-screw", "display-screws",
             "jack-screws",
             "board-screws", "speaker-plug", "supply-plug", "cell-plug", "aerial-coax", "display-plug", "jack-plug"]
    marked = sum(here.by_id[one].get("count", 0) for one in first if here.by_id[one]["kind"] == "screw")
    r.view("s1-back", "back", marked + 1, [*first, "cell-strap", "supply-guard", "main-board"])  # a fault: one too many
    r.reach("guard-label", "strap-screws", "shield-clips", "aerial-screw", "display-screws", "jack-screws",
            "board-screws",
            "speaker-plug", "supply-plug", "cell-plug", "aerial-coax", "display-plug", "jack-plug")
    r.release("speaker-plug", 5)  # a fault: before the cell's
    r.release("cell-plug", 4)
    r.remove("top-cover", 3)
    r.view("s2-back", "back", None, ["cell-plug", "strap-screws", "guard-screws", "display-screws"])
    r.release("guard-label", 5, outcome="destroyed")
    r.release("guard-screws", 17)
    r.remove("supply-guard", 3)
    r.view("s3-back", "back", None, ["charge", "fuse-clips", "supply-screws", "supply-board"])
    r.release("charge", 15)
    r.entry("measure", thing="reservoir", value=1.2, unit="V", text="multimeter, after discharge")
    r.release("fuse-clips", 6)
    r.remove("fuse", 2)
    r.release("supply-plug", 5)
    r.release("supply-screws", 24)
    r.remove("supply-board", 4)
    r.release("strap-screws", 15)
    r.remove("cell-strap", 2)
    r.view("s4-back", "back", None, ["cell-pads", "cell"])
    r.release("cell-pads", 22)
    r.remove("cell", 5)
    r.entry("measure", thing="cell", value=211.6, unit="g", text="scale")
    r.release("shield-clips", 9)
    r.remove("tuner-shield", 2)
    r.release("tuner-plug", 5)
    r.remove("tuner-board", 3)
    r.release("aerial-coax", 4)
    r.release("aerial-screw", 8)
    r.remove("aerial", 2)
    r.release("display-plug", 6)
    r.release("display-far", 7)
    r.remove("display-cable", 2)
    r.release("display-screws", 14)
    r.remove("display-bracket", 2)
    r.release("display-clips", 12)
    r.remove("display", 4)
    r.view("s5-back", "back", None, ["jack-screws", "board-screws", "jack-plug"])
    r.release("jack-plug", 4)
    r.remove("jack-board", 3)  # a fault: its screws were never undone by the record
    r.release("knob-fit", 4)
    r.remove("knob", 2)
    r.release("board-screws", 34)
    r.remove("main-board", 5)
    r.view("s6-back", "back", None, [])
    r.entry("turn", 3, value="front")
    r.release("speaker-screws", 26)
    r.remove("speaker", 4)


describe_parts()
describe_joints()
record_log()


def teardown() -> dict[str, Any]:
    """The exchange-file object."""
    return {
        "format": "oddbolt-teardown", "version": 1,
        "device": {"name": "Bittern", "model": "BT-2", "serial": "SMS-R031", "category": "radio", "base": "frame",
                   "mass_g": 1460, "size_mm": [220, 140, 58],
                   "notes": "Bench radio of the Saltmarsh Survey; invented for the demo"},
        "settings": {}, "tools": TOOLS, "fasteners": FASTENERS, "parts": here.parts, "joints": here.joints,
        "sessions": [{"pass": 1, "by": "M. Ferring", "started": "2026-04-14T13:30:00+00:00", "place": "Bench 1"}],
        "log": here.log, "views": here.views_json(), "refit": refit(),
    }


def refit() -> list[dict[str, Any]]:
    return [
        {"do": "fit", "thing": "main-board"},
        # A fault, copied with its unit: no screw of M3 bears it.
        {"do": "fasten", "thing": "board-screws", "passes": [{"level": "tight", "torque": 60, "unit": "N·m"}]},
        {"do": "fit", "thing": "cell"},
        {"do": "fit", "thing": "cell-strap"},
        {"do": "fasten", "thing": "strap-screws", "passes": [{"level": "tight", "torque_ncm": 45}]},
        {"do": "fit", "thing": "seal", "align": "lip to the front"},  # a fault: it was never taken off
        {"do": "fasten", "thing": "cell-plug"},
        {"do": "fit", "thing": "supply-guard"},
        {"do": "fit", "thing": "top-cover"},
        {"do": "check", "text": "Insulation between mains plug and chassis measured by a licensed electrician",
         "blocks": True},
    ]


# What is wrong with the record: the code of the finding, and what it is about.
FAULTS = (("tally-differs", "s1-back"), ("never-released", "jack-screws"), ("log-tied", "jack-board"),
          ("first-met-at-refit", "seal"), ("left-on", "mains-inlet"), ("torque-cannot-be", "board-screws"))
LIVE = ("speaker-plug",)


def scene_json() -> dict[str, Any]:
    """What the photographs are drawn from, as it ships for the simulated camera."""
    return here.scene_json(cover="top-cover", seam="cover-swing", glass="none", tab=[90, 100, 6, 8],
                           cover_cable=[[150, -4], [148, 4], [152, 12], [150, 22]])
