"""The keys of the Log, in one place: what each does, for the shortcuts, the buttons and the list of keys."""

from __future__ import annotations

from dataclasses import dataclass

from PySide6.QtCore import QT_TRANSLATE_NOOP, QCoreApplication


@dataclass(frozen=True, slots=True)
class Key:
    """`does` names a method of the recorder or the panel; a foot switch is only one of these keys."""

    keys: str
    does: str
    text: str

    @property
    def words(self) -> str:
        return QCoreApplication.translate("Keys", self.text)


def _key(keys: str, does: str, text: str) -> Key:
    return Key(keys, does, text)


KEYS = (
    _key("R", "release", QT_TRANSLATE_NOOP("Keys", "release what is chosen")),
    _key("L", "lift", QT_TRANSLATE_NOOP("Keys", "lift the part in hand")),
    _key("H", "swing", QT_TRANSLATE_NOOP("Keys", "swing the cover open; it stays tied by its cable")),
    _key("Return", "usual_act", QT_TRANSLATE_NOOP("Keys", "the usual next act; also what a foot switch presses")),
    _key("Space", "toggle_as_i_mark",
         QT_TRANSLATE_NOOP("Keys", "undo too: a click, or point and press, marks and releases")),
    _key("W", "all_within_reach", QT_TRANSLATE_NOOP("Keys", "all that is marked here could be undone now")),
    _key("J", "arm_reach", QT_TRANSLATE_NOOP("Keys", "draw round what could be undone now")),
    _key("U", "toggle_underside", QT_TRANSLATE_NOOP("Keys", "on the underside of what was lifted; again: back")),
    _key("G", "new_group", QT_TRANSLATE_NOOP("Keys", "the next mark begins a new group")),
    _key("M", "toggle_marking", QT_TRANSLATE_NOOP("Keys", "marking on or off, with what was marked last")),
    _key("I", "find_alike", QT_TRANSLATE_NOOP("Keys", "find others like the one marked last")),
    _key("O", "next_outcome", QT_TRANSLATE_NOOP("Keys", "what came of the last act: fine, damaged, destroyed ...")),
    _key("K", "stopwatch", QT_TRANSLATE_NOOP("Keys", "start the stopwatch; the next act takes its time")),
    _key("Q", "answer_question", QT_TRANSLATE_NOOP("Keys", "answer the open question as it is shown")),
    _key(";", "toggle_measuring", QT_TRANSLATE_NOOP("Keys", "measure on the photograph")),
    _key("N", "next_photo", QT_TRANSLATE_NOOP("Keys", "next state; at the end of the strip, a new photo")),
    _key("P", "previous_photo", QT_TRANSLATE_NOOP("Keys", "previous state")),
    _key("V", "take_picture", QT_TRANSLATE_NOOP("Keys", "photograph by the overhead camera")),
    _key("Shift+V", "turn_over", QT_TRANSLATE_NOOP("Keys", "turn the device over and photograph it")),
    _key("/", "compare", QT_TRANSLATE_NOOP("Keys", "compare with the state before; again: by turns; again: back")),
    _key("T", "type_line", QT_TRANSLATE_NOOP("Keys", "type a line")),
    _key("Del", "take_mark_away", QT_TRANSLATE_NOOP("Keys", "take the last mark of the chosen thing away")),
    _key("Esc", "stop_marking", QT_TRANSLATE_NOOP("Keys", "choose instead of mark; give up what is half done")),
)
BY_DEED = {key.does: key.keys for key in KEYS}
