"""Putting back, on made-up devices with made-up logs: checked by a second reading of the rules (exhaustive.py), which
shares no code with the program."""

from __future__ import annotations

import random
from functools import cache

from oddbolt.effort.times import KnownTimes
from oddbolt.model import exchange
from oddbolt.reassembly.ledger import ledger_of
from oddbolt.reassembly.rebuilding.jobs import replacing, whole_job
from oddbolt.reassembly.rebuilding.putting_back import INSTRUCTION, instruction_for, off_by_log, order_of, put_back
from oddbolt.search.planner import Planner
from tests.builders import device, joint, part
from tests.oracles.exhaustive import Device
from tests.oracles.random_devices import random_device


def taken_apart(seed):
    """A device with a log of a random feasible sequence; acts of other joints come between those of a way."""
    rng = random.Random(seed)
    data = random_device(seed, 14)
    device = Device(data)
    done = []
    for _ in range(rng.randint(1, 14)):
        free = device.next_ops(tuple(done))
        if not free:
            break
        done.append(rng.choice(free))
    log = [{"id": f"e{n}", "do": "remove", "thing": op[1], "act": op[3]} if op[0] == "remove" else
           {"id": f"e{n}", "do": "release", "thing": op[1], "way": op[2], "act": op[3]} for n, op in enumerate(done)]
    return data | {"log": log}, device, done


def whole(device, done):
    """Things that are off, with the way of a joint: half-released joints are not."""
    removed, _, released = device.state_of(done)
    return {**dict.fromkeys(removed, 0), **{id_: op[2] for id_, op in released.items()}}


def can_be_off(device, things):
    """By the words of the rules: whether just these come off in some order, acts of a way following each other."""
    done, left = [], dict(things)
    while left:
        for thing, way in left.items():
            ops = [("remove" if thing in device.parts else "release", thing, way, 0)]
            while not device.is_last(ops[-1]):
                ops.append((*ops[-1][:3], ops[-1][3] + 1))
            if ops[0] in device.next_ops(tuple(done)):
                done += ops
                del left[thing]
                break
        else:
            return False
    return True


def least_live(device, off):
    """Fewest closings of what should be dead while nothing holds the power off, over every order that is possible."""
    needs = {thing for thing in off if device.needs_safe((
        "remove" if thing in device.parts else "release", thing, 0, 0))}

    @cache
    def fewest(left):
        if not left:
            return 0
        found = []
        for thing in left:
            rest = left - {thing}
            if can_be_off(device, {one: off[one] for one in rest}):
                dead = all(rest & ids for ids in device.sources.values())
                found.append(fewest(rest) + (thing in needs and not dead))
        return min(found)

    return fewest(frozenset(off))


def test_what_came_off_goes_back_and_nothing_is_put_over_what_has_to_go_in(long_run):
    live = 0
    for seed in range(5000 if long_run else 1000):
        data, device, done = taken_apart(seed)
        record = exchange.from_json(data)
        off = whole(device, done)
        found = off_by_log(record)
        assert {one.thing: one.way for one in found} == off, seed
        plan = put_back(record, found)
        closing = [step.thing for step in plan.steps if step.do in ("fit", "fasten")]
        assert sorted(closing) == sorted(off) and plan.is_feasible, seed
        for n in range(len(closing)):  # what is still off at every point could be just so
            assert can_be_off(device, {thing: off[thing] for thing in closing[n:]}), (seed, n)
        if len(off) <= 9:
            assert len(plan.closes_live) == least_live(device, off), seed
            live += len(plan.closes_live)
    assert live > 10  # where access leaves no other order it is counted


# -- the ledger

class Bolt:
    def __init__(self, letter, place):
        self.letter, self.place = letter, place  # a hole, "tray", "lost" or "bin"


def screws(rng):
    """Groups of screws with a log that does everything to them, and each bolt followed by hand."""
    groups = {f"s{n}": (rng.choice("AB"), rng.randint(1, 4)) for n in range(rng.randint(1, 4))}
    bolts = [Bolt(letter, (id_, n)) for id_, (letter, count) in groups.items() for n in range(1, count + 1)]
    log, opened = [], set()
    for _ in range(rng.randint(1, 14)):
        id_ = rng.choice(list(groups))
        letter, count = groups[id_]
        places = sorted(rng.sample(range(1, count + 1), rng.randint(1, count))) if rng.random() < 0.5 else []
        holes = [(id_, n) for n in places or range(1, count + 1)]
        inside = {bolt.place: bolt for bolt in bolts if bolt.place in holes}
        entry = {"id": f"e{len(log)}", "thing": id_, **({"places": places} if places else {})}
        if rng.random() < 0.5:
            out = [inside[hole] for hole in holes if hole in inside]
            opened |= {bolt.place for bolt in out}
            what = rng.choice(("tray", "tray", "lost", "bin"))
            entry |= {"do": "release"} | ({"outcome": "lost", "quantity": len(out) or 1} if what == "lost" else
                                         {"discard": True} if what == "bin" else {})
            for bolt in out:
                bolt.place = what
        elif any(hole in opened for hole in holes):
            put, new = rng.choice((letter, letter, letter, "A", "B")), rng.random() < 0.2
            entry |= {"do": "fasten", "fastener": put} | ({"new": True} if new else {})
            for hole in holes:
                if hole not in inside:
                    loose = [bolt for bolt in bolts if bolt.place == "tray" and bolt.letter == put and not new]
                    if loose:
                        loose[0].place = hole
                    else:
                        bolts.append(Bolt(put, hole))
        else:
            continue
        log.append(entry)
    data = device([part("a")], [joint(id_, "a", "base", kind="screw", fastener=letter, count=count)
                                for id_, (letter, count) in groups.items()],
                  fasteners=[{"id": "A"}, {"id": "B"}], log=log)
    return exchange.from_json(data), groups, bolts


