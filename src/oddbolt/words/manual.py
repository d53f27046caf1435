"""The manual: a page for each workspace, short enough to be read at the bench."""

from __future__ import annotations

from oddbolt.words import manual_telling, manual_voice
from oddbolt.words.manual_page import ManualPage
from oddbolt.words.translate import tr


def pages() -> list[ManualPage]:
    return [manual_telling.shelf(), _prepare(), _log(), manual_voice.voice(), _correcting(), _parts(), _bolts(),
            _sequence(), _access(), _verdict(), _rebuild(), manual_telling.compare(), manual_telling.report(),
            manual_telling.rehearse(), _reckon(), _files()]


def _prepare() -> ManualPage:
    return ManualPage("prepare", tr("Prepare"), (
        (tr("Begin"), (
            tr("Choose a category and press Begin: nothing else is asked for. Name, variant, analyst and bench can be "
               "said later under Edit, Device and bench."),
            tr("From an earlier model takes its parts and joints over as assumed; what turns out otherwise is set "
               "right as it is met."))),
        (tr("Before the first screw"), (
            tr("Tick what is done; each item says why it is there. Cautions follow the category. Local codes, the "
               "maker's service instructions and licensed practice come first."),
            tr("Tools to lay out come from the category and from earlier teardowns in your folder. Untick what is not "
               "there; a file that cannot be read is named and passed over.")))))


def _log() -> ManualPage:
    return ManualPage("log", tr("Log"), (
        (tr("Mark and undo"), (
            tr("Press N for a photograph. Choose a letter with 1 to 9 and click each screw, or point at a joint and "
               "press the key of its kind. R releases what is chosen; with Space on, a mark releases too, and the key "
               "of a kind does it where you point. Shift and a "
               "letter lifts the part and names it; a name typed above the kinds is its name. "
               "What a click would do stands beside the pointer."),
            tr("Of a kind with several types the one used last is taken. The same key again, while you still point at "
               "the mark, makes it the next; of glue F2 to F5 say directly how it was parted. Drawn round afterwards, "
               "the mark becomes an area."),
            tr("What you mark is tied to the part that comes off next; nobody has to know its name beforehand. Screws "
               "go to the part that they surround, a plug to the nearest part that has one. Screws of several parts "
               "may be marked as one group: those round what comes off go with it, the others wait for theirs, "
               "and F2 says that all were its."),
            tr("What cannot be known is offered over the photograph for a moment: F2 to F5 answer, F6 and the key of a "
               "part says whose plug it is. Going on is an answer too."))),
        _what_the_photograph_says(),
        (tr("What hides what"), (
            tr("The program notes what had to come off before each thing could be reached, and assumes the rest. W "
               "says that everything marked can be reached now; J is drawn round what can. Ask holds the few questions "
               "that would change a depth."),
            tr("Ctrl, Shift and a drag draw what the part just lifted had covered (so does F12, then a drag); "
               "Shift+F12 says that it covered nothing. What is marked later within it was probably hidden by it. "
               "What was drawn stays on later photographs."))),
        (tr("Are the ways right?"), (
            tr("When a part that matters is off, or at the end for all, look at the way to it: a strip of pictures "
               "under the photograph, one for each act, as the record has it now. F2 says that it is right. Choose an "
               "item and say what is wrong: F3 and a tap on what is in its way, F4 not needed, F5 and a tap or the key "
               "of a part for whose it is; something else holds it; another tool; another kind. The next strip follows "
               "from what you said."),
            tr("Then, where an assumption makes a way longer, one yes or no: could this have been done before that was "
               "out of the way? Nothing is asked twice, and a way that you confirmed in another order counts. After "
               "four answers about one part in a row the rest waits until its way is shown again."),
            tr("Who looks at a long way once overlooks something now and then. So each way comes back when all have "
               "been looked at: a second look, by you after the other ways or by somebody else, makes it firm; a way "
               "of more than twelve takes a third. The same said twice in a row is one look, and a way that was only "
               "seen as a piece of ways to other parts stays a guess. More, then Who looks, says that somebody else "
               "looks now: they see what you overlook, so their first look counts for two."),
            tr("Each depth says how known it is: a dashed ring, guessed, or looked at once; half a disc, looked at "
               "twice and right; a disc, looked at by somebody else as well, or four times, and nothing is left that "
               "might make it shorter. A guess is never called firm."))),
        (tr("One line"), (
            tr("T goes to the line that can be typed: 4 PH00 A cover, plug pack b2b, glue pack heat 70C 5min. What it "
               "will do is said before Return is pressed."),)),
        (tr("Measure and find alike"), (
            tr("Measure sets the scale by two points, by a card of known size, or by the printed sheet of dots. Find "
               "alike proposes others like the screw marked last; wrong ones teach it."),))))


