"""An analyst with both hands busy: takes a hidden device apart and records it by the gestures of the window.

Everything goes through `Recorder.gesture`, as in the Log. A key, a click, a drag, a pedal press and a photograph taken
by hand are acts; pointing and Prepare are none. Habits and slips are those of the archetypes; their odds are
engineering judgement.
"""

from __future__ import annotations

import math
import random
from collections.abc import Sequence
from datetime import datetime, timedelta, timezone
from pathlib import Path
from typing import Any

from msgspec import Struct

from oddbolt.catalog.defaults import ways_of
from oddbolt.catalog.tables import mark_kinds, part_kinds
from oddbolt.model.label import Label
from oddbolt.model.places import hull
from oddbolt.model.things import Fastener, Teardown, View
from oddbolt.model.touched import EVERYTHING, Touched
from oddbolt.rules.device_state import DeviceState
from oddbolt.rules.structure import Structure
from oddbolt.session.modes import Gesture
from oddbolt.session.prepare import Preparation, new_teardown
from oddbolt.session.recording.answering_acts import AnsweringActs
from oddbolt.session.recording.arming_acts import ArmingActs
from oddbolt.session.recording.asked_acts import AskedActs
from oddbolt.session.recording.lifting_acts import LiftingActs
from oddbolt.session.recording.mark_acts import MarkActs
from oddbolt.session.recording.offers import CLOSED, HANGING, MEANT, NO_ROLE, ROLE, SHARED, SWUNG, Offer
from oddbolt.session.recording.recorder import Recorder
from oddbolt.session.recording.tool_acts import box_of
from oddbolt.session.session import Session
from oddbolt.session.verbs.footprints import set_footprint
from oddbolt.session.verbs.groups import split_from
from oddbolt.session.verbs.letters import add_fastener
from oddbolt.session.verbs.photos import add_view
from scripts.study.truth import BASE, HAND, Hidden, Spot, Thing, apply_all

MM_PER_PX, MARGIN_MM = 0.1, 300.0  # of the photographs: what is outspread beside the device is on them too
FIRST_NAMED = 0.9
ANSWERS = 0.85  # how often what is offered is answered
FORGETS = {"film": 0.20, "slide": 0.10, "screw": 0.05, "routing": 0.40, "clip": 0.20}
HIDERS = ("cover", "display", "keyboard", "bracket", "shield", "board", "battery", "speaker", "foam",
          "heat spreader", "button")
DRAWN_OFF = 0.07  # of its size: precision and recall of the area are about 0.9
# Held out by scripts.difference_study: the overlap of what is seen with what is true has a median of about 0.84, and
# about one lift in ten is not seen.
SEEN_OFF, UNSEEN = 0.08, 0.10
WATCHED, TAKEN_EVERY = -1, 4  # as `photographs`: the camera watches, and what it saw is taken after so many lifts
FEW_CLIPS = 2
OPENS = ("cover", "display", "keyboard")
MARKED_AS = {"board-to-board": "board-to-board", "zif": "zif", "coaxial": "coaxial", "wire-to-board": "plug"}
BY_KEY = {"clip": "clip", "film": "film", "routing": "routing", "press-fit": "press-fit", "slide": "slide",
          "magnet": "magnet"}


def overlaps(one: tuple[float, ...], other: tuple[float, ...]) -> bool:
    return min(one[2], other[2]) > max(one[0], other[0]) and min(one[3], other[3]) > max(one[1], other[1])


class Memory:
    """A document that is nowhere: what the study needs of one."""

    path, undo_label, redo_label, is_open, is_read_only = Path("study"), None, None, True, False

    def __init__(self, teardown: Teardown) -> None:
        self.teardown = teardown
        self._before: list[tuple[Label, Teardown]] = []

    def commit(self, teardown: Teardown, label: Label, at: str) -> Touched:
        self._before.append((label, self.teardown))
        self.teardown = teardown
        return EVERYTHING

    def undo(self) -> tuple[Label, Touched] | None:
        if not self._before:
            return None
        label, self.teardown = self._before.pop()
        return label, EVERYTHING


