"""The things a teardown is made of, as frozen records. The words are those of docs/format.md and docs/glossary.md."""

from __future__ import annotations

from functools import cached_property
from typing import Any, ClassVar

from msgspec.structs import replace

from oddbolt.model.refusal import Refusal
from oddbolt.model.shapes import (
    ANYTHING,
    COUNT,
    COUNTS,
    FLAG,
    FLAG_OR_TEXT,
    FLAG_OR_TEXTS,
    ID,
    INDEX,
    POINT,
    SECONDS,
    SIGNED,
    TEXT,
    TEXTS,
    ListOf,
    Number,
    OneOf,
    OrNull,
    Record,
    RecordOf,
    Shape,
    key,
    read_record,
    record_schema,
    specs,
    write_record,
)

HAND = "hand"
SIDES = ("front", "back", "edge", "any")
BASES = ("done", "seen", "told", "assumed")
ASSUMED = BASES[-1]  # by the program; the others are of a person
REUSES = ("reusable", "renew", "destroyed")
NEW_LOG_VERBS = ("press", "route", "adjust", "calibrate", "check")  # a reader of version 1 would refuse them
LOG_VERBS = ("release", "remove", "loosen", "reach", "inspect", "measure", "clean", "turn", "wait", "heat", "apply",
             "fit", "fasten", "aid", "photo", "incident", "note", *NEW_LOG_VERBS)
REFIT_VERBS = ("clean", "apply", "fit", "fasten", "loosen", "adjust", "route", "press", "check", "wait", "calibrate",
               "aid")
PROCEDURE_VERBS = (*REFIT_VERBS, "release", "remove", "procedure")  # things may come off again within a procedure
CLOSED, OPEN = "closed", "open"  # what a procedure begins from, where it is no other procedure
WAY_ANSWERS = ("works", "blocked", "needless", "not_mine")
SOMETHING = "something"  # in `held_by`: what it was is not known
OUTCOMES = ("ok", "damaged", "destroyed", "failed", "lost", "found", "not_done")  # the last one strikes an entry

SIDE, BASIS, BEHIND = OneOf(SIDES), OneOf(BASES), ListOf(TEXTS)


class Device(Record):
    noun: ClassVar[str] = "device"
    name: str = key(TEXT, "")
    model: str = key(TEXT, "")
    serial: str = key(TEXT, "")
    category: str = key(TEXT, "other", doc="an open word: slate_tablet, radio, ...")
    variant: str = key(TEXT, "", doc="which variant this one is; empty means everything is present")
    base: str = key(TEXT, doc="the part that stays on the mat")
    mass_g: float | None = key(OrNull(Number()), None)
    size_mm: tuple[float, ...] = key(ListOf(Number()), ())
    notes: str = key(TEXT, "")


class Settings(Record):
    """The convention by which steps are counted and times are added (EN 45554 leaves room for readings)."""

    noun: ClassVar[str] = "settings"
    hand_is_tool: bool = key(FLAG, False, doc="whether the bare hand is a tool like any other")
    tool_groups: tuple[tuple[str, ...], ...] = key(ListOf(TEXTS), (), doc="lists of tools that count as one")
    own_step: tuple[str, ...] = key(TEXTS, (), doc="verbs that are always a step of their own")
    each_tool: bool = key(FLAG, False, doc="whether each further tool of an act counts one more step")
    isolate_first: bool = key(FLAG, True, doc="whether plans avoid live acts before anything else")
    tool_change_s: float = key(SECONDS, 3.6, doc="seconds for a change of tool")
    turn_s: float = key(SECONDS, 3.6, doc="seconds for a turn of the device")


class Tool(Record):
    noun: ClassVar[str] = "tool"
    id: str = key(ID)
    name: str = key(TEXT, "")
    tool_class: str = key(TEXT, "", name="class", doc="basic, supplied_with_part, commercial, proprietary, ...")


