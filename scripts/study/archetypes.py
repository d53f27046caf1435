"""Twelve ways in which handheld devices and laptops are built, as hidden devices with geometry; drawn, never the same.

`device(seed, archetypes)` draws one. `HELD_OUT` are never looked at while anything is tuned. `scripts.recording_study`
records them and prints the tables of docs/methods/access.md.
"""

from __future__ import annotations

import random
from collections.abc import Callable, Sequence

from scripts.study.truth import BASE, HAND, Hidden, Rect, Spot

HELD_OUT = (4, 8, 12)
TUNED_ON = (1, 2, 3, 5, 6, 7, 9, 10, 11)
W, H = 72.0, 150.0  # of a telephone-sized device, mm
LW, LH = 320.0, 220.0
BACK_BONDS = ("heat and pick", "heat, cup and pick", "cup and pick")


class Inside:
    """What telephone-sized devices have under their covers, by name."""

    board = lower = cell = display = speaker = link = ""

    def __init__(self) -> None:
        self.plugs: dict[str, str] = {}  # part -> its plug on the main board
        self.lower_plugs: list[str] = []
        self.cameras: list[str] = []

    @property
    def upper_plugs(self) -> list[str]:
        return list(self.plugs.values())


def rect_at(x: float, y: float, width: float, height: float) -> Rect:
    return x, y, x + width, y + height


def about(h: Hidden, spots: Sequence[Spot], margin: float) -> Rect:
    """A plate over some places."""
    xs, ys = [x for x, _ in spots], [y for _, y in spots]
    more = margin * h.rng.uniform(0.8, 1.4)
    return min(xs) - more, min(ys) - more * 0.7, max(xs) + more, max(ys) + more * 0.7


def tray(h: Hidden) -> None:
    if h.chance(0.8):
        part = h.part("tray", "tray", rect_at(0, 30, 12, 8), 9)
        h._joint("tray-slide", "slide", (part, BASE), [(1, 34)], 9, (), acts=(("tray-pin", 0),))


def inside(h: Hidden, opener: Sequence[str], *, front_display: bool = True) -> Inside:
    """Boards, cell, cameras and the small things, each with its plug. Nothing of it is covered yet."""
    rng, made = h.rng, Inside()
    made.board = h.part("main-board", "board", rect_at(4, 8, 62, 44), 3, behind=opener)
    made.lower = h.part("lower-board", "port", rect_at(6, 120, 60, 26), 3, behind=opener,
                        roles=("charging_port",))
    made.cell = h.part("cell", "battery", rect_at(8, 56, rng.uniform(38, 46), 60), 3, behind=opener, roles=("battery",))
    row = iter(rng.sample([(x, y) for x in (16, 26, 36, 46) for y in (40, 47)], 8))
    made.plugs[made.cell] = h.plug("cell", made.board, next(row), z=2, behind=opener, isolates=True,
                                   type_="board-to-board")
    h.fixing(made.cell, "adhesive", behind=opener, bond=rng.choice(("pull tab", "tear and pull", "solvent and card")))
    for n in range(rng.choice((1, 2, 2, 3))):
        role = ("rear_camera",) if n == 0 else ()
        camera = h.part(f"camera{n}", "camera", rect_at(44 - 14 * n, 10, 11, 11), 4, behind=opener, roles=role)
        made.cameras.append(camera)
        made.plugs[camera] = h.plug(camera, made.board, (48 - 13 * n, 26 + 2 * n), z=2, behind=opener)
    front = h.part("front-camera", "camera", rect_at(34, 4, 6, 6), 2, behind=opener, roles=("front_camera",))
    made.plugs[front] = h.plug(front, made.board, (40, 14), z=2, behind=opener)
    made.link = h.part("link", "cable", rect_at(56, 50, 8, 72), 4, behind=opener)
    made.plugs[made.link] = h.plug(made.link, made.board, (58, 46), z=2, behind=opener, type_="board-to-board")
    made.lower_plugs.append(h.plug(made.link, made.lower, (58, 126), z=4, behind=opener, type_="board-to-board"))
    if front_display:
        made.display = h.part("display", "display", rect_at(1, 1, W - 2, H - 2), 0, roles=("display",), side="front")
        h.things[made.display].clauses = []
        h.fixing(made.display, "adhesive", bond=rng.choice(BACK_BONDS))
        number = rng.choice((1, 1, 2))
        made.plugs[made.display] = h.plug("display", made.board, next(row), z=2, behind=opener, type_="board-to-board")
        if number == 2:
            made.lower_plugs.append(h.plug("display", made.lower, (24, 126), z=4, behind=opener))
    if h.chance(0.7):
        keys = h.part("keys", "button", rect_at(66, 60, 4, 24), 2, behind=opener, roles=("button",))
        made.plugs[keys] = h.plug(keys, made.board, (62, 40), z=2, behind=opener)
        h.fixing(keys, rng.choice(("adhesive", "press-fit")), behind=opener)
    if h.chance(0.6):
        motor = h.part("motor", "motor", rect_at(52, 118, 10, 10), 4, behind=opener)
        h.fixing(motor, "adhesive", behind=opener, bond=rng.choice(("pry", "pry with a pick")))
        if h.chance(0.5):
            made.lower_plugs.append(h.plug(motor, made.lower, (50, 130), z=4, behind=opener))
    if h.chance(0.5):
        coax = h.part("coax", "cable", rect_at(3, 40, 4, 90), 5, behind=opener)
        made.plugs[coax] = h.plug(coax, made.board, (8, 46), z=5, behind=opener, type_="coaxial")
        made.lower_plugs.append(h.plug(coax, made.lower, (10, 124), z=5, behind=opener, type_="coaxial"))
        if h.chance(0.5):
            h._joint("coax-run", "routing", (coax, BASE), [(5, 90)], 5, list(opener), acts=((h.tool("routing"), 0),))
    board_screws(h, made.board, opener)
    if h.chance(0.7):
        h.screws(made.lower, rng.choice((1, 2, 3)), behind=opener, z=2)
    return made


