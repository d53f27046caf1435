"""What is chosen, what a click marks, where one works: the state of recording that is no part of the record."""

from __future__ import annotations

from msgspec import Struct, field

from oddbolt.model.places import Spot
from oddbolt.session.modes import Mode
from oddbolt.session.verbs.marking import Kind

WITH_OUTLINE = ("adhesive", "clip", "film", "routing")  # joints that may be drawn round: an area, a run, an edge


class DroppedEnd(Struct, frozen=True, kw_only=True):
    """A joint's end that was let go over nothing; its part's kind is asked for."""

    joint: str
    end: int
    spot: Spot


class WhosePlug(Struct, frozen=True, kw_only=True):
    """A plug whose part is said next; or a joint, of which a further part that it holds is said."""

    joint: str
    further: bool = False


class DrawnPart(Struct, frozen=True, kw_only=True):
    """A part that was drawn round; its kind is asked for."""

    corners: tuple[Spot, ...]


class Telling(Struct, kw_only=True):
    """The way to a part that is shown to be told."""

    part: str
    operations: tuple[str, ...]  # things, in order
    at: str = ""  # the one that is chosen
    wants: str = ""  # what is pointed at next: knowledge.retold.BLOCKED or NOT_MINE; empty: nothing
    hider: str = ""  # what is asked about with yes or no, and the things that it hides by the record
    hidden: tuple[str, ...] = ()
    answers: int = 0  # about this part in a row


class Ordering(Struct, kw_only=True):
    """A group whose order is being given, mark by mark."""

    joint: str
    what: str  # UNDOING or TIGHTENING
    places: list[int] = field(default_factory=list)


UNDOING, TIGHTENING = "undoing", "tightening"
SEEN_KIND, SEEN_LETTER = "kind", "letter"


class Selection(Struct, kw_only=True):
    """Ids and places only; what they mean is looked up in the present snapshot."""

    thing: str = ""  # the part or joint that is chosen
    marks: list[int] = field(default_factory=list)  # marks drawn round
    kind: Kind | None = None  # what a click marks
    part: str = ""  # the part that the next screws hold; empty: the one that comes off next
    group: str = ""  # the joint that clicks add to
    carrier: str = ""  # the lifted part whose underside one works on
    as_i_mark: bool = False  # a click marks and releases
    view: str = ""  # the photograph that is shown
    unnamed: DroppedEnd | DrawnPart | WhosePlug | None = None
    ordering: Ordering | None = None
    measuring: bool = False
    proposing: bool = False  # places are proposed: a row, or others alike
    seeing: bool = False  # what was seen between two photographs is shown
    seen: str = ""  # what is said next of something seen: SEEN_KIND or SEEN_LETTER; empty: nothing
    covering: str = ""  # the part of which is drawn next what it had covered
    reaching: bool = False  # what is drawn round next is within reach
    answering: bool = False  # an open question is shown
    heard: bool = False  # a sentence was heard and does not count yet
    telling: Telling | None = None  # the way to a part is shown
    looks: str = ""  # who looks at the ways; empty: whoever records

    def modes(self) -> tuple[Mode, ...]:
        """The modes that are on, the innermost first; the last one says what a plain click does."""
        told = self.telling
        on = ((Mode.HEARD, self.heard),
              (Mode.POINTING, told is not None and bool(told.wants)), (Mode.NUMBERING, self.ordering is not None),
              (Mode.NAMING, self.unnamed is not None), (Mode.MEASURING, self.measuring),
              (Mode.PROPOSING, self.proposing), (Mode.NAMING_SEEN, self.seen == SEEN_KIND),
              (Mode.LETTERING_SEEN, self.seen == SEEN_LETTER), (Mode.SEEING, self.seeing),
              (Mode.COVERING, bool(self.covering)), (Mode.REACHING, self.reaching),
              (Mode.ANSWERING, self.answering), (Mode.TELLING, told is not None))
        return (*(mode for mode, is_on in on if is_on), self._base())

    def _base(self) -> Mode:
        if self.kind is None:
            return Mode.CHOOSING
        if self.kind.letter:
            return Mode.MARKING_SCREWS
        if self.kind.joint == "clip":
            return Mode.MARKING_CLIPS
        return Mode.MARKING_AREAS if self.kind.joint in WITH_OUTLINE else Mode.MARKING_POINTS

    def give_up(self) -> None:
        """Leave what is half done; what is chosen stays chosen."""
        self.unnamed, self.ordering, self.marks = None, None, []
        self.kind, self.group, self.reaching, self.covering = None, "", False, ""