class Fastener(Record):
    noun: ClassVar[str] = "fastener"
    id: str = key(ID, doc="the letter on the tray")
    drive: str = key(TEXT, "", doc="PH, PZ, T, IP, PL, Y, SL, HX")
    size: str = key(TEXT, "")
    thread: str = key(TEXT, "", doc="M1.6")
    length_mm: float | None = key(OrNull(Number()), None)
    head_mm: float | None = key(OrNull(Number()), None)
    head: str = key(TEXT, "")
    colour: str = key(TEXT, "")


class Spare(Record):
    noun: ClassVar[str] = "spare"
    available: str = key(TEXT, "")
    includes: tuple[str, ...] | None = key(OrNull(TEXTS), None, doc="parts mounted on it that the spare brings along")
    films: tuple[str, ...] = key(TEXTS, ())
    after: tuple[str, ...] = key(TEXTS, ())


class Fact(Record):
    noun: ClassVar[str] = "fact"
    name: str = key(TEXT)
    value: Any = key(ANYTHING, None)
    unit: str = key(TEXT, "")
    basis: str = key(BASIS, "told")


class Act(Record):
    noun: ClassVar[str] = "act"
    tool: str = key(TEXT, HAND)
    does: str = key(TEXT, "", doc="the verb, when it is not the usual one of the joint's kind")
    active_s: float | None = key(OrNull(SECONDS), None, doc="seconds of work; estimated when absent")
    wait_s: float = key(SECONDS, 0, doc="the act takes effect that long after its work ends")
    wait_to_s: float | None = key(OrNull(SECONDS), None, doc="the longest wait of a span; wait_s is counted")
    at_once: bool = key(FLAG, False, doc="joined to the act before it, with nothing between")
    also: tuple[str, ...] = key(TEXTS, (), doc="further tools needed at the same time")
    limits: tuple[Any, ...] = key(ListOf(ANYTHING), ())


class Way(Record):
    """One way to release a joint: acts in order. In the file a single act may stand in the way itself (`inline`)."""

    noun: ClassVar[str] = "way"
    reuse: str = key(OneOf(REUSES), "reusable")
    resupplied: bool | tuple[str, ...] = key(FLAG_OR_TEXTS, False, doc="the parts whose spares bring new fixing; true: "
                                                                      "those of the parts that the joint ties, and "
                                                                      "of others it is not known")
    discard: bool = key(FLAG, False, doc="what held it is thrown away after this way, whatever could be done with it")
    hazards: tuple[str, ...] = key(TEXTS, ())
    behind: tuple[tuple[str, ...], ...] = key(BEHIND, ())
    acts: tuple[Act, ...] = (Act(),)
    inline: bool = True

    @property
    def is_renewed(self) -> bool:
        """Whether what held does not hold again after it was undone in this way."""
        return self.reuse != REUSES[0] or self.discard


class _WayShape(Shape):
    def read(self, value: Any, path: str) -> Way:
        if type(value) is not dict:
            return read_record(Way, value, path)
        if "acts" in value:
            acts = ListOf(RecordOf(Act)).read(value["acts"], f"{path}.acts")
            if not acts:
                raise Refusal(f"{path}.acts", "no-acts")
            own = {name: item for name, item in value.items() if name != "acts"}
            inline = False
        else:
            of_act = {name: item for name, item in value.items() if name in specs(Act)}
            own = {name: item for name, item in value.items() if name not in of_act}
            acts = (read_record(Act, of_act, path),)
            inline = True
        way = read_record(Way, own, path)
        return Way(reuse=way.reuse, resupplied=way.resupplied, discard=way.discard, hazards=way.hazards,
                   behind=way.behind, extra=way.extra, given=way.given, acts=acts, inline=inline)

    def write(self, value: Way) -> dict[str, Any]:
        own = write_record(value)
        if value.inline and len(value.acts) == 1:
            return {**write_record(value.acts[0]), **own}
        return {"acts": [write_record(act) for act in value.acts], **own}

    def schema(self, definitions: dict[str, Any]) -> dict[str, Any]:
        reference = record_schema(Way, definitions)
        record_schema(Act, definitions)
        properties = definitions["Way"]["properties"]
        properties["acts"] = {"type": "array", "minItems": 1, "items": {"$ref": "#/$defs/Act"}}
        for name, schema in definitions["Act"]["properties"].items():
            properties.setdefault(name, schema)
        return reference


