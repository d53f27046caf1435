"""Everything a person can do to a teardown, as commands: a label for the menu and a function from one snapshot to the
next. A command raises Refusal and changes nothing when it does not apply."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from operator import attrgetter
from typing import Any

from oddbolt.catalog.defaults import ways_of
from oddbolt.knowledge.evidence import ACCESS, HIDES, WITHIN
from oddbolt.knowledge.guesses import settle
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Answer, Fact, Fastener, Joint, LogEntry, Mark, Part, Plane, Spare, Teardown, View
from oddbolt.words.wording import name_of, tool_name

_ID = attrgetter("id")


@dataclass(frozen=True, slots=True, kw_only=True)
class Command:
    """`label` reads after "Undo"; `change` makes the next snapshot."""

    label: str
    change: Callable[[Teardown], Teardown]


def free_id(teardown: Teardown, stem: str) -> str:
    """An id that nothing in the teardown has: the stem with a number."""
    lists = (teardown.log, teardown.views, teardown.joints, teardown.parts)
    n = len(teardown.log) if stem == "e" else 0
    while True:
        n += 1
        id_ = f"{stem}{n}"
        if not any(id_ in map(_ID, records) for records in lists):
            return id_


def change_view(teardown: Teardown, view_id: str, change: Callable[[View], View]) -> Teardown:
    return replace(teardown, views=tuple(change(view) if view.id == view_id else view for view in teardown.views))


def change_joint(teardown: Teardown, joint_id: str, change: Callable[[Joint], Joint]) -> Teardown:
    return replace(teardown, joints=tuple(change(j) if j.id == joint_id else j for j in teardown.joints))


def mark(teardown: Teardown, view_id: str, thing: str, x: float, y: float) -> Command:
    """Place a mark. A screw group whose marks outgrow its count grows with them."""

    def change(before: Teardown) -> Teardown:
        view = next(v for v in before.views if v.id == view_id)
        number = 1 + sum(m.thing == thing for m in view.marks)
        added = Mark(thing=thing, n=number, x=round(x, 1), y=round(y, 1))
        after = change_view(before, view_id, lambda v: replace(v, marks=(*v.marks, added)))
        joint = before.joint.get(thing)
        if joint is not None and joint.kind == "screw" and (joint.count or 0) < number:
            after = change_joint(after, thing, lambda j: replace(j, count=number))
        return after

    return Command(label=f"mark {name_of(teardown, thing)}", change=change)


def unmark(teardown: Teardown, view_id: str, place: int) -> Command:
    """Take one mark off a view; the numbers of its fellows close up. The joint's count is left alone."""
    view = next(v for v in teardown.views if v.id == view_id)
    thing = view.marks[place].thing

    def change(before: Teardown) -> Teardown:
        def without(v: View) -> View:
            kept, number = [], 0
            for n, m in enumerate(v.marks):
                if n == place:
                    continue
                if m.thing == thing and m.n is not None:
                    number += 1
                    m = replace(m, n=number)
                kept.append(m)
            return replace(v, marks=tuple(kept))

        return change_view(before, view_id, without)

    return Command(label=f"take a mark of {name_of(teardown, thing)} away", change=change)


def move_mark(teardown: Teardown, view_id: str, place: int, x: float, y: float) -> Command:
    view = next(v for v in teardown.views if v.id == view_id)

    def change(before: Teardown) -> Teardown:
        return change_view(before, view_id, lambda v: replace(v, marks=tuple(
            replace(m, x=round(x, 1), y=round(y, 1)) if n == place else m for n, m in enumerate(v.marks))))

    return Command(label=f"move a mark of {name_of(teardown, view.marks[place].thing)}", change=change)


def current_pass(teardown: Teardown) -> int:
    """The pass that an entry made now belongs to: the last one begun."""
    return max([*(session.pass_ for session in teardown.sessions), *(entry.pass_ for entry in teardown.log)], default=1)


def log_entry(before: Teardown, **keys: Any) -> Teardown:
    """The teardown with one more log entry in the present pass, and with what it proves of access written down."""
    entry = LogEntry(id=free_id(before, "e"), pass_=current_pass(before), **keys)
    things = [name for name in (entry.thing, *entry.things) if name is not None]
    for name in things:
        if name not in before.part and name not in before.joint:
            raise Refusal(name, "there is no part or joint of that name")
    after = replace(before, log=(*before.log, entry))
    if entry.do == "reach" or entry.amends:
        return settle(after)
    return settle(after, things) if entry.do in ("release", "remove", "loosen", "fit", "fasten") else after


