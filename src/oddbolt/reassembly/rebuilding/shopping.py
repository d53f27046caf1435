"""What a plan of putting back takes: what is to be had for it, and what is thrown away."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from msgspec import Struct

from oddbolt.catalog.components import FirstOut
from oddbolt.catalog.defaults import ways_of
from oddbolt.model.things import Teardown
from oddbolt.reassembly.inventory import waste_row
from oddbolt.reassembly.rebuilding.putting_back import FIT, ORDERED, SCREW, Off, PuttingBack

SPARE = "spare"


class Item(Struct, frozen=True, kw_only=True):
    """Something to have at hand. `kind`: spare (then `material` is a part), screw (a letter) or material; `qty` is None
    where it was not told; `things` are what it is for."""

    material: str
    kind: str
    qty: float | None
    unit: str
    supply: str
    things: tuple[str, ...]


class Discard(Struct, frozen=True, kw_only=True):
    """Something thrown away: a part that a spare is put in for, or old fixing; `rule` is the row of
    the waste rules that asks for it to be kept apart."""

    thing: str
    rule: FirstOut | None = None


class Shopping(Struct, frozen=True, kw_only=True):
    """The list, merged by material, unit and supply."""

    items: tuple[Item, ...]
    discards: tuple[Discard, ...]


def shopping(teardown: Teardown, plan: PuttingBack, off: Sequence[Off],
             missing: Mapping[str, int] | None = None) -> Shopping:
    """What the plan of putting `off` back takes. `missing` screws by letter are from the ledger of bolts, where they
    have come out already."""
    found: dict[tuple[str, str, str, str], Item] = {}
    for step in plan.steps:
        if step.do == FIT and step.is_new:
            _add(found, Item(material=step.thing, kind=SPARE, qty=teardown.part[step.thing].count, unit="",
                             supply=ORDERED, things=(step.thing,)))
        for use in step.uses:
            is_screw = use.unit == SCREW
            if is_screw and missing is not None:
                continue
            _add(found, Item(material=use.material, kind=SCREW if is_screw else "material", qty=use.qty,
                             unit="" if is_screw else use.unit, supply=use.supply or ORDERED,
                             things=(step.thing,) if step.thing else ()))
    for letter, number in (missing or {}).items():
        _add(found, Item(material=letter, kind=SCREW, qty=number, unit="", supply=ORDERED, things=tuple(
            one.thing for one in off if one.thing in teardown.joint
            and teardown.joint[one.thing].fastener == letter)))
    spares = [step.thing for step in plan.steps if step.do == FIT and step.is_new]
    return Shopping(items=tuple(found.values()), discards=(
        *(Discard(thing=part, rule=waste_row(teardown.part[part])) for part in spares),
        *(Discard(thing=one.thing) for one in off if _is_thrown_away(teardown, one))))


def _add(found: dict[tuple[str, str, str, str], Item], item: Item) -> None:
    key = (item.kind, item.material, item.unit, item.supply)
    was = found.get(key)
    if was is not None:
        qty = None if was.qty is None or item.qty is None else was.qty + item.qty
        item = Item(material=item.material, kind=item.kind, qty=qty, unit=item.unit, supply=item.supply,
                    things=tuple(dict.fromkeys((*was.things, *item.things))))
    found[key] = item


def _is_thrown_away(teardown: Teardown, one: Off) -> bool:
    joint = teardown.joint.get(one.thing)
    return joint is not None and ways_of(teardown, joint)[one.way].is_renewed