def _what_the_photograph_says() -> tuple[str, tuple[str, ...]]:
    return (tr("What the photograph says"), (
        tr("A photograph of a state is compared with the one before it, from the same side: V by the camera, N "
           "from a file; F11 compares the one that is shown. On the page Seen stands what seems to have been done, "
           "each with pictures of before and now, and outlined on the photograph. A click ticks or unticks it."),
        tr("What is new waits for its kind: Shift and a letter is a part, a letter alone a joint, 1 to 9 the "
           "letter of screws; Del says that nothing went there. Return takes over all that is ticked, in an order "
           "that the rules allow; Shift+Return does too, and photographs what was done since; Esc leaves it all. "
           "Ctrl+Z takes it back as one act. What was seen stays until it is taken or left, over further "
           "photographs too; what you record by hand meanwhile stands after what an earlier photograph shows."),
        tr("No photograph shows a bond, a snap or a run of a cable. Where nothing else held a part that came off, what "
           "held the last of its kind is proposed below it, or what holds one as a rule; untick it, or name another. "
           "F7 says with which tool joints of the kind named last were undone."),
        tr("With both hands busy let the camera watch (Shift+F11, or the button on the page Seen): it looks all "
           "the time, and photographs by itself when hands were at the device and are gone. What shows nothing new "
           "is not kept. Keys go on meaning what they mean; when a hand is free, F11 looks at what was seen: it is "
           "named as above, and Return takes it. It says so where it cannot tell: a cover that hangs over the rim, "
           "another layer (V photographs it), the device turned over (Shift+V). Where a folder is watched instead, "
           "let the camera's program save a picture every second or two: those worth it are taken in."),
        tr("What had been covered by what came off stays as a ghost; its edge can be dragged. Nothing is proposed "
           "where the device was turned over, another layer shows, or something hides too much. Take the "
           "photograph after a plate is off rather than before: what it hides is seen only then.")))


def _correcting() -> ManualPage:
    return ManualPage("correcting", tr("Setting things right"), (
        (tr("Where it stands"), (
            tr("Every act can be taken back with Ctrl+Z, also after a restart. What was wrong long ago is set right "
               "where it stands, and nothing that came after is lost: click a mark, an entry of the running list, a "
               "photograph of the strip, a part or a letter with the right button."),
            tr("A mark: another letter, another kind, another name, delete. An entry: it was not done, it was done "
               "after all, another text, what was forgotten after it. A photograph: another moment, delete. The Delete "
               "key and a double click do the usual."))),
        (tr("What stays"), (
            tr("The log keeps what was said and when it was corrected. Before something is deleted you are told what "
               "hangs on it."),))))


def _parts() -> ManualPage:
    return ManualPage("parts", tr("Parts"), (
        (tr("Sheets"), (
            tr("The tree shows what is mounted on what. Choose several parts to write a mass, a material or a hazard "
               "of all of them at once. A figure is written as it is read: capacity 7900 mAh."),)),
        (tr("Beside the tree"), (
            tr("Cables shows what joins which parts at any moment of the log. Missing lists what devices of this "
               "category usually have. Balance adds masses and says what is not accounted for. Tools and orders finds "
               "the least kit for the priority parts."),))))


def _bolts() -> ManualPage:
    return ManualPage("bolts", tr("Bolts"), (
        (tr("No bolt left over"), (
            tr("The figure at the top counts screws out, back, and odd: those that are neither on the tray nor back in "
               "the device. Counts by joints, by marks and by the log stand beside each other; where they differ, one "
               "may be under a label."),)),
        (tr("Mats, look-alikes, torque"), (
            tr("A mat prints each layer at true scale, with a place for every screw. Identify says what a screw is "
               "from calliper readings, with its odds; none of these is always among the answers. Look-alikes are "
               "types of this device that are mixed up easily, and what would happen."),))))


def _sequence() -> ManualPage:
    return ManualPage("sequence", tr("Sequence"), (
        (tr("Two lanes on one scale"), (
            tr("Above the work as it was done, below the best there is for the parts you tick, tool by tool. All of it "
               "fits the width; Ctrl and the wheel, plus and minus zoom, 0 fits it again. What is too narrow for its "
               "name has a number, and the list beside names it. F folds waits in which nothing is done; lanes with "
               "nothing in sight are shut."),
            tr("Drag an operation to try another order; an illegal place says why."))),
        (tr("What it is kept to"), (
            tr("Safe first, no solvent under heat, cell limits, nothing destroyed: each switch says what it costs and "
               "where a plan has to break it."),))))


def _access() -> ManualPage:
    return ManualPage("access", tr("Access"), (
        (tr("The section"), (
            tr("A column is bored to each priority part; every layer is as thick as the time it takes. Its look says "
               "whether it is destroyed, renewed, hazardous, done live, or only assumed. Beside it stands the way in, "
               "in words that can be read aloud."),
            tr("A second record is laid beside this one, on the same scale and by the same convention. Below the way "
               "in stands why the two differ: what only one of them has on the way, what has another tool or lies "
               "behind something else, and how many steps each makes of the difference."))),))


