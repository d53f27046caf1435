"""Why a part lies deeper in one device than in the other: told below the way in, when it has been found."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence

from PySide6.QtWidgets import QLabel, QVBoxLayout, QWidget

from oddbolt.comparing.causes import Causes, causes
from oddbolt.comparing.matching import matched
from oddbolt.model.things import Teardown
from oddbolt.search.planner import Planner
from oddbolt.session.session import Session
from oddbolt.ui.background.answer import Answer
from oddbolt.ui.pieces.sheet import label
from oddbolt.words.judging.comparing import causes_text
from oddbolt.words.translate import tr


class Why(QWidget):
    """Hidden unless two devices are shown."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._answer = Answer(self, session, self._show, self._say)
        self._records: tuple[Teardown, Teardown] | None = None
        self.text: QLabel = label("", "faint", wrap=True)
        self.text.setAccessibleName(tr("Why they differ"))
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(self.text)
        self.hide()

    def show_pair(self, planners: Sequence[Planner], pair: tuple[str, str]) -> None:
        """Of a part of the one device and its like in the other."""
        self._records = planners[0].teardown, planners[1].teardown
        self.show()
        self._say(tr("Looking for why they differ…"))
        derived, records, convention = self._session.derived, self._records, planners[0].convention.settings

        def work(stop: Callable[[], bool]) -> Iterator[Causes | None]:
            yield causes(lambda record: derived.planner_for(record=record, settings=convention, stop=stop), *records,
                         pair, matched(*records))

        self._answer.forget()
        self._answer.ask(work, pair)

    def clear(self) -> None:
        self._answer.forget()
        self.hide()

    def _say(self, words: str) -> None:
        self.text.setText(words)

    def _show(self, found: Causes | None) -> None:
        if self._records is None:
            return
        names = [record.device.name or name
                 for record, name in zip(self._records, (tr("this device"), tr("the other")))]
        if found is None or not found.difference:
            self._say(tr("{0} and {1}: as many steps").format(*names) if found is not None else "")
            return
        self._say(tr("{0} against {1}: {2}").format(names[1], names[0], causes_text(
            found, self._records, (names[0], names[1]))))

    def stop(self) -> None:
        self._answer.stop()
