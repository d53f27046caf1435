"""What may be answered to the act just done: a question and up to four answers, each with its key; nobody has to."""

from __future__ import annotations

from collections.abc import Mapping

from PySide6.QtCore import QEvent, QObject, Signal
from PySide6.QtWidgets import QBoxLayout, QFrame, QHBoxLayout, QPushButton, QWidget

from oddbolt.catalog.tables import bond_methods, mark_kinds
from oddbolt.model.things import Teardown
from oddbolt.session.modes import Gesture
from oddbolt.session.recording.offers import (
    CLOSED,
    ENOUGH,
    HANGING,
    HELD,
    MEANT,
    MOST,
    NO_ROLE,
    PARTED,
    ROLE,
    SHARED,
    SWUNG,
    TELL,
    WHOSE,
    Offer,
    next_way,
)
from oddbolt.session.verbs.correcting.forgotten import SCREW
from oddbolt.ui.log.keys import BY_GESTURE, WORDS
from oddbolt.ui.pieces.sheet import explain, label, tip
from oddbolt.words.names import name_of, part_kind_name, role_name
from oddbolt.words.translate import N_, of_data, sentence, tr

QUESTIONS = {
    WHOSE: N_("Whose plug is this?"),
    PARTED: N_("Parted otherwise? {2} again: {1}"),
    SWUNG: N_("What hangs open?"),
    MEANT: N_("{0} is new on record. Was it this one? The same key again says so"),
    SHARED: N_("{0}: the screws round it went with it, others wait. Its too?"),
    CLOSED: N_("{0}: marked here and not undone by the record. Did it hold it?"),
    HANGING: N_("{0}: would it have been enough to leave it hanging?"),
    HELD: N_("{0}: nothing on record held it. Was there something?"), ROLE: N_("{0}: which one is it?"),
    TELL: N_("{0} is off. Was this the shortest way to it?"),
}
NARROW = {PARTED: N_("{2} again: {1}")}  # where the whole question has no room
ANSWERS = (Gesture.ANSWER_1, Gesture.ANSWER_2, Gesture.ANSWER_3, Gesture.ANSWER_4)


class Answers(QFrame):
    """A line over the lower edge of the photograph while there is an offer, so that nothing moves for it."""

    asked = Signal(object)  # a gesture

    def __init__(self, over: QWidget) -> None:
        super().__init__(over)
        self._over = over
        self.setObjectName("sheet")
        self.question = label("")
        self._asks = "", ""  # in full, and where there is little room
        self.buttons: list[QPushButton] = []
        over.installEventFilter(self)
        self._whole = QBoxLayout(QBoxLayout.Direction.LeftToRight, self)
        self._whole.setContentsMargins(8, 4, 4, 4)
        self._whole.setSpacing(4)
        self._whole.addWidget(self.question, 1)
        line = QHBoxLayout()
        line.setSpacing(4)
        self._whole.addLayout(line)
        for gesture in (*ANSWERS[:MOST], Gesture.WHOSE):
            button = QPushButton()
            button.setObjectName("offer")
            explain((button, f"{sentence(tr(WORDS[gesture]))} ({BY_GESTURE[gesture]})"))
            button.clicked.connect(lambda _, g=gesture: self.asked.emit(g))
            self.buttons.append(button)
            line.addWidget(button)
        self.buttons[-1].setText(tr("{0} another").format(BY_GESTURE[Gesture.WHOSE]))
        self.show_offers(Teardown.nothing(), ())

    def show_offers(self, teardown: Teardown, offers: tuple[Offer, ...]) -> None:
        for n, button in enumerate(self.buttons[:-1]):
            button.setVisible(n < len(offers))
            choice = choice_text(teardown, offers[n]) if n < len(offers) else ""
            button.setText(f"{BY_GESTURE[ANSWERS[n]]} {choice}".strip())
            button.setAccessibleName(button.text())
        self.buttons[-1].setVisible(bool(offers) and offers[0].code == WHOSE)
        self._asks = tuple(question_text(teardown, offers[0], of) if offers else "" for of in (QUESTIONS, NARROW))
        self.setVisible(bool(offers))
        self._place()

    def _place(self) -> None:
        room, (whole, short) = self._over.rect(), self._asks
        self.question.setText(whole)
        self.question.setToolTip(tip(whole))
        self._whole.setDirection(QBoxLayout.Direction.LeftToRight)
        if short and self.sizeHint().width() > room.width():
            self.question.setText(short)
        if self.sizeHint().width() > room.width():  # a question that is cut off is none
            self._whole.setDirection(QBoxLayout.Direction.TopToBottom)
        self.adjustSize()
        self.resize(min(self.width(), room.width()), self.height())
        self.move(0, room.height() - self.height())

    def eventFilter(self, _watched: QObject, event: QEvent) -> bool:  # noqa: N802 (Qt's name)
        if event.type() in (QEvent.Type.Resize, QEvent.Type.FontChange):
            self._place()
        return False


def question_text(teardown: Teardown, offer: Offer, of: Mapping[str, str] = QUESTIONS) -> str:
    """Nothing where a table has no words for it."""
    if offer.code not in of:
        return ""
    again = of_data(bond_methods()[next_way(teardown, offer.about)].short) if offer.code == PARTED else ""
    return tr(of[offer.code]).format(name_of(teardown, offer.about), again, mark_kinds()["glue"].key)


def choice_text(teardown: Teardown, offer: Offer) -> str:
    if offer.code == TELL:
        return tr("look at it")
    if offer.code == ROLE:
        return tr("neither") if offer.choice == NO_ROLE else role_name(offer.choice)
    if offer.code == PARTED:
        return of_data(bond_methods()[offer.choice].short)
    if offer.code == SHARED:
        return tr("the other {count}").format(count=teardown.joint[offer.choice].count)
    if offer.choice in teardown.joint or offer.code == MEANT:
        return name_of(teardown, offer.choice)
    if offer.code == HANGING:
        return tr("yes") if offer.choice == ENOUGH else tr("no, it was in the way")
    if offer.code == HELD:
        return tr("screws") if offer.choice == SCREW else of_data(mark_kinds()[offer.choice].name)
    return part_kind_name(offer.choice)
