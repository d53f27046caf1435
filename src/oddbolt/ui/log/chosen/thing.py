"""What is in hand: the thing chosen, what it ties, what still holds it, its cautions, and the acts."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QPixmap
from PySide6.QtWidgets import (
    QComboBox,
    QFrame,
    QHBoxLayout,
    QMenu,
    QPushButton,
    QSizePolicy,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from oddbolt.catalog.defaults import ways_of
from oddbolt.catalog.tables import bond_methods
from oddbolt.session.modes import Gesture
from oddbolt.session.session import Session
from oddbolt.session.verbs.joints import may_be_behind
from oddbolt.ui.log.keys import BY_GESTURE, WORDS
from oddbolt.ui.pieces.sheet import explain, label, scrolled, tip
from oddbolt.words.acts import caution_texts, cautions_first, limit_text, obstacle_text
from oddbolt.words.names import fixing_text, kind_name, name_of, names_of, part_kind_name, tool_name
from oddbolt.words.translate import N_, sentence, tr

PORTRAIT_PX = 44
TOLD_LINES, FEW_LINES = 6, 4  # of the thing in hand, and in a low window; more is scrolled


# Power sources that may have to be cut one by one: a device that has several is safe once each is.
SOURCES = {"mains": N_("the mains"), "cell": N_("the cell"), "capacitor": N_("a stored charge")}


class ChosenThing(QFrame):
    """What is in hand. Shows one thing; the buttons only say what was asked for."""

    asked = Signal(object)  # a gesture of the table of keys
    way_asked = Signal(str)  # another way of parting a bond
    behind_said = Signal(object)  # ids
    safe_said = Signal(object)  # whether it makes safe, or the power source that it cuts
    limits_asked = Signal(int)  # a way

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.thing = ""
        self.setObjectName("sheet")
        self.name = label("", "title", wrap=True)
        self.holds = label("", "faint", wrap=True)
        self.portrait = label("")
        self.limits = label("", "limits", wrap=True)
        self.caution = label("", "caution", wrap=True)
        self.buttons: dict[Gesture, QPushButton] = {}
        self._make_choices()
        self._make_answers()
        self._put_together(*self._make_buttons())

    def _make_choices(self) -> None:
        self.way = QComboBox()
        self.way.setAccessibleName(tr("Way of releasing"))
        self.way.currentIndexChanged.connect(lambda _: self._show_limits())
        self.way.activated.connect(self._way_chosen)
        explain((self.way, tr("How it is parted; + adds another way")))

    def _make_buttons(self) -> tuple[QHBoxLayout, QHBoxLayout]:
        """The acts, in two rows."""
        acts, more = QHBoxLayout(), QHBoxLayout()
        for row, name, gesture in ((acts, tr("Release  {0}"), Gesture.RELEASE), (acts, tr("Lift  {0}"), Gesture.LIFT),
                                   (acts, tr("Swing  {0}"), Gesture.SWING), (more, tr("Photo  {0}"), Gesture.NEXT),
                                   (more, tr("Camera  {0}"), Gesture.CAMERA),
                                   (more, tr("Outcome  {0}"), Gesture.OUTCOME)):
            button = QPushButton(name.format(BY_GESTURE[gesture]))
            button.setObjectName("big")
            button.setToolTip(tip(f"{sentence(tr(WORDS[gesture]))} ({BY_GESTURE[gesture]})"))
            button.clicked.connect(lambda _, g=gesture: self.asked.emit(g))
            row.addWidget(button)
            self.buttons[gesture] = button
        return acts, more

    def _make_answers(self) -> None:
        """What a person can say of the thing beside its acts."""
        self.behind = QToolButton()
        self.behind.setObjectName("answer")
        self.behind.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self.behind.setMenu(QMenu(self.behind))
        self.behind.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        self.behind.menu().aboutToShow.connect(self._fill_behind)
        self.safe = QToolButton()
        self.safe.setObjectName("answer")
        self.safe.setText(tr("Makes safe"))
        self.safe.setCheckable(True)
        explain((self.safe, tr("Once this is open, the power is off what comes after")),
                (self.behind, tr("What has to be off before this can be reached, and by whose word")))
        self.safe.clicked.connect(lambda on: self.safe_said.emit(on))
        self.safe.setPopupMode(QToolButton.ToolButtonPopupMode.MenuButtonPopup)
        sources = QMenu(self.safe)
        for source, text in SOURCES.items():
            sources.addAction(sentence(tr(text)), lambda source=source: self.safe_said.emit(source))
        self.safe.setMenu(sources)
        self.enter_limits = QToolButton()
        self.enter_limits.setObjectName("answer")
        self.enter_limits.setText(tr("Limits…"))
        self.enter_limits.setToolTip(tr("What protects the device: angle, depth, stop distance, heat, hold"))
        self.enter_limits.clicked.connect(lambda _: self.limits_asked.emit(self.chosen_way()))

    def _put_together(self, acts: QHBoxLayout, more: QHBoxLayout) -> None:
        choices, said = QHBoxLayout(), QHBoxLayout()
        choices.addWidget(self.way, 1)
        choices.addWidget(self.enter_limits)
        said.addWidget(self.behind, 1)
        said.addWidget(self.safe)
        box = QVBoxLayout(self)
        box.setContentsMargins(10, 7, 10, 8)
        box.setSpacing(4)
        head = QHBoxLayout()
        head.addWidget(self.name, 1)
        head.addWidget(self.portrait)
        told = QWidget()
        text = QVBoxLayout(told)
        text.setContentsMargins(0, 0, 0, 0)
        text.setSpacing(3)
        text.addLayout(head)
        for widget in (self.holds, self.limits, self.caution):
            text.addWidget(widget)
        text.addStretch(1)
        # What is told is long or short, and what is pressed stays where it is.
        self.told = scrolled(told)
        self.give_lines(FEW_LINES)
        for pressed in (self.way, self.enter_limits, self.behind):  # they keep the rows as high as they are
            policy = pressed.sizePolicy()
            policy.setRetainSizeWhenHidden(True)
            pressed.setSizePolicy(policy)
        box.addWidget(self.told)
        box.addLayout(choices)
        box.addLayout(said)
        box.addLayout(acts)
        box.addLayout(more)

    def give_lines(self, lines: int) -> None:
        """So many lines for what is told of the thing."""
        self.told.setFixedHeight(lines * self.fontMetrics().height())

    def chosen_way(self) -> int:
        row = max(0, self.way.currentIndex())
        return row if self.way.count() > 1 and not self.way.itemData(row) else 0

    def show_thing(self, thing: str) -> None:
        """Show a part or joint, or that nothing is chosen (empty id)."""
        teardown = self._session.teardown
        same = thing == self.thing
        self.thing = thing
        joint = teardown.joint.get(thing)
        self.buttons[Gesture.RELEASE].setEnabled(joint is not None)
        self.buttons[Gesture.LIFT].setEnabled(bool(thing))
        self._show_ways(same)
        self._show_portrait()
        self._show_behind()
        self.safe.setVisible(joint is not None and joint.kind in ("connector", "slide", "charge"))
        self.safe.setChecked(joint is not None and joint.isolates is not False)
        self.enter_limits.setVisible(joint is not None)
        self._show_limits()
        self._show_cautions()
        if not thing:
            self.name.setText(tr("Nothing chosen"))
            self.holds.setText(tr("Click a mark, or choose a letter and click a screw"))
            return
        self.name.setText(name_of(teardown, thing))
        if joint is None:
            text = part_kind_name(teardown.part[thing].kind) if teardown.part[thing].kind else ""
        else:
            what = fixing_text(teardown, joint) if joint.kind == "screw" else kind_name(joint.kind, joint.type)
            text = tr("{0}; ties {1}").format(what, names_of(teardown, joint.of))
        self.holds.setText("\n".join(line for line in (text, self._held_text()) if line))

    def _held_text(self) -> str:
        """What still holds the thing."""
        obstacles = self._session.derived.obstacles(self.thing)
        return "; ".join(obstacle_text(self._session.teardown, obstacle) for obstacle in obstacles) or tr("Free now")

    def in_a_line(self) -> str:
        """The thing, what it is and what still holds it: the answer to a question typed in the one line."""
        kind = self.holds.text().partition("\n")[0] if "\n" in self.holds.text() else ""
        what = tr("{0} ({1})").format(self.name.text(), kind) if kind else self.name.text()
        return tr("{0}: {1}").format(what, self._held_text())

    def _show_ways(self, keep_choice: bool) -> None:
        teardown = self._session.teardown
        joint = teardown.joint.get(self.thing)
        before = self.way.currentIndex() if keep_choice else 0
        self.way.clear()
        for way in joint.ways if joint else ():
            tools = [tool_name(teardown, act.tool) for act in way.acts]
            self.way.addItem(", ".join(dict.fromkeys(tools)))
        if joint is not None and joint.kind == "adhesive":
            for method in bond_methods().values():
                self.way.addItem(tr("+ {0}").format(method.name), method.id)
        self.way.setVisible(self.way.count() > 1)
        self.way.setCurrentIndex(min(max(0, before), self.way.count() - 1))

    def _way_chosen(self, row: int) -> None:
        if method := self.way.itemData(row):
            self.way.setCurrentIndex(0)
            self.way_asked.emit(method)

    def _show_portrait(self) -> None:
        """A small picture of the part by itself, where one was taken."""
        views = [view for view in self._session.teardown.views if view.portrait == self.thing and self.thing]
        picture = QPixmap()
        if views:
            picture.loadFromData(self._session.document.thumb(views[-1].photo) or b"", "JPEG")
        self.portrait.setVisible(not picture.isNull())
        if not picture.isNull():
            self.portrait.setPixmap(picture.scaledToHeight(PORTRAIT_PX, Qt.TransformationMode.SmoothTransformation))
            self.portrait.setAccessibleName(tr("Portrait of {0}").format(self.name.text()))

    def _show_behind(self) -> None:
        """What stands before it, by whose word; the menu changes it."""
        teardown = self._session.teardown
        thing = teardown.part.get(self.thing) or teardown.joint.get(self.thing)
        self.behind.setVisible(thing is not None and thing.id != teardown.device.base)
        if thing is not None:
            names = tr(" or ").join(names_of(teardown, names) for names in thing.behind)
            self.behind.setText(tr("Behind {0} ({1})").format(names or tr("nothing"), thing.basis))
            self.behind.setToolTip(tip(self.behind.text()))
            self.behind.setAccessibleName(self.behind.text())

    def _fill_behind(self) -> None:
        teardown, menu = self._session.teardown, self.behind.menu()
        menu.clear()
        now = [x for names in teardown.thing(self.thing).behind[:1] for x in names]
        for id_ in may_be_behind(teardown, self.thing):
            action = menu.addAction(name_of(teardown, id_))
            action.setCheckable(True)
            action.setChecked(id_ in now)
            action.toggled.connect(lambda on, x=id_: self.behind_said.emit(
                [*now, x] if on else [y for y in now if y != x]))
        if menu.isEmpty():
            menu.addAction(tr("Nothing was cleared before it")).setEnabled(False)

    def _show_limits(self) -> None:
        """What protects the device in this act: angle, depth, stop distance, temperature, hold."""
        joint = self._session.teardown.joint.get(self.thing)
        ways = ways_of(self._session.teardown, joint) if joint else ()
        acts = ways[self.chosen_way()].acts if ways and self.chosen_way() < len(ways) else ()
        text = "; ".join(limit_text(self._session.teardown, limit) for act in acts for limit in act.limits)
        self.limits.setText(text)
        self.limits.setVisible(bool(text))

    def _show_cautions(self) -> None:
        """The cautions of the act in hand, once and calmly; they can be read again as long as it is in hand."""
        teardown = self._session.teardown
        if self.thing in teardown.part:
            hazards = list(teardown.part[self.thing].hazards)
        else:
            joint = teardown.joint.get(self.thing)
            hazards = [hazard for way in joint.ways for hazard in way.hazards] if joint else []
        texts = caution_texts(hazards)
        self.caution.setVisible(bool(texts))
        self.caution.setText("\n".join(texts))
        self.caution.setToolTip(tip(cautions_first()))
