"""How free an order is: numbers known from mathematics, and every permutation tried by the plain rules.

Catalan numbers for a 2 x n grid, multinomials for chains, Euler zigzag numbers for fences, crowns: R. P. Stanley,
Enumerative Combinatorics 1, 3.5, from memory; the hook length formula for a grid: Frame, Robinson, Thrall 1954, from
memory; the eight-part computer: Güngör and Gupta 2002, as in docs.
"""

from __future__ import annotations

import itertools
import json
import math

import pytest

from oddbolt.conditions.network import Condition
from oddbolt.model import exchange
from oddbolt.rules import blocked
from oddbolt.rules.counting import count
from oddbolt.rules.replay import replay
from oddbolt.studies.needless import needless_for
from oddbolt.studies.orders import FORCED, FREE, IMPOSSIBLE, Orders, count_orders
from tests.builders import planner_of
from tests.oracles.random_devices import random_device


def order(pairs, number):
    """Conditions of a partial order: (a, b) says a before b."""
    return {n: Condition(need=sum(1 << a for a, b in pairs if b == n)) for n in range(number)}


@pytest.mark.parametrize("n", range(1, 9))
def test_a_grid_of_two_rows_has_catalan_many(n):
    pairs = [(i, i + 1) for i in range(2 * n - 1) if i != n - 1] + [(i, n + i) for i in range(n)]
    assert count_orders(order(pairs, 2 * n)).orders == math.comb(2 * n, n) // (n + 1)


@pytest.mark.parametrize("lengths", [(3, 4), (2, 2, 2), (5, 1, 3), (1, 1, 1, 1, 1)])
def test_chains_have_multinomially_many(lengths):
    pairs, start = [], 0
    for length in lengths:
        pairs += [(start + k, start + k + 1) for k in range(length - 1)]
        start += length
    assert count_orders(order(pairs, start)).orders == \
        math.factorial(start) // math.prod(map(math.factorial, lengths))


def test_fences_have_zigzag_numbers():
    for n, euler in enumerate((1, 1, 2, 5, 16, 61, 272, 1385, 7936), start=1):
        pairs = [(i, i + 1) if i % 2 == 0 else (i + 1, i) for i in range(n - 1)]
        assert count_orders(order(pairs, n)).orders == euler


@pytest.mark.parametrize("n", range(2, 7))
def test_crowns(n):
    """a_i before b_j for i other than j: n! (n-1)! (n+1)."""
    pairs = [(i, n + j) for i in range(n) for j in range(n) if i != j]
    assert count_orders(order(pairs, 2 * n)).orders == math.factorial(n) * math.factorial(n - 1) * (n + 1)


def test_hook_lengths_of_a_grid():
    """3 x 4: 12! over the product of hook lengths = 462."""
    pairs = [(4 * r + c, 4 * r + c + 1) for r in range(3) for c in range(3)]
    pairs += [(4 * r + c, 4 * r + c + 4) for r in range(2) for c in range(4)]
    assert count_orders(order(pairs, 12)).orders == 462


def test_a_choice_of_ways_in_is_no_partial_order():
    """c after a or b: all orders but the two that begin with c."""
    conditions = {0: Condition(), 1: Condition(), 2: Condition(anys=(0b011,))}
    assert count_orders(conditions).orders == 4


def test_beyond_the_limit_the_number_is_a_lower_bound():
    free = {n: Condition() for n in range(14)}
    found = count_orders(free, limit=500)
    assert not found.exact and 1 < found.orders < math.factorial(14)
    assert count_orders(free).exact


