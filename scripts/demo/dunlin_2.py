"""The demo device: slate tablet Dunlin 2 of the Saltmarsh Survey. Every part, figure and person is invented."""

from __future__ import annotations

from typing import Any

from scripts.demo.describing import Device

WIDTH_MM, HEIGHT_MM = 250.0, 160.0
MARGIN_MM = (13.0, 12.0)  # where the device lies in the photograph
MM_PER_PX = 0.115
PHOTO_PX = (2400, 1600)

OPEN = [["cover-swing"]]  # what lies in the first layer
TOOLS = [
    {"id": "plug-lifter", "name": "Plug lifter, plastic", "class": "commercial"},
]
FASTENERS = [
    {"id": "A", "drive": "PH", "size": "00", "thread": "M1.4", "length_mm": 3.0, "head_mm": 2.5, "head": "pan",
     "colour": "black"},
    {"id": "B", "drive": "PH", "size": "00", "thread": "M1.4", "length_mm": 4.5, "head_mm": 2.5, "head": "pan",
     "colour": "black"},
    {"id": "C", "drive": "PH", "size": "00", "thread": "M1.6", "length_mm": 4.0, "head_mm": 3.0, "head": "pan",
     "colour": "silver"},
    {"id": "D", "drive": "T", "size": "5", "thread": "M2", "length_mm": 5.0, "head_mm": 3.8, "head": "pan",
     "colour": "silver"},
    {"id": "E", "drive": "Y", "size": "000", "thread": "M1.2", "length_mm": 2.5, "head_mm": 2.0, "head": "flat",
     "colour": "black"},
    {"id": "F", "drive": "T", "size": "5", "thread": "M2", "length_mm": 7.0, "head_mm": 3.8, "head": "pan",
     "colour": "silver"},
]


here = Device(size_mm=(WIDTH_MM, HEIGHT_MM), margin_mm=MARGIN_MM, mm_per_px=MM_PER_PX, photo_px=PHOTO_PX, opened=OPEN,
              fasteners=FASTENERS)
part, joint, screws, plug = here.part, here.joint, here.screws, here.plug
parts, joints, log, views = here.parts, here.joints, here.log, here.views


