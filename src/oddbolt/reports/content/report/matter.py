"""What was found: every layer, bolts, parts, cables."""

from __future__ import annotations

from oddbolt.catalog.defaults import ways_of
from oddbolt.model.things import Fastener, Joint, Part, View
from oddbolt.reassembly.bolts import bolt_types
from oddbolt.reassembly.inventory import mass_balance, part_sheet
from oddbolt.reassembly.ledger import ledger_of
from oddbolt.reassembly.net import mating_cycles, untouched_net
from oddbolt.reassembly.tray import tray_layers
from oddbolt.reports.content.inventory import balance_page
from oddbolt.reports.content.report.ground import DrawnMat, Ground, by_basis
from oddbolt.reports.content.tree import (
    Block,
    Chapter,
    Drawing,
    Figure,
    Given,
    Grid,
    Heading,
    Line,
    Remark,
    plain_row,
)
from oddbolt.words.figures import figure_of
from oddbolt.words.names import basis_name, kind_name, name_of, names_of, part_kind_name, role_name, side_name
from oddbolt.words.parts import connector_lines
from oddbolt.words.recording.entries import entry_text
from oddbolt.words.recording.labels import REUSES
from oddbolt.words.translate import from_table, tr

MOST_NAMED = 12  # marked things named under a photograph


def layers(ground: Ground) -> list[Block]:
    """Each photographed state with its marks, and what was done before it."""
    teardown = ground.teardown
    blocks: list[Block] = [Chapter("layers", tr("Layer by layer"))]
    entries = {entry.id: entry for entry in teardown.log}
    for number, view in enumerate(teardown.pictured, start=1):
        entry = entries.get(view.at_entry or "")
        when = tr("untouched") if entry is None else entry_text(teardown, entry)
        blocks.append(Heading(tr("{0}. {1}, {2}").format(number, side_name(view.side), when)))
        blocks.append(Figure(ground.shot(view), _marked(ground, view)))
    if not teardown.pictured:
        blocks.append(Remark(tr("No photograph of a state is on record.")))
    return blocks


def _marked(ground: Ground, view: View) -> str:
    things = list(dict.fromkeys(mark.thing for mark in view.marks))
    return tr("Marked: {0}").format(names_of(ground.teardown, things, MOST_NAMED)) if things \
        else tr("Nothing is marked on it.")


def bolts(ground: Ground) -> list[Block]:
    """Types of fasteners with their counts, the tray by layers, and whether any is left over."""
    teardown, ledger = ground.teardown, ledger_of(ground.teardown)
    types = bolt_types(teardown)
    rows = []
    for one in types:
        row = ledger.row(one.fastener.id)
        rows.append(plain_row(one.fastener.id, *_type_cells(one.fastener), one.joined, one.marked, row.out, row.back,
                              row.odd, names_of(teardown, one.joints)))
    blocks: list[Block] = [Chapter("bolts", tr("Bolts")), Grid(
        name="bolts", caption=tr("Fastener types, by joints, by marks and by the log"),
        columns=(("letter", tr("Letter")), ("drive", tr("Drive")), ("size", tr("Size")), ("thread", tr("Thread")),
                 ("length_mm", tr("Length, mm")), ("head_mm", tr("Head, mm")), ("colour", tr("Colour")),
                 ("count", tr("Count")), ("marked", tr("Marked")), ("out", tr("Out")), ("back", tr("Back")),
                 ("odd", tr("Odd")), ("joints", tr("Where"))), rows=tuple(rows))]
    blocks.append(Line(tr("{0} out, {1} back, {2} odd").format(ledger.out, ledger.back, ledger.odd)))
    if ledger.uncertain:
        blocks.append(Line(tr("Not counted, their number is not known: {0}").format(
            names_of(teardown, ledger.uncertain))))
    for number, layer in enumerate(tray_layers(teardown), start=1):
        view = layer.view
        if view is None or not view.mm_per_px or not view.photo:
            continue
        name, title = f"mat-{number}", tr("Tray, layer {0}, {1}").format(number, side_name(view.side))
        ground.drawings[name] = DrawnMat(title=title, layer=layer)
        blocks.append(Drawing(name, title))
    return blocks


def _type_cells(fastener: Fastener) -> tuple[Given | str, ...]:
    def mm(value: float | None) -> Given:
        return Given(value, "" if value is None else figure_of(value))

    return (fastener.drive, fastener.size, fastener.thread, mm(fastener.length_mm), mm(fastener.head_mm),
            fastener.colour)


