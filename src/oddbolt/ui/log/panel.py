"""The Log: the photograph of a state with all that is recorded on it, what a click does, and what follows from it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QHideEvent, QImage, QPaintEvent

from oddbolt.instruments.protocols import Bench
from oddbolt.model.refusal import Refusal
from oddbolt.paint.palette import Palette
from oddbolt.paint.pins_of import pins_of
from oddbolt.session.change import OPENED, Change
from oddbolt.session.modes import Gesture
from oddbolt.session.recording.recorder import Listeners, Recorder
from oddbolt.session.session import Session
from oddbolt.ui.background.photos import Ahead
from oddbolt.ui.log.layout import bind_keys, put_together, wire, wire_corrections, wire_words
from oddbolt.ui.log.log_pieces import LogPieces
from oddbolt.ui.log.mode_text import show_mode
from oddbolt.ui.log.pages import ASK, LIFT_AS, RUNNING
from oddbolt.ui.log.photograph.pinning import ends_of, ghosts_of
from oddbolt.ui.log.photograph.states import ChoosePhoto
from oddbolt.ui.log.seeing.showing import show_seen
from oddbolt.words.acts import comes_to
from oddbolt.words.names import side_name, tool_name
from oddbolt.words.recording.labels import change_text
from oddbolt.words.recording.said import said_text
from oddbolt.words.refusals import refusal_text
from oddbolt.words.translate import sentence, tr

if TYPE_CHECKING:
    from oddbolt.ui.log.speaking.speaking import Speaking

END_STUB_PX = 44
AFTER_FIRST_PAINT_MS = 60  # the depths can wait until there is a window to look at


class LogPanel(LogPieces):
    """Recording. It shows and forwards: gestures to the recorder, photographs to the states."""

    def __init__(self, session: Session, palette: Palette, choose_photo: ChoosePhoto, bench: Bench,
                 state: str = "", ahead: Ahead | None = None) -> None:
        recorder = Recorder(session, Listeners(
            said=self._said, refused=self._refused, chosen=self._show_chosen, armed=self._show_armed,
            # A release whose acts wait: the longest wait is counted down.
            released=lambda joint, way: self.clocks.follow(joint, way), asks=self._asked_in_line,
            kind_wanted=self._kind_wanted,
            offered=lambda offers: self.answers.show_offers(session.teardown, offers), told=lambda: self.way.follow(),
            retells=lambda part: self.way.open(part), seen=lambda: show_seen(self)))
        super().__init__(session, recorder, palette, choose_photo, bench)
        self.states.shown = state
        self.states.photos.ahead = ahead
        self._asked_about: list[str] = []
        self._speaking: Speaking | None = None
        put_together(self)
        wire(self)
        wire_words(self)
        wire_corrections(self)
        bind_keys(self)
        self._was_painted = False
        self._stale = False
        self._follow(None)
        self.clocks.take_from_desk()

    # -- what the recorder tells

    def _said(self, code: str, *, alarm: bool = False, **figures: Any) -> None:
        self.say(said_text(self._session.teardown, code, figures), alarm=alarm)

    def _refused(self, refusal: Refusal) -> None:
        self.say(refusal_text(refusal), alarm=True)

    def _show_chosen(self, thing: str) -> None:
        self.thing.show_thing(thing)
        self.act_work.show()
        self.clocks.show_thing(thing)
        self.show_pins()

    def _show_armed(self) -> None:
        """Pointer, buttons and switches as the recorder is now."""
        chosen = self.recorder.selection
        self.canvas.show_marking(self.measure.is_on or chosen.kind is not None)
        self.canvas.lasso_armed = chosen.reaching or bool(chosen.covering)
        self.letters.show_letter(chosen.kind.letter if chosen.kind is not None else "")
        self.tools.show_kind(chosen.kind)
        self.tools.show_tools({kind: sentence(tool_name(self._session.teardown, tool))
                               for kind, tool in self.recorder.used.remembered().items()})
        for gesture, on in ((Gesture.UNDERSIDE, bool(chosen.carrier)), (Gesture.UNDO_TOO, chosen.as_i_mark),
                            (Gesture.REACH, chosen.reaching), (Gesture.MEASURE, self.measure.is_on)):
            self.tools.show_switch(gesture, on)
        self.show_pins()

    def _asked_in_line(self, part: str) -> None:
        self.say(self.thing.in_a_line())

    def _kind_wanted(self, wanted: bool) -> None:
        if wanted:
            self.above.setCurrentIndex(LIFT_AS)

    # -- following the record

    def _on_change(self, change: Change) -> None:
        """The Log keeps up with what was chosen and said even while it is hidden; the rest waits until it is seen."""
        if change.kind == OPENED:
            self.states.shown = ""
            self.recorder.selection.telling, self.recorder.selection.looks = None, ""
            self.way.opened_other()
            self.strip.forget()
            self.recorder.choose("")
            self.states.photos.clear()
            self.states.aligning.forget()
            self.watching.switch_off()
            self.seeing.give_up()
            self.say("")
        else:
            self.say(change_text(change.kind, change.label))
        self.recorder.forget()
        if not self.isVisible() and change.kind != OPENED:
            self._stale = True
            self.depths.give_up()
            self.asking.give_up()
            return
        self._stale = False
        self._follow(change)
        self.asking.refresh()
        self.way.refresh()

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: N802 (Qt's name)
        super().paintEvent(event)
        if not self._was_painted:
            self._was_painted = True
            # The window may have been closed before this.
            QTimer.singleShot(AFTER_FIRST_PAINT_MS, self, lambda: self.isVisible() and self.follow_below())

    def hideEvent(self, event: QHideEvent) -> None:  # noqa: N802 (Qt's name)
        """What is being found is looked for again when the Log is seen again."""
        super().hideEvent(event)
        self._stale = True
        self.depths.give_up()
        self.asking.give_up()

    def refresh(self) -> None:
        self._follow(None)
        self.asking.refresh()
        self.way.refresh()

    def _follow(self, change: Change | None) -> None:
        """Show what a change touched; None: everything."""
        self.states.follow()
        if change is None or change.touches(("fasteners", "tools", "parts", "log", "views", "device", "joints")):
            self.letters.show_teardown(self._session.teardown, self._on_device())
        self.follow_state()
        self.follow_below()

    def follow_below(self) -> None:
        """The page in front; the other is filled when it is looked at."""
        if self.below.currentIndex() == RUNNING:
            self.running.follow(self._at_entry())
            counted = self._session.derived.performed
            self.performed.setVisible(bool(counted.timed))
            self.performed.setText(tr("As performed: {0} by the times known").format(comes_to(counted)))
        else:
            if self._was_painted:
                QTimer.singleShot(0, self.depths.refresh)

    def _at_entry(self) -> str | None:
        """Where an earlier state that is shown stands in the log; None for the present."""
        view = self.states.view
        return view.at_entry if view is not None and not self.states.is_latest else None

    def _on_device(self) -> list[str]:
        """Parts that can still come off, in file order."""
        removed = self._session.derived.state.removed
        teardown = self._session.teardown
        return [id_ for id_ in self._session.derived.structure.removals
                if id_ not in removed and (teardown.part[id_].name or teardown.part[id_].kind)]

    # -- the state that is shown

    def show_state(self, view_id: str) -> None:
        self.states.show(view_id)

    def follow_state(self) -> None:
        view, chosen = self.states.view, self.recorder.selection
        if chosen.view and (view is None or view.id != chosen.view):
            chosen.group, chosen.marks, chosen.ordering = "", [], None
        chosen.view = view.id if view is not None else ""
        self.measure.show_view(view)
        self.strip.refresh(self.states.shown)
        if self.below.currentIndex() == RUNNING:
            self.running.follow(self._at_entry())
        if view is None:
            self.state.setText(tr("No photograph yet"))
            self.say(tr("Press N to add the first photograph, or V for the camera"))
            self.canvas.show_photo(QImage())  # nothing of another device stays to be seen
        else:
            if self.states.side:
                self.side.setCurrentIndex(self.side.findData(self.states.side))
            self.state.setText(tr("State {0} of {1}, {2}").format(
                self.states.place() + 1, len(self.states.views), side_name(view.side)))
            self.states.photos.show(view.photo)
        self.comparing.again()
        self.seeing.follow()
        self.show_pins()
        self.thing.show_thing(chosen.thing)
        self.act_work.show()

    def photo_arrived(self, name: str, image: QImage, size: tuple[int, int] | None) -> None:
        view = self.states.view
        if view is None or view.photo != name:
            return
        if image.isNull():
            image = QImage(1200, 800, QImage.Format.Format_RGB32)
            image.fill(Qt.GlobalColor.darkGray)
            size = None
            self.say(tr("The photograph {0} is not in the document or cannot be read").format(name), alarm=True)
        self.canvas.show_photo(image, size)

    def show_pins(self) -> None:
        view, chosen = self.states.view, self.recorder.selection
        asked = self._asked_about if self.above.currentIndex() == ASK else ()
        state = self._session.derived.state
        show_mode(self)
        self.canvas.show_pins(pins_of(self._session.teardown, view, state if self.states.is_latest else None,
                                      chosen.thing, asked, set(chosen.marks), self.asked.numbers()))
        self.canvas.overlay.ghosts = ghosts_of(self._session.teardown, view)
        self.canvas.show_overlay(ends=ends_of(self._session.teardown, view, chosen.thing,
                                              END_STUB_PX / self.canvas.scale_now()))

    def say(self, text: str, *, alarm: bool = False) -> None:
        """One calm line under the photograph."""
        self.echo.say(text, alarm=alarm)

    def choose(self, thing: str) -> None:
        self.recorder.choose(thing)

    def questions_shown(self, things: list[str]) -> None:
        self._asked_about = things
        self.show_pins()

    # -- asked for by name

    @property
    def speaking(self) -> Speaking:
        """The Log by voice; put together when it is first wanted."""
        if self._speaking is None:
            from oddbolt.ui.log.speaking.speaking import Speaking

            self._speaking = Speaking(self)
        return self._speaking

    def ask_limits(self, way: int | None = None) -> None:
        """Enter what protects the device in the act in hand."""
        from oddbolt.ui.log.chosen.limits import LimitsDialog

        thing = self.recorder.selection.thing
        if thing not in self._session.teardown.joint:
            self.say(tr("Choose the joint whose act has limits"), alarm=True)
            return
        self.limits = LimitsDialog(self._session, thing, self.thing.chosen_way() if way is None else way,
                                   self.states.view, self)
        self.limits.show()

    def stop(self) -> None:
        """Before the window closes: no job and no timer goes on."""
        for one in (self.asking, self.way, self.alike, self.measure, self.depths, self.comparing, self.watching,
                    self.seeing, self.states, self.strip, self.clocks):
            one.stop()
        if self._speaking is not None:
            self._speaking.stop()