def describe_parts() -> None:
    part("frame", "Mid frame", "frame", (0, 0, 250, 160), "frame", 0, mass_g=86)
    part("back-cover", "Back cover", "cover", (1, 1, 248, 158), "cover", 90, role=["back_cover"], basis="done",
         side="back", mass_g=74, facts=[{"name": "material", "value": "glass-filled nylon", "basis": "seen"}],
         spare={"available": "public", "includes": ["camera-window"]}, label="DUNLIN 2")
    part("camera-window", "Rear camera window", "window", (120, 12, 22, 22), "glass", 91, on="back-cover", side="back",
         basis="seen", mass_g=1.1, label="")
    part("cover-lid", "Cover plug bracket", "bracket", (92, 58, 18, 9), "steel", 40, side="back", behind=OPEN,
         basis="done", mass_g=0.9)
    part("card-tray", "Card tray", "tray", (246, 20, 4, 18), "plastic", 2, side="edge", basis="done", mass_g=1.2)
    part("battery-lid", "Battery plug bracket", "bracket", (112, 62, 22, 11), "steel", 41, side="back", behind=OPEN,
         basis="done", mass_g=1.4)
    part("battery", "Cell", "battery", (70, 76, 152, 72), "cell", 20, role=["battery"], side="back", behind=OPEN,
         basis="done", hazards=["lithium"], mass_g=128, label="Li-ion 3.85 V  7900 mAh",
         facts=[{"name": "capacity", "value": 7900, "unit": "mAh", "basis": "seen"},
                {"name": "nominal voltage", "value": 3.85, "unit": "V", "basis": "seen"}],
         spare={"available": "public", "includes": []})
    part("main-board", "Main board", "board", (14, 12, 106, 58), "pcb", 15, side="back", behind=OPEN, basis="done",
         mass_g=31, label="DL2-MB rev 4")
    part("processor-shield", "Processor shield", "shield", (26, 22, 34, 26), "shield", 25, on="main-board",
         side="back", behind=[["heat-spreader"]], basis="done", mass_g=2.2)
    part("heat-spreader", "Graphite sheet", "heat spreader", (22, 18, 62, 34), "graphite", 30, on="main-board",
         side="back", behind=OPEN, basis="done", mass_g=1.0)
    part("processor", "Processor", "chip", on="processor-shield", captive=True, basis="seen")
    part("memory", "Memory", "chip", on="processor-shield", captive=True, basis="seen")
    part("storage", "Storage", "chip", on="main-board", captive=True, basis="seen")
    part("power-chip", "Power management", "chip", on="main-board", captive=True, basis="seen")
    part("radio-shield", "Radio shield", "shield", (64, 22, 18, 26), "shield", 25, on="main-board", side="back",
         behind=[["heat-spreader"]], basis="assumed", mass_g=1.3)
    part("radio-chip", "Radio", "chip", on="radio-shield", captive=True, basis="seen")
    part("thermal-pad", "Thermal pad", "heat path", on="processor-shield", captive=True, basis="seen")
    part("position-receiver", "Position receiver", "board", on="main-board", basis="done", side="front",
         behind=[["frame"]], mass_g=2.4)
    part("board-dot", "Moisture indicator, board", "moisture indicator", (104, 16, 4, 4), "dot", 16, on="main-board",
         captive=True, basis="seen", facts=[{"name": "state", "value": "white", "unit": "", "basis": "seen"}])
    part("port-dot", "Moisture indicator, port", "moisture indicator", (229, 66, 4, 4), "dot", 16, on="port-board",
         captive=True, basis="seen", facts=[{"name": "state", "value": "red", "unit": "", "basis": "seen"}])
    part("camera-bracket", "Rear camera bracket", "bracket", (121, 10, 26, 26), "steel", 35, side="back", behind=OPEN,
         basis="done", mass_g=2.0)
    part("rear-camera", "Rear camera", "camera", (124, 13, 18, 18), "lens", 22, role=["rear_camera"], side="back",
         behind=[["camera-bracket"]], basis="done", mass_g=3.1,
         facts=[{"name": "resolution", "value": 12, "unit": "Mpx", "basis": "told"}])
    part("front-camera", "Front camera", "camera", (152, 4, 11, 9), "lens", 18, role=["front_camera"], side="back",
         behind=OPEN, basis="done", mass_g=1.0)
    part("light-board", "Light sensor board", "board", (168, 4, 14, 7), "pcb", 14, side="back", behind=OPEN,
         basis="seen", mass_g=0.6)
    part("array-board", "Array microphone board", "board", (152, 20, 40, 13), "pcb", 16, side="back", behind=OPEN,
         basis="done", mass_g=4.2, label="ARRAY")
    part("radio-board", "Second radio board", "board", (196, 44, 28, 22), "pcb", 17, side="back", behind=OPEN,
         basis="done", only_in=["dual"], mass_g=5.5, label="R2")
    part("radio-blank", "Radio blank", "foam", side="back", behind=OPEN, basis="told", only_in=["single"])
    part("speaker-left", "Left loudspeaker", "speaker", (6, 98, 56, 52), "speaker", 18, role=["speaker"], side="back",
         behind=OPEN, basis="done", mass_g=9.5)
    part("speaker-right", "Right loudspeaker", "speaker", (196, 8, 46, 30), "speaker", 18, role=["speaker"],
         side="back", behind=OPEN, basis="done", mass_g=9.4)
    part("port-bracket", "Port bracket", "bracket", (226, 72, 20, 15), "steel", 36, side="back", behind=OPEN,
         basis="done", mass_g=1.8)
    part("port-board", "Charging port board", "board", (224, 58, 24, 44), "pcb", 14, role=["charging_port"],
         side="back", behind=OPEN, basis="done", mass_g=5.2, label="PORT")
    part("port-cable", "Port cable", "cable", (100, 88, 124, 9), "cable", 6, on="port-board", captive=True,
         basis="done", path=[(104, 68), (104, 92), (226, 92)])
    part("port-seal", "Port seal", "gasket", (247, 74, 3, 11), "foam", 15, on="port-board", side="back",
         basis="seen", behind=[["frame"]], refit="never", mass_g=0.2)
    part("main-microphone", "Main microphone", "microphone", (238, 94, 5, 5), "dot", 16, on="port-board",
         role=["microphone"], captive=True, basis="seen")
    part("button-cable", "Button cable", "cable", (30, 3, 80, 6), "cable", 8, role=["button"], side="back",
         behind=[["main-board"]], basis="done", mass_g=1.6, path=[(70, 16), (70, 6), (34, 6), (106, 6)])
    part("power-key", "Power key", "button", (36, -1, 12, 3), "plastic", 3, side="back", behind=[["button-cable"]],
         basis="done", mass_g=0.4)
    part("volume-key", "Volume key", "button", (76, -1, 24, 3), "plastic", 3, side="back", behind=[["button-cable"]],
         basis="done", mass_g=0.6)
    part("motor", "Vibration motor", "motor", (6, 76, 12, 18), "steel", 13, side="back", behind=OPEN, basis="done",
         mass_g=1.5)
    part("antenna-left", "Left antenna", "antenna", (2, 20, 8, 44), "antenna", 12, side="back", behind=OPEN,
         basis="done", mass_g=1.1)
    part("antenna-right", "Right antenna", "antenna", (240, 106, 8, 44), "antenna", 12, side="back", behind=OPEN,
         basis="done", mass_g=1.1)
    part("coax-long", "Long coaxial cable", "cable", (110, 70, 134, 6), "wire", 21, side="back", behind=OPEN,
         basis="done", mass_g=0.8, path=[(112, 60), (114, 73), (226, 73), (226, 108), (242, 110)])
    part("jack", "Listening jack", "port", (4, 66, 14, 8), "plastic", 13, side="back", behind=OPEN, basis="done",
         mass_g=1.7)
    part("jack-seal", "Jack seal", "gasket", (1, 67, 3, 6), "foam", 13, on="jack", side="back", behind=[["frame"]],
         basis="seen", refit="never", mass_g=0.1)
    part("strap-lug", "Strap lug", "bracket", (4, 152, 8, 7), "steel", 12, count=2, side="back", behind=OPEN,
         basis="seen", mass_g=3.0)
    part("pen-magnet", "Pen magnet", "magnet", (120, 151, 40, 6), "steel", 9, side="back", behind=OPEN,
         basis="told", hazards=["magnet"], mass_g=4.8)
    part("display-lid", "Display plug bracket", "bracket", (16, 54, 24, 11), "steel", 39, side="back", behind=OPEN,
         basis="done", mass_g=1.2)
    part("display", "Display", "display", (2, 2, 246, 156), "display", 90, role=["display"], side="front",
         basis="done", hazards=["glass"], mass_g=142, front=True,
         spare={"available": "professional", "includes": []})
    part("sun-filter", "Sun filter", "film", on="display", captive=True, basis="told")


