"""The way retold: the most probable way to a part as a strip of pictures, and the few answers that set it right."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QComboBox, QFrame, QHBoxLayout, QPushButton, QStackedWidget, QVBoxLayout

from oddbolt.paint.known import known_icon
from oddbolt.paint.palette import Palette
from oddbolt.search.planner import Plan
from oddbolt.session.derived import AT_ONCE, Derived
from oddbolt.session.recording.telling_acts import TellingActs, answers_about
from oddbolt.session.session import Session
from oddbolt.studies.doubts import Shortener
from oddbolt.studies.retelling import GUESSED, Item, Retelling, retell
from oddbolt.ui.background.answer import Answer
from oddbolt.ui.log.telling.correcting import Correcting
from oddbolt.ui.log.telling.crops import Crops
from oddbolt.ui.log.telling.way_strip import WayStrip
from oddbolt.ui.log.telling.yes_or_no import YesOrNo
from oddbolt.ui.pieces.sheet import Elided, explain, label, tip
from oddbolt.words.figures import steps_text
from oddbolt.words.known import known_meaning, known_text
from oddbolt.words.names import fixing_text, name_of, names_of, tool_name
from oddbolt.words.translate import tr, within

STRIP, YES_OR_NO, STUCK = 0, 1, 2


class WayPanel(QFrame):
    """Shows one way; what is answered goes to the acts, and the next way follows from the record."""

    said = Signal(str, bool)
    opened = Signal(bool)  # whether it is seen now
    pointed = Signal(str)  # a thing, to be seen on the photograph that shows it
    followed = Signal()  # what a click means may have changed

    def __init__(self, session: Session, acts: TellingActs, palette: Palette) -> None:
        super().__init__()
        self.setObjectName("sheet")
        self._session, self._acts, self._palette = session, acts, palette
        self._found = Answer(self, session, self._take, lambda words: self.said.emit(words, True),
                             faint=lambda faint: self.strip.setEnabled(not faint))
        self._crops = Crops(session.photo, self)
        self._crops.made.connect(lambda: self.strip.show_pictures(self._crops.of))
        self.part = ""
        self.way: Retelling | None = None
        self._said = 0  # answers on record when it was last shown
        self.parts, self.close_button = QComboBox(), QPushButton(tr("Close  Esc"))
        self.depth, self.number = Elided(), label("", "faint")
        self.strip = WayStrip(palette)
        self.correcting, self.asking = Correcting(session, acts), YesOrNo(session, acts)
        self.stuck = label("", "problem", wrap=True)
        self.pages = QStackedWidget()
        self._build()
        self.hide()

    def _build(self) -> None:
        self.parts.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
        self.parts.setMinimumContentsLength(8)
        self.parts.setMinimumWidth(120)
        self.number.setMinimumWidth(40)
        self.parts.setAccessibleName(tr("The way to which part"))
        self.strip.setAccessibleName(tr("The way, act by act"))
        explain((self.parts, tr("The way to which part; the sign says how known its depth is")),
                (self.close_button, tr("Back to the states; what was said is on record")),
                (self.strip, tr("Point at what is wrong: what it is lights up on the photograph")))
        head = QHBoxLayout()
        head.addWidget(label(tr("The way to"), "title"))
        head.addWidget(self.parts)
        head.addWidget(self.depth, 1)
        head.addWidget(self.number)
        head.addWidget(self.close_button)
        for page in (self.correcting, self.asking, self.stuck):
            self.pages.addWidget(page)
        box = QVBoxLayout(self)
        box.setContentsMargins(8, 5, 8, 6)
        box.setSpacing(4)
        box.addLayout(head)
        box.addWidget(self.strip)
        box.addWidget(self.pages)
        self.parts.activated.connect(lambda _: self.open(self.parts.currentData()))
        self.close_button.clicked.connect(lambda _: self.shut())
        self.strip.chosen.connect(self._chosen)
        self.strip.pressed_return.connect(self._acts.works)
        self.strip.pressed_return.connect(self.strip.setFocus)
        self.correcting.named.connect(self._named)

    # -- open and shut

    def open(self, part: str = "") -> None:
        """Tell the way to this part; without one, to the first that nobody has confirmed yet."""
        parts = self._session.derived.priority_parts()
        if not parts and not part:
            self.said.emit(tr("No part has a role yet: give one in Parts, or lift a cell, a display, a cover …"), True)
            return
        self.part = part or self._next_unconfirmed(parts) or parts[0]
        self.way = None
        if self._acts.selection.telling is not None:
            self._acts.selection.telling.answers = 0
        self.setVisible(True)
        self.opened.emit(True)
        self.refresh()
        self.strip.setFocus(Qt.FocusReason.OtherFocusReason)

    def shut(self) -> None:
        self._acts.show(None)

    def follow(self) -> None:
        """What the acts show now; nothing: the panel goes."""
        if self._acts.selection.telling is None and self.way is not None:
            self.way = None
            self._found.cancel()
            self.setVisible(False)
            self.opened.emit(False)
        self.correcting.follow()
        self.followed.emit()

    def refresh(self) -> None:
        """The way as the record has it now."""
        if not self.isVisible() or not self.part:
            return
        derived, part = self._session.derived, self.part
        if part not in derived.structure.removals:
            self.shut()
            return
        self._found.ask(lambda stop: _find(derived, part, stop), part)

    def opened_other(self) -> None:
        """Another document."""
        self._found.forget()
        self._crops.forget()
        self.part = ""
        self.setVisible(False)
        self.opened.emit(False)

    def stop(self) -> None:
        self._found.stop()
        self._crops.stop()

    # -- showing

    def _named(self) -> None:
        """Who looks was asked, or chosen."""
        if self.way is not None:
            self._show(self.way)
        self.strip.setFocus()

    def _take(self, way: Retelling | None) -> None:
        if way is None:
            return
        before, self.way = self.way, way
        derived = self._session.derived
        derived.keep_known(way.plan, way.known)
        is_for_now = way.looks > 0 and self._asked(way) is None
        was_open = before is not None and before.part == way.part and (
            before.looks != way.looks or before.asks != way.asks)
        following = self._next_unconfirmed(derived.priority_parts()) if was_open and is_for_now else ""
        if following and following != way.part:
            done = tr("The way to {0} is confirmed. Next: {1}") if way.known != GUESSED else tr(
                "The way to {0} works; it is looked at once more later. Next: {1}")
            self.said.emit(done.format(
                name_of(self._session.teardown, way.part), name_of(self._session.teardown, following)), False)
            self.part = following
            self.refresh()
            return
        if was_open and is_for_now and way.asks:
            self.said.emit(tr("That is enough about {0} for once; the rest is asked when it is chosen again").format(
                name_of(self._session.teardown, way.part)), False)
        said = len(self._session.teardown.confirmed)
        if way.wants_a_look and (was_open or (before is not None and said > self._said)):
            self.said.emit(tr("The way to {0} works. It takes a second look, by somebody else or after another way, "
                              "to be confirmed").format(name_of(self._session.teardown, way.part)), False)
        self._said = said
        self._show(way)
        self._acts.show(way)

    def _asked(self, way: Retelling) -> Shortener | None:
        return way.asked_after(answers_about(self._acts.selection.telling, way.part))

    def _show(self, way: Retelling) -> None:
        teardown, told = self._session.teardown, self._acts.selection.telling
        self._fill_parts(way)
        if not way.plan.feasible:
            self.stuck.setText(tr("By the record it cannot come off; kept in by {0}. Set right what each is behind, "
                                  "or what ties it, on the photograph.").format(
                                      names_of(teardown, way.plan.blocked_by)))
        known = tr("look at it once more") if way.wants_a_look else known_text(way.known)
        by = self._acts.selection.looks
        self.depth.setText(" · ".join([*([steps_text(way.plan.count.steps), known] if way.plan.count else []),
                                       *([tr("{0} looks").format(by)] if by else [])]))
        self.depth.setToolTip(tip(known_meaning(way.known)))
        self.strip.show_items([(item.thing, self._lines(item), item.is_assumed, self._ground(item))
                               for item in way.items], told.at if told is not None else "")
        ask = self._asked(way)
        self.asking.show_ask(ask)
        self.correcting.show_way(way)
        self.pages.setCurrentIndex(STUCK if not way.plan.feasible else STRIP if ask is None else YES_OR_NO)
        self.strip.show_pictures(self._crops.of)
        self._crops.want(teardown, [item.thing for item in way.items], self.devicePixelRatioF())

    def _lines(self, item: Item) -> tuple[str, str]:
        """What it is, and with what."""
        teardown, joint = self._session.teardown, self._session.teardown.joint.get(item.thing)
        tools = " → ".join(tool_name(teardown, tool) for tool in dict.fromkeys(item.tools))
        if joint is None:
            return name_of(teardown, item.thing), tr("lift, {0}").format(within(tools))
        return name_of(teardown, item.thing), fixing_text(teardown, joint) if joint.kind == "screw" else tools

    def _ground(self, item: Item) -> str:
        """The colour of an act of its kind, where there is no picture."""
        teardown, p = self._session.teardown, self._palette
        if item.thing in teardown.part:
            return p.lift
        kinds = {"screw": p.screws, "connector": p.plug, "adhesive": p.glue, "film": p.film}
        return kinds.get(teardown.joint[item.thing].kind, p.act)

    def _fill_parts(self, way: Retelling) -> None:
        derived, teardown = self._session.derived, self._session.teardown
        parts = list(dict.fromkeys((*derived.priority_parts(), way.part)))
        known = {part: self._known(derived, part) for part in parts}
        self.parts.clear()
        for part in parts:
            self.parts.addItem(known_icon(known[part], self._palette.ink, self.devicePixelRatioF()),
                               name_of(teardown, part), part)
            self.parts.setItemData(self.parts.count() - 1, known_meaning(known[part]), Qt.ItemDataRole.ToolTipRole)
        self.parts.setCurrentIndex(parts.index(way.part))
        told = sum(one != GUESSED for one in known.values())
        self.number.setText(tr("{0} of {1}").format(told, len(parts)))
        self.number.setToolTip(tip(tr("Ways that are confirmed, of all that matter")))

    @staticmethod
    def _known(derived: Derived, part: str) -> str:
        """As far as it is known without a long search."""
        return derived.known_so_far(WayPanel._plan(derived, part), part)

    @staticmethod
    def _plan(derived: Derived, part: str) -> Plan | None:
        """Where it takes no long search."""
        return derived.planner.plan([part]) if derived.size <= AT_ONCE else None

    def _next_unconfirmed(self, parts: list[str]) -> str:
        """Of those that are guessed yet the first of those at which people looked least."""
        derived = self._session.derived
        plans = {part: self._plan(derived, part) for part in parts if part in derived.structure.removals}
        looks = {part: derived.looks_so_far(plan, part) for part, plan in plans.items()
                 if derived.known_so_far(plan, part) == GUESSED}
        return min(looks, key=looks.__getitem__, default="")

    def _chosen(self, thing: str) -> None:
        self._acts.choose(thing)
        self.pointed.emit(thing)


def _find(derived: Derived, part: str, stop: Callable[[], bool]) -> Iterator[Retelling | None]:
    yield None
    yield from retell(lambda record: derived.planner_for(record=record, stop=stop), derived.teardown, part)
