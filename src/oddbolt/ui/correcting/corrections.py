"""What was recorded, set right where it stands: menus of a mark, an entry, a photograph, a part, a letter.

Every correction is a verb of `session.verbs.correcting`, so it is taken back like any other act.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from PySide6.QtWidgets import QMenu, QWidget

from oddbolt.catalog.defaults import ways_of
from oddbolt.catalog.tables import mark_kinds
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import LogEntry, Teardown, Way
from oddbolt.rules.replay import as_amended, in_order
from oddbolt.session.session import Session
from oddbolt.session.verbs.correcting import change, delete, relog
from oddbolt.session.verbs.groups import join_groups
from oddbolt.session.verbs.marking import Kind
from oddbolt.ui.correcting.asking import AskText, confirm
from oddbolt.words.names import fastener_text, name_of, tool_text
from oddbolt.words.recording.corrections import goes_along_text
from oddbolt.words.recording.labels import entry_name
from oddbolt.words.recording.said import type_name
from oddbolt.words.refusals import refusal_text
from oddbolt.words.translate import of_data, sentence, tr

Do = Callable[..., Any]  # carries a verb out; says what is refused
Say = Callable[[str, bool], object]
WORDED = ("note", "incident", "inspect", "clean", "apply")


class Corrections:
    """Menus for one panel. `t` gives the time at which a correction is entered."""

    def __init__(self, widget: QWidget, session: Session, do: Do, say: Say) -> None:
        self._widget, self._session, self._do, self._say = widget, session, do, say

    @property
    def _teardown(self) -> Teardown:
        return self._session.teardown

    @property
    def _t(self) -> float:
        return self._session.seconds_now()

    def _menu(self) -> QMenu:
        menu = QMenu(self._widget)
        menu.aboutToHide.connect(menu.deleteLater)  # after what was chosen in it has been heard
        return menu

    @staticmethod
    def _add(menu: QMenu, text: str, does: Callable[[], object], *, on: bool = True) -> None:
        action = menu.addAction(text)
        action.setEnabled(on)
        action.triggered.connect(lambda _=False: does())

    # -- a mark, a thing

    def of_mark(self, view_id: str, place: int) -> QMenu:
        view = self._teardown.view[view_id]
        thing = view.marks[place].thing
        menu = self.of_thing(thing)
        first = menu.actions()[0]
        joint = self._teardown.joint.get(thing)
        if joint is not None and joint.kind == "screw":
            one = QMenu(tr("This one is of letter"), menu)
            for fastener in self._teardown.fasteners:
                self._add(one, fastener_text(fastener), lambda f=fastener.id: self._do(
                    change.marks_to_letter, view_id, [place], f), on=fastener.id != joint.fastener)
            menu.insertMenu(first, one)
        self._add(menu, tr("Delete this mark"), lambda: self._do(delete.delete_mark, view_id, place))
        return menu

    def of_thing(self, thing: str) -> QMenu:
        """Of a part or a joint, wherever it is shown."""
        menu = self._menu()
        self._add(menu, tr("Rename…"), lambda: self.ask_name(thing))
        joint = self._teardown.joint.get(thing)
        if joint is not None:
            menu.addMenu(self._kinds(menu, thing))
            if joint.kind == "screw":
                menu.addMenu(self._letters(menu, thing))
                menu.addMenu(self._groups(menu, thing))
            ways = self._ways(menu, thing)
            if ways is not None:
                menu.addMenu(ways)
        menu.addSeparator()
        self._add(menu, tr("Delete {0}…").format(name_of(self._teardown, thing)), lambda: self.ask_delete([thing]))
        return menu

    def _kinds(self, menu: QMenu, joint: str) -> QMenu:
        kinds = QMenu(tr("It is"), menu)
        for row in mark_kinds().values():
            for type_ in row.types or ("",):
                kind = Kind(joint=row.kind, type=type_)
                text = of_data(row.name)
                if len(row.types) > 1:
                    text = tr("{0}: {1}").format(text, type_name(row.kind, type_))
                self._add(kinds, text, lambda k=kind: self._do(change.set_kind, joint, k, self._t))
        for fastener in self._teardown.fasteners:
            kind = Kind(letter=fastener.id)
            self._add(kinds, fastener_text(fastener), lambda k=kind: self._do(change.set_kind, joint, k, self._t))
        return kinds

    def _letters(self, menu: QMenu, joint: str) -> QMenu:
        letters = QMenu(tr("All of them are of letter"), menu)
        for fastener in self._teardown.fasteners:
            self._add(letters, fastener_text(fastener), lambda f=fastener.id: self._do(change.set_letter, joint, f),
                      on=fastener.id != self._teardown.joint[joint].fastener)
        return letters

    def _groups(self, menu: QMenu, joint: str) -> QMenu:
        """Other groups of screws; where the letters differ it is asked which one is meant."""
        groups = QMenu(tr("One group with"), menu)
        own = self._teardown.joint[joint]
        for other in self._teardown.joints:
            if other.kind != "screw" or other.id == joint or not set(own.of) & set(other.of):
                continue
            name = name_of(self._teardown, other.id)
            if other.fastener == own.fastener:
                self._add(groups, name, lambda o=other.id: self._do(join_groups, joint, o))
                continue
            for letter in (own.fastener, other.fastener):
                if letter:
                    self._add(groups, tr("{0}, as letter {1}").format(name, letter),
                              lambda o=other.id, f=letter: self._do(change.join_as, joint, o, f))
        groups.setEnabled(not groups.isEmpty())
        return groups

    def _ways(self, menu: QMenu, joint: str) -> QMenu | None:
        """How it was undone, where it was and there is more than one way."""
        reading = next((e for e in reversed(self._readings()) if e.do == "release" and e.thing == joint), None)
        ways = ways_of(self._teardown, self._teardown.joint[joint])
        if reading is None or len(ways) < 2:
            return None
        made = QMenu(tr("It was undone"), menu)
        for n, way in enumerate(ways):
            self._add(made, self._way_text(n, way), lambda n=n: self._do(
                relog.by_another_way, reading.id, n, self._t), on=n != (reading.way or 0))
        return made

    def _readings(self) -> Sequence[LogEntry]:
        return as_amended(self._teardown)

    @staticmethod
    def _way_text(n: int, way: Way) -> str:
        tools = ", ".join(dict.fromkeys(tool_text(act.tool) for act in way.acts))
        return tr("way {0}: {1}").format(n + 1, tools)

    # -- an entry of the log

    def of_entry(self, entry_id: str) -> QMenu:
        menu = self._menu()
        entry = next((e for e in self._teardown.log if e.id == entry_id), None)
        if entry is None:
            return menu
        if entry.amends is not None:
            self._add(menu, tr("A correction: take it back with Undo, or correct the entry again"), lambda: None,
                      on=False)
            return menu
        reading = relog.reading_of(self._teardown, entry_id)
        if reading is None:
            self._add(menu, tr("It was done after all"), lambda: self._do(relog.restore, entry_id, self._t))
        else:
            self._add(menu, tr("It was not done"), lambda: self._do(relog.strike, entry_id, self._t))
            if entry.do in WORDED:
                self._add(menu, tr("Another text…"), lambda: self.ask_text(entry_id))
        menu.addSeparator()
        forgotten = menu.addMenu(tr("Forgotten after this"))
        self._add(forgotten, tr("A note…"), lambda: self.ask_note(entry_id))
        for title, do, things in ((tr("Released"), "release", self._not_yet("release")),
                                  (tr("Lifted"), "remove", self._not_yet("remove"))):
            below = forgotten.addMenu(title)
            below.setEnabled(bool(things))
            for thing in things:
                self._add(below, name_of(self._teardown, thing),
                          lambda d=do, x=thing: self._do(relog.insert, entry_id, d, thing=x))
        return menu

    def _not_yet(self, do: str) -> list[str]:
        """Joints or parts that the log does not have as released or lifted."""
        structure = self._session.derived.structure
        done = {entry.thing for entry in self._readings() if entry.do == do}
        return [id_ for id_ in (structure.releases if do == "release" else structure.removals) if id_ not in done]

    def strike_or_restore(self, entry_id: str) -> None:
        """What the Delete key does to an entry."""
        try:
            struck = relog.reading_of(self._teardown, entry_id) is None
        except Refusal as refusal:
            self._say(refusal_text(refusal), True)
            return
        self._do(relog.restore if struck else relog.strike, entry_id, self._t)

    def ask_text(self, entry_id: str) -> None:
        reading = relog.reading_of(self._teardown, entry_id)
        if reading is not None:
            AskText(self._widget, tr("Text of the entry"), reading.text,
                    lambda text: self._do(relog.reword, entry_id, text, self._t))

    def ask_note(self, entry_id: str) -> None:
        AskText(self._widget, tr("What was forgotten"), "",
                lambda text: text.strip() and self._do(relog.insert, entry_id, "note", text=text.strip()))

    # -- a photograph

    def of_view(self, view_id: str, chosen_entry: str) -> QMenu:
        """`chosen_entry` is the one chosen in the running list, if any is."""
        menu = self._menu()
        view = self._teardown.view[view_id]
        order = [entry.id for entry in in_order(self._teardown) if entry.amends is None]
        place = order.index(view.at_entry) if view.at_entry in order else -1
        moment = menu.addMenu(tr("It shows another moment"))
        self._add(moment, tr("before the first act"), lambda: self._do(change.move_view, view_id, None), on=place >= 0)
        self._add(moment, tr("one act earlier"), lambda: self._do(
            change.move_view, view_id, order[place - 1] if place > 0 else None), on=place >= 0)
        self._add(moment, tr("one act later"), lambda: self._do(change.move_view, view_id, order[place + 1]),
                  on=place + 1 < len(order))
        entry = next((e for e in self._teardown.log if e.id == chosen_entry and e.amends is None), None)
        text = tr("after the entry chosen in the running list")
        if entry is not None:
            text = tr("after: {0} {1}").format(
                entry_name(entry.do), name_of(self._teardown, entry.thing) if entry.thing else "").rstrip()
        self._add(moment, text, lambda: self._do(change.move_view, view_id, chosen_entry),
                  on=entry is not None and entry.id != view.at_entry)
        menu.addSeparator()
        self._add(menu, tr("Delete this photograph…"), lambda: self.ask_delete_view(view_id))
        return menu

    def ask_delete_view(self, view_id: str) -> None:
        view = self._teardown.view[view_id]
        confirm(self._widget, tr("Delete the photograph {0}?").format(view.photo),
                tr("{0} marks go with it. What is on record of the things stays. Undo brings it back.").format(
                    len(view.marks)), tr("Delete"), lambda: self._do(delete.delete_view, view_id))

    # -- a letter of the tray

    def of_letter(self, letter: str) -> QMenu:
        menu = self._menu()
        self._add(menu, tr("Delete letter {0}…").format(letter), lambda: self.ask_delete_letter(letter))
        menu.addSeparator()
        for joint in self._teardown.joints:
            if joint.fastener == letter and joint.kind == "screw":
                below = self._letters(menu, joint.id)
                below.setTitle(tr("{0} are of letter").format(sentence(name_of(self._teardown, joint.id))))
                menu.addMenu(below)
        return menu

    def ask_delete_letter(self, letter: str) -> None:
        with_it = sum(joint.fastener == letter for joint in self._teardown.joints)
        confirm(self._widget, tr("Delete letter {0}?").format(letter),
                tr("{0} groups of screws have no letter then. Undo brings it back.").format(with_it), tr("Delete"),
                lambda: self._do(delete.delete_letter, letter))

    # -- names and deletions

    def ask_name(self, thing: str) -> None:
        found = self._teardown.part.get(thing) or self._teardown.joint.get(thing)
        if found is not None:
            AskText(self._widget, tr("Name"), found.name or name_of(self._teardown, thing),
                    lambda name: self._do(change.rename, thing, name))

    def ask_delete(self, things: list[str]) -> None:
        """Said beforehand: everything that hangs on them."""
        try:
            hangs = delete.hangs_on(self._teardown, things)
        except Refusal as refusal:
            self._say(refusal_text(refusal), True)
            return
        title = tr("Delete {0}?").format(name_of(self._teardown, things[0])) if len(things) == 1 \
            else tr("Delete {0} things?").format(len(things))
        confirm(self._widget, title, goes_along_text(self._teardown, hangs.parts, hangs.joints, len(hangs.entries),
                                                     hangs.marks, set(things)),
                tr("Delete"), lambda: self._do(delete.delete_things, things))
