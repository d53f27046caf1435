"""The Record menu: entries that move nothing, with the figures of whatever instrument gives them."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtGui import QAction, QKeySequence
from PySide6.QtWidgets import QMenu

from oddbolt.instruments.protocols import Bench, InstrumentFault, Reading
from oddbolt.session.modes import Gesture
from oddbolt.session.recording.recorder import Recorder
from oddbolt.session.verbs import entries
from oddbolt.session.verbs.parts import weigh
from oddbolt.ui.log.keys import BY_GESTURE, TELL_KEYS
from oddbolt.ui.log.photograph.states import States
from oddbolt.words.recording.labels import aid_name
from oddbolt.words.refusals import fault_text
from oddbolt.words.translate import sentence, tr

Say = Callable[[str, bool], None]
AT_A_TIME = 3  # things that the simulated hands undo
WATCH_KEYS = BY_GESTURE[Gesture.WATCH]
SIMULATED = "simulated"  # the finding of an entry that no real instrument gave; data, not wording


class RecordMenu(QMenu):
    """Weighing, temperatures, torque; inspection, cleaning, turning, incidents; protection put on and taken off."""

    def __init__(self, recorder: Recorder, states: States, bench: Bench, say: Say,
                 tell_ways: Callable[[], None], speak: Callable[[], None], watch: Callable[[], None]) -> None:
        super().__init__(tr("&Record"))
        self._recorder = recorder
        self._say = say
        self._bench = bench
        self._add(tr("&Weigh what is in hand"), "Ctrl+Shift+W", lambda: self._read(
            scale.weigh if (scale := bench().scale) else None, "scale"))
        self._add(tr("Read the &thermometer"), "Ctrl+Shift+T", lambda: self._read(
            thermometer.temperature if (thermometer := bench().thermometer) else None, "thermometer"))
        self._add(tr("Read the torque &driver"), "Ctrl+Shift+R", lambda: self._read(
            driver.peak_torque if (driver := bench().torque_driver) else None, "torque driver"))
        self._add(tr("&Portrait of the part in hand"), "Ctrl+Shift+O",
                  lambda: states.portrait(recorder.selection.thing))
        self.addSeparator()
        for text, do, keys in ((tr("&Inspected"), "inspect", "Ctrl+Shift+I"), (tr("&Cleaned"), "clean", ""),
                               (tr("T&urned over"), "turn", ""), (tr("I&ncident"), "incident", "Ctrl+Shift+N")):
            self._add(text, keys, lambda d=do: self._entry(d))
        self.addSeparator()
        self._add(tr("Are the &ways right?"), TELL_KEYS, tell_ways)
        self._hands = self._add(tr("Simulated &hands undo the next three"), "Ctrl+Shift+H", self._work)
        self.addSeparator()
        self._add(tr("&Speak to the bench"), "Ctrl+Shift+S", speak)
        self.watching = self._add(tr("The camera watc&hes ({0})").format(WATCH_KEYS), "", watch)
        self.watching.setCheckable(True)
        self.addSeparator()
        self._aids: dict[str, QAction] = {}
        for what in entries.AIDS:
            action = self._add(sentence(aid_name(what)), "", lambda w=what: self._aid(w))
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
        self._hands.setVisible(self._bench().hands is not None)
        on = entries.protections_on(self._recorder.session.teardown, self._recorder.selection.thing)
        for what, action in self._aids.items():
            action.setChecked(what in on)

    def _read(self, ask: Callable[[], Reading] | None, instrument: str) -> None:
        """An entry with the reading; of a part in hand the mass is kept with the part too."""
        if ask is None:
            self._say(tr("No such instrument is connected"), True)
            return
        try:
            reading = ask()
        except InstrumentFault as fault:
            self._say(fault_text(fault), True)
            return
        thing, finding = self._recorder.selection.thing, SIMULATED if self._bench().simulated else ""
        if instrument == "scale" and thing in self._recorder.session.teardown.part:
            self._recorder.do(weigh, thing, reading.value, self._recorder.t, finding)
        else:
            self._entry("measure", value=reading.value, unit=reading.unit, text=instrument, finding=finding)

    def _work(self) -> None:
        """Something to be seen, where no device lies on the bench: the next photograph shows it."""
        hands = self._bench().hands
        number = hands.work(AT_A_TIME) if hands is not None else 0
        if hands is None:
            self._say(tr("No such instrument is connected"), True)
        elif number:
            self._say(tr("The simulated hands undid {0} things that are not on record; "
                         "V photographs it").format(number), False)
        else:
            self._say(tr("Nothing is left to be undone on the simulated bench"), False)

    def _entry(self, do: str, **keys: object) -> None:
        self._recorder.do(entries.entry, do, self._recorder.t, thing=self._recorder.selection.thing, **keys)

    def _aid(self, what: str) -> None:
        """Put on what is in hand, or taken off it; the mark on the photograph says so."""
        thing = self._recorder.selection.thing
        on = what not in entries.protections_on(self._recorder.session.teardown, thing)
        self._recorder.do(entries.aid, what, on, self._recorder.t, thing)
