"""What it all weighs, what is in it, what is needed for the work and to be ordered: pages of the Parts workspace."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from oddbolt.catalog.components import first_out
from oddbolt.model.things import Teardown
from oddbolt.reassembly import inventory
from oddbolt.reports.content.tree import Block, Line, Page, section
from oddbolt.rules.structure import Structure
from oddbolt.words.names import name_of, names_of, tool_class_name, tool_name
from oddbolt.words.parts import order_text
from oddbolt.words.translate import of_data, tr

Kits = Mapping[str, Sequence[str] | None]  # part -> the least kit, None where it cannot be taken off


def balance_page(teardown: Teardown, structure: Structure) -> Page:
    """Masses, materials, hazards, heat, seals, and what waste rules ask for first."""
    seals = [tr("{0}: closes {1}").format(name_of(teardown, seal), name_of(teardown, at))
             for seal, at in inventory.seals(teardown, structure)]
    seals += [f"{name_of(teardown, dot)}: {state or tr('not looked at')}"
              for dot, state in inventory.moisture(teardown, structure)]
    blocks: list[Block] = [
        *section(tr("Mass"), _masses(teardown, structure)),
        *section(tr("Materials"), [f"{name or tr('not told')}: {grams:.1f} g"
                                   for name, grams in inventory.materials_g(teardown, structure)]),
        *section(tr("Hazards"), [f"{hazard}: {names_of(teardown, parts)}"
                                 for hazard, parts in inventory.hazards(teardown, structure)],
                 otherwise=tr("none on record")),
        *section(tr("Heat, from source to sink"), [" → ".join(name_of(teardown, part) for part in chain)
                                                   for chain in inventory.heat_paths(teardown, structure)],
                 otherwise=tr("no path on record")),
        *section(tr("Seals and moisture"), seals),
        *section(tr("To be taken out of waste first"),
                 [f"{of_data(row.name)}: {names_of(teardown, parts)}"
                  for row, parts in inventory.to_take_out_first(teardown, structure)],
                 otherwise=tr("nothing on record")),
        Line(tr("By {0}. Local rules come first.").format(of_data(first_out()[1])))]
    return Page(tuple(blocks))


def _masses(teardown: Teardown, structure: Structure) -> list[str]:
    found = inventory.mass_balance(teardown, structure)
    lines = [tr("Parts as weighed: {0:.1f} g; bolts by their geometry: {1:.1f} g").format(found.parts_g, found.bolts_g)]
    if found.whole_g:
        lines.append(tr("The whole: {0:g} g; not explained: {1:.1f} g ({2:.1%})").format(
            found.whole_g, found.unexplained_g, found.unexplained_share))
    else:
        lines.append(tr("The whole has not been weighed: what is not explained is not known"))
    if found.without:
        lines.append(tr("Without mass: {0}").format(names_of(teardown, found.without)))
    return lines


def work_page(teardown: Teardown, structure: Structure, priority_parts: Sequence[str], kits: Kits) -> Page:
    """The kit used, the least kit for each priority part as far as they are found, and what to order."""
    used = inventory.kit_used(teardown).tools
    by_class = [(class_, [tool_name(teardown, tool) for tool, own in used if own == class_])
                for class_ in inventory.TOOL_CLASSES]
    return Page((
        *section(tr("Tools used"), [f"{tool_class_name(class_)}: {', '.join(names)}" for class_, names in by_class
                                    if names]),
        *section(tr("Least kit for each priority part, however long it takes"),
                 [_kit_line(teardown, part, kits) for part in priority_parts]),
        *section(tr("To renew and order"), [order_text(teardown, order) for order
                                            in inventory.to_order(teardown, structure)], otherwise=tr("nothing yet"))))


def _kit_line(teardown: Teardown, part: str, kits: Kits) -> str:
    name = name_of(teardown, part)
    if part not in kits:
        return tr("{0}: looking…").format(name)
    tools = kits[part]
    if tools is None:
        return tr("{0}: cannot be taken off").format(name)
    names = ", ".join(tool_name(teardown, tool) for tool in tools) or tr("bare hands")
    worst = inventory.worst_class([inventory.class_of(teardown, tool) for tool in tools])
    return f"{name}: {names} ({tool_class_name(worst)})"