def describe_joints() -> None:
    joint("tray-latch", "Tray latch", "slide", ["card-tray", "frame"], side="edge", basis="done",
          ways=[{"tool": "tray-pin", "active_s": 6}])
    joint("cover-seam", "Cover seam", "adhesive", ["back-cover", "frame"], side="back", basis="done",
          ways=[{"acts": [{"tool": "heat-mat", "does": "heat", "active_s": 10, "wait_s": 300,
                           "limits": [{"temp_c": [60, 70]}]},
                          {"tool": "pick", "does": "pry", "active_s": 110, "at_once": True, "also": ["suction-cup"],
                           "limits": [{"where": "right edge", "depth_mm": [0, 3],
                                       "keep_off": [{"thing": "antenna-right", "mm": 3}]}]}],
                 "reuse": "renew", "resupplied": True, "hazards": ["hot"]},
                {"acts": [{"tool": "pick", "does": "pry", "active_s": 420, "also": ["suction-cup"]}],
                 "reuse": "renew", "resupplied": True, "hazards": ["glass"]}])
    joint("cover-swing", "Cover on its cable", "swing", ["back-cover", "frame"], side="back", basis="done",
          behind=[["cover-seam"]], ways=[{"tool": "hand", "active_s": 5}])
    screws("cover-lid-screws", "Cover plug bracket", "E", ["cover-lid", "frame"], [(95, 62.5), (107, 62.5)])
    plug("cover-plug", "Cover plug", "board-to-board", ["back-cover", "main-board"], (101, 62),
         behind=[["cover-swing", "cover-lid"]])
    joint("window-ring", "Window ring", "adhesive", ["camera-window", "back-cover"], side="back", basis="seen",
          ways=[{"acts": [{"tool": "heat-gun", "does": "heat", "active_s": 60, "wait_s": 20},
                          {"tool": "spudger", "does": "pry", "active_s": 40, "at_once": True}], "reuse": "renew"}],
          behind=[["cover-swing"]])
    joint("label-film", "Label over a screw", "film", ["battery-lid", "frame"], [(132, 71)], side="back", behind=OPEN,
          basis="done", ways=[{"tool": "tweezers", "reuse": "destroyed"}])
    screws("battery-lid-screws", "Battery plug bracket", "A", ["battery-lid", "frame"],
           [(115, 67), (123, 71), (132, 67)], behind=[["label-film"]])
    plug("battery-plug", "Battery plug", "board-to-board", ["battery", "main-board"], (117, 66),
         behind=[["battery-lid"]], isolates=True)
    joint("cell-glue", "Cell adhesive", "adhesive", ["battery", "frame"], side="back", behind=OPEN, basis="done",
          ways=[{"tool": "tweezers", "does": "pull", "active_s": 45, "reuse": "renew", "resupplied": True,
                 "hazards": ["cell-bend"]},
                {"acts": [{"tool": "dropper", "does": "soak", "active_s": 12, "wait_s": 60},
                          {"tool": "card", "does": "pry", "active_s": 50}],
                 "reuse": "renew", "resupplied": True, "hazards": ["cell-bend", "solvent"]}])
    joint("spreader-tack", "Graphite sheet", "film", ["heat-spreader", "main-board"], side="back", behind=OPEN,
          basis="done", ways=[{"tool": "tweezers", "active_s": 15, "reuse": "renew"}])
    joint("processor-clips", "Processor shield clips", "clip", ["processor-shield", "main-board"], count=8,
          side="back", behind=[["heat-spreader"]], basis="done", ways=[{"tool": "spudger"}])
    joint("radio-clips", "Radio shield clips", "clip", ["radio-shield", "main-board"], count=6, side="back",
          behind=[["heat-spreader"]], basis="assumed", ways=[{"tool": "spudger"}])
    plug("receiver-plug", "Receiver plug", "board-to-board", ["position-receiver", "main-board"], (60, 60),
         behind=[["frame"]], side="front", passive=True)
    screws("receiver-screws", "Receiver", "E", ["position-receiver", "main-board"], [], count=2, side="front",
           behind=[["frame"]])
    screws("camera-screws", "Camera bracket", "B", ["camera-bracket", "frame"], [(123, 12), (145, 12), (123, 34)])
    plug("rear-camera-plug", "Rear camera plug", "board-to-board", ["rear-camera", "main-board"], (112, 28),
         "plug-lifter", behind=[["camera-bracket"]])
    plug("front-camera-plug", "Front camera plug", "board-to-board", ["front-camera", "main-board"], (112, 17),
         "plug-lifter", basis="assumed")
    joint("front-camera-pad", "Front camera pad", "adhesive", ["front-camera", "frame"], side="back", behind=OPEN,
          basis="done", ways=[{"tool": "tweezers", "does": "pull", "active_s": 12, "reuse": "renew"}])
    joint("light-tack", "Light sensor tack", "adhesive", ["light-board", "frame"], side="back", behind=OPEN,
          basis="assumed", ways=[{"tool": "tweezers", "does": "pull", "active_s": 8, "reuse": "renew"}])
    plug("light-plug", "Light sensor plug", "zif", ["light-board", "array-board"], (176, 14))
    screws("array-screws", "Array board", "A", ["array-board", "frame"], [(155, 24), (189, 24)])
    plug("array-plug", "Array plug", "zif", ["array-board", "main-board"], (113, 40))
    screws("radio-screws", "Second radio", "A", ["radio-board", "frame"], [(199, 47), (221, 63)], only_in=["dual"])
    plug("radio-plug", "Second radio plug", "board-to-board", ["radio-board", "array-board"], (192, 36),
         "plug-lifter", only_in=["dual"])
    plug("radio-coax", "Second radio coaxial plug", "coaxial", ["radio-board", "coax-long"], (222, 66), "plug-lifter",
         only_in=["dual"])
    joint("blank-fit", "Radio blank", "press-fit", ["radio-blank", "frame"], side="back", behind=OPEN,
          only_in=["single"])
    screws("speaker-left-screws", "Left loudspeaker", "C", ["speaker-left", "frame"],
           [(9, 101), (59, 101), (9, 147), (59, 147)])
    joint("speaker-left-springs", "Left loudspeaker contacts", "contact", ["speaker-left", "main-board"],
          [(40, 72)], side="back")
    screws("speaker-right-screws", "Right loudspeaker", "C", ["speaker-right", "frame"],
           [(199, 11), (239, 11), (219, 35)])
    joint("speaker-right-springs", "Right loudspeaker contacts", "contact", ["speaker-right", "array-board"],
          [(194, 28)], side="back")
    joint("port-film", "Shielding film", "film", ["port-bracket", "frame"], [(236, 76)], side="back", behind=OPEN,
          basis="done", ways=[{"tool": "tweezers", "reuse": "renew"}])
    screws("port-bracket-screws", "Port bracket", "A", ["port-bracket", "frame"], [(229, 84), (243, 84)],
           behind=[["port-film"]])
    screws("port-screws", "Port board", "D", ["port-board", "frame"], [(227, 61), (245, 61), (236, 98)],
           behind=[["port-bracket"]])
    plug("port-plug", "Port plug", "zif", ["port-board", "main-board"], (104, 67))
    joint("port-cable-run", "Port cable under the cell", "routing", ["port-board", "frame"], side="back",
          behind=[["battery"]], basis="done", ways=[{"tool": "hand", "active_s": 12}])
    joint("port-seal-bond", "Port seal", "adhesive", ["port-seal", "port-board"], side="back", behind=[["frame"]],
          basis="seen", ways=[{"tool": "tweezers", "does": "pull", "active_s": 10, "reuse": "renew"}])
    plug("button-plug", "Button plug", "zif", ["button-cable", "main-board"], (70, 15))
    joint("button-tack", "Button cable tack", "adhesive", ["button-cable", "frame"], side="back",
          behind=[["main-board"]], basis="done", ways=[{"tool": "spudger", "active_s": 25, "reuse": "renew"}])
    joint("power-fit", "Power key", "press-fit", ["power-key", "frame"], side="back", behind=[["button-cable"]],
          basis="done")
    joint("volume-fit", "Volume key", "press-fit", ["volume-key", "frame"], side="back", behind=[["button-cable"]],
          basis="done")
    joint("motor-springs", "Motor contacts", "contact", ["motor", "main-board"], [(18, 74)], side="back")
    screws("motor-screw", "Motor", "A", ["motor", "frame"], [(12, 92)])
    joint("antenna-left-tack", "Left antenna tack", "adhesive", ["antenna-left", "frame"], side="back", behind=OPEN,
          basis="done", ways=[{"tool": "tweezers", "does": "pull", "active_s": 14, "reuse": "renew"}])
    plug("antenna-left-coax", "Left antenna plug", "coaxial", ["antenna-left", "main-board"], (17, 34), "plug-lifter")
    joint("antenna-right-tack", "Right antenna tack", "adhesive", ["antenna-right", "frame"], side="back",
          behind=OPEN, basis="done", ways=[{"tool": "tweezers", "does": "pull", "active_s": 14, "reuse": "renew"}])
    plug("coax-long-board", "Long coaxial plug, board end", "coaxial", ["coax-long", "main-board"], (113, 58),
         "plug-lifter")
    plug("coax-long-far", "Long coaxial plug, antenna end", "coaxial", ["coax-long", "antenna-right"], (242, 110),
         "plug-lifter")
    joint("coax-clips", "Coaxial cable clips", "routing", ["coax-long", "frame"], side="back", behind=OPEN,
          basis="done", ways=[{"tool": "tweezers", "active_s": 10}])
    screws("jack-screw", "Listening jack", "A", ["jack", "frame"], [(16, 70)])
    joint("jack-springs", "Jack contacts", "contact", ["jack", "main-board"], side="back")
    joint("jack-seal-fit", "Jack seal", "press-fit", ["jack-seal", "jack"], side="back", behind=[["frame"]],
          basis="seen", ways=[{"tool": "tweezers", "active_s": 6, "reuse": "renew"}])
    screws("lug-screws", "Strap lugs", "F", ["strap-lug", "frame"], [(8, 155), (242, 155)])
    joint("magnet-tack", "Pen magnet tack", "adhesive", ["pen-magnet", "frame"], side="back", behind=OPEN,
          basis="told", ways=[{"tool": "spudger", "does": "pry", "active_s": 40, "reuse": "renew"}])
    screws("display-lid-screws", "Display plug bracket", "A", ["display-lid", "main-board"], [(19, 60), (37, 60)])
    plug("display-plug", "Display plug", "board-to-board", ["display", "main-board"], (24, 59),
         behind=[["display-lid"]])
    plug("touch-plug", "Touch plug", "zif", ["display", "main-board"], (32, 59), behind=[["display-lid"]])
    screws("board-screws", "Main board", "B", ["main-board", "frame"],
           [(17, 15), (117, 15), (17, 67), (64, 67), (90, 55)])
    screws("board-posts", "Main board posts", "D", ["main-board", "frame"], [(88, 20), (24, 50)])
    joint("display-seam", "Display seam", "adhesive", ["display", "frame"], side="front", basis="done",
          ways=[{"acts": [{"tool": "heat-mat", "does": "heat", "active_s": 10, "wait_s": 360,
                           "limits": [{"temp_c": [65, 75]}]},
                          {"tool": "pick", "does": "pry", "active_s": 180, "at_once": True, "also": ["suction-cup"]}],
                 "reuse": "renew", "hazards": ["hot", "glass"]}])


