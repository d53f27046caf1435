"""The page of the manual about the bench by voice."""

from __future__ import annotations

from oddbolt.words.manual_page import ManualPage
from oddbolt.words.translate import tr


def voice() -> ManualPage:
    return ManualPage("voice", tr("By voice"), (
        (tr("Speak to the bench"), (
            tr("Record, Speak to the bench (Ctrl+Shift+S) listens. Hold F10, or a pedal that sends it, and say what is "
               "done: “four alfa outer cover”, “unplug battery”, “lift away display”, “take a picture”. Tapped, it "
               "listens to one sentence. Or let it open with “odd bolt”: then it stays open as long as you go on."),
            tr("What was heard stands under the photograph in words and counts after a moment. “No”, Esc or the button "
               "takes it back; “yes”, Return or the next sentence lets it count at once; “take it back” undoes what "
               "counted, as always. What was not heard surely is asked about, and never counts by itself."))),
        (tr("What can be said"), (
            tr("Only what means something now, so that less can be misheard: the page Say lists it and changes with "
               "each act. Letters of screws are spelled alfa, bravo, charlie; a size digit by digit (“cross zero "
               "zero”, “six lobe one zero”); a part goes by its name or what its kind is called, another of its kind "
               "by “second”. What was seen on photographs has numbers: “number two is bravo”, then “carry on”."),
            tr("A name with a word that the recogniser does not know cannot be said; the part then goes by its kind "
               "and a number. Words are English."))),
        (tr("Your own voice"), (
            tr("Teach… on the page Say takes some three minutes: read 32 sentences aloud as you speak at the bench; a "
               "sentence that was not clear is asked for once more or left out, and ten are enough. From then on your "
               "voice and your accent are known, and far fewer sentences are asked about or misheard. Choose there "
               "whose voice is heard; Forget, pressed twice, deletes what was learned."),)),
        (tr("Notes"), (
            tr("“Spoken note” keeps what you say next as sound, on the part in hand, until you are silent. It is typed "
               "later on the page Say; the sound stays with it. Where names are left out, spoken notes are too."),)),
        (tr("What it is not"), (
            tr("It is no dictation: sentences that are not on the list are not understood, and notes are not written "
               "down by themselves. In loud rooms, and with voices that it was not taught, it asks more. It "
               "records; it does not watch: before live parts look at the screen and at the device. All of it works on "
               "this machine; nothing that is said leaves it, and of sound only notes are kept."),
            tr("It needs the extra “voice”, which setup/voice in the folder of Odd Bolt adds. Without it the rest "
               "works as ever. A simulated microphone plays the bench radio, sentence by sentence."),))))