class Joint(Record):
    noun: ClassVar[str] = "joint"
    id: str = key(ID)
    name: str = key(TEXT, "")
    kind: str = key(TEXT, doc="screw, clip, adhesive, connector, film, press-fit, swing, routing, contact, ...")
    type: str = key(TEXT, "", doc="board-to-board, zif, coaxial, ...")
    of: tuple[str, ...] = key(TEXTS, doc="the parts it ties, two or more")
    fastener: str | None = key(OrNull(TEXT), None)
    count: int | None = key(OrNull(COUNT), 1, doc="null where unknown")
    side: str = key(SIDE, "any")
    behind: tuple[tuple[str, ...], ...] = key(BEHIND, ())
    basis: str = key(BASIS, "told")
    ways: tuple[Way, ...] = key(ListOf(_WayShape()), ())
    isolates: bool | str = key(FLAG_OR_TEXT, False, doc="makes the device safe; a text names the power source")
    needs_safe: bool = key(FLAG, False, doc="should only be done dead")
    passive: bool = key(FLAG, False, doc="carries no power, so never counts as live")
    order: tuple[int, ...] = key(ListOf(COUNT), (), doc="numbers of its marks in the order of tightening")
    hole_mm: float | None = key(OrNull(Number()), None, doc="depth of the threaded hole, from where the head rests")
    only_in: tuple[str, ...] = key(TEXTS, ())
    said: tuple[str, ...] = key(TEXTS, (), doc="keys that a person gave; no guess changes those")

    @property
    def alike(self) -> tuple[object, ...]:
        """What joints that people number through have in common: kind, letter and the part they hold."""
        return self.kind, self.fastener, self.of[:1]

    def was_said(self, name: str) -> bool:
        """Whether a person gave a key: then no guess changes it."""
        return name in self.said


class Part(Record):
    noun: ClassVar[str] = "part"
    id: str = key(ID)
    name: str = key(TEXT, "")
    kind: str = key(TEXT, "")
    on: str | None = key(OrNull(TEXT), None, doc="the part it stays with when that one is lifted; absent: the base")
    role: tuple[str, ...] = key(TEXTS, (), doc="the priority parts it is under a scoring method")
    captive: bool = key(FLAG, False, doc="listed, never taken off by itself")
    count: int | None = key(OrNull(COUNT), 1)
    behind: tuple[tuple[str, ...], ...] = key(BEHIND, ())
    basis: str = key(BASIS, "told")
    hazards: tuple[str, ...] = key(TEXTS, ())
    tool: str = key(TEXT, HAND)
    also: tuple[str, ...] = key(TEXTS, ())
    does: str = key(TEXT, "")
    side: str = key(SIDE, "any")
    active_s: float | None = key(OrNull(SECONDS), None)
    isolates: bool | str = key(FLAG_OR_TEXT, False)
    needs_safe: bool = key(FLAG, False)
    acts: tuple[Act, ...] = key(ListOf(RecordOf(Act)), (), doc="how it is lifted where that takes more than one act, "
                                                               "each following the one before it with nothing "
                                                               "between; in place of tool, also, does and active_s")
    only_in: tuple[str, ...] = key(TEXTS, ())
    mass_g: float | None = key(OrNull(Number()), None)
    facts: tuple[Fact, ...] = key(ListOf(RecordOf(Fact)), ())
    spare: Spare | None = key(OrNull(RecordOf(Spare)), None)
    said: tuple[str, ...] = key(TEXTS, (), doc="keys that a person gave; no guess changes those")

    @property
    def lift(self) -> tuple[Act, ...]:
        """The acts by which it is lifted; it is off with the last."""
        return self.acts or (Act(tool=self.tool, also=self.also, does=self.does, active_s=self.active_s),)

    def lifted_by(self, acts: tuple[Act, ...]) -> Part:
        """The part lifted by these acts; a single one that says no more than the part's own keys can is kept in
        them."""
        first = acts[0]
        if len(acts) == 1 and not (first.wait_s or first.limits or first.extra):
            return replace(self, acts=(), tool=first.tool, also=first.also, does=first.does, active_s=first.active_s)
        return replace(self, acts=acts, tool=HAND, also=(), does="", active_s=None)

    def was_said(self, name: str) -> bool:
        """Whether a person gave a key: then no guess changes it."""
        return name in self.said


