"""Pages of the manual about telling others: the shelf, comparing, the report."""

from __future__ import annotations

from oddbolt.words.manual_page import ManualPage
from oddbolt.words.translate import tr


def shelf() -> ManualPage:
    return ManualPage("shelf", tr("Shelf"), (
        (tr("All teardowns"), (
            tr("A card for each document and exchange file of the folders you choose, with the first photograph, the"
               " depths that matter, the verdict, bolts that are left over and what is still open. A first look "
               "fills the wall at once; depths and verdicts follow one by one and are remembered until the file "
               "changes."),
            tr("Search looks for all words anywhere on a card. Return or a double click opens, T gives tags. What is"
               " damaged, or open in another program, says so on its card."))),))


def compare() -> ManualPage:
    return ManualPage("compare", tr("Compare"), (
        (tr("Up to six records"), (
            tr("The open record is the first, and all are counted by its convention. Add other files, or this record"
               " as another variant. Depths and causes: each part that matters, with the joints and parts that make "
               "the difference; what cannot be put down to one thing is said. Point at the chart, or go through it "
               "with left and right."),
            tr("Made with: verdicts, bolts by type, tools, glue, connectors, passes; what differs stands strong. "
               "Sections: all of them, small, from one surface on one scale."))),
        (tr("What stands for what"), (
            tr("A proposal by role, name, kind and ties. Drag a thing from the right onto the one it stands for; "
               "Delete lets it stand for nothing, Backspace brings the proposal back. It is kept in a file beside "
               "the record, NAME.matches.json."),)),
        (tr("Two analysts"), (
            tr("How far the first two records agree: alpha with its metric and interval, kappa by criterion, the "
               "order of the work with a p by permuting. Where a figure is not defined it says so. Below, each fact "
               "that they tell otherwise, with both photographs. Tick what the second has right: a merged record is "
               "a new document, the first with those facts."),)),
        (tr("Ways told"), (
            tr("What a person, a manual or a recording says of the way to a part: type names, or tap things on a "
               "photograph in their order. Held against the record it says what was left out (a way that leaves "
               "something out is too good), what is needless, and what would be done live. It is no evidence: it "
               "changes no depth."),))))


def report() -> ManualPage:
    return ManualPage("report", tr("Report"), (
        (tr("What is in it"), (
            tr("Tick sections; the sheets on the left are what will be printed. Short is one page: picture, section,"
               " verdict and the facts that matter. Records chosen in Compare can stand beside this one. Names, "
               "benches and the serial number are left out where you tick them; photographs never tell more than "
               "their picture."),
            tr("A figure that is estimated stands slanted behind ≈, one that rests on a guess behind ◌; what nobody "
               "has confirmed has a section of its own."))),
        (tr("Written as"), (
            tr("PDF with bookmarks on A4 or Letter; a page (HTML) with everything inside, without scripts; tables "
               "(CSV), drawings (SVG) and marked photographs, each a folder; the structure (GraphML) for graph "
               "programs; the record itself (JSON). Nothing that is there is replaced without asking."),))))


def rehearse() -> ManualPage:
    return ManualPage("rehearse", tr("Rehearse"), (
        (tr("Take it apart, put it back"), (
            tr("Tap a thing on the photograph or take it from the list, choose the tool and press Return. The rules of "
               "access say what it was: done, done live, needless, not yet, or torn off; cautions come with the act. "
               "What cannot be done is not done. A hint says how many things help now, then two of which one does, "
               "then which and with what; each counts. Marks are against the best way."),
            tr("Put it back begins at the end of that way: nothing may close over what is still to go in. Where the "
               "record tells a torque it is asked for; a tenth more or less counts as right."))),
        (tr("Name it, spot the fault"), (
            tr("Questions come from what is marked on the photographs and from the catalogue: 1 to 4 answer, Return "
               "goes on. With a name of a learner they come again by boxes after one, two, four, eight and sixteen "
               "days; what was wrong goes back to the first box. Rounds are kept in a file of the learner's."),
            tr("Spot the fault shows a way with one thing wrong, or nothing."))),
        (tr("On paper"), (
            tr("Sheet writes the exercise and its solution, as two PDF. Nothing here changes the record. Work on a "
               "real device goes by the cautions, local codes and licensed practice."),))))