def board_screws(h: Hidden, board: str, opener: Sequence[str]) -> None:
    rect = h.things[board].rect
    for _ in range(h.rng.choice((1, 1, 2))):
        h.screws(board, h.rng.choice((1, 2, 3)), behind=opener, z=2, spots=[
            (h.rng.uniform(rect[0] + 4, rect[2] - 4), h.rng.uniform(rect[1] + 4, rect[3] - 4))
            for _ in range(h.rng.choice((1, 2, 3)))])


def loudspeaker(h: Hidden, made: Inside, opener: Sequence[str]) -> None:
    made.speaker = h.part("speaker", "speaker", rect_at(8, 124, 36, 22), 6, behind=opener, roles=("speaker",))
    h.screws(made.speaker, h.rng.choice((2, 3, 4)), behind=opener)
    if h.chance(0.4):
        made.lower_plugs.append(h.plug(made.speaker, made.lower, (46, 126), z=5, behind=opener, type_="wire-to-board"))
    h.hide(made.speaker, {"connector": 0.6, "clip": 0.6, "screw": 0.6, "port": 0.6})


def usual_hiding(h: Hidden, made: Inside) -> None:
    """What the board, the cell and the cable hide by their places."""
    h.hide(made.board, {"button": 0.5, "speaker": 0.5}, beside_mm=6)
    for name in ("front-camera", "keys"):
        if name in h.things and h.chance(0.5):
            h.things[name].clauses.append((made.board,))
    if h.chance(0.4):
        way: tuple[str, ...] = (made.link, made.plugs[made.link]) if h.chance(0.3) else (made.link,)
        bond = next(one for one in h.joints_of(made.cell) if h.things[one].kind == "adhesive")
        h.things[h.rng.choice((made.cell, bond))].clauses.append(way)
    if "coax-run" in h.things and h.chance(0.3):
        h.things["coax-run"].clauses.append((made.cell,))


def plate_over(h: Hidden, plugs: Sequence[str], opener: Sequence[str], *, stem: str = "plate", screws: int = 0) -> str:
    spots = [spot for plug in plugs for spot in h.things[plug].spots]
    plate = h.part(stem, "bracket", about(h, spots, 5), 6, behind=opener)
    h.screws(plate, screws or h.rng.choice((1, 2, 2, 3)), behind=opener)
    for plug in plugs:
        if h.chance(0.95):
            h.things[plug].clauses.append((plate,))
    h.hide(plate, {"screw": 0.2}, [one for one in h.things if h.things[one].kind == "screw"])
    for camera in h.things.values():
        if camera.kind == "camera" and h.lies_under(camera, h.things[plate].rect) and h.chance(0.6):
            camera.clauses.append((plate,))
    return plate