# What things look made of; no analysis was done.
MATERIALS = {"frame": "magnesium", "bracket": "steel", "shield": "tinned steel", "heat spreader": "graphite",
             "board": "glass-epoxy laminate", "battery": "lithium-ion cell", "display": "glass", "window": "glass",
             "gasket": "silicone", "magnet": "neodymium-iron-boron", "button": "polycarbonate", "tray": "polycarbonate"}
HEAT = {"processor": "thermal-pad", "thermal-pad": "processor-shield", "processor-shield": "heat-spreader",
        "heat-spreader": "back-cover"}
FLAT = ("board", "display", "battery")  # kinds whose area the waste rules ask for


def describe_facts() -> None:
    """Material and area of each part as far as they can be seen."""
    for row in parts:
        facts = row.setdefault("facts", [])
        shape = here.shapes.get(row["id"])
        if row["kind"] in MATERIALS and not any(fact["name"] == "material" for fact in facts):
            facts.append({"name": "material", "value": MATERIALS[row["kind"]], "basis": "seen"})
        if row["id"] in HEAT:
            facts.append({"name": "heat to", "value": HEAT[row["id"]], "basis": "seen"})
        if row["kind"] in FLAT and shape is not None:
            facts.append({"name": "area", "value": round(shape.rect[2] * shape.rect[3] / 100, 1), "unit": "cm²",
                          "basis": "done"})
        if not facts:
            del row["facts"]