def parts(ground: Ground) -> list[Block]:
    """All parts, joints, then a sheet for each that has figures or a portrait."""
    teardown, structure = ground.teardown, ground.planner.structure
    present = [part for part in teardown.parts if part.id in structure.present]
    balance = mass_balance(teardown, structure)
    blocks: list[Block] = [Chapter("parts", tr("Parts")), _part_grid(ground, present), _joint_grid(ground)]
    blocks += balance_page(teardown, structure).blocks
    if balance.without:
        blocks.append(Remark(tr("Not weighed: {0}").format(names_of(teardown, balance.without))))
    for part in present:
        sheet = part_sheet(teardown, part.id)
        portraits = [teardown.view[id_] for id_ in sheet.portraits if teardown.view[id_].photo]
        if not (part.facts or portraits):
            continue
        blocks.append(Heading(name_of(teardown, part.id)))
        blocks += [Figure(ground.shot(view), name_of(teardown, part.id)) for view in portraits]
        blocks += [Line(tr("{0}: {1}").format(fact.name.replace("_", " "),
                                              f"{figure_of(fact.value)} {fact.unit}".strip()),
                        basis_name(fact.basis), inside=True) for fact in part.facts]
    return blocks


def _part_grid(ground: Ground, present: list[Part]) -> Grid:
    teardown = ground.teardown
    rows = []
    for part in present:
        plan = ground.plan(part.id) if part.id in ground.planner.structure.stand_in and part.id in ground.priority \
            else None
        rows.append((Given(part.id, name_of(teardown, part.id)), Given(part.kind, part_kind_name(part.kind) if part.kind
                                                                       else ""),
                     Given(", ".join(part.role), ", ".join(role_name(role) for role in part.role)),
                     by_basis(part.on, name_of(teardown, part.on) if part.on else "", part.basis), Given(part.count),
                     Given(part.mass_g, "" if part.mass_g is None else figure_of(part.mass_g)),
                     Given(", ".join(part.hazards)),
                     Given(None) if plan is None else ground.depth(plan), Given(None) if plan is None
                     else ground.time(plan)))
    return Grid(name="parts", caption=tr("Parts, with the depth of those that matter"),
                columns=(("part", tr("Part")), ("kind", tr("Kind")), ("role", tr("Role")), ("on", tr("On")),
                         ("count", tr("Count")), ("mass_g", tr("Mass, g")), ("hazards", tr("Hazards")),
                         ("steps", tr("Steps")), ("time_s", tr("Time"))), rows=tuple(rows))


def _joint_grid(ground: Ground) -> Grid:
    teardown = ground.teardown
    present = [joint for joint in teardown.joints if teardown.is_present(joint)]
    return Grid(name="joints", caption=tr("Joints, with what they tie and lie behind"),
                columns=(("joint", tr("Joint")), ("kind", tr("Kind")), ("letter", tr("Letter")), ("count", tr("Count")),
                         ("ties", tr("Ties")), ("behind", tr("Behind")), ("reuse", tr("Afterwards"))),
                rows=tuple(_joint_row(ground, joint) for joint in present))


def _joint_row(ground: Ground, joint: Joint) -> tuple[Given, ...]:
    teardown = ground.teardown
    behind = "; ".join(names_of(teardown, names) for names in joint.behind if names)
    reuse = ways_of(teardown, joint)[0].reuse
    return (Given(joint.id, name_of(teardown, joint.id)), Given(joint.kind, kind_name(joint.kind, joint.type)),
            Given(joint.fastener, joint.fastener or ""), Given(joint.count, "?" if joint.count is None else str(
                joint.count)), Given(", ".join(joint.of), names_of(teardown, joint.of)),
            by_basis("; ".join(", ".join(names) for names in joint.behind), behind, joint.basis),
            Given(reuse, from_table(REUSES, reuse)))


def cables(ground: Ground) -> list[Block]:
    """The net as it was, and each connector: how it opens, what breaks, how often it was mated."""
    teardown, structure = ground.teardown, ground.planner.structure
    net = untouched_net(teardown, structure)
    blocks: list[Block] = [Chapter("cables", tr("Cables"))]
    if not net.links:
        return [*blocks, Remark(tr("No connector is on record."))]
    ground.drawings["net"] = net
    blocks.append(Drawing("net", tr("Which joins which parts, before anything was opened")))
    for cycles in mating_cycles(teardown):
        if teardown.is_present(teardown.joint[cycles.joint]):
            first, *rest = connector_lines(teardown, cycles.joint, cycles)
            blocks += [Line(first), *(Line(text, inside=True) for text in rest)]
    return blocks