def release(teardown: Teardown, joint_id: str, t: float, way: int = 0, outcome: str = "ok",
            seconds: float | None = None) -> Command:
    """Log that a joint was released, all acts of one way."""
    joint = teardown.joint[joint_id]
    ways = ways_of(teardown, joint)
    acts = ways[min(way, len(ways) - 1)].acts

    def change(before: Teardown) -> Teardown:
        return log_entry(before, do="release", thing=joint_id, way=way, t=t, outcome=outcome, seconds=seconds,
                         tool=acts[-1].tool)

    return Command(label=f"release {name_of(teardown, joint_id)}", change=change)


def remove(teardown: Teardown, part_id: str, t: float) -> Command:
    """Log that a part was lifted out."""
    if part_id == teardown.device.base:
        raise Refusal(part_id, "the base stays on the mat")
    return Command(label=f"lift {name_of(teardown, part_id)}",
                   change=lambda before: log_entry(before, do="remove", thing=part_id, t=t, outcome="ok"))


def note(teardown: Teardown, text: str, t: float) -> Command:
    return Command(label="write a note", change=lambda before: log_entry(before, do="note", text=text, t=t))


def reach(teardown: Teardown, things: list[str], t: float) -> Command:
    """Log what could be undone at this moment."""
    return Command(label=f"note {len(things)} within reach",
                   change=lambda before: log_entry(before, do="reach", things=tuple(things), t=t))


def add_view(teardown: Teardown, view: View) -> Command:
    return Command(label=f"add the photo {view.photo}",
                   change=lambda before: replace(before, views=(*before.views, view)))


def answer(teardown: Teardown, method: str, criterion: str, value: Any, part: str | None = None) -> Command:
    """Answer what a scoring method asks; an answer to the same question is replaced."""

    def change(before: Teardown) -> Teardown:
        kept = tuple(a for a in before.answers if (a.method, a.criterion, a.part) != (method, criterion, part))
        if value is None:
            return replace(before, answers=kept)
        return replace(before, answers=(*kept, Answer(method=method, criterion=criterion, part=part, value=value,
                                                      basis="told")))

    return Command(label=f"answer {criterion.replace('_', ' ')}", change=change)


def answer_access(teardown: Teardown, kind: str, about: str, given: dict[str, Any]) -> Command:
    """Answer an open question about access (docs/format.md says what answers hold), and write down what it proves."""
    if kind == HIDES:
        value: dict[str, Any] = {"hides": [t for t, yes in given.items() if yes],
                                 "spares": [t for t, yes in given.items() if not yes]}
    elif kind == WITHIN:
        value = {"within": [t for t, yes in given.items() if yes],
                 "without": [t for t, yes in given.items() if not yes]}
    else:
        value = {"by": {thing: list(hiders) for thing, hiders in given.items()}}
    answered = Answer(method=ACCESS, criterion=kind, part=about, value=value, basis="seen")
    return Command(label=f"answer about {name_of(teardown, about)}",
                   change=lambda before: settle(replace(before, answers=(*before.answers, answered))))


def add_fastener(teardown: Teardown, fastener: Fastener) -> Command:
    """One more letter on the tray."""
    if fastener.id in teardown.fastener:
        raise Refusal(fastener.id, "this letter is taken")
    return Command(label=f"letter {fastener.id}",
                   change=lambda before: replace(before, fasteners=(*before.fasteners, fastener)))


def set_fastener(teardown: Teardown, fastener: Fastener) -> Command:
    """What is known of a letter, written anew; what the new says nothing of stays."""
    if fastener.id not in teardown.fastener:
        raise Refusal(fastener.id, "there is no such letter")
    names = ("drive", "size", "thread", "length_mm", "head_mm", "head", "colour")
    given = {name: getattr(fastener, name) for name in names if getattr(fastener, name)}
    return Command(label=f"what {fastener.id} is", change=lambda before: replace(before, fasteners=tuple(
        replace(f, **given) if f.id == fastener.id else f for f in before.fasteners)))


def set_parts(teardown: Teardown, ids: Sequence[str], **keys: Any) -> Command:
    """Write the same keys of several parts at once: kind, name, mass_g, hazards, ..."""
    chosen = set(ids)
    return Command(label=f"{', '.join(keys).replace('_g', '').replace('_', ' ')} of {_of_parts(teardown, ids)}",
                   change=lambda before: replace(before, parts=tuple(
                       replace(p, **keys) if p.id in chosen else p for p in before.parts)))


def _of_parts(teardown: Teardown, ids: Sequence[str]) -> str:
    return name_of(teardown, ids[0]) if len(ids) == 1 else f"{len(ids)} parts"