def inner_cover(h: Hidden, stem: str, rect: Rect, opener: Sequence[str], *, clips: bool, screws: int) -> str:
    """A cover within the device: plugs, screws, the cell and the loudspeaker lie under it by their places."""
    cover = h.part(stem, "cover", rect, 7, behind=opener)
    fixed = [h.screws(cover, screws, behind=opener)]
    if h.chance(0.2):
        fixed.append(h.screws(cover, h.rng.choice((1, 2)), behind=opener))
    if clips:
        id_ = h.fixing(cover, "clip", behind=opener, number=h.rng.randint(2, 10))
        if h.chance(0.7):
            h.things[id_].clauses += [(one,) for one in fixed]
    h.hide(cover, {"connector": 0.9, "screw": 0.5, "battery": 0.2, "speaker": 0.4, "port": 0.5, "camera": 0.6})
    if h.chance(0.25):
        h.film(fixed[0], behind=opener)
    return cover


def back(h: Hidden, *, bond: str = "", clips: bool = False, kind: str = "cover") -> str:
    cover = h.part("back", kind, rect_at(0, 0, W, H), 10, roles=("back_cover",))
    if clips:
        h.fixing(cover, "clip", number=h.rng.randint(4, 14))
    else:
        h.fixing(cover, "adhesive", bond=bond or h.rng.choice(BACK_BONDS))
    return cover


def hangs(h: Hidden, cover: str, behind: Sequence[str]) -> str:
    """The cover swings and stays tied by a cable; returns the swing."""
    fixed = h.joints_of(cover)
    return h.swing(cover, [*fixed, *behind])


def sensor_plug(h: Hidden, cover: str, to: str, swing: str) -> str:
    plug = h.plug(cover, to, (50, 34), z=5, behind=[swing])
    cover_of = h.rng.random()
    if cover_of < 0.5:
        plate = h.part("sensor-plate", "bracket", rect_at(44, 30, 12, 8), 6, behind=[swing])
        h.screws(plate, h.rng.choice((1, 2)), behind=[swing])
        h.things[plug].clauses.append((plate,))
    elif cover_of < 0.8:
        h.film(plug, behind=[swing])
    return plug


def small_extras(h: Hidden, opener: Sequence[str]) -> None:
    """Feet, labels, trims, gaskets: each hides at most the fixing at its own place."""
    screws = [one for one in h.things.values() if one.kind == "screw"]
    for _ in range(h.rng.choice((0, 0, 1, 1, 2))):
        if screws and h.chance(0.6):
            over = h.rng.choice(screws)
            if f"film-{over.id}" not in h.things:
                h.film(over.id, behind=[one for (one, *rest) in over.clauses if not rest])
        else:
            part = h.part("gasket", "gasket", rect_at(h.rng.uniform(5, 50), h.rng.uniform(10, 130), 8, 5), 5,
                          behind=opener)
            h.fixing(part, "adhesive", behind=opener, bond="tear and pull")


# -- the archetypes

def glued_back(h: Hidden) -> None:
    tray(h)
    cover = back(h)
    opener = [hangs(h, cover, ())] if h.chance(0.3) else [cover]
    made = inside(h, opener)
    loudspeaker(h, made, opener) if h.chance(0.5) else None
    usual_hiding(h, made)
    if opener != [cover]:
        sensor_plug(h, cover, made.board, opener[0])
    inner_cover(h, "upper-cover", rect_at(3, 4, 66, 50), opener, clips=h.chance(0.4), screws=h.rng.randint(5, 10))
    if h.chance(0.8):
        inner_cover(h, "lower-cover", rect_at(4, 117, 64, 32), opener, clips=h.chance(0.4), screws=h.rng.randint(4, 8))
    small_extras(h, opener)


def sensor_across(h: Hidden) -> None:
    tray(h)
    cover = back(h, clips=h.chance(0.6))
    swing = hangs(h, cover, ())
    made = inside(h, [swing])
    sensor_plug(h, cover, made.board, swing)
    for thing in h.things.values():  # what is not done while it hangs lies behind the cover that is off
        if thing.clauses == [(swing,)] and thing.kind not in ("bracket",) and cover not in thing.of \
                and "sensor" not in thing.id and h.chance(0.7):
            thing.clauses = [(cover,)]
    opener = [cover]
    loudspeaker(h, made, opener) if h.chance(0.5) else None
    usual_hiding(h, made)
    if h.chance(0.5):
        inner_cover(h, "upper-cover", rect_at(3, 4, 66, 50), opener, clips=False, screws=h.rng.randint(4, 9))
    else:
        plates(h, made, opener)
    small_extras(h, opener)


