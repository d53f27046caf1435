"""What a click would do now, in two or three words for beside the pointer."""

from __future__ import annotations

from typing import TYPE_CHECKING

from oddbolt.knowledge.said.retold import NOT_MINE
from oddbolt.model.things import Teardown
from oddbolt.session.modes import Mode
from oddbolt.session.selection import Selection
from oddbolt.words.names import name_of
from oddbolt.words.recording.said import type_name
from oddbolt.words.translate import N_, from_table, tr

if TYPE_CHECKING:
    from oddbolt.ui.log.log_pieces import LogPieces

WORDS = {
    Mode.HEARD: N_("⏎ counts, Esc takes back"),
    Mode.NUMBERING: N_("number {next}"), Mode.NAMING: N_("which kind? press it"), Mode.MEASURING: N_("measure"),
    Mode.PROPOSING: N_("⏎ takes, Esc leaves"), Mode.SEEING: N_("⏎ takes what is ticked"),
    Mode.NAMING_SEEN: N_("what went? press its kind"), Mode.LETTERING_SEEN: N_("which screws? press 1 to 9"),
    Mode.REACHING: N_("draw round what is free"),
    Mode.COVERING: N_("draw round what it had covered"),
    Mode.ANSWERING: N_("tick what is meant"), Mode.CHOOSING: "",
    Mode.POINTING: N_("tap what is in its way"),
}


def show_mode(panel: LogPieces) -> None:
    """Beside the pointer, as the modes are now."""
    panel.gestures.note_modes()
    panel.canvas.mode.say(mode_text(panel.recorder.session.teardown, panel.recorder.selection))


def mode_text(teardown: Teardown, selection: Selection) -> str:
    """Empty where a click only chooses."""
    # A way that is shown changes nothing of what a click does, but where something is pointed at.
    mode, kind = next(one for one in selection.modes() if one is not Mode.TELLING), selection.kind
    told = selection.telling
    if mode is Mode.POINTING and told is not None and told.wants == NOT_MINE:
        words = [tr("tap its part, or press its kind")]
    elif mode in WORDS:
        number = len(selection.ordering.places) + 1 if selection.ordering is not None else 0
        words = [from_table(WORDS, mode, next=number)] if WORDS[mode] else []
    elif kind is not None and kind.letter:
        fastener = teardown.fastener.get(kind.letter)
        words = [f"{kind.letter} {fastener.drive}{fastener.size}" if fastener is not None else kind.letter]
    else:
        words = [type_name(kind.joint, kind.type)] if kind is not None else []
    if selection.as_i_mark:
        words.append(tr("+ release"))
    if selection.carrier in teardown.part:
        words.append(tr("beneath {0}").format(name_of(teardown, selection.carrier)))
    return " ".join(words)
