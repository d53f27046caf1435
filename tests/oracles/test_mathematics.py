"""The planner and the rules of access against mathematics: shortest common supersequences and counts of orders."""

from __future__ import annotations

import functools
import itertools
import math
import random

import pytest

from oddbolt.conditions.network import bits
from tests.builders import device, joint, part, planner


def chains(*strings: str) -> dict:
    """Chains of acts, one tool letter each, that must all be done before one part comes off by hand."""
    joints = []
    for c, string in enumerate(strings):
        for k, tool in enumerate(string):
            behind = {"behind": [[f"c{c}-{k - 1}"]]} if k else {}
            joints.append(joint(f"c{c}-{k}", "lid", "base", tool=tool, **behind))
    return device([part("lid")], joints)


def scs_length(*strings: str) -> int:
    """Shortest common supersequence after collapsing repeats, by dynamic programming over all places."""
    strings = tuple("".join(letter for letter, _ in itertools.groupby(s)) for s in strings)

    @functools.cache
    def left(places: tuple[int, ...]) -> int:
        heads = {s[p] for s, p in zip(strings, places) if p < len(s)}
        if not heads:
            return 0
        return 1 + min(left(tuple(p + (p < len(s) and s[p] == h) for s, p in zip(strings, places))) for h in heads)

    return left((0,) * len(strings))


# Cormen, Leiserson, Rivest, Stein, Introduction to Algorithms, LCS example: length 4, so 7 + 6 - 4 = 9. From memory.
SUPERSEQUENCES = {("ABCBDAB", "BDCABA"): 9, ("ABAB", "BABA"): 5, ("ABC", "CBA"): 5, ("AB", "BA"): 3,
                  ("ABCB", "BCBA"): 5, ("ABAC", "CAB"): 5, ("AGGTAB", "GXTXAYB"): 8, ("ABC", "BCA", "CAB"): 5}


@pytest.mark.parametrize("strings", SUPERSEQUENCES)
def test_tool_strings_are_shortest_common_supersequences(strings):
    plan = planner(chains(*strings)).plan(["lid"])
    assert plan.optimal
    assert plan.count.steps == SUPERSEQUENCES[strings] == scs_length(*strings)


def test_random_tool_strings(long_run):
    rng = random.Random(7)
    for _ in range(200 if long_run else 40):
        strings = tuple("".join(rng.choices("ABCD", k=rng.randint(1, 6))) for _ in range(rng.choice((2, 3))))
        plan = planner(chains(*strings)).plan(["lid"])
        assert plan.optimal and plan.count.steps == scs_length(*strings), strings


def orders_and_ideals(data: dict) -> tuple[int, int]:
    """Feasible orders of all operations, and sets of operations that can have been done, by the program's access."""
    network = planner(data).network
    everything = (1 << len(network.units)) - 1

    @functools.cache
    def orders(done: int) -> int:
        if done == everything:
            return 1
        return sum(orders(done | 1 << n) for n in bits(everything & ~done) if network.units[n].condition.holds(done))

    total = orders(0)
    return total, orders.cache_info().currsize


def poset(relations: dict[str, list[str]]) -> dict:
    """Free parts, each behind those that come before it."""
    return device([part(id_, behind=[before] if before else []) for id_, before in relations.items()], [])


def grid(rows: int, columns: int) -> dict:
    return poset({f"{r}.{c}": [f"{r - 1}.{c}"] * (r > 0) + [f"{r}.{c - 1}"] * (c > 0)
                  for r in range(rows) for c in range(columns)})


def test_grids_are_counted_by_catalan_numbers():
    """Linear extensions of the 2 x n grid: Catalan numbers (OEIS A000108); of 3 x n: A005789; ideals C(m + n, n)."""
    for n in range(1, 6):
        assert orders_and_ideals(grid(2, n)) == (math.comb(2 * n, n) // (n + 1), math.comb(n + 2, 2))
    assert [orders_and_ideals(grid(3, n))[0] for n in (3, 4)] == [42, 462]


def test_fences_are_counted_by_zigzag_numbers():
    """Linear extensions of the fence: Euler zigzag numbers (OEIS A000111); ideals: Fibonacci numbers."""
    found = []
    for n in range(1, 8):
        relations = {f"p{k}": [f"p{j}" for j in (k - 1, k + 1) if 0 <= j < n] if k % 2 else [] for k in range(n)}
        found.append(orders_and_ideals(poset(relations)))
    assert found == [(1, 2), (1, 3), (2, 5), (5, 8), (16, 13), (61, 21), (272, 34)]


def test_crowns_forests_and_chains():
    """Crown S_n: n! (n-1)! (n+1) orders and 2^(n+1) + n - 1 ideals; disjoint chains: multinomials; forests: Knuth's
    hook lengths, n! over the product of subtree sizes."""
    for n in (2, 3, 4):
        crown = {f"a{i}": [] for i in range(n)}
        crown.update({f"b{j}": [f"a{i}" for i in range(n) if i != j] for j in range(n)})
        assert orders_and_ideals(poset(crown)) == (
            math.factorial(n) * math.factorial(n - 1) * (n + 1), 2 ** (n + 1) + n - 1)
    chains_ = {f"{c}{k}": [f"{c}{k - 1}"] * (k > 0) for c, length in (("x", 3), ("y", 2), ("z", 2))
               for k in range(length)}
    assert orders_and_ideals(poset(chains_)) == (math.factorial(7) // (6 * 2 * 2), 4 * 3 * 3)
    heap = {f"h{k}": [f"h{k // 2}"] * (k > 1) for k in range(1, 11)}
    assert orders_and_ideals(poset(heap))[0] == 3360  # OEIS A056971


def test_screws_cover_and_two_parts():
    """Three screws, a cover, two parts under it: 3! orders of the screws and 2 of the parts."""
    data = device([part("cover"), part("a", behind=[["cover"]]), part("b", behind=[["cover"]])],
                  [joint(f"s{n}", "cover", "base") for n in range(3)])
    assert orders_and_ideals(data) == (12, 12)


def test_alternatives_in_the_eight_part_computer():
    """Güngör and Gupta 2002, eight-part computer: the cover first, the memory after one of two drives (from memory).

    Of the orders of the seven parts under the cover, the memory comes before both drives in one third.
    """
    relations = [part("cover")]
    for name in ("floppy", "disk", "plane", "cards", "power", "board"):
        relations.append(part(name, behind=[["cover"]]))
    relations.append(part("memory", behind=[["floppy", "cover"], ["disk", "cover"]]))
    assert orders_and_ideals(device(relations, []))[0] == math.factorial(7) * 2 // 3