describe_parts()
describe_joints()
describe_facts()

BY_ID = here.by_id


def record_log() -> None:
    r = here
    r.view("s0-back", "back", 0, ["back-cover"])
    r.view("s0-front", "front", None, ["display"])
    r.entry("note", text="Power off, charge at 18 %, strap tested 1.1 Mohm")
    r.release("tray-latch", 7)
    r.remove("card-tray", 3)
    r.entry("aid", text="protective film on the display", value="on")
    r.entry("heat", gap=310, thing="cover-seam", value=68, unit="degC", text="heat plate, 5 min")
    r.release("cover-seam", 12, act=0)
    r.release("cover-seam", 128, act=1, tool="pick")
    r.release("cover-swing", 6)
    first = ["label-film", "battery-lid-screws", "cover-lid-screws", "camera-screws", "array-screws", "radio-screws",
             "speaker-left-screws", "speaker-right-screws", "port-film", "motor-screw", "jack-screw", "lug-screws",
             "display-lid-screws", "board-screws", "board-posts", "cell-glue", "coax-clips"]
    tally = sum(BY_ID[j].get("count", 0) for j in first if BY_ID[j]["kind"] == "screw")
    r.view("s1-back", "back", tally, [*first, "battery", "main-board", "speaker-left", "speaker-right"])
    r.reach("label-film", "cover-lid-screws", "camera-screws", "array-screws", "radio-screws", "speaker-left-screws",
            "speaker-right-screws", "port-film", "motor-screw", "jack-screw", "lug-screws", "display-lid-screws",
            "board-screws", "front-camera-plug", "array-plug", "antenna-left-coax", "coax-long-board")
    r.release("label-film", 6, outcome="destroyed")
    r.release("battery-lid-screws", 21)
    r.remove("battery-lid", 2)
    r.release("battery-plug", 5)
    r.release("cover-lid-screws", 16)
    r.remove("cover-lid", 2)
    r.release("cover-plug", 4)
    r.remove("back-cover", 4)
    r.view("s2-back", "back", None, ["battery-plug", "cover-plug", "battery", "camera-screws", "speaker-left-screws"])
    r.reach("battery-plug", "cell-glue", "spreader-tack")
    r.release("speaker-left-screws", 27)
    r.remove("speaker-left", 3)
    r.release("camera-screws", 20)
    r.remove("camera-bracket", 2)
    r.release("rear-camera-plug", 4)
    r.remove("rear-camera", 3)
    r.release("coax-long-board", 4)
    r.release("radio-coax", 4)
    r.release("coax-long-far", 5)
    r.release("coax-clips", 11)
    r.remove("coax-long", 3)
    r.view("s3-back", "back", None, ["speaker-right-screws", "port-film", "port-bracket-screws", "cell-glue",
                                     "array-screws", "radio-screws"])
    r.release("cell-glue", 38, way=0, outcome="failed", text="second tab tore at two thirds")
    r.entry("incident", thing="cell-glue", finding="tab torn", text="Pull tab tore; went on with solvent")
    r.release("cell-glue", 14, way=1, act=0, tool="dropper")
    r.release("cell-glue", 64, way=1, act=1, tool="card")
    r.remove("battery", 6)
    r.entry("measure", thing="battery", value=128.4, unit="g", text="scale")
    r.view("s4-back", "back", None, ["port-cable-run", "port-film", "port-bracket-screws", "port-screws"])
    r.reach("port-cable-run", "port-film")
    r.release("port-film", 8)
    r.release("port-bracket-screws", 15)
    r.remove("port-bracket", 2)
    r.release("port-plug", 6)
    r.release("port-screws", 22)
    r.release("port-cable-run", 13)
    r.remove("port-board", 4)
    r.view("s5-back", "back", None, ["array-screws", "radio-screws", "display-lid-screws", "board-screws",
                                     "board-posts", "front-camera-plug", "array-plug", "antenna-left-coax",
                                     "button-plug"])
    r.reach("array-screws", "board-posts", "button-plug")
    r.release("display-lid-screws", 14)
    r.remove("display-lid", 2)
    r.release("display-plug", 5)
    r.release("touch-plug", 7)
    r.release("front-camera-plug", 4)
    r.release("array-plug", 6)
    r.release("antenna-left-coax", 4)
    r.release("button-plug", 7)
    r.release("radio-plug", 4)
    r.release("radio-screws", 15)
    r.remove("radio-board", 3)
    r.release("spreader-tack", 16)
    r.remove("heat-spreader", 3)
    r.release("processor-clips", 24)
    r.remove("processor-shield", 3)
    r.release("board-screws", 33)
    r.release("board-posts", 17)
    r.remove("main-board", 5)
    r.view("s6-back", "back", None, ["button-tack", "speaker-right-screws", "array-screws", "motor-screw",
                                     "jack-screw"])
    r.reach("button-tack", "antenna-left-tack")
    r.release("receiver-plug", 4)
    r.release("receiver-screws", 13)
    r.remove("position-receiver", 2)
    r.release("button-tack", 27)
    r.remove("button-cable", 3)
    r.release("power-fit", 5)
    r.remove("power-key", 2)
    r.release("volume-fit", 5)
    r.remove("volume-key", 2)
    r.release("front-camera-pad", 13)
    r.remove("front-camera", 2)
    r.release("array-screws", 15)
    r.release("light-plug", 6)
    r.remove("array-board", 3)
    r.release("speaker-right-screws", 21)
    r.remove("speaker-right", 3)
    r.release("antenna-left-tack", 15)
    r.remove("antenna-left", 2)
    r.release("antenna-right-tack", 16)
    r.remove("antenna-right", 2)
    r.release("motor-screw", 8)
    r.remove("motor", 2)
    r.release("jack-screw", 8)
    r.remove("jack", 2)
    r.entry("aid", text="protective film on the display", value="off")
    r.entry("turn", 4, value="front")
    r.entry("heat", gap=370, thing="display-seam", value=70, unit="degC", text="heat plate, 6 min")
    r.release("display-seam", 12, act=0)
    r.release("display-seam", 205, act=1, tool="pick")
    r.remove("display", 6)
    r.view("s7-back", "back", None, ["pen-magnet", "lug-screws"])
    r.view("s7-front", "front", None, [])


