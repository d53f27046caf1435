"""The Record menu: entries that move nothing, with the figures of whatever instrument gives them."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QCoreApplication
from PySide6.QtGui import QAction, QKeySequence
from PySide6.QtWidgets import QMenu

from oddbolt.instruments.protocols import BenchInstruments, InstrumentFault, Reading
from oddbolt.model.refusal import Refusal
from oddbolt.session import commands, entries
from oddbolt.session.session import Session
from oddbolt.ui.log.photograph.states import States
from oddbolt.ui.log.recorder import Recorder


def _tr(text: str) -> str:
    return QCoreApplication.translate("Records", text)


class RecordMenu(QMenu):
    """Weighing, temperatures, torque; inspection, cleaning, turning, incidents; protection put on and taken off."""

    def __init__(self, session: Session, recorder: Recorder, states: States, bench: BenchInstruments | None) -> None:
        super().__init__(_tr("&Record"))
        self._session = session
        self._recorder = recorder
        self._bench = bench or BenchInstruments()
        self._add(_tr("&Weigh what is in hand"), "Ctrl+Shift+W", lambda: self._read("scale", "weigh"))
        self._add(_tr("Read the &thermometer"), "Ctrl+Shift+T", lambda: self._read("thermometer", "temperature"))
        self._add(_tr("Read the torque &driver"), "Ctrl+Shift+R", lambda: self._read("torque_driver", "peak_torque"))
        self._add(_tr("&Portrait of the part in hand"), "Ctrl+Shift+O", lambda: states.portrait(recorder.hand))
        self.addSeparator()
        for text, do, keys in ((_tr("&Inspected"), "inspect", "Ctrl+Shift+I"), (_tr("&Cleaned"), "clean", ""),
                               (_tr("T&urned over"), "turn", ""), (_tr("I&ncident"), "incident", "Ctrl+Shift+N")):
            self._add(text, keys, lambda d=do: self._entry(d))
        self.addSeparator()
        self._aids: dict[str, QAction] = {}
        for what in entries.AIDS:
            action = self._add(_tr(what).capitalize(), "", lambda w=what: self._aid(w))
            action.setCheckable(True)
            self._aids[what] = action
        self.aboutToShow.connect(self._show_aids)

    def _add(self, text: str, keys: str, does: Callable[[], None]) -> QAction:
        action = QAction(text, self)
        if keys:
            action.setShortcut(QKeySequence(keys))
        action.triggered.connect(lambda _=False: does())
        self.addAction(action)
        return action

    def _show_aids(self) -> None:
        """Whether each is on what is in hand; with nothing in hand, on the device."""
        on = entries.protections_on(self._session.teardown, self._recorder.hand)
        for what, action in self._aids.items():
            action.setChecked(what in on)

    def _read(self, instrument: str, ask: str) -> None:
        """An entry with the reading; of a part in hand the mass is kept with the part too."""
        connected = getattr(self._bench, instrument)
        if connected is None:
            self._recorder.say(_tr("No such instrument is connected"), alarm=True)
            return
        try:
            reading: Reading = getattr(connected, ask)()
        except InstrumentFault as fault:
            self._recorder.say(str(fault), alarm=True)
            return
        thing = self._recorder.hand
        if instrument == "scale" and thing in self._session.teardown.part:
            self._recorder.do(commands.weigh(self._session.teardown, thing, reading.value, self._recorder.t))
        else:
            self._entry("measure", value=reading.value, unit=reading.unit, text=instrument.replace("_", " "))

    def _entry(self, do: str, **keys: object) -> None:
        try:
            command = entries.entry(self._session.teardown, do, self._recorder.t, thing=self._recorder.hand, **keys)
        except Refusal as refusal:
            self._recorder.say(str(refusal), alarm=True)
            return
        self._recorder.do(command)

    def _aid(self, what: str) -> None:
        """Put on what is in hand, or taken off it; the mark on the photograph says so."""
        teardown, thing = self._session.teardown, self._recorder.hand
        on = what not in entries.protections_on(teardown, thing)
        self._recorder.do(entries.aid(teardown, what, on, self._recorder.t, thing))