class Pass(Record):
    noun: ClassVar[str] = "pass"
    pass_: int = key(COUNT, 1, name="pass")
    by: str = key(TEXT, "")
    started: str = key(TEXT, "")
    place: str = key(TEXT, "")


class LogEntry(Record):
    noun: ClassVar[str] = "log-entry"
    id: str = key(ID)
    t: float | None = key(OrNull(SECONDS), None, doc="seconds from the start of the pass")
    pass_: int = key(COUNT, 1, name="pass")
    do: str = key(OneOf(LOG_VERBS))
    thing: str | None = key(OrNull(TEXT), None)
    things: tuple[str, ...] = key(TEXTS, ())
    way: int | None = key(OrNull(INDEX), None)
    act: int | None = key(OrNull(INDEX), None, doc="absent: all acts of the way")
    tool: str = key(TEXT, "")
    seconds: float | None = key(OrNull(SECONDS), None)
    outcome: str = key(OneOf(OUTCOMES), "ok")
    finding: str = key(TEXT, "")
    quantity: float | None = key(OrNull(Number()), None)
    value: Any = key(ANYTHING, None)
    unit: str = key(TEXT, "")
    text: str = key(TEXT, "")
    amends: str | None = key(OrNull(TEXT), None, doc="the entry whose reading this one corrects")
    after: str | None = key(OrNull(TEXT), None, doc="an earlier entry of the file: this one stands behind that one")
    basis: str = key(BASIS, BASES[0], doc="seen: taken over from what two photographs differ in")
    places: tuple[int, ...] = key(COUNTS, (), doc="single screws of the group that this is about; absent: all")
    fastener: str | None = key(OrNull(TEXT), None, doc="the letter that really went in or came out")
    new: bool = key(FLAG, False, doc="a new one went in")
    discard: bool = key(FLAG, False, doc="thrown away")
    procedure: str = key(TEXT, "", doc="the procedure that was followed")
    step: int | None = key(OrNull(INDEX), None, doc="place of its entry in the procedure")
    sound: str = key(TEXT, "", doc="file name of what was said here, among the photographs; typed later")


class Mark(Record):
    noun: ClassVar[str] = "mark"
    thing: str = key(TEXT)
    n: int | None = key(OrNull(COUNT), None)
    x: float = key(Number(), doc="pixels of the upright photo, from the left")
    y: float = key(Number(), doc="pixels of the upright photo, from the top")
    outline: tuple[tuple[float, float], ...] = key(ListOf(POINT), (), doc="corners of an area or a line; pixels")
    angle_deg: float | None = key(OrNull(Number()), None, doc="opening direction, clockwise from the photo's right")
    fact: str = key(TEXT, "", doc="what was told in passing of the thing here, as it was said")


class Plane(Record):
    """Where a known figure lay on the photograph: takes pixels to mm, lens included."""

    noun: ClassVar[str] = "plane"
    to_mm: tuple[tuple[float, ...], ...] = key(ListOf(ListOf(SIGNED)), doc="3 x 3, of homogeneous upright pixels")
    covariance: tuple[tuple[float, ...], ...] = key(ListOf(ListOf(SIGNED)), (),
                                                    doc="of its first eight entries, then of the lens")
    lens: tuple[float, ...] = key(ListOf(SIGNED), (), doc="centre x, y, and radius in px; first radial coefficient")
    residual_px: float | None = key(OrNull(Number()), None, doc="scatter of the points about it, where there were more "
                                                                "than four")


