"""What was seen between photographs and waits to be taken over or left: of one pair, or of several that were taken one
after the other while both hands were busy. Knows no gesture."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence

from msgspec import Struct
from msgspec.structs import replace

from oddbolt.knowledge.covering import area
from oddbolt.knowledge.said.seen import HEADS, HELD, LIFTS, MOVED, NEW_OFF, SMALL, Outline, Seen
from oddbolt.model.places import Spot, hull, middle_of
from oddbolt.model.things import Mark
from oddbolt.session.recording.recorder import Recorder
from oddbolt.session.recording.seeing.implied import went_there, what_held
from oddbolt.session.recording.seeing.proposals import Looking, Suggested, marks_carried, proposals

Carry = Callable[[float, float], Spot]
MOST_PAIRS = 24  # that wait to be taken or left: more would not be looked through by anybody
_Key = tuple[str, str, object]  # of the photographs, and what it is between them
NAMED = (NEW_OFF, SMALL, HEADS, MOVED, HELD)  # what is not on record: its kind is said by a key


class Pair(Struct, kw_only=True):
    """Two photographs that were compared; `size` is that of the one after."""

    looking: Looking
    size: tuple[float, float]
    looked_from: int | None = None  # entries of the log when it was shown to who had asked for it

    @property
    def views(self) -> tuple[str, str]:
        return self.looking.before.id, self.looking.after.id

    def key_of(self, one: Seen) -> _Key:
        """What stays the same while the record goes on and it is named."""
        if one.code == HELD:  # it looks as the part does
            return *self.views, (one.code, one.thing or one.look)
        return *self.views, one.spots or one.look if one.code in NAMED else (one.code, one.thing, one.places)

    def carried(self, marks: Sequence[Mark]) -> Mapping[int, Mark]:
        return marks_carried(marks, self.looking.carry, self.size)


class WaitingSeen:
    """Pairs of photographs with what was found between them. Whoever does something else meanwhile changes the record,
    and what is left to be proposed follows."""

    def __init__(self, recorder: Recorder) -> None:
        self.recorder = recorder
        self.session = recorder.session
        self.suggested = Suggested({})
        self.shown: tuple[Seen, ...] = ()
        self.current = -1  # the one that a key names
        self.pairs: list[Pair] = []  # in the order in which they were taken
        self._of: tuple[int, ...] = ()  # for each that is shown, its pair
        self._further: dict[str, tuple[str, Carry]] = {}  # photograph -> the next of its side, and how to it
        self.asks = True  # whether it is looked at: keys name it, and the usual act takes it
        self._ticks: dict[_Key, bool] = {}  # where a person ticked or unticked
        self._kinds: dict[_Key, tuple[str, str]] = {}  # what was named: code and kind
        self._suggested: dict[_Key, str] = {}  # the kind that was suggested first
        self._dropped: set[_Key] = set()

    @property
    def afters(self) -> list[str]:
        """Of each pair the photograph after."""
        return [pair.looking.after.id for pair in self.pairs]

    def views_of(self, place: int) -> tuple[str, str]:
        """The photographs, before and after, that tell of one that is shown."""
        return self.pairs[self._of[place]].views

    def where(self, place: int, view: str) -> Outline:
        """Where one lies on a photograph: that after, or one that was compared with that since; empty on others."""
        one, (_, at) = self.shown[place], self.views_of(place)
        outline, been = one.after or one.spots, {at}
        while at != view:
            at, carry = self._further.get(at, ("", None))
            if carry is None or at in been:
                return ()
            been.add(at)
            outline = tuple(carry(*spot) for spot in outline)
        return outline

    def _drop_oldest(self) -> None:
        del self.pairs[0]
        kept = [(one, n - 1) for one, n in zip(self.shown, self._of) if n]
        self.shown, self._of, self.current = tuple(one for one, _ in kept), tuple(n for _, n in kept), -1
        self.recorder.say("oldest-seen-dropped")

    def _propose(self) -> None:
        named = [one for n, one in enumerate(self.shown) if self._key(n) in self._kinds]
        suggested = self.suggested.with_named(named)
        were = {self._key(n): n for n in range(len(self.shown))}  # a line stays where it was, whatever is said of it
        found: list[tuple[int, Seen]] = []
        for n, pair in enumerate(self.pairs):
            made = proposals(self.session.teardown, pair.looking, self.session.derived.state, suggested)
            left = [one for one in made if pair.key_of(one) not in self._dropped]
            left.sort(key=lambda one, pair=pair: were.get(pair.key_of(one), len(were)))
            found += [(n, self._as_named(pair, one)) for one in left]
        self.shown, self._of = tuple(one for _, one in found), tuple(n for n, _ in found)
        self._propose_what_held(were)

    def _propose_what_held(self, were: Mapping[_Key, int]) -> None:
        """Below all lines, which stay where they are, what held each part that is ticked, where no photograph shows
        that."""
        found: list[tuple[int, Seen]] = []
        told: dict[str, str] = {}  # kind of part -> what was said to have held one
        for place, (n, one) in enumerate(zip(self._of, self.shown)):
            if one.code not in LIFTS or not self.is_ticked(place):
                continue
            pair = self.pairs[n]
            held = what_held(self.session.teardown, pair.looking.before, one, self._went_with(place), told)
            if held is None or pair.key_of(held) in self._dropped:
                continue
            found.append((n, self._as_named(pair, held)))
            if pair.key_of(held) in self._kinds:
                told[held.of_kind] = found[-1][1].kind
        found.sort(key=lambda one: were.get(self.pairs[one[0]].key_of(one[1]), len(were) + len(found)))
        self.shown += tuple(one for _, one in found)
        self._of += tuple(n for n, _ in found)

    def _went_with(self, place: int) -> list[Seen]:
        """What else went where a part lay, until then, but for what went with a smaller one that lay there too."""
        n, part = self._of[place], self.shown[place]
        view = self.pairs[n].looking.after.id
        at = {m: found for m in range(len(self.shown)) if self._of[m] <= n and (found := self.where(m, view))}
        smaller = [at[m] for m in at if m != place and self.shown[m].code in LIFTS and area(at[m]) < area(part.after)]
        return [self.shown[m] for m, found in at.items() if m != place and went_there(part.after, middle_of(found))
                and not any(went_there(other, middle_of(found)) for other in smaller)]

    def _as_named(self, pair: Pair, one: Seen) -> Seen:
        key = pair.key_of(one)
        told = self._kinds.get(key)
        if told is None:  # what was suggested stays, so that nothing changes behind whoever has read it
            kind = self._suggested.setdefault(key, one.kind) if one.kind and one.code != HELD else \
                self._suggested.get(key, one.kind)
            return one if kind == one.kind else replace(one, kind=kind)
        if one.code == MOVED:  # only its rim and what is on it were seen to change: it lay within all of that
            one = replace(one, before=hull(one.before), after=hull(one.after))
        return replace(one, code=told[0], kind=told[1])

    def is_ticked(self, place: int) -> bool:
        one = self.shown[place]
        return self._ticks.get(self._key(place), one.is_sure and not one.wants_kind and one.code != MOVED)

    def _key(self, place: int) -> _Key:
        return self.pairs[self._of[place]].key_of(self.shown[place])

    @property
    def ticked(self) -> list[Seen]:
        return [one for n, one in enumerate(self.shown) if self.is_ticked(n)]

    @property
    def unnamed(self) -> int:
        """How many are to be named yet."""
        return sum(one.wants_kind for one in self.shown)

    def _next_unnamed(self) -> int:
        return next((n for n, one in enumerate(self.shown) if one.wants_kind and self.asks), -1)
