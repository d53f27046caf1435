"""What was seen between photographs: ticked, named, taken over or left. Knows no widget."""

from __future__ import annotations

from typing import Any

from msgspec.structs import replace

from oddbolt.catalog.tables import joint_kind, mark_kinds
from oddbolt.knowledge.said.seen import HEADS, HELD, MOVED, NEW_OFF, SMALL
from oddbolt.session.modes import Act
from oddbolt.session.recording.recorder import Recorder
from oddbolt.session.recording.seeing.proposals import Looking
from oddbolt.session.recording.seeing.waiting import MOST_PAIRS, NAMED, Pair, WaitingSeen
from oddbolt.session.recording.tool_acts import next_in_box
from oddbolt.session.selection import SEEN_KIND, SEEN_LETTER
from oddbolt.session.verbs.seeing.take import Round, take_seen


class SeenActs(WaitingSeen):
    """What a gesture does with what waits."""

    def __init__(self, recorder: Recorder) -> None:
        super().__init__(recorder)
        recorder.acts |= {Act.TICK_SEEN: self.tick, Act.NAME_SEEN: self.name, Act.TYPE_SEEN: self.type,
                          Act.LETTER_SEEN: self.letter, Act.TAKE_SEEN: self.take, Act.LEAVE_SEEN: self.leave,
                          Act.DROP_SEEN: self.drop, Act.TOOL_SEEN: self.next_tool}
        self._named_last = ""  # the kind of joint that was said last

    def show(self, looking: Looking, size: tuple[float, float], *, asks: bool = True) -> bool:
        """What was found between two photographs, beside what is shown of pairs before; `size` is that of the one
        after. Unless it `asks`, keys go on meaning what they meant until somebody looks. False where there is nothing
        to be proposed."""
        was = self.shown
        self.pairs.append(Pair(looking=looking, size=size,
                               looked_from=len(self.session.teardown.log) if asks else None))
        self._further[looking.before.id] = looking.after.id, looking.carry
        self.asks = asks or bool(was and self.asks)
        self._propose()
        if len(self.pairs) - 1 not in self._of:
            self.pairs.pop()
            return False
        if len(self.pairs) > MOST_PAIRS:
            self._drop_oldest()
        if self.current < 0:
            self.current = self._next_unnamed()
        self._tell()
        return True

    def refresh(self) -> None:
        """The record went on: what is done by now is proposed no more."""
        if not self.pairs:
            return
        views = self.session.teardown.view
        for pair in self.pairs:
            before, after = pair.views
            if before not in views or after not in views:
                self.clear()
                return
            pair.looking = replace(pair.looking, before=views[before], after=views[after],
                                   looked=pair.looking.looked_at)
        if not self.asks:  # found anew when somebody looks: acts are not to wait for it
            return
        was = self.shown
        self._propose()
        if not self.shown:
            self.clear()
        elif self.shown != was:
            self.current = self._next_unnamed()
            self._tell()

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
        self._ticks[self._key(place)] = not self.is_ticked(place)
        self.current = place if one.code in NAMED else self.current
        self._tell()

    def look_at(self) -> bool:
        """What came in while the hands were busy is looked at: from now on keys name it. False where nothing waits."""
        if not self.shown or self.asks:
            return False
        self.asks = True
        self.refresh()
        if self.shown:
            self.choose(-1)
        return True

    def choose(self, place: int) -> None:
        """A key of a kind is of this one from now on."""
        self.asks = True
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
        if self.shown[self.current].code == HELD:
            if code != SMALL:
                self.recorder.say("held-by-a-joint", alarm=True)
                return False
            code = HELD
        if code in (SMALL, HELD):
            self._named_last = kind
        key = self._key(self.current)
        self._ticks[key], self._kinds[key] = True, (code, kind)
        self._propose()
        self.current = self._next_unnamed()
        self._tell()
        return True

    def next_tool(self) -> bool:
        """Joints of the kind that was said last were undone with the next tool of the box, all that are taken now and
        those after them; where none was said, the act just done was."""
        recorder = self.recorder
        if not self._named_last:
            return recorder.acts[Act.NEXT_TOOL]() is not False
        row = mark_kinds()[self._named_last]
        kind = recorder.used.armed(row.id, None)
        tool = next_in_box(self.session.teardown, kind.tool or joint_kind(kind.joint).tool)
        recorder.used.remember_tool(kind.joint, kind.type, tool)
        recorder.say("kind-with-tool", kind=kind.joint, type=kind.type, tool=tool)
        return True

    def drop(self) -> None:
        """Nothing went there: it is shown no more, and what comes after it is asked about."""
        if 0 <= self.current < len(self.shown):
            self._dropped.add(self._key(self.current))
            self._propose()
            self.current = self._next_unnamed()
            if not self.shown:
                self.clear()
            else:
                self._tell()

    def take(self) -> bool:
        """Take over all that is ticked, at once."""
        if not self.pairs:
            return False
        chosen = self.ticked
        rounds = [Round(before=pair.looking.before.id, after=pair.looking.after.id, carried=pair.carried,
                        looked_from=pair.looked_from, chosen=tuple(
            one for place, one in enumerate(self.shown) if self._of[place] == n and self.is_ticked(place)))
            for n, pair in enumerate(self.pairs)]
        done = self.recorder.do(take_seen, rounds, self.recorder.t, self.recorder.used.remembered())
        if done is None:
            return False
        self.suggested.learn([one for one in chosen if one.code != HELD])
        self.clear()
        return True

    def leave(self) -> None:
        """Nothing of it. What was refused teaches nothing."""
        self.clear()

    def clear(self) -> None:
        if not self.pairs:
            return
        self.pairs, self.shown, self._of, self.current, self._further = [], (), (), -1, {}
        self._ticks, self._kinds, self._dropped, self._suggested = {}, {}, set(), {}
        self.asks, self._named_last = True, ""
        self._tell()

    def _tell(self) -> None:
        chosen = self.recorder.selection
        chosen.seeing = bool(self.shown) and self.asks
        code = self.shown[self.current].code if 0 <= self.current < len(self.shown) else ""
        chosen.seen = SEEN_LETTER if code == HEADS else SEEN_KIND if code else ""
        self.recorder.tell.seen()
        self.recorder.tell.armed()