class Habits(Struct, kw_only=True):
    """How one analyst works; drawn for each device."""

    plug_run: bool  # several plugs of different owners in a row
    screw_run: bool  # screws of two or three parts at once
    cell_first: bool
    carriers_late: bool
    told_only: bool  # cell or display is not taken off but told in words
    names_tools: float  # how often a tool is named that differs from what is written
    photographs: float  # when a layer opens
    region_mm: float

    @classmethod
    def drawn(cls, rng: random.Random, size: Spot) -> Habits:
        return cls(plug_run=rng.random() < 0.7, screw_run=rng.random() < 0.4, cell_first=rng.random() < 0.8,
                   carriers_late=rng.random() < 0.5, told_only=rng.random() < 0.25,
                   names_tools=rng.uniform(0.3, 0.6), photographs=0.8, region_mm=max(size) / 4)


class Recorded(Struct, kw_only=True):
    """What came of it."""

    teardown: Teardown
    hidden_of: dict[str, str]  # thing of the record -> true thing
    acts: int
    operations: int  # releases and lifts truly done
    forgotten: frozenset[str]  # true things that are not on record


class Analyst:
    def __init__(self, hidden: Hidden, seed: int, *, answers: bool = True, footprints: bool = True,
                 photographs: int = 0, together: bool = True) -> None:
        """`answers`: whether what is offered after an act is answered at all; `footprints`: whether what a part had
        covered is drawn; `photographs`: after so many lifts one is taken, which says what they had covered, instead;
        `WATCHED`: the camera takes one of each by itself."""
        self.answers, self.footprints, self.photographs, self.together = answers, footprints, photographs, together
        self._not_photographed: list[tuple[Thing, str]] = []  # what was lifted since the last one, and its id
        self._photographed = 0  # lifts
        self.hidden, self.rng = hidden, random.Random(f"analyst {seed}")
        self.habits = Habits.drawn(self.rng, hidden.size)
        self.structure = Structure(hidden.truth())
        self.state = DeviceState(self.structure)
        self._now = datetime(2026, 3, 2, 9, tzinfo=timezone.utc)
        tools = sorted({tool for thing in hidden.things.values() if thing.kind not in ("screw", "swing")
                        for tool, _ in thing.acts} - {HAND})
        random.Random(f"box {seed}").shuffle(tools)  # as they happen to lie there
        begun = new_teardown(Preparation(name="hidden", category="smartphone", tools=tuple(tools)),
                             self._now.isoformat())
        self.session = Session(Memory(begun), lambda: self._now)  # type: ignore[arg-type]
        self.recorder = Recorder(self.session)
        for acts in (LiftingActs, ArmingActs, MarkActs, AskedActs, AnsweringActs):
            acts(self.recorder)
        self.acts = self.operations = 0
        self.hidden_of: dict[str, str] = {"main-board": next(
            (one for one in ("main-board", "engine") if one in hidden.things), "")}
        self.forgotten: set[str] = set()
        self._named: set[tuple[str, str]] = set()
        self._letters: dict[str, str] = {}  # true letter -> that of the record
        self._letter_in_hand = ""  # the last one that was marked
        self._last: Spot = hidden.things["tray"].middle if "tray" in hidden.things else (0.0, 0.0)
        self._worked_on = self._run = ""
        self._done_in_run = 0
        self._side = hidden.face
        self._left_alone = self._told_only()

    # -- the work

    def record(self) -> Recorded:
        self._photo()
        self.press(Gesture.UNDO_TOO)
        while free := self._free():
            self._now += timedelta(seconds=self.rng.uniform(4, 30))
            self._do(self._next(free))
        self.photograph_lifts()
        done = set(self.hidden_of.values())
        return Recorded(teardown=self.session.teardown, hidden_of=self.hidden_of, acts=self.acts,
                        operations=self.operations,
                        forgotten=frozenset(one for one in self.hidden.things if one not in done))

    def _told_only(self) -> set[str]:
        """The cell or the display, where nothing waits for it: it stays, and most often so does what bonds it."""
        if not self.habits.told_only:
            return set()
        waited_for = {one for thing in self.hidden.things.values() for clause in thing.clauses for one in clause}
        for kind in self.rng.sample(["battery", "display"], 2):
            for thing in self.hidden.things.values():
                if thing.kind == kind and thing.id not in waited_for and not any(
                        other.on == thing.id for other in self.hidden.things.values()):
                    bonds = {one for one in self.hidden.joints_of(thing.id)
                             if self.hidden.things[one].kind == "adhesive" and one not in waited_for}
                    return {thing.id, *(bonds if self.rng.random() < 0.6 else ())}
        return set()

    def _free(self) -> list[str]:
        things = [*self.structure.releases, *self.structure.removals]
        return [one for one in things if one in self.hidden.things and one not in self._left_alone
                and self.state.is_in_place(one) and not self.state.obstacles_of(one)]

    def _next(self, free: Sequence[str]) -> str:
        """One of the operations that are possible, by nearness and by habit; never by what hides what."""
        return self.rng.choices(free, [self._weight(self.hidden.things[one]) for one in free])[0]

    def _weight(self, thing: Thing) -> float:
        x, y = thing.middle
        weight = math.exp(-math.hypot(x - self._last[0], y - self._last[1]) / self.habits.region_mm)
        on_carrier = thing.on in self.state.removed or any(part in self.state.removed for part in thing.of)
        if on_carrier and self.habits.carriers_late:
            weight *= 0.01
        if thing.is_part:
            weight *= 6 if thing.kind in OPENS else 2
            if self._run == "plug" and self.habits.plug_run or self._run == "screw" and self.habits.screw_run:
                weight *= 0.15
        elif thing.kind == "connector":
            if thing.isolates and self.habits.cell_first:
                weight *= 20
            weight *= 6 if self._run == "plug" and self.habits.plug_run and self._done_in_run < 8 else 1
        elif thing.kind == "screw":
            weight *= 5 if self._run == "screw" and self.habits.screw_run and self._done_in_run < 3 else 1.5
        elif thing.kind == "swing":
            weight *= 10
        if self._worked_on == thing.id:  # what has come free is lifted, but by those who undo screws of several first
            weight *= 4 if self.habits.screw_run else 40
        elif self._worked_on in thing.of:
            weight *= 8
        return max(weight, 1e-9)

    def _do(self, one: str) -> None:
        thing = self.hidden.things[one]
        run = {"connector": "plug", "screw": "screw"}.get(thing.kind, "")
        self._done_in_run = self._done_in_run + 1 if run and run == self._run else 1
        self._run, self._last = run, thing.middle
        self._worked_on = thing.id if thing.is_part else thing.of[0]
        apply_all(self.state, self.structure, one)
        if thing.kind == "contact":  # parts as the cell is lifted; nobody does anything for it
            self.forgotten.add(one)
            return
        self.operations += 1
        odds = FORGETS.get(thing.kind, 0.0)
        if thing.kind == "clip" and len(thing.spots) > FEW_CLIPS:
            odds = FORGETS["screw"]  # a ring of them is no small thing
        if not thing.is_part and self.rng.random() < odds:
            self.forgotten.add(one)
            return
        if thing.is_part and thing.kind in ("tray",) and self.rng.random() < FORGETS["slide"]:
            self.forgotten.add(one)
            return
        self._work_on_the_right_piece(thing)
        if thing.is_part:
            self._lift(thing)
        elif thing.kind == "swing":
            self._swing(thing)
        elif thing.kind == "screw":
            self._screws(thing)
        else:
            self._joint(thing)

    # -- gestures

    def press(self, gesture: Gesture, **what: Any) -> bool:
        """One act of the hand."""
        self.acts += 1
        return self.recorder.gesture(gesture, **what)

    def _spot(self, spot: Spot, off_mm: float) -> Spot:
        """Where the hand points, in pixels of the photograph."""
        far, turn = self.rng.uniform(0, off_mm), self.rng.uniform(0, 2 * math.pi)
        return self._pixels((spot[0] + far * math.cos(turn), spot[1] + far * math.sin(turn)))

    def _pixels(self, spot: Spot) -> Spot:
        """A place of the device on the photograph."""
        return (spot[0] + MARGIN_MM) / MM_PER_PX, (spot[1] + MARGIN_MM) / MM_PER_PX

    def _photo(self, *, by_itself: bool = False) -> None:
        """The camera's photograph: what was marked and is still in place is carried over, as the window does. A camera
        that watches takes one of a layer that was opened by itself, no act of a hand."""
        self.acts += not (by_itself and self.photographs == WATCHED)
        teardown = self.session.teardown
        state, views = self.session.derived.state, [v for v in teardown.views if v.side == self._side]
        marks = tuple(m for m in views[-1].marks if state.is_in_place(m.thing)) if views else ()
        id_ = f"v{len(teardown.views)}"
        self.recorder.do(add_view, View(id=id_, side=self._side, photo=f"{id_}.jpg", mm_per_px=MM_PER_PX, marks=marks,
                                        at_entry=teardown.log[-1].id if teardown.log else None))
        self.recorder.selection.view = id_

    def _work_on_the_right_piece(self, thing: Thing) -> None:
        """On the mat, or on what was lifted; and from the right side."""
        carrier = next((part for part in ((thing.on,) if thing.is_part else thing.of)
                        if part in self.state.removed and part != thing.id), "") if not thing.is_part or \
            thing.on != BASE else ""
        if not thing.is_part and not any(self.hidden.things[p].on == carrier for p in thing.of if p in
                                         self.hidden.things):
            carrier = ""
        known = next((own for own, true in self.hidden_of.items() if true == carrier), "")
        chosen = self.recorder.selection
        if chosen.carrier and chosen.carrier != known:
            self.press(Gesture.UNDERSIDE)
        if known and chosen.carrier != known:
            self.acts += 1
            self.recorder.choose(known)
            self.press(Gesture.UNDERSIDE)
        if thing.side != self._side and thing.kind != "tray":
            self._side = thing.side
            self._photo()

    def _mark_kind(self, thing: Thing) -> tuple[str, str]:
        """The key of its kind, and the type it should have; seldom the wrong one."""
        if thing.kind == "adhesive":
            return ("tab" if thing.method in mark_kinds()["tab"].types else "glue"), thing.method
        if thing.kind == "connector":
            kind = MARKED_AS[thing.type]
            if self.rng.random() < 0.03:
                kind = self.rng.choice([one for one in MARKED_AS.values() if one != kind])
            return kind, mark_kinds()[kind].types[0]
        return BY_KEY[thing.kind], ""

    def _joint(self, thing: Thing) -> None:
        kind, type_ = self._mark_kind(thing)
        chosen = self.recorder.selection
        spots = [self._spot(spot, 2.0 if thing.kind == "clip" else 8.0) for spot in thing.spots]
        wanted = mark_kinds()[kind]
        if not self._is_armed(wanted, type_):  # pointed at, and undone there by the key of its kind
            self.press(Gesture.KIND, kind=kind, spot=spots[0], place=None)
            made = chosen.thing
            self._say_type(made, kind, type_)
        elif len(spots) > 1:  # drawn as a row, or round
            self.acts += 2
            made = self.recorder.mark(spots)
        else:
            self.press(Gesture.CLICK_BESIDE, spot=spots[0])
            made = chosen.thing
        self.hidden_of[made] = thing.id
        self._answer(thing)
        self._say_tool(thing, made)

    def _say_type(self, made: str, kind: str, type_: str) -> None:
        """Of which type it was: by the key of the answer, else by the same key again."""
        wanted = mark_kinds()[kind]
        while not self._is_armed(wanted, type_):
            place = next((n for n, one in enumerate(self.recorder.offered) if one.choice == type_), None)
            if place is not None:
                self.press((Gesture.ANSWER_1, Gesture.ANSWER_2, Gesture.ANSWER_3, Gesture.ANSWER_4)[place])
            else:
                marks = self.recorder.view.marks
                on = max(n for n, mark in enumerate(marks) if mark.thing == made)
                self.press(Gesture.KIND, kind=kind, spot=(marks[on].x, marks[on].y), place=on)

    def _answer(self, thing: Thing) -> None:
        """Whose plug; now and then the wrong part, now and then no answer."""
        if thing.kind != "connector" or not self.answers or self.rng.random() > ANSWERS:
            return
        owner = self.hidden.things[thing.of[0]]
        kind = self._key_of(owner)
        if self.rng.random() < 0.05:
            kind = self.rng.choice(("camera", "display", "port", "speaker"))
        slips = part_kinds()[kind].kind != owner.kind
        place = next((n for n, one in enumerate(self.recorder.offered) if one.choice == kind), None)
        if place is not None:
            self.press((Gesture.ANSWER_1, Gesture.ANSWER_2, Gesture.ANSWER_3, Gesture.ANSWER_4)[place])
        else:
            self.press(Gesture.WHOSE)
            self.press(Gesture.LIFT_AS, kind=kind)
        told = self.session.teardown.joint[self.recorder.selection.thing].of[0]
        if self.session.teardown.part[told].kind and not slips:  # another part was said: that is not on record by this
            self.hidden_of.setdefault(told, owner.id)

    def _is_armed(self, row: Any, type_: str) -> bool:
        kind = self.recorder.selection.kind
        return kind is not None and not kind.letter and kind.joint == row.kind and (
            not row.types or kind.type == (type_ or kind.type) and kind.type in row.types)

    def _screws(self, thing: Thing) -> None:
        letter = self._letter_of(thing)
        chosen = self.recorder.selection
        if chosen.kind is None or chosen.kind.letter != letter:
            self.press(Gesture.LETTER, letter=letter, part="")
        elif chosen.group:
            self.press(Gesture.NEW_GROUP)
        spots = [self._spot(spot, 1.0) for spot in thing.spots]
        if len(spots) > 1 and self.rng.random() < 0.05:
            spots.pop()  # miscounted
        is_known = any(self.session.teardown.joint[mark.thing].fastener == letter
                       for view in self.session.teardown.views for mark in view.marks
                       if mark.thing in self.session.teardown.joint)
        if is_known and len(spots) > 1:  # drawn round: those like one that is marked somewhere are marked
            self.acts += 1
            self.recorder.mark_also(spots)
        else:
            self.press(Gesture.CLICK_BESIDE, spot=spots[0])
            if len(spots) == 2:
                self.press(Gesture.CLICK_BESIDE, spot=spots[1])
            elif len(spots) > 2:
                self.acts += 1
                self.recorder.mark_also(spots[1:])
        made = chosen.thing
        self.hidden_of[made] = thing.id
        if self.recorder.is_on(made):  # a mark releases too, where one undoes as one marks
            self.press(Gesture.RELEASE, way=0)

    def _letter_of(self, thing: Thing) -> str:
        """Of a kind of screw not met yet: from the list, or the digit after the last one where the last is like it.
        It is in hand then."""
        if thing.letter not in self._letters:
            made = "ABCDEFGHIJKLMNOP"[len(self._letters)]
            drive, size = self.hidden.letters[thing.letter]
            last = self.session.teardown.fastener.get(self._letter_in_hand)
            self.acts += 1 if last is not None and (last.drive, last.size) == (drive, size) else 2
            self.recorder.do(add_fastener, Fastener(id=made, drive=drive, size=size))
            self.recorder.gesture(Gesture.LETTER, letter=made, part="")
            self._letters[thing.letter] = made
        self._letter_in_hand = self._letters[thing.letter]
        return self._letter_in_hand

    def _say_tool(self, thing: Thing, joint: str) -> None:
        """A tool is named for the first of its kind, and thereafter now and then where it differs."""
        written = ways_of(self.session.teardown, self.session.teardown.joint[joint])[0].acts[-1].tool
        first = (thing.kind, thing.type) not in self._named
        self._named.add((thing.kind, thing.type))
        if written != thing.acts[-1][0] and self.rng.random() < (FIRST_NAMED if first else self.habits.names_tools):
            self.acts += self._acts_to_tool(written, thing.acts[-1][0])
            self.recorder.choose(joint)
            self.recorder.set_tool(0, thing.acts[-1][0])

    def _acts_to_tool(self, written: str, used: str) -> int:
        """The key for the next tool of the box, where that is it; else the list."""
        box = box_of(self.session.teardown)
        if used not in box:
            return 3
        return 1 if written in box and box[(box.index(written) + 1) % len(box)] == used else 2

    def _key_of(self, thing: Thing) -> str:
        kinds = part_kinds()
        if thing.id in ("main-board", "engine"):
            kind = "main board"
        else:
            kind = thing.kind if thing.kind in kinds else "part"
        if self.rng.random() < 0.03:
            kind = self.rng.choice([one for one in kinds if not kinds[one].unique])
        return kind

    def _lift(self, thing: Thing) -> None:
        kind, spot = self._key_of(thing), self._spot(thing.middle, 8.0)
        for _ in range(2):  # again, where the record thinks that it cannot be
            before = len(self.session.teardown.log)
            self.press(Gesture.LIFT_AS, kind=kind, spot=spot)
            if len(self.session.teardown.log) > before:
                break
        else:
            self.forgotten.add(thing.id)
            return
        made = next(entry.thing for entry in reversed(self.session.teardown.log) if entry.do == "remove")
        self.hidden_of[made] = thing.id  # whatever was said of it before: this is what came off
        for joint in self.session.teardown.joints:  # screws that were told apart from a group are of that group
            whole = split_from(joint.id)
            if joint.kind == "screw" and joint.id not in self.hidden_of and whole in self.hidden_of:
                self.hidden_of[joint.id] = self.hidden_of[whole]
        if self.recorder.offered and self.answers and self.rng.random() < ANSWERS:
            self._answer_after_lift(thing)
        if thing.kind in OPENS and self.rng.random() < self.habits.photographs:
            self._photo(by_itself=True)
        self._footprint(thing, made)

    def _footprint(self, thing: Thing, made: str) -> None:
        """What it had covered, drawn as badly as people draw: every edge a little off, one in ten not at all."""
        if self.photographs and self.footprints:
            if thing.rect is not None and thing.kind in HIDERS:
                self._not_photographed.append((thing, made))
            if self.photographs == WATCHED or len(self._not_photographed) >= self.photographs:
                self.photograph_lifts()
            return
        if not self.footprints or thing.kind not in HIDERS or thing.rect is None or self.rng.random() < 0.1:
            return
        left, top, right, bottom = thing.rect
        width, height = right - left, bottom - top
        off = [self.rng.uniform(-DRAWN_OFF, DRAWN_OFF) for _ in range(4)]
        left, right = left + off[0] * width, right + off[1] * width
        top, bottom = top + off[2] * height, bottom + off[3] * height
        corners = [self._pixels(corner) for corner in ((left, top), (right, top), (right, bottom), (left, bottom))]
        self.press(Gesture.DRAW_COVERED, corners=corners)

    def photograph_lifts(self) -> None:
        """One photograph and one key: what each of those lifted since the last one had covered, as badly as
        scripts.difference_study measured; of those that lay over each other what they had covered together."""
        lifted, self._not_photographed = self._not_photographed, []
        self._photographed += len(lifted)
        if self.photographs == WATCHED:
            self.acts += bool(lifted) and self._photographed % TAKEN_EVERY == 0
        else:
            self.acts += 2 * bool(lifted)
        seen = [(thing, made) for thing, made in lifted if self.rng.random() >= UNSEEN and thing.rect is not None
                and made in self.session.teardown.part]
        while seen:
            group, more = [seen.pop(0)], True
            while more:
                more = [one for one in seen if any(overlaps(one[0].rect, other.rect) for other, _ in group)]
                group += more
                seen = [one for one in seen if one not in more]
            if len(group) > 1 and not self.together:
                continue
            corners = [corner for thing, _ in group for corner in self._seen_corners(thing)]
            first, *others = [made for _, made in group]
            outline = corners if len(group) == 1 else hull(tuple(corners))
            self.recorder.do(set_footprint, self.recorder.selection.view, first,
                             [self._pixels(one) for one in outline], others, "seen")

    def _seen_corners(self, thing: Thing) -> list[Spot]:
        left, top, right, bottom = thing.rect
        off = [self.rng.uniform(-SEEN_OFF, SEEN_OFF) for _ in range(4)]
        left, right = left + off[0] * (right - left), right + off[1] * (right - left)
        top, bottom = top + off[2] * (bottom - top), bottom + off[3] * (bottom - top)
        return [(left, top), (right, top), (right, bottom), (left, bottom)]

    def _answer_after_lift(self, thing: Thing) -> None:
        offered = self.recorder.offered
        if offered[0].code == MEANT:
            self._answer_meant(thing, offered)
            return
        if offered[0].code == SHARED:  # its groups are of one part: the others are its too
            self.press(Gesture.ANSWER_1)
            return
        if offered[0].code in (ROLE, CLOSED):
            self._answer_which(thing, offered)
            return
        if offered[0].code == HANGING:
            self.press(Gesture.ANSWER_2 if self._is_behind(thing) else Gesture.ANSWER_1)
            return
        for place, one in enumerate(offered):
            true = self.hidden.things.get(self.hidden_of.get(one.choice, ""))
            if true is not None and not true.is_part and true.of[0] == thing.id:
                self.press((Gesture.ANSWER_1, Gesture.ANSWER_2, Gesture.ANSWER_3, Gesture.ANSWER_4)[place])
                return
        forgotten = [self.hidden.things[one] for one in self.hidden.joints_of(thing.id)
                     if one in self.forgotten and thing.id == self.hidden.things[one].of[0]]
        for joint in forgotten:
            kind = {"adhesive": "glue"}.get(joint.kind, joint.kind)
            place = next((n for n, one in enumerate(offered) if one.choice == kind), None)
            if place is not None:
                before = set(self.session.teardown.joint)
                self.press((Gesture.ANSWER_1, Gesture.ANSWER_2, Gesture.ANSWER_3, Gesture.ANSWER_4)[place])
                for made in set(self.session.teardown.joint) - before:
                    self.hidden_of[made] = joint.id
                    self.forgotten.discard(joint.id)
                return

    def _answer_meant(self, thing: Thing, offered: Sequence[Offer]) -> None:
        """Whether it was one that is on record: the same key again, or the key of the answer."""
        made = offered[0].about
        for place, one in enumerate(offered):
            if self.hidden_of.get(one.choice) == thing.id:
                self.press((Gesture.ANSWER_1, Gesture.ANSWER_2, Gesture.ANSWER_3, Gesture.ANSWER_4)[place])
                self.hidden_of.pop(made, None)
                return

    def _answer_which(self, thing: Thing, offered: Sequence[Offer]) -> None:
        """Which of two cameras it is, where the record has it otherwise; a group that held it and was left closed."""
        role = thing.roles[0] if thing.roles else NO_ROLE
        has = self.session.teardown.part[offered[0].about].role
        for place, one in enumerate(offered):
            true = self.hidden.things.get(self.hidden_of.get(one.choice, ""))
            if one.code == ROLE and one.choice == role and role not in (has or (NO_ROLE,)) or \
                    one.code == CLOSED and true is not None and true.of[0] == thing.id:
                self.press((Gesture.ANSWER_1, Gesture.ANSWER_2, Gesture.ANSWER_3, Gesture.ANSWER_4)[place])
                return

    def _is_behind(self, cover: Thing) -> bool:
        """Whether most of what is still to come lies behind the cover that hung, and not behind its swing: one answer
        is given for all of it."""
        swings = {(one.id,) for one in self.hidden.things.values() if one.kind == "swing" and one.of[0] == cover.id}
        left = [thing for thing in self.hidden.things.values() if self.state.is_in_place(thing.id)]
        behind = sum((cover.id,) in thing.clauses for thing in left)
        return behind > sum(bool(swings.intersection(thing.clauses)) for thing in left)

    def _swing(self, thing: Thing) -> None:
        self.press(Gesture.SWING, spot=self._spot(thing.middle, 8.0))
        entry = self.session.teardown.log[-1]
        if entry.do == "release" and entry.thing not in self.hidden_of:
            self.hidden_of[entry.thing] = thing.id
            part = self.session.teardown.joint[entry.thing].of[0]
            self.hidden_of.setdefault(part, thing.of[0])
        kind = self.hidden.things[thing.of[0]].kind if thing.of[0] in self.hidden.things else ""
        place = next((n for n, one in enumerate(self.recorder.offered) if one.code == SWUNG and one.choice == kind), 0)
        if place and self.answers and self.rng.random() < ANSWERS:
            self.press((Gesture.ANSWER_1, Gesture.ANSWER_2, Gesture.ANSWER_3, Gesture.ANSWER_4)[place])
        if self.rng.random() < self.habits.photographs:
            self._photo()
