"""Recording, gesture by gesture: finds the act that a gesture means now, and does it by a verb.

Knows no widget. Who listens is told in codes: what to say, what is chosen, what a click marks, what was released.
`Recorder` holds the selection and the acts of marking; what the key of a kind does stands in `arming_acts`, what is
done to marks that are there in `mark_acts`, releasing and lifting in `lifting_acts`, what is asked for step by step in
`asked_acts`. The window adds the acts that need its own parts.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from msgspec import Struct, field
from msgspec.structs import replace

from oddbolt.knowledge.checks import warnings
from oddbolt.knowledge.covering import contains
from oddbolt.model.places import Spot
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Teardown, View
from oddbolt.session.modes import Act, Gesture, act_of, refusing_mode
from oddbolt.session.recording.kinds import KindsUsed
from oddbolt.session.recording.offers import Offer, after_release
from oddbolt.session.selection import Selection
from oddbolt.session.session import Session
from oddbolt.session.verbs import joints, marking
from oddbolt.session.verbs.lifting import mark_and_release
from oddbolt.session.verbs.marking import Kind
from oddbolt.session.verbs.plain import Done

OUTLINE_CORNERS = 40  # of what was drawn; more say nothing more
Saying = Callable[..., None]  # a code, `alarm`, and the figures that belong to it


def _nobody(*_: Any, **__: Any) -> None:
    pass


class Listeners(Struct, kw_only=True):
    """Who is told of what. Each may be left out."""

    said: Saying = _nobody
    refused: Callable[[Refusal], None] = _nobody
    chosen: Callable[[str], None] = _nobody  # a thing, or nothing
    armed: Callable[[], None] = _nobody  # what a click marks, where one works, what is half done
    released: Callable[[str, int], None] = _nobody  # joint, way
    asks: Callable[[str], None] = _nobody  # a part that was asked about
    offered: Callable[[tuple[Offer, ...]], None] = _nobody
    retells: Callable[[str], None] = _nobody  # a part, the way to which is to be shown
    told: Callable[[], None] = _nobody  # the way that is shown to be told, or what is chosen of it
    seen: Callable[[], None] = _nobody  # what was seen between two photographs, or what is ticked of it
    kind_wanted: Callable[[bool], None] = _nobody  # whether the kind of a part is asked for now


class Recorder(Struct):
    """What is chosen and armed, and the way from a gesture to a verb."""

    session: Session
    tell: Listeners = field(default_factory=Listeners)
    selection: Selection = field(default_factory=Selection)
    used: KindsUsed = field(default_factory=KindsUsed)
    acts: dict[Act, Callable[..., Any]] = field(default_factory=dict)
    offered: tuple[Offer, ...] = ()  # answers that may be given to the act just done
    last: tuple[Teardown, str] | None = None  # the record as it was left by marking and undoing at once, and what
    confirmed: tuple[str, str] | None = None  # an act against the rules that was asked for once

    def __post_init__(self) -> None:
        self.acts |= {
            Act.CHOOSE: self.choose_mark, Act.CHOOSE_NOTHING: lambda **_: self.choose(""), Act.MARK: self.mark_spot,
            Act.MARK_ON_MARK: self.mark_on_mark, Act.MARK_ROUND: self.mark_round,
            Act.ARM_LETTER: self.arm_letter, Act.UNDO_TOO: self.toggle_undo_too, Act.NEW_GROUP: self.new_group,
            Act.STOP_MARKING: self.put_down}

    # -- from a gesture to an act

    def gesture(self, gesture: Gesture, *, beyond: int = 0, **what: Any) -> bool:
        """Do what a gesture means now. Where it means nothing that is said, nothing changes, and False is given."""
        modes = self.selection.modes()
        act = act_of(modes, gesture, beyond=beyond)
        if act is None:
            self.say("not-now", alarm=True, mode=refusing_mode(modes).value, gesture=gesture.value)
            return False
        return self.acts[act](**what) is not False

    def say(self, code: str, *, alarm: bool = False, **figures: Any) -> None:
        self.tell.said(code, alarm=alarm, **figures)

    def do(self, verb: Callable[..., Done], *args: Any, **keys: Any) -> Done | None:
        """Carry a verb out; None, and it is said why, where it is refused."""
        offer(self, ())
        try:
            return self.session.do(verb, *args, **keys)
        except Refusal as refusal:
            self.tell.refused(refusal)
            return None

    # -- what is chosen

    @property
    def view(self) -> View | None:
        return self.session.teardown.view.get(self.selection.view)

    @property
    def t(self) -> float:
        return self.session.seconds_now()

    def is_on(self, thing: str) -> bool:
        return self.session.derived.state.is_in_place(thing)

    def choose(self, thing: str) -> None:
        self.confirmed = None
        self.selection.thing = thing
        self.tell.chosen(thing)

    def choose_mark(self, place: int, **_: Any) -> None:
        thing = self.thing_at(place)
        if not thing:
            return
        self.choose(thing)
        if self.selection.as_i_mark and thing in self.session.teardown.joint and self.is_on(thing):
            self.acts[Act.RELEASE](way=0)

    def thing_at(self, place: int) -> str:
        """What a mark of the photograph that is shown is of."""
        view = self.view
        return view.marks[place].thing if view is not None and 0 <= place < len(view.marks) else ""

    def forget(self) -> None:
        """After another document was opened or something was taken back: drop what is no longer there."""
        chosen, teardown = self.selection, self.session.teardown
        if chosen.thing not in teardown.part and chosen.thing not in teardown.joint:
            chosen.thing = ""
        if chosen.group not in teardown.joint:
            chosen.group = ""
        if chosen.part not in teardown.part:
            chosen.part = ""
        if chosen.carrier and chosen.carrier not in self.session.derived.state.removed:
            chosen.carrier = ""
        if chosen.ordering is not None and chosen.ordering.joint not in teardown.joint:
            chosen.ordering = None
        self.confirmed, chosen.marks = None, []
        told = chosen.telling
        if told is not None and any(one not in teardown.part and one not in teardown.joint
                                    for one in (told.part, *told.operations)):
            chosen.telling = None
            self.tell.told()
        if any(one.about not in teardown.joint and one.about not in teardown.part for one in self.offered):
            offer(self, ())

    # -- what a click marks

    def arm(self, kind: Kind | None) -> None:
        """From now on a click marks this; None: it chooses."""
        self.selection.kind, self.selection.group = kind, ""
        self.tell.armed()

    def arm_letter(self, letter: str, part: str = "") -> None:
        """Marking of screws of a letter, which hold `part`; no letter: choosing again, unless another kind is armed."""
        if part != self.selection.part:  # other screws: they begin a group of their own
            self.selection.part, self.selection.group = part, ""
        now = self.selection.kind
        if letter:
            if now is None or now.letter != letter:
                self.arm(Kind(letter=letter))
                self._warn_of_look_alikes(letter)
        elif now is not None and now.letter:
            self.arm(None)

    def _warn_of_look_alikes(self, letter: str) -> None:
        for alert in warnings.on_letter(self.session.teardown, letter):
            self.say("look-alike", lengths=alert.figures)

    def put_down(self) -> None:
        """Choose instead of mark; what is half done is given up."""
        self.selection.give_up()
        self.tell.kind_wanted(False)
        self.tell.armed()

    def toggle_undo_too(self) -> None:
        self.selection.as_i_mark = not self.selection.as_i_mark
        self.say("marks-and-releases" if self.selection.as_i_mark else "marks-only")
        self.tell.armed()

    def new_group(self) -> None:
        """The next mark begins a group of its own."""
        self.selection.group = ""
        self.say("new-group")

    # -- marking

    def mark_spot(self, spot: Spot, **_: Any) -> None:
        """A click beside all marks, with something armed."""
        kind, view = self.selection.kind, self.view
        if kind is None or view is None:
            return
        if kind.letter and self.selection.group:
            if self.do(marking.mark_more, view.id, self.selection.group, [spot]):
                self.choose(self.selection.group)
        else:
            self.mark([spot])

    def mark_on_mark(self, place: int, spot: Spot) -> None:
        """A click on a mark, with something armed: on a part, what it is held by is marked; what is gone is not in the
        way of a new mark; else the thing is chosen."""
        thing, kind = self.thing_at(place), self.selection.kind
        if not thing or kind is None:
            return
        if not kind.letter and thing in self.session.teardown.part and self.is_on(thing):
            self.mark([spot], part=thing)
        elif not self.is_on(thing):
            self.mark_spot(spot)
        else:
            self.choose_mark(place)

    def mark_round(self, corners: Sequence[Spot], **_: Any) -> None:
        """A joint that covers an area was drawn round; round what was marked just now it is the area of that."""
        place = self._marked_just_now(corners)
        if place is not None:
            self.do(marking.draw_round, self.selection.view, place, simpler(corners))
            return
        middle = sum(x for x, _ in corners) / len(corners), sum(y for _, y in corners) / len(corners)
        self.mark([middle], outline=simpler(corners))

    def _marked_just_now(self, corners: Sequence[Spot]) -> int | None:
        """The place of the mark within, where nothing else was done since it was made."""
        view = self.view
        if view is None or self.last is None or self.last[0] is not self.session.teardown:
            return None
        return next((n for n, mark in enumerate(view.marks) if mark.thing == self.last[1] and not mark.outline
                     and contains(tuple(corners), (mark.x, mark.y))), None)

    def mark(self, spots: Sequence[Spot], *, part: str = "", outline: Sequence[Spot] = ()) -> str:
        """A new joint of what is armed; released at once where one undoes as one marks. Returns its id."""
        chosen, view = self.selection, self.view
        kind = chosen.kind
        if kind is None or view is None:
            return ""
        at_once = chosen.as_i_mark  # of screws the group, with its first mark; further ones join it
        keys = {"carrier": chosen.carrier, "outline": outline, "part": part or (chosen.part if kind.letter else "")}
        live = self.session.derived.is_isolated
        done = self.do(mark_and_release, view.id, kind, spots, self.t, **keys) if at_once \
            else self.do(marking.mark_new, view.id, kind, spots, **keys)
        if done is None:
            return ""
        chosen.group = done.made if kind.letter else ""
        self.choose(done.made)
        if at_once:
            self.last = self.session.teardown, done.made
            self.warn_after_release(done.made, 0, live)
        return done.made

    def mark_also(self, spots: Sequence[Spot]) -> None:
        """Several at once: more of the group that is being marked, or of the joint that is chosen, or a new group."""
        view, chosen = self.view, self.selection
        joint = chosen.group or (chosen.thing if chosen.kind is None and chosen.thing in self.session.teardown.joint
                                 else "")
        if view is None or not spots:
            return
        if not joint:
            self.mark(spots)
        elif self.do(marking.mark_more, view.id, joint, spots):
            self.choose(joint)

    def warn_after_release(self, joint: str, way: int, was_safe: bool) -> None:
        """What a practitioner at the next bench would say after a release; and that a wait may run."""
        structure = self.session.derived.structure
        release = structure.releases.get(joint)
        live = release is not None and release.needs_safe and bool(structure.sources) and not was_safe
        for alert in warnings.on_release(self.session.teardown, joint, live):
            self.say("alert", alarm=True, alert=alert, thing=joint)
        self.tell.released(joint, way)
        offer(self, after_release(self.session.teardown, joint))

    def set_tool(self, way: int, tool: str) -> None:
        """The tool of the joint that is chosen; the next of its kind and type are taken with it too."""
        joint = self.session.teardown.joint.get(self.selection.thing)
        if joint is None or not self.do(joints.set_tool, joint.id, way, tool) or joint.kind == "screw":
            return
        kind = self.selection.kind
        # The types of a bond are its ways of parting, which the record has no type for: that in hand is meant.
        is_armed = kind is not None and kind.joint == joint.kind and joint.type in (kind.type, "")
        self.used.remember_tool(joint.kind, kind.type if is_armed else joint.type, tool)
        if is_armed:
            self.selection.kind = replace(kind, tool=tool)
        self.tell.armed()


def offer(recorder: Recorder, offers: tuple[Offer, ...]) -> None:
    """What may be answered now, until the next act."""
    if offers != recorder.offered:
        recorder.offered = offers
        recorder.tell.offered(offers)


def simpler(corners: Sequence[Spot]) -> tuple[Spot, ...]:
    """What was drawn, in at most some forty corners."""
    step = max(1, len(corners) // OUTLINE_CORNERS)
    return tuple((round(x, 1), round(y, 1)) for x, y in corners[::step])
