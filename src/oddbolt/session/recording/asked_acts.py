"""What is told in more than one step: ends let go over nothing, parts drawn round, the order of a group; and groups."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from oddbolt.catalog.tables import covering_kinds
from oddbolt.model.places import Spot
from oddbolt.session.modes import Act
from oddbolt.session.recording.recorder import Recorder, simpler
from oddbolt.session.selection import TIGHTENING, UNDOING, DrawnPart, DroppedEnd, Ordering, WhosePlug
from oddbolt.session.verbs import groups, joints, lifting, parts


class AskedActs:
    """Holds nothing: what is asked for stands in the selection."""

    def __init__(self, recorder: Recorder) -> None:
        self.recorder = recorder
        self.session = recorder.session
        self.selection = recorder.selection
        recorder.acts |= {
            Act.DROP_END: self.drop_end, Act.SELECT_ROUND: self.select_round, Act.NAME_UNNAMED: self.name_unnamed,
            Act.LEAVE_UNNAMED: self.leave_unnamed, Act.NUMBER_MARK: self.number_mark,
            Act.FINISH_ORDER: self.finish_order, Act.LEAVE_ORDER: self.leave_order,
            Act.ORDER_UNDOING: lambda: self.begin_order(UNDOING),
            Act.ORDER_TIGHTENING: lambda: self.begin_order(TIGHTENING), Act.SPLIT: self.split, Act.JOIN: self.join,
            Act.MOVE_MARKS: self.move_marks}

    # -- ends and parts

    def drop_end(self, end: int, spot: Spot, target: str = "") -> None:
        """An end of the chosen joint was let go over a thing, or over nothing: then its kind is asked for."""
        teardown, joint = self.session.teardown, self.selection.thing
        if joint not in teardown.joint:
            return
        part = target if target in teardown.part else ""
        if target in teardown.joint:
            part = teardown.joint[target].of[0]
        if not part:
            self.selection.unnamed = DroppedEnd(joint=joint, end=end, spot=spot)
            self._ask("what-is-there")
        elif self.recorder.do(joints.tie, joint, end, part):
            self._was_it_a_swing(joint, part)

    def _was_it_a_swing(self, joint_id: str, part: str) -> None:
        """A plug of a cover that is off already, by the log: then the cover was swung open, it did not come off."""
        teardown = self.session.teardown
        joint = teardown.joint[joint_id]
        if joint.kind == "connector" and part in joint.of and not self.recorder.is_on(part) \
                and teardown.part[part].kind in covering_kinds().large \
                and self.recorder.do(lifting.swing_instead, part, self.recorder.t):
            self.recorder.say("was-swung-open", thing=part)

    def select_round(self, corners: Sequence[Spot], places: Sequence[int] = ()) -> None:
        """Marks were drawn round; or, where there are none, a part, whose kind is asked for."""
        view = self.recorder.view
        if view is None:
            return
        self.selection.marks = list(places)
        if places:
            self.selection.unnamed = None
            self.recorder.tell.kind_wanted(False)
            self.recorder.choose(view.marks[places[0]].thing)
            self.recorder.say("drawn-round", number=len(places))
        else:
            self.selection.unnamed = DrawnPart(corners=simpler(corners))
            self._ask("which-part")

    def _ask(self, code: str) -> None:
        self.recorder.tell.kind_wanted(True)
        self.recorder.say(code)
        self.recorder.tell.armed()

    def name_unnamed(self, kind: str, **_: Any) -> None:
        """The kind that was asked for."""
        view, unnamed = self.recorder.view, self.selection.unnamed
        self.leave_unnamed()
        if view is None or unnamed is None:
            return
        if isinstance(unnamed, WhosePlug):
            self.recorder.do(joints.also_ties if unnamed.further else joints.whose, unnamed.joint, kind)
            return
        if isinstance(unnamed, DroppedEnd):
            self.recorder.do(joints.tie_to_new, unnamed.joint, kind, view.id, unnamed.spot, end=unnamed.end)
            self.recorder.choose(unnamed.joint)
            return
        corners = unnamed.corners
        middle = sum(x for x, _ in corners) / len(corners), sum(y for _, y in corners) / len(corners)
        done = self.recorder.do(parts.make_part, kind, view.id, middle, carrier=self.selection.carrier,
                                outline=corners)
        if done is not None:
            self.recorder.choose(done.made)

    def leave_unnamed(self) -> None:
        self.selection.unnamed = None
        self.recorder.tell.kind_wanted(False)
        self.recorder.tell.armed()

    # -- the order of a group

    def begin_order(self, what: str) -> None:
        """The marks of the chosen group are clicked one after the other, in the order of undoing or of tightening."""
        joint = self.selection.thing
        if len(self._places(joint, what)) < 2:
            self.recorder.say("choose-group", alarm=True)
            return
        self.selection.ordering = Ordering(joint=joint, what=what)
        self.recorder.say(f"order-{what}", thing=joint)
        self.recorder.tell.armed()

    def _places(self, joint: str, what: str) -> list[int]:
        """Marks of a joint on the photograph, in their present order."""
        view, record = self.recorder.view, self.session.teardown.joint.get(joint)
        own = [n for n, m in enumerate(view.marks) if m.thing == joint and m.n is not None] if view else []
        order = record.order if record is not None and what == TIGHTENING else ()
        rank = {n: k for k, n in enumerate(order)}
        return sorted(own, key=lambda k: rank.get(view.marks[k].n, view.marks[k].n))

    def number_mark(self, place: int, **_: Any) -> None:
        """The next one; the last one again: taken back."""
        ordering = self.selection.ordering
        every = self._places(ordering.joint, ordering.what)
        if place not in every:
            self.recorder.say("of-another-group", alarm=True)
            return
        if ordering.places and place == ordering.places[-1]:
            ordering.places.pop()
        elif place not in ordering.places:
            ordering.places.append(place)
        left = len(every) - len(ordering.places)
        self.recorder.say("numbered", number=len(ordering.places), left=left)
        self.recorder.tell.armed()
        if left == 0:
            self.finish_order()

    def finish_order(self) -> None:
        """Write the order down; what was not clicked follows as it was."""
        view, ordering = self.recorder.view, self.selection.ordering
        self.leave_order()
        if view is None or ordering is None or not ordering.places:
            return
        every = self._places(ordering.joint, ordering.what)
        order = [*ordering.places, *(n for n in every if n not in ordering.places)]
        if ordering.what == UNDOING:
            self.recorder.do(groups.renumber, view.id, ordering.joint, order)
        else:
            self.recorder.do(groups.set_order, ordering.joint, [view.marks[n].n for n in order])

    def leave_order(self) -> None:
        self.selection.ordering = None
        self.recorder.tell.armed()

    def numbers(self) -> dict[int, str]:
        """What the marks of the photograph show while they are numbered."""
        ordering = self.selection.ordering
        if ordering is None:
            return {}
        return {place: str(ordering.places.index(place) + 1) if place in ordering.places else "–"
                for place in self._places(ordering.joint, ordering.what)}

    # -- groups set right

    def split(self) -> None:
        """What was drawn round becomes a group of its own."""
        view, joint = self.recorder.view, self.selection.thing
        if view is None or joint not in self.session.teardown.joint:
            self.recorder.say("draw-some-first", alarm=True)
            return
        done = self.recorder.do(groups.split_group, joint, view.id, list(self.selection.marks))
        if done is not None:
            self.recorder.choose(done.made)

    def join(self) -> None:
        """The groups that were drawn round become one: the first keeps its name."""
        teardown, view = self.session.teardown, self.recorder.view
        marks = view.marks if view else ()
        things = dict.fromkeys(marks[n].thing for n in self.selection.marks if n < len(marks))
        found = [thing for thing in things if thing in teardown.joint]
        if len(found) != 2:
            self.recorder.say("draw-two-groups", alarm=True)
        elif self.recorder.do(groups.join_groups, *found):
            self.recorder.choose(found[0])

    def move_marks(self) -> None:
        """What was drawn round goes to the group that is chosen."""
        view, joint = self.recorder.view, self.selection.thing
        if view is None or joint not in self.session.teardown.joint or not self.selection.marks:
            self.recorder.say("draw-then-choose", alarm=True)
            return
        self.recorder.do(groups.move_marks, view.id, list(self.selection.marks), joint)