record_log()


def teardown() -> dict[str, Any]:
    """The exchange-file object."""
    return {
        "format": "oddbolt-teardown", "version": 1,
        "device": {"name": "Dunlin 2", "model": "DL2-LTE", "serial": "SMS-0417", "category": "slate_tablet",
                   "variant": "dual", "base": "frame", "mass_g": 545, "size_mm": [250, 160, 9.5],
                   "notes": "Loan pool of the Saltmarsh Survey; invented for the demo"},
        "settings": {},
        "tools": TOOLS, "fasteners": FASTENERS, "parts": parts, "joints": joints,
        "sessions": [{"pass": 1, "by": "W. Ansel", "started": "2026-03-02T09:00:00+00:00", "place": "Bench 2"}],
        "log": log,
        "views": here.views_json(),
        "refit": refit(),
        "opinions": [{"by": "W. Ansel", "mark": 6, "of": 10, "reasons": "Cell comes out by hand if the tabs hold"},
                     {"by": "M. Ferring", "mark": 4, "of": 10, "reasons": "Port is under the cell; too much glue"}],
        "answers": [{"method": "eu-2023-1669-tablet", "criterion": "software_updates", "part": None, "value": 6,
                     "basis": "told", "source": "maker's page"},
                    {"method": "eu-2023-1669-tablet", "criterion": "repair_information", "part": None,
                     "value": "free to professionals", "basis": "told", "source": "letter of the maker"}],
    }


