"""Parts and cables in words: tethers, connectors, what to order."""

from __future__ import annotations

from oddbolt.model.things import Teardown
from oddbolt.reassembly.inventory import Order
from oddbolt.reassembly.net import Cycles, Tether
from oddbolt.words.names import name_of, names_of
from oddbolt.words.translate import N_, of_data, tr

WHY_RENEW = {"renew": N_("{0}: is renewed"), "destroyed": N_("{0}: was destroyed"), "damaged": N_("{0}: was damaged"),
             "lost": N_("{0}: was lost"), "never-refit": N_("{0}: never goes back used")}


def tether_text(teardown: Teardown, tether: Tether) -> str:
    """What is still tied to what, and by which plugs."""
    return tr("{0} is still tied to {1} by {2}").format(
        name_of(teardown, tether.part), name_of(teardown, tether.to), names_of(teardown, tether.link.joints))


def connector_lines(teardown: Teardown, joint_id: str, cycles: Cycles | None) -> list[str]:
    """A connector in words: how it opens, what breaks, its mating."""
    joint, name = teardown.joint[joint_id], name_of(teardown, joint_id)
    if cycles is None or cycles.type is None:
        return [f"{name}: {joint.type or joint.kind}"]
    row = cycles.type
    low, high = row.cycles
    counted = tr("opened {0}, closed {1} times here").format(cycles.opened, cycles.closed)
    if high:
        usual = tr("usual {0} to {1} matings ({2}, {3})").format(low, high, row.source, row.confidence)
        counted = f"{counted}; {usual}"
    return [tr("{0}: {1}, {2}. {3}").format(name, of_data(row.name), of_data(row.direction), of_data(row.opens)),
            tr("What breaks: {0}").format(of_data(row.breaks)), f"{counted}."]


def order_text(teardown: Teardown, order: Order) -> str:
    told = tr(WHY_RENEW[order.why]).format(name_of(teardown, order.thing))
    return tr("{0}, comes with the spare").format(told) if order.supplied else told


