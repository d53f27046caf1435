"""The running list: the log, entry by entry; what was corrected is struck out and stays."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QListWidget, QListWidgetItem

from oddbolt.model.things import LogEntry
from oddbolt.session.session import Session
from oddbolt.words import wording


class RunningList(QListWidget):
    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.setAccessibleName(self.tr("Running list"))
        self.setAlternatingRowColors(True)
        self.setWordWrap(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)

    def refresh(self, at_entry: str | None) -> None:
        """Show the whole log; `at_entry` is where an earlier state stands in it, None for the present."""
        self.clear()
        log = self._session.teardown.log
        amended = {entry.amends for entry in log if entry.amends}
        for entry in log:
            item = QListWidgetItem(self._text(entry))
            if entry.id in amended:
                font = item.font()
                font.setStrikeOut(True)
                item.setFont(font)
            self.addItem(item)
            if entry.id == at_entry:
                self.setCurrentItem(item)
        if self.currentItem() is not None:
            self.scrollToItem(self.currentItem())
        else:
            self.scrollToBottom()

    def _text(self, entry: LogEntry) -> str:
        teardown = self._session.teardown
        minutes, seconds = divmod(round(entry.t or 0), 60)
        name = wording.name_of(teardown, entry.thing) if entry.thing else ""
        joint = teardown.joint.get(entry.thing or "")
        if joint is not None and joint.kind == "screw":
            name = f"{wording.fixing_text(teardown, joint)}, {name}"
        words = [f"{minutes}:{seconds:02d}", {"remove": self.tr("lift")}.get(entry.do, entry.do), name]
        if entry.do == "reach":
            words.append(self.tr("{0} things").format(len(entry.things)))
        if entry.seconds is not None:
            words.append(f"· {wording.duration_text(entry.seconds)}")
        if entry.outcome != "ok":
            words.append(f"· {entry.outcome}")
        if entry.text and entry.do not in ("release", "remove"):
            words.append(f"· {entry.text}" if name else entry.text)
        if entry.amends:
            words.append(self.tr("· corrects {0}").format(entry.amends))
        return "  ".join(word for word in words if word)