def clipped_inner(h: Hidden) -> None:
    cover = back(h, clips=True)
    opener = [cover]
    made = inside(h, opener)
    usual_hiding(h, made)
    whole = inner_cover(h, "inner-cover", rect_at(2, 3, 68, 146), opener, clips=True, screws=h.rng.randint(8, 14))
    loudspeaker(h, made, [whole])
    plug = h.rng.choice(made.upper_plugs)
    if h.chance(0.5):
        h.film(plug, behind=[whole])
    if h.chance(0.5):  # one of its screws also holds a loudspeaker
        group = next(one for one in h.things.values() if one.kind == "screw" and whole in one.of)
        group.of = (*group.of, made.speaker)
    small_extras(h, opener)


def two_halves(h: Hidden) -> None:
    tray(h)
    cover = back(h)
    opener = [cover]
    made = inside(h, opener)
    upper = h.part("upper-half", "cover", rect_at(3, 4, 66, 50), 7, behind=opener)
    lower = h.part("lower-half", "cover", rect_at(4, 117, 64, 32), 7, behind=opener)
    for half in (upper, lower):
        h.screws(half, h.rng.randint(5, 9), behind=opener)
    h.hide(upper, {"connector": 0.9, "screw": 0.5, "camera": 0.6})
    h.hide(lower, {"connector": 0.9, "screw": 0.5, "port": 0.5})
    made.speaker = h.part("speaker", "speaker", rect_at(8, 124, 36, 22), 6, behind=[lower], roles=("speaker",))
    if h.chance(0.6):
        h.screws(made.speaker, 2, behind=[lower])
    usual_hiding(h, made)
    small_extras(h, opener)


def plates(h: Hidden, made: Inside, opener: Sequence[str]) -> None:
    left = list(made.upper_plugs)
    h.rng.shuffle(left)
    number = 0
    while left and number < 6:
        taken = [left.pop() for _ in range(min(len(left), h.rng.choice((1, 1, 2))))]
        if h.chance(0.85):
            plate_over(h, taken, opener, stem=f"plate{number}", screws=h.rng.choice((1, 2, 2, 3)))
        number += 1
    if made.lower_plugs and h.chance(0.7):
        plate_over(h, made.lower_plugs[:2], opener, stem="lower-plate")


def screen_first(h: Hidden, *, twice: bool = False) -> None:
    h.face = "front"
    tray(h)
    screen = h.part("screen", "display", rect_at(0, 0, W, H), 10, roles=("display",))
    h.screws(screen, 2, spots=[(30, H), (42, H)])
    h.fixing(screen, "adhesive", bond=h.rng.choice(("cup and pick", "heat, cup and pick")))
    first = hangs(h, screen, ())
    opener = [first]
    made = Inside()
    made.board = h.part("main-board", "board", rect_at(4, 8, 62, 40), 3, behind=opener)
    if twice:
        clip = h._joint("screen-clip", "clip", (screen, BASE), [(36, 60)], 5, [first], acts=((h.tool("clip"), 0),))
        small = h.plug(screen, made.board, (36, 40), z=5, behind=[first])
        second = h.swing(screen, [first, clip, small])
        opener = [second]
        h.things[made.board].clauses = [(second,)]
    plugs = [h.plug(screen, made.board, (30 + 9 * n, 30), z=4, behind=opener) for n in range(h.rng.choice((1, 2, 3)))]
    plate_over(h, plugs, opener, stem="screen-plate", screws=h.rng.randint(2, 5))
    inside_with_screen(h, made, opener, screen)
    on_screen(h, screen)
    if h.chance(0.7):  # it is unplugged, and the rest is behind the swing or the screen that is off
        for thing in h.things.values():
            own = screen in thing.of or "screen-plate" in (thing.id, *thing.of)
            if (opener[0],) in thing.clauses and not own and h.chance(0.5):
                thing.clauses = [(opener[0], screen) if clause == (opener[0],) else clause for clause in thing.clauses]
    small_extras(h, opener)