class Footprint(Record):
    """What a part that was lifted, or a cover that swung, had covered."""

    noun: ClassVar[str] = "footprint"
    of: str = key(TEXT)
    with_: tuple[str, ...] = key(TEXTS, (), name="with", doc="others that had covered it together with that one: which "
                                                            "of them had covered what in it nobody could see")
    at_entry: str | None = key(OrNull(TEXT), None, doc="the lift or swing that uncovered it")
    outline: tuple[tuple[float, float], ...] = key(ListOf(POINT), (), doc="pixels; empty: it hid nothing")
    basis: str = key(BASIS, "seen")

    @property
    def whose(self) -> tuple[str, ...]:
        """What had covered it, one or several."""
        return (self.of, *self.with_)


class View(Record):
    noun: ClassVar[str] = "view"
    id: str = key(ID)
    side: str = key(SIDE, "any")
    at_entry: str | None = key(OrNull(TEXT), None, doc="the last log entry before it; null: untouched")
    photo: str = key(TEXT, "")
    mm_per_px: float | None = key(OrNull(Number()), None)
    plane: Plane | None = key(OrNull(RecordOf(Plane)), None, doc="measured with a card or a sheet of dots")
    tally: int | None = key(OrNull(INDEX), None, doc="screws counted by the analyst on this view")
    marks: tuple[Mark, ...] = key(ListOf(RecordOf(Mark)), ())
    portrait: str | None = key(OrNull(TEXT), None, doc="the part that it shows by itself; then it is no state")
    footprints: tuple[Footprint, ...] = key(ListOf(RecordOf(Footprint)), ())


class Use(Record):
    """What an entry of a procedure uses up."""

    noun: ClassVar[str] = "use"
    material: str = key(TEXT)
    qty: float | None = key(OrNull(Number()), None)
    unit: str = key(TEXT, "")
    supply: str = key(TEXT, "", doc="with_part, ordered, in_stock; another word stands for itself")


class Tightening(Record):
    """One round over the screws of a group."""

    noun: ClassVar[str] = "tightening"
    level: str = key(TEXT, "tight")
    order: tuple[int, ...] = key(COUNTS, (), doc="numbers of their marks")
    torque_ncm: float | None = key(OrNull(Number()), None)
    torque: float | None = key(OrNull(Number()), None, doc="as it was written, in `unit`")
    unit: str = key(TEXT, "")


class Repeat(Record):
    """How often something is done, and how long each time."""

    noun: ClassVar[str] = "repeat"
    min: int = key(COUNT, 1)
    each_s: tuple[float, ...] = key(ListOf(SECONDS), (), doc="seconds, or from and to")


class KeepOff(Record):
    """What must not be touched or pressed, and how far it is kept from."""

    noun: ClassVar[str] = "keep-off"
    thing: str | None = key(OrNull(TEXT), None)
    edge: str = key(TEXT, "")
    mm: float | None = key(OrNull(Number()), None)


class Refit(Record):
    """An entry of how the device goes back together, or of another procedure."""

    noun: ClassVar[str] = "refit-entry"
    do: str = key(OneOf(PROCEDURE_VERBS))
    thing: str | None = key(OrNull(TEXT), None)
    on: str | None = key(OrNull(TEXT), None)
    text: str = key(TEXT, "")
    label: str = key(TEXT, "", doc="a name that `back_to` of a later entry goes back to")
    uses: tuple[Use, ...] = key(ListOf(RecordOf(Use)), ())
    align: str = key(TEXT, "")
    one_shot: bool = key(FLAG, False, doc="cannot be moved once it touches")
    strip: tuple[str, ...] = key(TEXTS, (), doc="films that come off first")
    passes: tuple[Tightening, ...] = key(ListOf(RecordOf(Tightening)), ())
    repeat: Repeat | None = key(OrNull(RecordOf(Repeat)), None)
    wait_s: float = key(SECONDS, 0, doc="before what follows")
    keep_off: tuple[KeepOff, ...] = key(ListOf(RecordOf(KeepOff)), ())
    blocks: bool = key(FLAG, False, doc="nothing follows before this is fine")
    places: tuple[int, ...] = key(COUNTS, (), doc="single screws of a group")
    new: bool = key(FLAG, False, doc="a new one goes in")
    discard: bool = key(FLAG, False, doc="the old one is thrown away")
    only_if: Any = key(ANYTHING, None, doc="a text, or a part with what must hold of it")
    until: str = key(TEXT, "", doc="what a person looks for before going on")
    back_to: str = key(TEXT, "", doc="the label of an earlier entry, gone back to until then")
    most: int | None = key(OrNull(COUNT), None, doc="rounds of going back")
    also: tuple[str, ...] = key(TEXTS, (), doc="further tools at the same time")
    procedure: str = key(TEXT, "", doc="of `procedure`: the id of the one that is done here")
    proves_order: bool = key(FLAG, False, doc="it had to stand here: what went back after it did not hide it")


