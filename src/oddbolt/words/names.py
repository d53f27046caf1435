"""Names for people: parts, joints, tools, fasteners, roles, sides."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from oddbolt.catalog.components import Expected, components
from oddbolt.catalog.tables import mark_kinds, part_kinds, tool_row
from oddbolt.model.naming import Called, called
from oddbolt.model.things import Fastener, Joint, Teardown
from oddbolt.words.translate import N_, from_table, of_data, sentence, tr, within

SIDES = {"front": N_("front"), "back": N_("back"), "edge": N_("edge"), "any": N_("either side")}
ROLES = {"battery": N_("Battery"), "display": N_("Display"), "back_cover": N_("Back cover"),
         "front_camera": N_("Front camera"), "rear_camera": N_("Rear camera"), "charging_port": N_("Charging port"),
         "button": N_("Button"), "microphone": N_("Microphone"), "speaker": N_("Speaker")}
TOOL_CLASSES = {"none": N_("no tool"), "basic": N_("basic tool"), "supplied_with_part": N_("supplied with the spare"),
                "supplied_with_product": N_("supplied with the product"), "commercial": N_("commercially available"),
                "proprietary": N_("proprietary"), "unknown": N_("class not known")}
OUTCOMES = {"ok": N_("fine"), "damaged": N_("damaged"), "destroyed": N_("destroyed"), "stripped": N_("stripped"),
            "not_done": N_("not done"), "lost": N_("lost"),
            "failed": N_("failed"), "found": N_("found"), "fine": N_("fine")}


def said(thing: Called) -> str:
    """A thing as `model.naming.called` has it."""
    if "name" in thing:
        return thing["name"]
    if thing.get("next"):
        return tr("the next part")
    number = f" {thing['number']}" if "number" in thing else ""
    if "part" in thing:
        return f"{part_kind_name(thing['part'])}{number}"
    if "of" not in thing:
        return thing["id"]
    what = thing.get("letter") or kind_name(thing["kind"], thing.get("type", ""))
    return f"{said(thing['of'])}, {what}{number}"


def kind_name(kind: str, type_: str = "") -> str:
    """A kind of joint with its type, by the name it is marked under."""
    rows = [row for row in mark_kinds().values() if row.kind == kind and (not type_ or type_ in row.types)]
    return of_data(rows[0].name) if rows else sentence(kind)


def part_kind_name(kind: str) -> str:
    """A kind of part as the catalogue calls it; a word of one's own stands for itself."""
    rows = [row for row in part_kinds().values() if row.kind == kind]
    return of_data(rows[0].name) if rows else sentence(kind)


def name_of(teardown: Teardown, id_: str) -> str:
    """The name of a part, joint, view or log entry; what it is where it has none, else its id."""
    return said(called(teardown, id_))


def name_apart(teardown: Teardown, id_: str) -> str:
    """The same, where a joint that bears a part's name is told apart by its kind."""
    name, joint = name_of(teardown, id_), teardown.joint.get(id_)
    if joint is None or all(part.name != name for part in teardown.parts):
        return name
    return tr("{0} ({1})").format(name, within(kind_name(joint.kind, joint.type)))


def names_of(teardown: Teardown, ids: Iterable[str], most: int | None = None) -> str:
    """Names in a row; of more than `most` the first, and how many more there are."""
    some = list(ids)
    shown = [name_of(teardown, id_) for id_ in (some if most is None else some[:most])]
    return _row_of(shown, len(some))


def in_a_row(names: Sequence[str], most: int | None = None) -> str:
    """Words in a row, the first of them where there are many."""
    return _row_of(names if most is None else names[:most], len(names))


def _row_of(shown: Sequence[str], number: int) -> str:
    row = ", ".join(shown) or tr("nothing")
    return row if len(shown) == number else tr("{0} and {1} more").format(row, number - len(shown))


def tool_name(teardown: Teardown, tool: str) -> str:
    own = next((t.name for t in teardown.tools if t.id == tool and t.name), "")
    return own or tool_text(tool)


def tool_text(tool: str) -> str:
    """A tool by the catalogue's name of it."""
    return of_data(tool_row(tool).name)


def fixing_text(teardown: Teardown, joint: Joint) -> str:
    """A joint in short: "4 A PH00", or its name."""
    if joint.kind == "screw" and joint.fastener:
        fastener = teardown.fastener[joint.fastener]
        number = "?" if joint.count is None else str(joint.count)
        return f"{number} {fastener.id} {fastener.drive}{fastener.size}".strip()
    return joint.name or joint.id


def fastener_text(fastener: Fastener) -> str:
    """A fastener type in a line: "A: PH00 M1.4 x 3, pan, black"."""
    size = f"{fastener.thread} x {fastener.length_mm:g}" if fastener.length_mm else fastener.thread
    words = [f"{fastener.drive}{fastener.size} {size}".strip(), fastener.head, fastener.colour]
    return f"{fastener.id}: {', '.join(word for word in words if word)}"


def role_name(role: str) -> str:
    return from_table(ROLES, role) if role in ROLES else sentence(role.replace("_", " "))


def side_name(side: str) -> str:
    return from_table(SIDES, side)


def tool_class_name(class_: str) -> str:
    return from_table(TOOL_CLASSES, class_) if class_ in TOOL_CLASSES else class_


def outcome_name(outcome: str) -> str:
    return from_table(OUTCOMES, outcome) if outcome in OUTCOMES else outcome


BASES = {"done": N_("done"), "seen": N_("seen"), "told": N_("told"), "assumed": N_("assumed")}


def basis_name(basis: str) -> str:
    """How something of the record is known."""
    return from_table(BASES, basis) if basis in BASES else basis


def expected_name(one: Expected) -> str:
    """What was expected, by the catalogue's name of the kind."""
    known = components().get(one.id)
    return of_data(known.name) if known is not None else sentence(one.id)
