"""The keys of the Log, in one place: which gesture each is, for the shortcuts, the buttons and the list of keys."""

from __future__ import annotations

from msgspec import Struct

from oddbolt.session.modes import Gesture
from oddbolt.words.translate import N_, tr


class Key(Struct, frozen=True):
    """A foot switch is only one of these keys."""

    keys: str
    gesture: Gesture
    text: str

    @property
    def words(self) -> str:
        return tr(self.text)


KEYS = (
    Key("R", Gesture.RELEASE, N_("release what is chosen")),
    Key("L", Gesture.LIFT, N_("lift the part in hand")),
    Key("H", Gesture.SWING, N_("swing the cover open; it stays tied by its cable")),
    Key("Return", Gesture.USUAL, N_("the usual next act, as a foot switch presses it; held: the first answer offered")),
    Key("Space", Gesture.UNDO_TOO, N_("undo too: a click, or point and press, marks and releases")),
    Key("W", Gesture.REACH_ALL, N_("all that is marked here could be undone now")),
    Key("J", Gesture.REACH, N_("draw round what could be undone now")),
    Key("U", Gesture.UNDERSIDE, N_("on the underside of what was lifted; again: back")),
    Key("G", Gesture.NEW_GROUP, N_("the next mark begins a new group")),
    Key("M", Gesture.MARKING, N_("marking on or off, with what was marked last")),
    Key("I", Gesture.FIND_ALIKE, N_("find others like the one marked last")),
    Key("O", Gesture.OUTCOME, N_("what came of the last act: fine, damaged, destroyed ...")),
    Key("K", Gesture.STOPWATCH, N_("start the stopwatch; the next act takes its time")),
    Key("Q", Gesture.QUESTION, N_("answer the open question as it is shown")),
    Key(";", Gesture.MEASURE, N_("measure on the photograph")),
    Key("N", Gesture.NEXT, N_("next state; at the end of the strip, a new photo")),
    Key("P", Gesture.PREVIOUS, N_("previous state")),
    Key("V", Gesture.CAMERA, N_("photograph by the overhead camera")),
    Key("Shift+Return", Gesture.TAKE_ON, N_("take what is ticked of what was seen, and photograph on")),
    Key("Shift+V", Gesture.TURN_OVER, N_("turn the device over and photograph it")),
    Key("/", Gesture.COMPARE, N_("compare with the state before; again: by turns; again: back")),
    Key("T", Gesture.LINE, N_("type a line")),
    Key("F2", Gesture.ANSWER_1, N_("the first answer that is offered")),
    Key("F3", Gesture.ANSWER_2, N_("the second answer that is offered")),
    Key("F4", Gesture.ANSWER_3, N_("the third answer that is offered")),
    Key("F5", Gesture.ANSWER_4, N_("the fourth answer that is offered")),
    Key("F6", Gesture.WHOSE, N_("whose plug, or which further part a joint holds: then the letter of the part")),
    Key("F7", Gesture.NEXT_TOOL, N_("with the next tool of the box: the act just done, or what is chosen")),
    Key("Shift+F7", Gesture.FURTHER_TOOL, N_("with a further tool at the same time; again: the next, or none")),
    Key("F8", Gesture.WAIT, N_("how long it takes effect: type 60, 60-120, 1:30 or 5 min")),
    Key("Shift+F8", Gesture.AT_ONCE, N_("the last act follows the one before at once; again: it need not")),
    Key("F9", Gesture.REUSE, N_("its fixing is used again, renewed, destroyed: the act just done, or what is chosen")),
    Key("Shift+F9", Gesture.DISCARD, N_("what held it is thrown away; again: it is kept")),
    Key("Ins", Gesture.FACT, N_("tell a fact of what is pointed at: dot white, gasket, 48 MP, 7900 mAh")),
    Key("F11", Gesture.SEE, N_("look at what the camera saw; else compare this photograph with the one before")),
    Key("Shift+F11", Gesture.WATCH, N_("the camera watches and photographs what changed by itself; again: no more")),
    Key("F12", Gesture.FOOTPRINT, N_("draw round what the part just lifted had covered")),
    Key("Shift+F12", Gesture.COVERED_NOTHING, N_("the part just lifted had covered nothing")),
    Key("Del", Gesture.DELETE, N_("take the last mark of the chosen thing away")),
    Key("Esc", Gesture.ESCAPE, N_("choose instead of mark; give up what is half done")),
)
TELL_KEYS = "Ctrl+U"  # of the menu: the ways to the priority parts
BY_GESTURE = {key.gesture: key.keys for key in KEYS}
WORDS = {key.gesture: key.text for key in KEYS}  # to be translated when they are shown
