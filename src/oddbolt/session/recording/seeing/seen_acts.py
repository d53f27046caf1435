"""What was seen between two photographs: ticked, named, taken over or left. Knows no widget."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from msgspec.structs import replace

from oddbolt.knowledge.said.seen import HEADS, MOVED, NEW_OFF, SMALL, Outline, Seen
from oddbolt.model.places import Spot
from oddbolt.session.modes import Act
from oddbolt.session.recording.recorder import Recorder
from oddbolt.session.recording.seeing.proposals import Looking, Suggested, marks_carried, proposals
from oddbolt.session.selection import SEEN_KIND, SEEN_LETTER
from oddbolt.session.verbs.seeing.take import take_seen

NAMED = (NEW_OFF, SMALL, HEADS, MOVED)  # what is not on record: its kind is said by a key


class SeenActs:
    """Holds what was found between two photographs until it is taken over or left. Whoever does something else
    meanwhile changes the record, and what is left to be proposed follows."""

    def __init__(self, recorder: Recorder) -> None:
        self.recorder = recorder
        self.session = recorder.session
        self.suggested = Suggested({})
        self.shown: tuple[Seen, ...] = ()
        self.current = -1  # the one that a key names
        self._looking: Looking | None = None
        self._size = (0.0, 0.0)
        self._ticks: dict[tuple[object, ...], bool] = {}  # where a person ticked or unticked
        self._kinds: dict[tuple[object, ...], tuple[str, str]] = {}  # what was named: code and kind
        self._dropped: set[tuple[object, ...]] = set()
        recorder.acts |= {Act.TICK_SEEN: self.tick, Act.NAME_SEEN: self.name, Act.TYPE_SEEN: self.type,
                          Act.LETTER_SEEN: self.letter, Act.TAKE_SEEN: self.take, Act.LEAVE_SEEN: self.leave,
                          Act.DROP_SEEN: self.drop}

    @property
    def views(self) -> tuple[str, str]:
        """Of the photograph before and the one after; empty where nothing is shown."""
        return (self._looking.before.id, self._looking.after.id) if self._looking is not None else ("", "")

    def show(self, looking: Looking, size: tuple[float, float]) -> bool:
        """What was found between two photographs; `size` is that of the one after. False where there is nothing to be
        proposed."""
        self._looking, self._size, self.shown = looking, size, ()
        self._ticks, self._kinds, self._dropped = {}, {}, set()
        self._propose()
        self.current = self._next_unnamed()
        if not self.shown:
            self._looking = None
        self._tell()
        return bool(self.shown)

    def refresh(self) -> None:
        """The record went on: what is done by now is proposed no more."""
        if self._looking is None:
            return
        views = self.session.teardown.view
        if any(id_ not in views for id_ in self.views):
            self.clear()
            return
        self._looking = replace(self._looking, before=views[self.views[0]], after=views[self.views[1]])
        was = self.shown
        self._propose()
        if not self.shown:
            self.clear()
        elif self.shown != was:
            self.current = self._next_unnamed()
            self._tell()

    def _propose(self) -> None:
        assert self._looking is not None
        made = proposals(self.session.teardown, self._looking, self.session.derived.state, self.suggested)
        were = [self._key(one) for one in self.shown]  # a line stays where it was, whatever is said of it
        left = [one for one in made if self._key(one) not in self._dropped]
        left.sort(key=lambda one: were.index(self._key(one)) if self._key(one) in were else len(were))
        self.shown = tuple(map(self._as_named, left))

    def _as_named(self, one: Seen) -> Seen:
        told = self._kinds.get(self._key(one))
        if told is None:
            return one
        if one.code == MOVED:  # only its rim and what is on it were seen to change: it lay within all of that
            one = replace(one, before=hull(one.before), after=hull(one.after))
        return replace(one, code=told[0], kind=told[1])

    def is_ticked(self, place: int) -> bool:
        one = self.shown[place]
        return self._ticks.get(self._key(one), one.is_sure and not one.wants_kind and one.code != MOVED)

    @staticmethod
    def _key(one: Seen) -> tuple[object, ...]:
        """What stays the same while the record goes on and it is named."""
        return one.spots or one.look if one.code in NAMED else (one.code, one.thing, one.places)

    @property
    def ticked(self) -> list[Seen]:
        return [one for n, one in enumerate(self.shown) if self.is_ticked(n)]

    def _next_unnamed(self) -> int:
        return next((n for n, one in enumerate(self.shown) if one.wants_kind), -1)

    # -- acts

    def tick(self, place: int, **_: Any) -> None:
        """Another answer to whether it was done; a key of a kind is of it from now on."""
        if not 0 <= place < len(self.shown):
            return
        one = self.shown[place]
        if one.code == MOVED:  # it may be a part all the same: then its kind is said
            self.recorder.say("only-moved")
            self.choose(place)
            return
        self._ticks[self._key(one)] = not self.is_ticked(place)
        self.current = place if one.code in NAMED else self.current
        self._tell()

    def choose(self, place: int) -> None:
        """A key of a kind is of this one from now on."""
        self.current = place if 0 <= place < len(self.shown) and self.shown[place].code in NAMED \
            else self._next_unnamed()
        self._tell()

    def name(self, kind: str, **_: Any) -> bool:
        """A part of this kind came off there."""
        return self._named(NEW_OFF, kind)

    def type(self, kind: str, **_: Any) -> bool:
        """A joint of this kind was undone there."""
        return self._named(SMALL, kind)

    def letter(self, letter: str, **_: Any) -> bool:
        """The heads that went are of this letter."""
        return self._named(HEADS, letter)

    def _named(self, code: str, kind: str) -> bool:
        """What is named is ticked too."""
        if not 0 <= self.current < len(self.shown) or not kind:
            return False
        key = self._key(self.shown[self.current])
        self._ticks[key], self._kinds[key] = True, (code, kind)
        self._propose()
        self.current = self._next_unnamed()
        self._tell()
        return True

    def drop(self) -> None:
        """Nothing went there: it is shown no more, and what comes after it is asked about."""
        if 0 <= self.current < len(self.shown):
            self._dropped.add(self._key(self.shown[self.current]))
            self._propose()
            self.current = self._next_unnamed()
            if not self.shown:
                self.clear()
            else:
                self._tell()

    def take(self) -> bool:
        """Take over all that is ticked, at once."""
        chosen = self.ticked
        looking = self._looking
        if looking is None:
            return False
        done = self.recorder.do(take_seen, *self.views, chosen, self.recorder.t, marks_carried(looking, self._size),
                                self.recorder.used.remembered())
        if done is None:
            return False
        self.suggested.learn(chosen)
        self.clear()
        return True

    def leave(self) -> None:
        """Nothing of it. What was refused teaches nothing."""
        self.clear()

    def clear(self) -> None:
        if self._looking is None and not self.shown:
            return
        self._looking, self.shown, self.current, self._ticks, self._kinds = None, (), -1, {}, {}
        self._tell()

    def _tell(self) -> None:
        chosen = self.recorder.selection
        chosen.seeing = bool(self.shown)
        code = self.shown[self.current].code if 0 <= self.current < len(self.shown) else ""
        chosen.seen = SEEN_LETTER if code == HEADS else SEEN_KIND if code else ""
        self.recorder.tell.seen()
        self.recorder.tell.armed()



def hull(outline: Outline) -> Outline:
    """The smallest outline without notches round all of it (A. M. Andrew, Inf. Process. Lett. 9 (1979) 216-219, from
    memory)."""
    def half(points: Sequence[Spot]) -> list[Spot]:
        kept: list[Spot] = []
        for x, y in points:
            while len(kept) > 1 and (kept[-1][0] - kept[-2][0]) * (y - kept[-2][1]) <= \
                    (kept[-1][1] - kept[-2][1]) * (x - kept[-2][0]):
                kept.pop()
            kept.append((x, y))
        return kept[:-1]

    points = sorted(set(outline))
    return tuple(half(points) + half(points[::-1])) if len(points) > 2 else outline