def test_the_ledger_agrees_with_bolts_that_are_followed_one_by_one(long_run):
    closed = 0
    for seed in range(20_000 if long_run else 3000):
        record, groups, bolts = screws(random.Random(seed))
        found = ledger_of(record)
        empty = {(id_, n) for id_, (letter, count) in groups.items() for n in range(1, count + 1)
                 if not any(bolt.place == (id_, n) and bolt.letter == letter for bolt in bolts)}
        assert {(one.joint, n) for one in found.holes for n in one.numbers} == empty, seed
        for row in found.rows:
            places = [bolt.place for bolt in bolts if bolt.letter == row.letter]
            assert (row.loose, row.lost, row.discarded) == tuple(map(places.count, ("tray", "lost", "bin"))), seed
            assert row.open == sum(groups[id_][0] == row.letter for id_, _ in empty), seed
        is_whole = not empty and all(bolt.place != "tray" for bolt in bolts)
        assert found.odd >= 0 and found.is_closed == (found.odd == 0) == is_whole, seed
        closed += is_whole and bool(record.log)
    assert closed > 100


# -- the instruction

def plan_of(data, instruction=None):
    record = exchange.from_json(data)
    return put_back(record, off_by_log(record), instruction_for(record) if instruction is None else instruction)


def powered(**keys):
    """A plug, a board's plug and a cover over both, taken apart power first."""
    return device([part("pack", kind="battery"), part("board"), part("lid")],
                  [joint("screws", "lid", "base", kind="screw", tool="ph00", fastener="A", count=2),
                   joint("power", "pack", "base", kind="connector", isolates=True, behind=[["lid"]]),
                   joint("signal", "board", "base", kind="connector", behind=[["lid"]])],
                  fasteners=[{"id": "A"}], log=[
                      {"id": f"e{n}", "do": do, "thing": thing} for n, (do, thing) in enumerate((
                          ("release", "screws"), ("remove", "lid"), ("release", "signal"), ("release", "power")))],
                  **keys)


def test_power_goes_on_last_unless_the_instruction_says_otherwise():
    plan = plan_of(powered())  # the log had the signal undone live, so its reverse would close it live
    assert [step.thing for step in plan.steps] == ["signal", "power", "lid", "screws"] and not plan.closes_live
    told = plan_of(powered(refit=[{"do": "fasten", "thing": "power"}, {"do": "fasten", "thing": "signal"}]))
    assert [step.thing for step in told.steps] == ["power", "signal", "lid", "screws"]
    assert told.closes_live == ("signal",) and told.steps[0].reason == INSTRUCTION


def test_an_order_that_access_does_not_allow_is_told():
    plan = plan_of(powered(refit=[{"do": "fit", "thing": "lid"}, {"do": "fasten", "thing": "power"},
                                  {"do": "check", "text": "Starts"}]))
    assert plan.displaced == ("lid",) and plan.is_feasible
    assert [step.thing or step.do for step in plan.steps] == ["signal", "power", "lid", "screws", "check"]


def test_what_is_told_of_what_is_in_place_finds_no_place():
    plan = plan_of(powered(refit=[{"do": "apply", "on": "base"}, {"do": "fit", "thing": "pack"}]))
    assert [entry.thing for entry in plan.unplaced] == ["pack"]
    assert all(step.do != "apply" for step in plan.steps)


def test_a_replacement_has_no_act_that_it_does_not_need(demo_record):
    planner = Planner(demo_record, KnownTimes(demo_record))
    for id_ in ("battery", "display", "rear-camera", "port-board", "back-cover", "button-cable"):
        found = replacing(planner, id_)
        for job in (found.few, found.many):
            needed = set(job.way_in.targets)  # and power is cut first, which is no use of its own
            needed |= {id_ for ids in planner.structure.sources.values() for id_ in ids}
            assert len(order_of(planner.structure, job.off)) == len(job.off)
            for one in job.off:
                rest = [other for other in job.off if other.thing != one.thing]
                assert one.thing in needed or not needed <= {*order_of(planner.structure, rest)} | (
                    needed - {other.thing for other in job.off}), (
                    id_, one.thing)
            closing = [step.thing for step in job.plan.steps if step.do in ("fit", "fasten")]
            assert sorted(closing) == sorted(one.thing for one in job.off) and job.plan.is_feasible
            assert not job.plan.closes_live
            assert [step.thing for step in job.plan.steps if step.do == "fit" and step.is_new] == [id_]


def test_the_list_of_the_demo(demo_record):
    """By hand: tabs for the cell and a frame for the cover are told to come with the parts; what else was bonded or
    peeled is renewed; nothing is left over of it."""
    job = whole_job(Planner(demo_record, KnownTimes(demo_record)))
    items = {(one.material, one.supply): one.qty for one in job.shopping.items}
    assert items[("cell tabs", "with_part")] == 2 and items[("cover adhesive frame", "with_part")] == 1
    assert items[("film", "ordered")] == 3 and items[("adhesive", "ordered")] == 5
    assert {one.thing for one in job.shopping.discards} >= {"cell-glue", "cover-seam", "display-seam"}
    found = replacing(Planner(demo_record, KnownTimes(demo_record)), "battery").many
    waste = {one.thing: one.rule for one in found.shopping.discards}
    assert waste["battery"].id == "batteries" and waste["cover-seam"] is None
    assert found.time.low_s < found.time.seconds < found.time.high_s