def _verdict() -> ManualPage:
    return ManualPage("verdict", tr("Verdict"), (
        (tr("Methods side by side"), (
            tr("Each line is a method with its result: an index and class, a profile of letters, or figures. Methods "
               "chooses which are evaluated; those made for the category of the device come first. The one chosen is "
               "opened below: each point names its rule and what in the record it rests on; a double click, or Return, "
               "goes there. Figures are from memory of the text; the text of the law decides."),
            tr("Copy and change makes a rubric of your own: what criteria look at, their weights, scales such as "
               "3: 10; 6: 8; more: 0, classes and parts. It is saved as a file when it adds up, and can be handed "
               "on."))),
        (tr("Firm or open"), (
            tr("The thick stretch on the scale is what is missing; the thin line under it is everything else that is "
               "open: access that is assumed, rows that are not confirmed, points on which the text is silent. A "
               "class is firm only if all of that leaves one. Open lists what could move it, by what it tells of the "
               "class; Change lists the smallest sets of facts, and changes of the design, that move the class."),)),
        (tr("Answers and opinions"), (
            tr("Answers asks what no other key holds, of the device and of one part at a time; whose spare brings new "
               "fixing stays open until it is said. Opinions keeps someone's own mark with reasons, and says what in "
               "the record speaks for it and against it."),))))


def _rebuild() -> ManualPage:
    return ManualPage("rebuild", tr("Rebuild"), (
        (tr("At the bench"), (
            tr("One step fills the room: what goes in, its one figure, the photograph from before it came off. Space, "
               "Return or the foot switch says that it is done. What is held or pressed for a time runs by itself; "
               "pressed again it is done at once. The torque driver is read by itself where there is one."),
            tr("N: something else happened. Another step was done first, another amount went on, it is not yet as it "
               "should be, or it is left out; that stands in the way of closing. W: it came out wrong. A screw is lost "
               "or worn, another screw went in, a check failed, something comes out again."),
            tr("A torque that would break the screw, a screw of another letter, a part that would close over what was "
               "left out: the first press says so, the second does it all the same. Everything is in the log, and "
               "Ctrl+Z takes it back."))),
        (tr("To zero"), (
            tr("The strip shows each letter: back of out, and what is new. At the end no bolt is left over, or it says "
               "which hole and which compartment to look at."),)),
        (tr("The order"), (
            tr("The reverse of how it came off, with the instruction of the record laid over it. Plugs before what "
               "makes the device live; nothing goes over what still has to go in. The maker's instructions come "
               "first."),)),
        (tr("On paper"), (
            tr("Everything back, or the replacement of any part: cautions, tools, what to have at hand, what is thrown "
               "away, then step by step. Ctrl+Shift+B in Access or Parts shows it for the part that is chosen. It is "
               "written as PDF on A4 or Letter, or as HTML, with pictures."),))))


def _reckon() -> ManualPage:
    return ManualPage("reckon", tr("Times, heat, doses"), (
        (tr("Times and pace (Ctrl+Shift+Y)"), (
            tr("Each time is measured, entered or estimated, and lies nine times of ten between its limits. Your pace "
               "is how your own readings lie to the estimates, verb by verb, from this log and others of yours that "
               "you add; ticked, it corrects what is estimated until you take it back."),)),
        (tr("Heating guide (Ctrl+Shift+E)"), (
            tr("Cover, bond and what lies behind, warmed from one side: when the bond lets go, how warm the cell is "
               "then, and whether a touch burns. A guide with its assumptions, never a permission: measure, and keep "
               "to the limit of the cell and to the maker's instructions."),)),
        (tr("Doses (Ctrl+Shift+D)"), (
            tr("The mass that fills a gap over an area, and the gap that a weighed mass fills; written down it is in "
               "the log, at the thing it is for."),))))


def _files() -> ManualPage:
    return ManualPage("files", tr("Files, copies, repair"), (
        (tr("Always on disk"), (
            tr("There is no Save: an act is on disk before it is shown. Save a copy writes the whole document, history "
               "and photographs, under another name. Export writes the open format, and asks what to leave out: place, "
               "author, serial numbers."),
            tr("Close leaves the teardown that is open; Prepare then begins or opens another. The file can be renamed "
               "while it is open. What another program holds can be opened for reading."))),
        (tr("When something is wrong"), (
            tr("A damaged document is refused with its reason and never used as if it were whole. File, Repair makes a "
               "new document of what can be read and lists what was lost; what is whole can also be looked at only. "
               "Help, What went wrong, holds the log of errors."),))))
