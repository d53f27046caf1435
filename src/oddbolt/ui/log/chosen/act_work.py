"""From the strip of acts to the verbs: what is chosen in its menus, and what is typed in its field."""

from __future__ import annotations

from oddbolt.model.places import Spot
from oddbolt.session.modes import Act
from oddbolt.session.recording.recorder import Recorder
from oddbolt.session.recording.tool_acts import ToolActs, acts_of, tell_in_passing
from oddbolt.session.verbs import acts
from oddbolt.ui.log.chosen.act_strip import FACT, TOOL, WAIT, ActStrip, Change
from oddbolt.ui.log.chosen.thing import ChosenThing
from oddbolt.ui.log.photograph.states import States
from oddbolt.ui.widgets.photo import PhotoCanvas


class ActWork:
    """Holds only where was pointed while a fact is typed."""

    def __init__(self, recorder: Recorder, with_what: ToolActs, strip: ActStrip, thing: ChosenThing, states: States,
                 canvas: PhotoCanvas) -> None:
        self.recorder, self.with_what, self.strip = recorder, with_what, strip
        self._thing, self._states, self._canvas = thing, states, canvas
        self._pointed, self._spot = "", None
        recorder.acts |= {Act.WAIT: self.ask_wait, Act.FACT: self.ask_fact}
        strip.changed.connect(self.change)
        strip.typed.connect(self.typed)
        strip.left.connect(canvas.setFocus)

    def show(self) -> None:
        """The acts of what is chosen, else of what was done last; not while something is typed."""
        if not self.strip.is_typing:
            chosen = self.recorder.selection.thing
            self.strip.show_thing(self.recorder.session.teardown, self.with_what.meant(),
                                  self._thing.chosen_way() if chosen else 0)

    def ask_wait(self) -> bool:
        teardown, meant = self.recorder.session.teardown, self.with_what.meant()
        if meant not in teardown.joint and (not meant or len(acts_of(teardown, meant)) < 2):
            self.recorder.say("choose-joint-wait", alarm=True)
            return False
        self.show()
        self.strip.open(WAIT)
        return True

    def ask_fact(self) -> bool:
        """A fact of what the pointer is on."""
        spot: Spot | None = self._canvas.pointer()
        view = self._states.view
        under = self._canvas.pin_at(self._canvas.mapFromScene(*spot)) if spot is not None else None
        marks = view.marks if view is not None else ()
        self._pointed = marks[under].thing if under is not None and under < len(marks) else ""
        self._spot = spot if view is not None else None
        self.strip.open(FACT)
        return True

    def typed(self, what: str, text: str, act: int) -> None:
        if what == WAIT:
            self.with_what.wait(text, self.strip.way, act if act >= 0 else None)
        elif what == FACT:
            tell_in_passing(self.recorder, text, pointed=self._pointed, spot=self._spot)
        elif what == TOOL:
            done = self.recorder.do(acts.own_tool, text)
            if done is not None:
                self.change(("tool", act, done.made))

    def change(self, change: Change) -> None:
        """A choice in the menu of an act."""
        what, place, value = change
        thing, way, do = self.strip.thing, self.strip.way, self.recorder.do
        teardown = self.recorder.session.teardown
        if what == "tool" and thing in teardown.joint and place == len(acts_of(teardown, thing, way)) - 1:
            self.recorder.choose(thing)
            self.recorder.set_tool(way, value)  # remembered for the next of its kind
        elif what == "tool":
            do(acts.set_act_tool, thing, way, place, value)
        elif what == "also":
            do(acts.set_also, thing, way, place, value)
        elif what == "does":
            do(acts.set_verb, thing, way, place, value)
        elif what == "at-once":
            do(acts.set_at_once, thing, way, place, value)
        elif what == "add":
            do(acts.add_act, thing, way, value, place)
        elif what == "remove":
            do(acts.remove_act, thing, way, place)