def inside_with_screen(h: Hidden, made: Inside, opener: Sequence[str], screen: str) -> None:
    """As `inside`, in a device that is opened by its screen."""
    rng = h.rng
    made.lower = h.part("lower-board", "port", rect_at(6, 120, 60, 26), 3, behind=opener, roles=("charging_port",))
    made.cell = h.part("cell", "battery", rect_at(8, 54, 40, 60), 3, behind=opener, roles=("battery",))
    made.plugs[made.cell] = h.plug("cell", made.board, (16, 42), z=2, behind=opener, isolates=True,
                                   type_="board-to-board")
    plate_over(h, [made.plugs[made.cell]], opener, stem="cell-plate", screws=rng.choice((2, 3)))
    h.fixing(made.cell, "adhesive", behind=opener, bond="pull tab")
    made.speaker = h.part("speaker", "speaker", rect_at(8, 124, 36, 20), 6, behind=opener, roles=("speaker",))
    h.screws(made.speaker, rng.choice((2, 3)), behind=opener)
    made.plugs[made.lower] = h.plug("lower-board", made.board, (56, 44), z=2, behind=opener)
    for n in range(rng.choice((1, 2))):
        camera = h.part(f"camera{n}", "camera", rect_at(46 - 14 * n, 10, 11, 11), 4, behind=opener,
                        roles=("rear_camera",) if n == 0 else ())
        made.cameras.append(camera)
        made.plugs[camera] = h.plug(camera, made.board, (50 - 13 * n, 24), z=2, behind=opener)
    plate_over(h, [made.plugs[camera] for camera in made.cameras], opener, stem="camera-plate")
    board_screws(h, made.board, opener)
    h.screws(made.lower, rng.choice((2, 3)), behind=opener, z=2)
    h.hide(made.speaker, {"connector": 0.6, "screw": 0.6, "port": 0.6})


def on_screen(h: Hidden, screen: str) -> None:
    """A chain of its own on the screen that is off."""
    plate = h.part("ear-plate", "bracket", rect_at(20, 4, 30, 12), 2, on=screen, behind=[BASE])
    h.screws(plate, h.rng.choice((2, 3)), to=screen, behind=[BASE])
    camera = h.part("front-camera", "camera", rect_at(34, 4, 6, 6), 1, on=screen, behind=[BASE, plate],
                    roles=("front_camera",))
    h.fixing(camera, "adhesive", to=screen, behind=[BASE, plate], bond="pry with a pick")
    if h.chance(0.6):
        ear = h.part("earpiece", "speaker", rect_at(24, 4, 10, 5), 1, on=screen, behind=[BASE, plate])
        h.screws(ear, 1, to=screen, behind=[BASE, plate])
    if h.chance(0.5):
        button = h.part("button", "button", rect_at(30, 140, 12, 8), 1, on=screen, behind=[BASE], roles=("button",))
        h.fixing(button, "adhesive", to=screen, behind=[BASE], bond="pry")


def screen_twice(h: Hidden) -> None:
    screen_first(h, twice=True)


def plate_per_plug(h: Hidden) -> None:
    tray(h)
    cover = back(h)
    opener = [cover]
    made = inside(h, opener)
    loudspeaker(h, made, opener) if h.chance(0.6) else None
    usual_hiding(h, made)
    plates(h, made, opener)
    small_extras(h, opener)


def board_that_turns(h: Hidden) -> None:
    tray(h)
    cover = back(h, clips=h.chance(0.5))
    opener = [cover]
    made = inside(h, opener)
    usual_hiding(h, made)
    plates(h, made, opener)
    board = made.board
    h.fixing(board, "clip", behind=opener, number=h.rng.choice((1, 2, 3)))
    ties = [one for one in h.joints_of(board) if "coax" not in one]
    turn = h.swing(board, ties)
    coax = h.part("board-coax", "cable", rect_at(30, 20, 4, 40), 1, behind=[turn])
    h.plug(coax, board, (32, 30), z=1, behind=[turn], type_="coaxial")
    port = h.things[made.lower]
    port.clauses.append((board,))
    h.fixing(made.lower, "adhesive", behind=[board], bond="solvent and card")
    for n in range(h.rng.choice((1, 2))):
        under = h.part(f"under{n}", h.rng.choice(("camera", "shield")), rect_at(10 + 20 * n, 15, 12, 12), 1, on=board,
                       behind=[BASE])
        h.fixing(under, h.rng.choice(("clip", "adhesive")), to=board, behind=[BASE], number=2)