def set_fact(teardown: Teardown, ids: Sequence[str], name: str, value: Any, unit: str = "") -> Command:
    """A figure or word about several parts; None takes it away. What is entered by hand was looked at."""
    chosen = set(ids)

    def told(part: Part) -> Part:
        if part.id not in chosen:
            return part
        kept = [fact for fact in part.facts if fact.name != name]
        made = [] if value is None else [Fact(name=name, value=value, unit=unit, basis="seen")]
        place = next((n for n, fact in enumerate(part.facts) if fact.name == name), len(kept))
        return replace(part, facts=(*kept[:place], *made, *kept[place:]))

    return Command(label=f"{name} of {_of_parts(teardown, ids)}",
                   change=lambda before: replace(before, parts=tuple(map(told, before.parts))))


def set_spare(teardown: Teardown, ids: Sequence[str], available: str) -> Command:
    """Whether spares of these parts can be had; an empty word: not known."""
    chosen = set(ids)
    return Command(label=f"spares of {_of_parts(teardown, ids)}", change=lambda before: replace(before, parts=tuple(
        replace(p, spare=replace(p.spare or Spare(), available=available)) if p.id in chosen else p
        for p in before.parts)))


def set_type(teardown: Teardown, joint_id: str, type_: str) -> Command:
    """The type of a connector, as it turns out to be."""
    return Command(label=f"type of {name_of(teardown, joint_id)}", change=lambda before: change_joint(
        before, joint_id, lambda j: replace(j, type=type_)))


def set_tool(teardown: Teardown, joint_id: str, way: int, tool: str) -> Command:
    """The tool of the last act of a way. A joint without ways of its own gets the catalogue's first."""

    def change(before: Teardown) -> Teardown:
        ways = list(ways_of(before, before.joint[joint_id]))
        chosen = ways[min(way, len(ways) - 1)]
        acts = (*chosen.acts[:-1], replace(chosen.acts[-1], tool=tool))
        ways[min(way, len(ways) - 1)] = replace(chosen, acts=acts)
        return change_joint(before, joint_id, lambda j: replace(j, ways=tuple(ways)))

    return Command(label=f"{name_of(teardown, joint_id)} by {tool_name(teardown, tool)}", change=change)


def set_limits(teardown: Teardown, joint_id: str, way: int, act: int, limits: Sequence[dict[str, Any]]) -> Command:
    """What protects the device in an act: angle, depth, stop distance, temperature, hold. None: no limits."""

    def change(before: Teardown) -> Teardown:
        ways = list(ways_of(before, before.joint[joint_id]))
        acts = list(ways[way].acts)
        acts[act] = replace(acts[act], limits=tuple(limits))
        ways[way] = replace(ways[way], acts=tuple(acts))
        return change_joint(before, joint_id, lambda j: replace(j, ways=tuple(ways)))

    return Command(label=f"limits of {name_of(teardown, joint_id)}", change=change)


def set_order(teardown: Teardown, joint_id: str, order: Sequence[int]) -> Command:
    """The order in which the screws of a group are tightened, by the numbers of their marks."""
    return Command(label=f"tightening order of {name_of(teardown, joint_id)}", change=lambda before: change_joint(
        before, joint_id, lambda j: replace(j, order=tuple(order))))


def carry_marks(teardown: Teardown, view_id: str, marks: Sequence[Mark]) -> Command:
    """Marks from another view of the same side, taken over as they are."""
    return Command(label=f"take over {len(marks)} marks", change=lambda before: change_view(
        before, view_id, lambda v: replace(v, marks=(*v.marks, *marks))))


def set_scale(teardown: Teardown, view_id: str, mm_per_px: float, plane: Plane | None = None) -> Command:
    """The scale of a photograph, with the plane it was found on; a scale by two points leaves no plane."""
    return Command(label=f"scale of {view_id}", change=lambda before: change_view(
        before, view_id, lambda v: replace(v, mm_per_px=round(mm_per_px, 6), plane=plane)))


def weigh(teardown: Teardown, part_id: str, grams: float, t: float) -> Command:
    """A part on the scale: an entry with the reading, and the mass of the part."""

    def change(before: Teardown) -> Teardown:
        after = replace(before, parts=tuple(replace(p, mass_g=grams) if p.id == part_id else p for p in before.parts))
        return log_entry(after, do="measure", thing=part_id, value=grams, unit="g", text="scale", t=t)

    return Command(label=f"weigh {name_of(teardown, part_id)}", change=change)


def set_angle(teardown: Teardown, view_id: str, thing: str, angle_deg: float) -> Command:
    """The direction in which a connector opens, on all its marks of a view; clockwise from the photograph's right."""
    return Command(label=f"{name_of(teardown, thing)} opens at {angle_deg:g}°", change=lambda before: change_view(
        before, view_id, lambda v: replace(v, marks=tuple(
            replace(m, angle_deg=angle_deg) if m.thing == thing else m for m in v.marks))))
