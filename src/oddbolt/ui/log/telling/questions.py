"""Under the strip: what may be said of a way, each with its key; and what is asked with yes or no."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtGui import QAction, QResizeEvent
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QMenu, QPushButton, QToolButton, QVBoxLayout, QWidget

from oddbolt.catalog.tables import mark_kinds, part_kinds, tool_ids
from oddbolt.model.things import HAND
from oddbolt.session.modes import Gesture
from oddbolt.session.recording.telling_acts import TellingActs
from oddbolt.session.session import Session
from oddbolt.session.verbs.correcting.forgotten import SCREW
from oddbolt.studies.retelling import Retelling, Shortener
from oddbolt.ui.log.keys import BY_GESTURE
from oddbolt.ui.pieces.sheet import explain, label
from oddbolt.words.names import name_of, part_kind_name, tool_name
from oddbolt.words.translate import of_data, tr

KEYS = tuple(BY_GESTURE[gesture] for gesture in (Gesture.ANSWER_1, Gesture.ANSWER_2, Gesture.ANSWER_3,
                                                 Gesture.ANSWER_4))
LEAST_PX, GAP_PX = 48, 5  # of a button; between two
HOLDS = ("film", "glue", "tab", SCREW, "clip", "routing", "press-fit", "magnet", "slide")  # likeliest first


class Correcting(QWidget):
    """What may be said of the way, or of what is chosen on it."""

    def __init__(self, session: Session, acts: TellingActs) -> None:
        super().__init__()
        self._session, self._acts = session, acts
        self._way: Retelling | None = None
        self.right = QPushButton(tr("{0}  Right").format(KEYS[0]))
        self.blocked = QPushButton(tr("{0}  In its way…").format(KEYS[1]))
        self.needless = QPushButton(tr("{0}  Not needed").format(KEYS[2]))
        self.whose = QPushButton(tr("{0}  Whose…").format(KEYS[3]))
        self.more = QPushButton(tr("More"))
        menu = QMenu(self.more)
        self.holds, self.tool, self.is_a = (menu.addMenu(text) for text in (
            tr("Something else holds it, or lies over it"), tr("It is done with"), tr("It is a")))
        self.more.setMenu(menu)
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setSpacing(GAP_PX)
        self._buttons = (self.right, self.blocked, self.needless, self.whose, self.more)
        self._in_a_row = 0
        for place, button in enumerate(self._buttons[:-1]):
            button.clicked.connect(lambda _, n=place: acts.usual(n))
        for button in self._buttons:
            button.setObjectName("offer")
            button.setMinimumWidth(LEAST_PX)  # in a narrow window they stand in two rows rather than widen it
        self._place()
        explain((self.right, tr("The whole way works like this ({0}, Return)").format(KEYS[0])),
                (self.blocked, tr("Something is in the way of what is chosen: then tap it, on the photograph or here")),
                (self.needless, tr("The part comes off without what is chosen")),
                (self.whose, tr("It belongs to another part: then tap that, or press the key that lifts its kind")),
                (self.more, tr("What was forgotten and holds it; with which tool it is done; of which kind it is")))
        for under, fill in ((self.holds, self._fill_holds), (self.tool, self._fill_tools),
                            (self.is_a, self._fill_kinds)):
            under.aboutToShow.connect(fill)

    def resizeEvent(self, event: QResizeEvent) -> None:  # noqa: N802 (Qt's name)
        super().resizeEvent(event)
        self._place()

    def _place(self) -> None:
        """In one row where there is room for all their words, else in two."""
        needed = sum(button.sizeHint().width() + GAP_PX for button in self._buttons)
        in_a_row = len(self._buttons) if needed <= self.width() else 3
        if in_a_row == self._in_a_row:
            return
        self._in_a_row = in_a_row
        for n, button in enumerate(self._buttons):
            self._grid.addWidget(button, n // in_a_row, n % in_a_row)
        for column in range(len(self._buttons) + 1):
            self._grid.setColumnStretch(column, column == in_a_row)

    def show_way(self, way: Retelling) -> None:
        self._way = way
        self._place()
        self.follow()

    def follow(self) -> None:
        """What is chosen has changed: some answers are about nothing without it."""
        told = self._acts.selection.telling
        at, teardown = told.at if told is not None else "", self._session.teardown
        for one in (self.blocked, self.needless, self.more):
            one.setEnabled(bool(at))
        self.whose.setEnabled(at in teardown.joint)
        self.is_a.setEnabled(at in teardown.part)

    def _fill_holds(self) -> None:
        kinds = [kind for kind in HOLDS if kind != SCREW or self._session.teardown.fasteners]
        texts = {kind: tr("Screws") if kind == SCREW else of_data(mark_kinds()[kind].name) for kind in kinds}
        _fill(self.holds, [(texts[kind], lambda k=kind: self._acts.held_by(k)) for kind in kinds])

    def _fill_tools(self) -> None:
        """For a single act its tool; else each act has a menu of its own."""
        teardown, told = self._session.teardown, self._acts.selection.telling
        item = next((one for one in self._way.items if told is not None and one.thing == told.at), None) \
            if self._way is not None else None
        menu = self.tool
        menu.clear()
        if item is None:
            return
        tools = list(dict.fromkeys((HAND, *(t.id for t in teardown.tools), *tool_ids())))
        for n, present in enumerate(item.tools):
            under = menu if len(item.tools) == 1 else menu.addMenu(
                tr("Act {0}: {1}").format(n + 1, tool_name(teardown, present)))
            _fill(under, [(tool_name(teardown, tool), lambda t=tool, n=n: self._acts.with_tools(
                item.thing, (*item.tools[:n], t, *item.tools[n + 1:]))) for tool in dict.fromkeys((present, *tools))])

    def _fill_kinds(self) -> None:
        told = self._acts.selection.telling
        _fill(self.is_a, [(part_kind_name(row.kind) if row.id == row.kind else of_data(row.name),
                           lambda k=row.id: self._acts.is_a(told.at, k))
                          for row in part_kinds().values()] if told is not None else [])


def _fill(menu: QMenu, entries: list[tuple[str, Callable[[], object]]]) -> None:
    menu.clear()
    for text, does in entries:
        action = QAction(text, menu)
        action.triggered.connect(lambda _=False, d=does: d())
        menu.addAction(action)


class YesOrNo(QWidget):
    """Whether things could have been done before something was cleared; ticked where some could."""

    def __init__(self, session: Session, acts: TellingActs) -> None:
        super().__init__()
        self._session, self._acts = session, acts
        self.ask: Shortener | None = None
        self.question = label("", "title", wrap=True)
        self.things: dict[str, QToolButton] = {}
        self.yes, self.no, self.ticked = (QPushButton() for _ in range(3))
        self._row = QHBoxLayout()
        self._row.setSpacing(5)
        buttons = QHBoxLayout()
        for place, button in enumerate((self.yes, self.no)):
            button.setObjectName("offer")
            button.clicked.connect(lambda _, n=place: acts.usual(n))
        self.ticked.setObjectName("offer")
        self.ticked.setText(tr("Those ticked"))
        self.ticked.clicked.connect(lambda _: self._give_ticked())
        for button in (self.yes, self.no, self.ticked):
            buttons.addWidget(button)
        buttons.addLayout(self._row)
        buttons.addStretch(1)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(3)
        box.addWidget(self.question)
        box.addLayout(buttons)
        explain((self.yes, tr("It was not in their way; the way gets shorter")),
                (self.no, tr("It was in the way of each")),
                (self.ticked, tr("It was not in the way of those that are ticked")))

    def show_ask(self, ask: Shortener | None) -> None:
        self.ask = ask
        for button in self.things.values():
            self._row.removeWidget(button)
            button.deleteLater()
        self.things = {}
        if ask is None:
            return
        teardown, several = self._session.teardown, len(ask.things) > 1
        if several:
            self.question.setText(tr("Could these have been done before {0} was out of the way?").format(
                name_of(teardown, ask.hider)))
        else:
            self.question.setText(tr("Could {0} have been done before {1} was out of the way?").format(
                name_of(teardown, ask.things[0]), name_of(teardown, ask.hider)))
        self.yes.setText(tr("{0}  Yes, all").format(KEYS[0]) if several else tr("{0}  Yes").format(KEYS[0]))
        self.no.setText(tr("{0}  No, none").format(KEYS[1]) if several else tr("{0}  No").format(KEYS[1]))
        self.ticked.setVisible(several)
        for thing in ask.things if several else ():
            button = QToolButton()
            button.setObjectName("answer")
            button.setCheckable(True)
            button.setText(name_of(teardown, thing))
            button.setAccessibleName(button.text())
            button.setToolTip(tr("Ticked: it could have been done before"))
            button.toggled.connect(lambda on, b=button, t=thing: b.setText(
                f"✓ {name_of(self._session.teardown, t)}" if on else name_of(self._session.teardown, t)))
            self.things[thing] = button
            self._row.addWidget(button)

    def _give_ticked(self) -> None:
        self._acts.could({thing: button.isChecked() for thing, button in self.things.items()})