def cell_by_hand(h: Hidden) -> None:
    cover = h.part("back", "cover", rect_at(0, 0, W, H), 10, roles=("back_cover",))
    h._joint("back-clips", "clip", (cover, BASE), h.spots_in((0, 0, W, H), 8), 10, (), acts=((HAND, 0),))
    cell = h.part("cell", "battery", rect_at(10, 60, 50, 60), 9, behind=[cover], roles=("battery",))
    h._joint("cell-contact", "contact", (cell, BASE), [(35, 62)], 9, [cover], acts=((HAND, 0),), isolates=True)
    frame = h.part("mid-cover", "cover", rect_at(2, 4, 68, 140), 7, behind=[cover])
    group = h.screws(frame, h.rng.randint(4, 8), behind=[cover])
    h.things[group].spots[:1] = [(30, 90)]
    h.things[group].clauses.append((cell,))
    h.screws(frame, 2, behind=[cover, cell], spots=[(24, 80), (46, 100)])
    swing = hangs(h, frame, ())
    board = h.part("main-board", "board", rect_at(6, 10, 60, 70), 3, behind=[swing])
    h.plug(frame, board, (50, 60), z=4, behind=[swing])
    for name, kind, role in (("display", "display", "display"), ("camera0", "camera", "rear_camera"),
                             ("speaker", "speaker", "speaker"), ("keys", "button", "button")):
        part = h.part(name, kind, rect_at(h.rng.uniform(8, 50), h.rng.uniform(12, 100), 12, 10), 4, behind=[swing],
                      roles=(role,))
        h.plug(part, board, (h.rng.uniform(10, 60), h.rng.uniform(14, 70)), z=4, behind=[swing])
        if h.chance(0.6):
            h.fixing(part, "adhesive", behind=[frame if h.chance(0.5) else swing], bond="pry")
    h.screws(board, h.rng.choice((2, 3, 4)), behind=[swing], z=3)
    below = board
    for n in range(h.rng.choice((2, 3, 4))):  # bonded things one on the other, on the cover that is off
        part = h.part(f"mesh{n}", h.rng.choice(("gasket", "speaker", "foam")), rect_at(20, 8 + n, 10, 6), 5 - n,
                      on=frame, behind=[BASE, *([f"mesh{n - 1}"] if n and f"mesh{n - 1}" in h.things else [])])
        h.fixing(part, "adhesive", to=frame, behind=[BASE, *([f"mesh{n - 1}"] if n else [])], bond="tear and pull")
    port = h.part("port", "port", rect_at(26, 130, 20, 12), 2, behind=[below], roles=("charging_port",))
    h.screws(port, 2, behind=[below])


def layered_block(h: Hidden) -> None:
    cover = h.part("back", "cover", rect_at(0, 0, 50, 90), 10, roles=("back_cover",))
    h.fixing(cover, "clip", number=6)
    cap = h.part("cap", "cover", rect_at(4, 4, 42, 30), 9, behind=[cover])
    h.screws(cap, h.rng.choice((2, 3, 4)), behind=[cover])
    shield = h.part("shield", "shield", rect_at(4, 10, 42, 70), 8, behind=[cap])
    h.fixing(shield, "clip", behind=[cap], number=4)
    display = h.part("display", "display", rect_at(8, 14, 34, 40), 7, on=shield, behind=[BASE], roles=("display",))
    h.fixing(display, "clip", to=shield, behind=[BASE], number=2)
    mat = h.part("key-mat", "button", rect_at(8, 50, 34, 28), 6, behind=[shield], roles=("button",))
    engine = h.part("engine", "board", rect_at(6, 8, 38, 74), 4, behind=[mat])
    h.screws(engine, h.rng.choice((2, 4)), behind=[mat])
    cell = h.part("cell", "battery", rect_at(10, 50, 30, 25), 3, behind=[engine], roles=("battery",))
    h.plug(cell, engine, (20, 48), z=5, behind=[mat], isolates=True, type_="wire-to-board")
    h.fixing(cell, "adhesive", behind=[engine], bond="pry")
    if h.chance(0.6):
        speaker = h.part("speaker", "speaker", rect_at(14, 10, 16, 10), 3, behind=[engine], roles=("speaker",))
        h.plug(speaker, engine, (18, 12), z=5, behind=[mat])


