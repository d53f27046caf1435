"""The acts of what is in hand, one beside the other under the photograph: tool, verb, wait, at once, further tools.

Each act is a button with a menu; the keys that change the last one stand at the end. A field takes their place
while a wait, a fact or a tool of one's own is typed.
"""

from __future__ import annotations

from PySide6.QtCore import QEvent, Qt, Signal
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import (
    QFrame,
    QHBoxLayout,
    QMenu,
    QPushButton,
    QSizePolicy,
    QToolButton,
    QWidget,
)

from oddbolt.catalog.defaults import ways_of
from oddbolt.catalog.tables import tool_ids, written_verbs
from oddbolt.model.things import HAND, Act, Teardown
from oddbolt.session.modes import Gesture
from oddbolt.session.recording.tool_acts import acts_of, box_of
from oddbolt.session.told_fact import completions, understand_fact
from oddbolt.session.told_wait import understand_wait
from oddbolt.ui.log.echo import fact_text
from oddbolt.ui.log.keys import BY_GESTURE, WORDS
from oddbolt.ui.pieces.sheet import Elided, explain, label, tip
from oddbolt.ui.widgets.line import CompletedLine
from oddbolt.words.acts import act_text
from oddbolt.words.figures import span_text
from oddbolt.words.names import tool_name
from oddbolt.words.recording.labels import REUSES
from oddbolt.words.translate import N_, from_table, of_data, sentence, tr

WAIT, FACT, TOOL = "wait", "fact", "tool"  # what is typed
HINTS = {WAIT: N_("How long until it takes effect: 60, 60-120, 1:30 or 5 min; ⏎ writes it, Esc leaves"),
         FACT: N_("What is there: dot white, gasket, pad, 48 MP, 7900 mAh, swollen; ⏎ writes it, Esc leaves"),
         TOOL: N_("What is the tool called? ⏎ takes it, Esc leaves")}
PADDING_PX = 26  # of a button, and what parts it from the next
Change = tuple[str, int, object]  # what of an act, which act, the new value


class Field(CompletedLine):
    """A line for a few words: while one types, every key is its own."""

    def __init__(self) -> None:
        super().__init__(lambda _: [])

    def is_own(self, key: int) -> bool:
        return True


