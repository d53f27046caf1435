"""How free the order of a plan is: which operations are forced before which, how many orders there are, and why.

The operations of a plan are taken as they are (their ways fixed); any order of them that the rules of access allow is
a feasible one. Access is monotone, so the sets that can be done are closed under union (an antimatroid): b must wait
for a just when b is not among what can be done without a; and the orders are the paths through the lattice of feasible
sets, counted from set to set. Source: B. Korte, L. Lovász, R. Schrader, Greedoids, 1991, from memory.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence

from msgspec import Struct

from oddbolt.conditions.case import safe_conditions
from oddbolt.conditions.network import Condition, Network, bits, closure, musts
from oddbolt.rules.device_state import DeviceState, Obstacle, Operation

FORCED, FREE, IMPOSSIBLE = "forced", "free", "impossible"
SETS_LIMIT = 200_000  # feasible sets looked at; counted, not timed, so that results repeat


class Number(Struct, frozen=True, kw_only=True):
    """How many feasible orders there are; at least so many where the limit was reached."""

    orders: int
    exact: bool


class Orders:
    """Orders of a fixed set of operations; joined acts are one."""

    def __init__(self, network: Network, sequence: Sequence[Operation], *, safe: bool = False) -> None:
        """`safe`: what should only be done dead waits for the device to be safe, as in a plan without live acts."""
        self.network = network
        self._unit_of = {operation: n for n, unit in enumerate(network.units) for operation in unit.operations}
        self.units = list(dict.fromkeys(self._unit_of[operation] for operation in sequence))
        whole = sum(1 << n for n in self.units)
        given = safe_conditions(network, frozenset()) if safe else \
            {n: network.units[n].condition for n in self.units}
        self.conditions: dict[int, Condition] = {n: given[n].within(whole) for n in self.units}
        self._must = musts(self.conditions)

    def name(self, unit: int) -> str:
        """The joint or part that a unit is about."""
        own = self.network.units[unit]
        return own.joint or own.operations[0].part

    # -- pairs

    def before(self, unit: int) -> int:
        """Units that come before this one in every order, as bits."""
        return self._must[unit] & ~(1 << unit)

    def relation(self, first: Operation, second: Operation) -> str:
        """Whether `first` before `second` is forced, free, or impossible."""
        a, b = self._unit_of[first], self._unit_of[second]
        if self._must[b] >> a & 1:
            return FORCED
        return IMPOSSIBLE if self._must[a] >> b & 1 else FREE

    # -- reasons

    def chain(self, operation: Operation) -> list[Operation]:
        """The longest chain of operations that wait for each other and end with this one, first to last."""
        last = self._unit_of[operation]
        longest: dict[int, tuple[int, int | None]] = {}

        def length(unit: int) -> int:
            if unit not in longest:
                ahead = [(length(other), -self.units.index(other), other) for other in self._next_before(unit)]
                best = max(ahead, default=None)
                longest[unit] = (best[0] + 1, best[2]) if best is not None else (1, None)
            return longest[unit][0]

        length(last)
        found: list[int] = []
        unit: int | None = last
        while unit is not None:
            found.append(unit)
            unit = longest[unit][1]
        return [self.network.units[n].operations[-1] for n in reversed(found)]

    def _next_before(self, unit: int) -> list[int]:
        """Forced ones with nothing forced between."""
        ahead = list(bits(self.before(unit)))
        return [a for a in ahead if not any(self.before(b) >> a & 1 for b in ahead)]

    def reason(self, first: Operation, second: Operation) -> list[Obstacle]:
        """Why the second waits for the first: what stands in its way when all that can be is done but the first."""
        a, b = self._unit_of[first], self._unit_of[second]
        without = {n: condition for n, condition in self.conditions.items() if n not in (a, b)}
        state = DeviceState(self.network.structure)
        for n in in_order(without, closure(without)):
            for operation in self.network.units[n].operations:
                state.apply(operation)
        return state.obstacles(self.network.units[b].operations[0])

    # -- counting

    def number(self, limit: int = SETS_LIMIT) -> Number:
        """Feasible orders, exact while no more than `limit` sets have to be looked at, else at least so many."""
        return count_orders(self.conditions, limit, self.network.go_on)


def in_order(conditions: Mapping[int, Condition], reached: int) -> list[int]:
    """Units of a closure in an order in which they can be done."""
    done, order, left = 0, [], list(bits(reached))
    while left:
        ready = next(n for n in left if conditions[n].holds(done))
        done |= 1 << ready
        order.append(ready)
        left.remove(ready)
    return order


def count_orders(conditions: Mapping[int, Condition], limit: int = SETS_LIMIT,
                 go_on: Callable[[], None] = lambda: None) -> Number:
    """Orders in which all units can be done, each once: paths through the feasible sets, layer by layer.

    Beyond the limit every path found so far can be finished in one way at least, since what can be done stays doable.
    """
    layer, seen = {0: 1}, 1
    for _ in range(len(conditions)):
        after: dict[int, int] = {}
        go_on()
        for done, paths in layer.items():
            for n, condition in conditions.items():
                if not done >> n & 1 and condition.holds(done):
                    to = done | 1 << n
                    after[to] = after.get(to, 0) + paths
        seen += len(after)
        if not after:
            return Number(orders=0, exact=True)
        if seen > limit:
            return Number(orders=sum(after.values()), exact=False)
        layer = after
    return Number(orders=sum(layer.values()), exact=True)