def laptop_below(h: Hidden) -> None:
    cover = h.part("base-cover", "cover", rect_at(0, 0, LW, LH), 10, roles=("back_cover",))
    group = h.screws(cover, h.rng.randint(4, 10))
    snaps = h.fixing(cover, "clip", number=h.rng.randint(4, 12))
    h.things[snaps].clauses.append((group,))
    if h.chance(0.4):
        h.film(group)
    opener = [cover]
    board = h.part("main-board", "board", rect_at(60, 20, 200, 80), 3, behind=opener)
    cell = h.part("cell", "battery", rect_at(20, 120, 280, 70), 4, behind=opener, roles=("battery",))
    plug = h.plug(cell, board, (160, 98), z=4, behind=opener, isolates=True, type_="wire-to-board")
    h.screws(cell, h.rng.randint(4, 9), behind=opener)
    if h.chance(0.5):
        plate_over(h, [plug], opener, stem="cell-plate")
    drive = h.part("drive", "board", rect_at(200, 70, 40, 22), 5, behind=opener)
    own = h.screws(drive, 1, behind=opener)
    h._joint("drive-slot", "slide", (drive, board), [(198, 80)], 5, [own, *opener], acts=((HAND, 0),))
    if h.chance(0.6):
        h.film(own, behind=opener)
    for name, kind, place, role in (("fan", "fan", rect_at(20, 20, 50, 50), ""),
                                    ("speaker-left", "speaker", rect_at(4, 130, 14, 50), "speaker"),
                                    ("speaker-right", "speaker", rect_at(302, 130, 14, 50), ""),
                                    ("port-board", "port", rect_at(290, 40, 26, 40), "charging_port")):
        part = h.part(name, kind, place, 5, behind=opener, roles=(role,) if role else ())
        h.screws(part, h.rng.choice((1, 2, 3)), behind=opener)
        h.plug(part, board, (h.rng.uniform(70, 250), h.rng.uniform(30, 95)), z=5, behind=opener, type_="zif")
    h.hide("fan", {"screw": 0.3, "board": 0.3})
    shields = []
    for n in range(h.rng.choice((2, 3))):
        shield = h.part(f"shield{n}", "shield", rect_at(80 + 60 * n, 30, 40, 40), 6, behind=opener)
        h.fixing(shield, h.rng.choice(("clip", "adhesive")), behind=opener, number=4)
        shields.append(shield)
    display = h.part("display", "display", rect_at(0, -200, LW, 200), 2, roles=("display",), behind=opener)
    screen_plug = h.plug(display, board, (100, 40), z=4, behind=opener)
    h.things[screen_plug].clauses.append((shields[0],))
    h.screws(display, 4, spots=[(20, 5), (30, 5), (290, 5), (300, 5)], behind=opener)
    for n in range(h.rng.randint(2, 5)):
        h.plug("display", board, (90 + 25 * n, 92), z=4, behind=opener, type_="zif")
    h.screws(board, h.rng.randint(3, 7), behind=opener, z=3, spots=[
        (h.rng.uniform(70, 250), h.rng.uniform(25, 95)) for _ in range(4)])
    for shield in shields:
        h.hide(shield, {"screw": 0.8})
    keyboard = h.part("keyboard", "keyboard", rect_at(20, 20, 280, 100), 1, behind=[board], roles=("button",))
    h.screws(keyboard, h.rng.randint(6, 12), behind=[board])
    touchpad = h.part("touchpad", "part", rect_at(110, 130, 100, 60), 1, behind=[cell])
    h.screws(touchpad, h.rng.randint(3, 6), behind=[cell])
    h.plug(touchpad, board, (170, 90), z=5, behind=opener, type_="zif")