class Procedure(Record):
    """A way of working that has a name: to replace a part, to put a variant together."""

    noun: ClassVar[str] = "procedure"
    id: str = key(ID)
    name: str = key(TEXT, "")
    for_: str | None = key(OrNull(TEXT), None, name="for", doc="the part that it replaces")
    from_: str = key(TEXT, CLOSED, name="from", doc="closed; open, as the log left it; or the id of a procedure")
    only_in: tuple[str, ...] = key(TEXTS, ())
    entries: tuple[Refit, ...] = key(ListOf(RecordOf(Refit)), ())


class SubMark(Record):
    """A mark of one matter within an opinion."""

    noun: ClassVar[str] = "sub-mark"
    name: str = key(TEXT)
    mark: float | None = key(OrNull(Number()), None)
    of: float | None = key(OrNull(Number()), None)
    reasons: str = key(TEXT, "")


class Opinion(Record):
    noun: ClassVar[str] = "opinion"
    by: str = key(TEXT, "")
    mark: float | None = key(OrNull(Number()), None)
    of: float | None = key(OrNull(Number()), None)
    reasons: str = key(TEXT, "")
    marks: tuple[SubMark, ...] = key(ListOf(RecordOf(SubMark)), (), doc="marks of single matters beside the whole")


class Answer(Record):
    noun: ClassVar[str] = "answer"
    method: str = key(TEXT)
    criterion: str = key(TEXT)
    part: str | None = key(OrNull(TEXT), None)
    value: Any = key(ANYTHING, None)
    basis: str = key(BASIS, "told")
    source: str = key(TEXT, "")


class ConfirmedWay(Record):
    """What a person said of a way to a part that was shown to them, operation by operation."""

    noun: ClassVar[str] = "confirmed-way"
    id: str = key(ID)
    part: str = key(TEXT)
    at_entry: str | None = key(OrNull(TEXT), None, doc="the last log entry when it was said")
    by: str = key(TEXT, "")
    operations: tuple[str, ...] = key(TEXTS, (), doc="parts and joints, in the order shown")
    answer: str = key(OneOf(WAY_ANSWERS), doc="works; blocked: `by_things` is in the way of `at`; needless: `things` "
                                              "can be skipped; not_mine: `at` belongs to `to`")
    at: str | None = key(OrNull(TEXT), None)
    by_things: tuple[str, ...] = key(TEXTS, (), doc="one of these hides or ties `at`")
    things: tuple[str, ...] = key(TEXTS, ())
    to: str | None = key(OrNull(TEXT), None)
    held_by: tuple[str, ...] = key(TEXTS, (), doc="joints that were forgotten, or `something`")


class ToldWay(Record):
    """Someone's list of how to get to a part: no evidence by itself; it is compared with the best way."""

    noun: ClassVar[str] = "told-way"
    id: str = key(ID)
    part: str = key(TEXT)
    by: str = key(TEXT, "")
    source: str = key(TEXT, "", doc="maker's instruction, a learner, a recording")
    things: tuple[str, ...] = key(TEXTS, (), doc="parts and joints in the order told")
    text: str = key(TEXT, "")