def refit() -> list[dict[str, Any]]:
    return [
        {"do": "fit", "thing": "port-board", "align": "two pins"},
        {"do": "route", "thing": "port-cable-run", "text": "flat under the cell, no fold"},
        {"do": "fasten", "thing": "port-screws", "passes": [{"level": "tight", "torque_ncm": 12}]},
        {"do": "apply", "on": "frame", "uses": [{"material": "cell tabs", "qty": 2, "unit": "strips",
                                                  "supply": "with_part"}]},
        {"do": "fit", "thing": "battery", "align": "left wall"},
        {"do": "press", "thing": "battery", "repeat": {"min": 3, "each_s": [6, 10]},
         "keep_off": [{"thing": "battery-plug", "mm": 8}]},
        {"do": "fasten", "thing": "battery-plug"},
        {"do": "fit", "thing": "battery-lid"},
        {"do": "fasten", "thing": "battery-lid-screws", "passes": [{"level": "started"},
                                                                    {"level": "tight", "torque_ncm": 7}]},
        {"do": "apply", "on": "frame", "uses": [{"material": "cover adhesive frame", "qty": 1, "unit": "piece",
                                                  "supply": "with_part"}]},
        {"do": "fit", "thing": "speaker-left"},
        # As it was copied from somewhere, with its unit: a screw of M1.6 cannot bear it.
        {"do": "fasten", "thing": "speaker-left-screws", "passes": [{"level": "tight", "torque": 12, "unit": "N·m"}]},
        {"do": "fit", "thing": "back-cover"},
        {"do": "check", "text": "Starts, charges, both radios find the base station", "blocks": True},
    ]


def scene_json() -> dict[str, Any]:
    """What the photographs are drawn from, as it ships for the simulated camera."""
    return here.scene_json(cover="back-cover", seam="cover-seam", glass="display", tab=[112, 70, 9, 7],
                           cover_cable=[[101, -4], [99, 12], [103, 30], [101, 62]])