def laptop_above(h: Hidden) -> None:
    deck = h.part("deck", "keyboard", rect_at(0, 0, LW, LH), 10, roles=("button",))
    below = h.screws(deck, h.rng.randint(4, 10))
    if h.chance(0.6):
        h.film(below)
    magnets = h.fixing(deck, h.rng.choice(("magnet", "clip")), number=6)
    h.things[magnets].clauses.append((below,))
    swing = hangs(h, deck, ())
    opener = [swing]
    board = h.part("main-board", "board", rect_at(60, 20, 200, 80), 3, behind=opener)
    h.plug(deck, board, (160, 100), z=5, behind=opener, type_="zif")
    if h.chance(0.5):
        h.plug(deck, board, (150, 100), z=5, behind=opener, type_="zif")
    drive = h.part("drive", "board", rect_at(200, 70, 40, 22), 5, behind=opener)
    foil = h.part("foil", "foam", rect_at(198, 68, 44, 26), 6, behind=opener)
    h.fixing(foil, "adhesive", behind=opener, bond="tear and pull")
    own = h.screws(drive, 1, behind=[*opener, foil])
    h._joint("drive-slot", "slide", (drive, board), [(198, 80)], 5, [own], acts=((HAND, 0),), isolates=h.chance(0.3))
    cell = h.part("cell", "battery", rect_at(20, 120, 280, 70), 4, behind=opener, roles=("battery",))
    plug = h.plug(cell, board, (120, 98), z=4, behind=opener, isolates=True, type_="wire-to-board")
    foam = h.part("absorber", "foam", rect_at(112, 92, 16, 12), 6, behind=opener)
    h.things[plug].clauses.append((foam,))
    h.fixing(foam, "adhesive", behind=opener, bond="tear and pull")
    h.fixing(cell, "adhesive", behind=opener, bond="solvent and card")
    shield = h.part("shield", "shield", rect_at(90, 30, 60, 40), 6, behind=opener)
    h.fixing(shield, "clip", behind=opener, number=4)
    sink = h.part("heat-sink", "heat spreader", rect_at(90, 30, 80, 44), 5, behind=opener)
    h.screws(sink, 4, behind=opener)
    h.screws(sink, 2, behind=[*opener, shield])
    h.hide(sink, {"board": 0.3})
    brackets = []
    for n, left in enumerate((56, 256)):
        bracket = h.part(f"bracket{n}", "bracket", rect_at(left, 40, 14, 40), 6, behind=opener)
        h.screws(bracket, h.rng.choice((1, 2, 3)), behind=opener)
        h.things[board].clauses.append((bracket,))
        brackets.append(bracket)
    port = h.part("port", "port", rect_at(280, 30, 20, 14), 2, behind=[board], roles=("charging_port",))
    h.screws(port, 2, behind=[board])
    speaker = h.part("speaker", "speaker", rect_at(6, 130, 14, 50), 2, behind=[board], roles=("speaker",))
    h.fixing(speaker, "adhesive", behind=[board], bond="pry")
    h.plug(speaker, board, (80, 95), z=5, behind=opener, type_="wire-to-board")
    display = h.part("display", "display", rect_at(0, -200, LW, 200), 2, roles=("display",), behind=opener)
    h.plug(display, board, (100, 92), z=5, behind=opener)
    h.screws(display, 4, spots=[(20, 5), (30, 5), (290, 5), (300, 5)], behind=opener)
    h.screws(board, h.rng.choice((2, 3, 4)), behind=opener, z=3)


ARCHETYPES: dict[int, Callable[[Hidden], None]] = {
    1: glued_back, 2: sensor_across, 3: clipped_inner, 4: two_halves, 5: screen_first, 6: screen_twice,
    7: plate_per_plug, 8: board_that_turns, 9: cell_by_hand, 10: layered_block, 11: laptop_below, 12: laptop_above}


def device(seed: int, archetypes: Sequence[int]) -> Hidden:
    """A hidden device of one of these archetypes."""
    rng = random.Random(f"device {seed}")
    archetype = archetypes[seed % len(archetypes)]
    hidden = Hidden(rng, archetype, (LW, LH) if archetype >= 11 else (W, H))
    ARCHETYPES[archetype](hidden)
    mix(hidden)
    hidden.make_possible()
    return hidden


def mix(h: Hidden) -> None:
    """A tenth of the features of others, and for some things a second way of getting at them."""
    plugs = [one.id for one in h.things.values() if one.kind == "connector"]
    for plug in plugs:
        if h.chance(0.05) and f"film-{plug}" not in h.things:
            h.film(plug, behind=[clause[0] for clause in h.things[plug].clauses])
    for one in list(h.things.values()):  # clips and glue of a part come after its screws
        own = [other.id for other in h.things.values() if other.kind == "screw" and one.of and other.of[0] == one.of[0]]
        if one.kind in ("clip", "adhesive") and own and h.chance(0.7):
            one.clauses += [(other,) for other in own if (other,) not in one.clauses]
    screws = [one for one in h.things.values() if one.kind == "screw" and one.of[1] == BASE]
    for one in screws:  # one group in twenty ties two parts at once
        if h.chance(0.05):
            others = [part for part in h.things.values() if part.is_part and part.rect and part.id not in one.of
                      and part.kind in ("bracket", "speaker") and h.lies_under(one, part.rect, 4)]
            if others:
                one.of = (*one.of, others[0].id)
