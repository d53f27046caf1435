"""Under the strip: what may be said of a way, each with its key."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QAction, QResizeEvent
from PySide6.QtWidgets import QGridLayout, QInputDialog, QMenu, QPushButton, QWidget

from oddbolt.catalog.tables import mark_kinds, part_kinds, tool_ids
from oddbolt.model.things import HAND
from oddbolt.session.modes import Gesture
from oddbolt.session.recording.telling_acts import TellingActs
from oddbolt.session.session import Session
from oddbolt.session.verbs.correcting.forgotten import SCREW
from oddbolt.studies.retelling import Retelling
from oddbolt.ui.log.keys import BY_GESTURE
from oddbolt.ui.pieces.sheet import explain
from oddbolt.words.names import part_kind_name, tool_name
from oddbolt.words.translate import of_data, tr

KEYS = tuple(BY_GESTURE[gesture] for gesture in (Gesture.ANSWER_1, Gesture.ANSWER_2, Gesture.ANSWER_3,
                                                 Gesture.ANSWER_4))
LEAST_PX, GAP_PX = 48, 5  # of a button; between two
HOLDS = ("film", "glue", "tab", SCREW, "clip", "routing", "press-fit", "magnet", "slide")  # likeliest first


class Correcting(QWidget):
    """What may be said of the way, or of what is chosen on it."""

    named = Signal()  # who looks was asked: the keys go to the way again

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
        self.holds, self.tool, self.is_a, self.who = (menu.addMenu(text) for text in (
            tr("Something else holds it, or lies over it"), tr("It is done with"), tr("It is a"), tr("Who looks")))
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
                (self.more, tr("What was forgotten and holds it; with which tool it is done; of which kind it is; "
                               "and who looks at the ways")))
        for under, fill in ((self.holds, self._fill_holds), (self.tool, self._fill_tools),
                            (self.is_a, self._fill_kinds), (self.who, self._fill_who)):
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
        for one in (self.blocked, self.needless, self.holds, self.tool):
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


    def _fill_who(self) -> None:
        """A second person sees what the first overlooked; both are kept with what they said."""
        now = self._acts.looks_now
        _fill(self.who, [(f"✓ {name}" if name == now else name, lambda n=name: self._looks(n))
                         for name in self._acts.people()])
        self.who.addAction(tr("Somebody else…"), self._ask_who)

    def _looks(self, name: str) -> None:
        self._acts.looks(name)
        self.named.emit()

    def _ask_who(self) -> None:
        dialog = QInputDialog(self)
        dialog.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        dialog.setWindowTitle(tr("Who looks"))
        dialog.setLabelText(tr("Name or initials of whoever looks at the ways now"))
        dialog.textValueSelected.connect(lambda name: self._looks(name.strip()))
        dialog.rejected.connect(self.named)
        dialog.open()
        self.asked = dialog


def _fill(menu: QMenu, entries: list[tuple[str, Callable[[], object]]]) -> None:
    menu.clear()
    for text, does in entries:
        action = QAction(text, menu)
        action.triggered.connect(lambda _=False, d=does: d())
        menu.addAction(action)
