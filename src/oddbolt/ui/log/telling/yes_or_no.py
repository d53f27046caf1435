"""Under the strip, once a way was looked at: whether things could have been done before something was cleared."""

from __future__ import annotations

from PySide6.QtWidgets import QHBoxLayout, QPushButton, QToolButton, QVBoxLayout, QWidget

from oddbolt.session.recording.telling_acts import TellingActs
from oddbolt.session.session import Session
from oddbolt.studies.doubts import Shortener
from oddbolt.ui.log.telling.correcting import KEYS
from oddbolt.ui.pieces.sheet import explain, label
from oddbolt.words.names import name_of
from oddbolt.words.translate import tr


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