class ActStrip(QFrame):
    """Shows one thing's acts; what is changed is only said."""

    asked = Signal(object)  # a gesture of the table of keys
    changed = Signal(object)  # a Change
    typed = Signal(str, str, int)  # what was typed (WAIT, FACT, TOOL), the text, which act
    said = Signal(str, bool)
    left = Signal()  # the field

    def __init__(self) -> None:
        super().__init__()
        self._teardown, self.thing, self.way = Teardown.nothing(), "", 0
        self._types, self._act = "", 0
        self.acts: list[QToolButton] = []
        self._places = QWidget()
        self._row = QHBoxLayout(self._places)
        self._row.setContentsMargins(0, 0, 0, 0)
        self._row.setSpacing(3)
        self.field = Field()
        self.field.setAccessibleName(tr("What is told of what is in hand"))
        self.keys: dict[Gesture, QPushButton] = {}
        line = QHBoxLayout(self)
        line.setContentsMargins(0, 0, 0, 0)
        line.setSpacing(4)
        line.addWidget(self._places, 1)
        line.addWidget(self.field, 1)
        self._words = {Gesture.NEXT_TOOL: tr("tool"), Gesture.WAIT: tr("wait"), Gesture.REUSE: tr("reuse"),
                       Gesture.FACT: tr("fact")}
        for gesture in self._words:
            button = QPushButton()
            button.setObjectName("offer")
            button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
            explain((button, f"{sentence(tr(WORDS[gesture]))} ({BY_GESTURE[gesture]})"))
            button.clicked.connect(lambda _, g=gesture: self.asked.emit(g))
            self.keys[gesture] = button
            line.addWidget(button)
        explain((self.field, tr("A few words; ⏎ writes them down, Esc leaves")))
        self.field.counted.connect(self._counted)
        self.field.left.connect(self.leave)
        self.field.textChanged.connect(self._echo)
        self.field.hide()
        self.show_thing(Teardown.nothing(), "", 0)

    # -- showing

    def show_thing(self, teardown: Teardown, thing: str, way: int) -> None:
        self._teardown, self.thing, self.way = teardown, thing, way
        while self._row.count():
            taken = self._row.takeAt(0).widget()
            if taken is not None:
                taken.deleteLater()
        self.acts = []
        joint = teardown.joint.get(thing)
        for n, act in enumerate(self._own_acts()):
            if n:
                self._row.addWidget(label(tr("at once ›") if act.at_once and joint is not None else "›", "faint"))
            self.acts.append(self._button(n, act))
            self._row.addWidget(self.acts[-1], 1)
        if not self.acts:
            nothing = Elided("faint")
            nothing.setText(tr("The acts of what is chosen, or done last, stand here"))
            self._row.addWidget(nothing, 1)
        found = ways_of(teardown, joint) if joint is not None else ()
        now = found[min(way, len(found) - 1)] if found else None
        text = from_table(REUSES, now.reuse) if now is not None else tr("reuse")
        self._words[Gesture.REUSE] = text + (f", {tr('thrown away')}" if now and now.discard else "")
        self.keys[Gesture.WAIT].setEnabled(joint is not None or len(self.acts) > 1)
        self.keys[Gesture.REUSE].setEnabled(joint is not None)
        self.keys[Gesture.NEXT_TOOL].setEnabled(bool(self.acts) and (joint is None or joint.kind != "screw"))
        self._fit()

    def resizeEvent(self, event: QResizeEvent) -> None:  # noqa: N802 (Qt's name)
        super().resizeEvent(event)
        self._fit()

    def changeEvent(self, event: QEvent) -> None:  # noqa: N802 (Qt's name)
        super().changeEvent(event)
        if event.type() == QEvent.Type.FontChange:
            self._fit()

    def _fit(self) -> None:
        """Where there is little room the keys stand without their words, which are hints, and the acts end in dots."""
        metrics = self.fontMetrics()
        texts = [button.accessibleName() for button in self.acts]
        whole = {gesture: f"{BY_GESTURE[gesture]} {word}" for gesture, word in self._words.items()}
        wanted = sum(metrics.horizontalAdvance(text) + PADDING_PX for text in (*texts, *whole.values()))
        between = len(texts) * metrics.horizontalAdvance(tr("at once ›"))
        short = wanted + between > self.width()
        for gesture, button in self.keys.items():
            button.setText(BY_GESTURE[gesture] if short else whole[gesture])
            button.setAccessibleName(whole[gesture])
        shown = [BY_GESTURE[gesture] if short else text for gesture, text in whole.items()]
        keys = sum(metrics.horizontalAdvance(text) + PADDING_PX for text in shown)
        room = (self.width() - keys - between) // max(1, len(texts)) - PADDING_PX
        for button, text in zip(self.acts, texts):
            button.setText(metrics.elidedText(text, Qt.TextElideMode.ElideRight, max(room, 0)) if short else text)

    def _own_acts(self) -> tuple[Act, ...]:
        joint = self._teardown.joint.get(self.thing)
        if joint is not None:
            ways = ways_of(self._teardown, joint)
            return ways[min(self.way, len(ways) - 1)].acts
        is_part = self.thing in self._teardown.part and self.thing != self._teardown.device.base
        return acts_of(self._teardown, self.thing) if is_part else ()

    def _button(self, place: int, act: Act) -> QToolButton:
        button = QToolButton()
        button.setObjectName("act")
        button.setText(act_text(self._teardown, self.thing, act))
        button.setAccessibleName(button.text())
        button.setToolTip(tip(button.text()))
        button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        button.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        menu = QMenu(button)
        menu.aboutToShow.connect(lambda: self._fill(menu, place))
        button.setMenu(menu)
        button.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        return button

    # -- the menu of an act

    def _fill(self, menu: QMenu, place: int) -> None:
        menu.clear()
        acts, teardown = self._own_acts(), self._teardown
        if place >= len(acts):
            return
        act, is_joint = acts[place], self.thing in teardown.joint
        self._choices(menu, "tool", place, (act.tool,))
        menu.addSeparator()
        self._choices(menu.addMenu(tr("Further tool")), "also", place, act.also)
        verbs = menu.addMenu(tr("What is done"))
        for word in ("", *written_verbs()):
            action = verbs.addAction(of_data(word) if word else tr("as usual"))
            action.setCheckable(True)
            action.setChecked(word == act.does)
            action.triggered.connect(lambda _, w=word: self.changed.emit(("does", place, w)))
        if is_joint or place < len(acts) - 1:  # a part is off with the last act of its lift
            menu.addAction(tr("Wait…  {0}").format(BY_GESTURE[Gesture.WAIT]), lambda: self.open(WAIT, place))
        if place and is_joint:
            once = menu.addAction(tr("At once after the act before  {0}").format(BY_GESTURE[Gesture.AT_ONCE]))
            once.setCheckable(True)
            once.setChecked(act.at_once)
            once.triggered.connect(lambda on: self.changed.emit(("at-once", place, on)))
        menu.addSeparator()
        menu.addAction(tr("A further act before it"), lambda: self.changed.emit(("add", place - 1, HAND)))
        menu.addAction(tr("A further act after it"), lambda: self.changed.emit(("add", place, HAND)))
        less = menu.addAction(tr("Without this act"), lambda: self.changed.emit(("remove", place, None)))
        less.setEnabled(len(acts) > 1)

    def _choices(self, menu: QMenu, what: str, place: int, now: tuple[str, ...]) -> None:
        """Tools that lie there, then all the others, then one that is named."""
        box = [tool for tool in dict.fromkeys((*now, HAND, *box_of(self._teardown))) if what == "tool" or tool != HAND]
        others = QMenu(tr("Others"), menu)
        for tool in (*box, *(one for one in tool_ids() if one not in box)):
            action = (menu if tool in box else others).addAction(sentence(tool_name(self._teardown, tool)))
            action.setCheckable(True)
            action.setChecked(tool in now)
            action.triggered.connect(lambda on, t=tool: self.changed.emit((
                what, place, t if what == "tool" else (*now, t) if on else tuple(o for o in now if o != t))))
        menu.addMenu(others)
        if what == "tool":
            menu.addAction(tr("One of your own…"), lambda: self.open(TOOL, place))

    # -- the field

    def open(self, what: str, act: int = -1) -> None:
        """Type a wait, a fact or the name of a tool; `act` is of which act, the usual one if negative."""
        self._types, self._act = what, act
        self.field.complete = completions if what == FACT else lambda _: []
        self.field.clear()
        self.field.setPlaceholderText(tr(HINTS[what]))
        self.field.setToolTip(tip(tr(HINTS[what])))
        self._places.hide()
        self.field.show()
        self.field.setFocus()

    @property
    def is_typing(self) -> bool:
        return self._types != ""

    def leave(self) -> None:
        if self._types:
            self._types = ""
            self.field.hide()
            self._places.show()
            self.left.emit()

    def _counted(self, text: str) -> None:
        what, act = self._types, self._act
        if not text.strip():
            self.leave()
        elif what == WAIT and understand_wait(text) is None:
            self.said.emit(tr("That is no wait: type 60, 60-120, 1:30 or 5 min"), True)
        else:
            self.leave()
            self.typed.emit(what, text, act)

    def _echo(self, text: str) -> None:
        """What is typed, in words, before it counts."""
        if not text.strip() or not self._types:
            return
        if self._types == WAIT:
            wait = understand_wait(text)
            if wait is not None:
                self.said.emit(tr("Wait {0}").format(span_text(*wait)), False)
        elif self._types == FACT:
            self.said.emit(fact_text(self._teardown, understand_fact(text), ""), False)