class Pair(Record):
    """A single yes or no: whether one thing hides another."""

    noun: ClassVar[str] = "pair"
    thing: str = key(TEXT)
    hider: str = key(TEXT)
    hides: bool = key(FLAG)


def _list(cls: type[Record]) -> Any:
    return key(ListOf(RecordOf(cls)), ())


class Teardown(Record, dict=True):
    """One device taken apart: a snapshot. Every change makes a new one that shares what did not change."""

    noun: ClassVar[str] = "teardown"
    format: str = key(OneOf(("oddbolt-teardown",)), "oddbolt-teardown")
    version: int = key(COUNT, 1)
    device: Device = key(RecordOf(Device))
    settings: Settings = key(RecordOf(Settings), Settings())
    tools: tuple[Tool, ...] = _list(Tool)
    fasteners: tuple[Fastener, ...] = _list(Fastener)
    parts: tuple[Part, ...] = _list(Part)
    joints: tuple[Joint, ...] = _list(Joint)
    sessions: tuple[Pass, ...] = _list(Pass)
    log: tuple[LogEntry, ...] = _list(LogEntry)
    views: tuple[View, ...] = _list(View)
    refit: tuple[Refit, ...] = _list(Refit)
    procedures: tuple[Procedure, ...] = _list(Procedure)
    opinions: tuple[Opinion, ...] = _list(Opinion)
    answers: tuple[Answer, ...] = _list(Answer)
    confirmed: tuple[ConfirmedWay, ...] = _list(ConfirmedWay)
    pairs: tuple[Pair, ...] = _list(Pair)
    told: tuple[ToldWay, ...] = _list(ToldWay)

    @classmethod
    def nothing(cls) -> Teardown:
        """A record without anything in it, for what needs one to look names up in."""
        return cls(device=Device(base="base"), parts=(Part(id="base"),))

    @cached_property
    def part(self) -> dict[str, Part]:
        return {part.id: part for part in self.parts}

    @cached_property
    def joint(self) -> dict[str, Joint]:
        return {joint.id: joint for joint in self.joints}

    @cached_property
    def fastener(self) -> dict[str, Fastener]:
        return {fastener.id: fastener for fastener in self.fasteners}

    @cached_property
    def view(self) -> dict[str, View]:
        return {view.id: view for view in self.views}

    @cached_property
    def pictured(self) -> tuple[View, ...]:
        """Views of states, no portraits, that have a photograph."""
        return tuple(view for view in self.views if view.photo and view.portrait is None)

    @cached_property
    def beside(self) -> tuple[str, ...]:
        """Names of the files that go with the record: photographs, then what was spoken."""
        return tuple(dict.fromkeys((*(view.photo for view in self.views if view.photo),
                                    *(entry.sound for entry in self.log if entry.sound))))

    @cached_property
    def place_among_alike(self) -> dict[str, tuple[int, int]]:
        """For each joint its place, from 1, among those of one kind, letter and first part, and how many these are."""
        alike: dict[tuple[object, ...], list[str]] = {}
        for joint in self.joints:
            alike.setdefault(joint.alike, []).append(joint.id)
        return {id_: (n, len(ids)) for ids in alike.values() for n, id_ in enumerate(ids, start=1)}

    @cached_property
    def place_among_unnamed(self) -> dict[str, tuple[int, int]]:
        """For each part with a kind and no name its place, from 1, among those of its kind, and how many these are."""
        alike: dict[str, list[str]] = {}
        for part in self.parts:
            if part.kind and not part.name:
                alike.setdefault(part.kind, []).append(part.id)
        return {id_: (n, len(ids)) for ids in alike.values() for n, id_ in enumerate(ids, start=1)}

    def thing(self, id_: str) -> Part | Joint:
        return self.part.get(id_) or self.joint[id_]

    def is_present(self, thing: Part | Joint) -> bool:
        """Whether this variant has the thing, as far as the thing itself says."""
        return not (thing.only_in and self.device.variant) or self.device.variant in thing.only_in