@pytest.mark.parametrize("seed", range(80))
def test_relations_and_numbers_agree_with_every_permutation(seed):
    """Each order of the plan's operations is walked by the plain rules; joined acts stay together."""
    record = exchange.from_json(random_device(seed, 6))
    planner = planner_of(record)
    part = next((p for p in planner.structure.removals if planner.plan([p]).feasible), None)
    if part is None:
        return
    plan = planner.plan([part])
    orders = Orders(planner.network, plan.sequence)
    runs = [planner.network.units[n].operations for n in orders.units]
    if len(runs) > 6:
        return
    good = []
    for permutation in itertools.permutations(runs):
        sequence = [operation for run in permutation for operation in run]
        if not count(planner.structure, planner.convention, planner.times, sequence).obstacles:
            good.append(permutation)
    found = orders.number()
    assert found.exact and found.orders == len(good) > 0
    for a, b in itertools.permutations(runs, 2):
        first = {g.index(a) < g.index(b) for g in good}
        expected = FREE if len(first) == 2 else FORCED if first == {True} else IMPOSSIBLE
        assert orders.relation(a[0], b[0]) == expected
        if expected == FORCED:
            assert orders.reason(a[0], b[0])  # something does stand in its way


def test_the_chain_to_the_port_of_the_demo(root):
    record = exchange.loads((root / "src/oddbolt/demo/dunlin-2.json").read_bytes())
    planner = planner_of(record)
    plan = planner.plan(["port-board"])
    orders = Orders(planner.network, plan.sequence, safe=True)
    chain = [operation.part or operation.joint for operation in orders.chain(plan.sequence[-1])]
    assert chain[-1] == "port-board" and "battery" in chain and "port-cable-run" in chain
    for first, second in itertools.pairwise(orders.chain(plan.sequence[-1])):
        assert orders.relation(first, second) == FORCED
    number = orders.number()
    assert number.orders > 100


@pytest.mark.parametrize("seed", range(60))
def test_what_was_needless_can_be_left_out(seed):
    """A random feasible order of everything; without what is needless for a part it still comes off, by the rules."""
    record = exchange.from_json(random_device(seed, 9))
    planner = planner_of(record)
    free = [p for p in planner.structure.removals if p not in planner.never_free]
    if not free:
        return
    work = planner.plan(free).sequence
    for part in free:
        done = needless_for(planner, work, [part])
        assert done is not None and not done.until.obstacles and not done.without.obstacles
        assert done.without.timed[-1].operation.part == planner.structure.stand_in[part]
        assert done.without.steps >= planner.plan([part]).lower_bound and done.steps_lost >= 0
    assert needless_for(planner, (), free) is None


def test_what_the_demo_did_needlessly_for_the_cell(root):
    record = exchange.loads((root / "src/oddbolt/demo/dunlin-2.json").read_bytes())
    planner = planner_of(record)
    work = replay(record, planner.structure).operations
    done = needless_for(planner, work, ["battery"])
    names = {o.part or o.joint for o in done.needless}
    assert {"card-tray", "cover-plug"} & names and "battery-plug" not in names
    assert done.until.steps > done.without.steps >= planner.plan(["battery"]).count.steps


def test_what_locks_a_whole_device_is_found_among_few(root, monkeypatch):
    """The demo locked up by a ring of four things: a smallest set by the plain rules, without asking about all 95."""
    data = json.loads((root / "src/oddbolt/demo/dunlin-2.json").read_text())
    next(joint for joint in data["joints"] if joint["id"] == "cover-swing")["behind"] = [["cover-seam", "display-plug"]]
    structure = planner_of(exchange.from_json(data)).structure
    everything = frozenset((*structure.removals, *structure.releases))
    plain, asked = blocked.can_free, []
    monkeypatch.setattr(blocked, "can_free", lambda *args: asked.append(args) or plain(*args))
    for part in ("battery", "rear-camera", "button-cable", "display"):
        asked.clear()
        found = frozenset(blocked.blocking_set(structure, (part,)))
        assert found >= {"cover-swing", "display-plug", "display-lid"} and len(asked) < 40
        assert not plain(structure, (part,), everything - found)
        for one in found:
            assert plain(structure, (part,), everything - found | {one})
    assert set(blocked.never_free(structure)) == {p for p in structure.removals if not plain(structure, (p,))}
