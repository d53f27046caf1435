"""A structure renewed from the one before is the structure that is found anew, after any change of the record."""

from __future__ import annotations

import random

import pytest
from benchmarks.large_record import large_record
from msgspec.structs import replace

from oddbolt.knowledge import covering, evidence
from oddbolt.model import exchange
from oddbolt.model.checking.references import check_references
from oddbolt.model.refusal import Refusal
from oddbolt.model.snapshot import succeed
from oddbolt.model.things import LogEntry, Mark, Teardown
from oddbolt.rules.replay import readings, states_reached
from oddbolt.rules.structure import Structure

MADE = ("removed", "lifted", "released", "under_way")
FACTS = ("present", "stand_in", "carrier", "children", "above", "releases", "idle_joints", "joints_of", "removals",
         "sources")


def changed(teardown: Teardown, rng: random.Random) -> Teardown:
    """One change of the kinds that verbs make."""
    parts, joints = list(teardown.parts), list(teardown.joints)
    p, j = rng.randrange(1, len(parts)), rng.randrange(len(joints))
    names = [thing.id for thing in (*parts, *joints)]
    what = rng.randrange(9)
    if what == 0:
        parts[p] = replace(parts[p], behind=((rng.choice(names),),))
    elif what == 1:
        joints[j] = replace(joints[j], behind=((rng.choice(names), rng.choice(names)),))
    elif what == 2:
        parts[p] = replace(parts[p], captive=not parts[p].captive)
    elif what == 3:
        parts[p] = replace(parts[p], isolates=not parts[p].isolates)
    elif what == 4:
        joints[j] = replace(joints[j], kind=rng.choice(("contact", "connector", "screw")))
    elif what == 5:
        joints.append(replace(joints[j], id=f"new{len(joints)}{rng.random()}"))
    elif what == 6:
        del joints[j]
    elif what == 7:
        ends = rng.sample([part.id for part in parts], 2)
        joints[j] = replace(joints[j], of=tuple(ends))
    else:
        joints[j], joints[0] = joints[0], joints[j]
    return replace(teardown, parts=tuple(parts), joints=tuple(joints))


def few_parts() -> Teardown:
    """Sixty parts of a large record with what ties them."""
    record = large_record()
    keep = {part["id"] for part in record["parts"][:60]}
    record |= {"parts": record["parts"][:60], "log": [], "views": [], "joints": [
        joint for joint in record["joints"] if set(joint["of"]) <= keep]}
    for thing in (*record["parts"], *record["joints"]):
        thing["behind"] = []
        thing.pop("ways", None)
    return exchange.from_json(record)


@pytest.mark.parametrize("seed", range(6))
def test_renewed_equals_anew(seed: int) -> None:
    rng, teardown = random.Random(seed), few_parts()
    structure = Structure(teardown)
    taken_over = 0
    for _ in range(120):
        teardown = changed(teardown, rng)
        renewed, anew = Structure(teardown, structure), Structure(teardown)
        for fact in FACTS:
            assert getattr(renewed, fact) == getattr(anew, fact), fact
        assert list(renewed.releases) == list(anew.releases)
        taken_over += sum(renewed.releases.get(id_) is release for id_, release in structure.releases.items())
        structure = renewed
    assert taken_over > 60 * len(structure.releases), "most of it is taken over, not read again"


@pytest.mark.parametrize("seed", range(6))
def test_a_state_carried_further_is_the_state_walked_from_the_start(seed: int) -> None:
    """Acts are logged, taken back and amended while the record changes around them."""
    rng, teardown = random.Random(seed), few_parts()
    for n in range(150):
        before = teardown
        if rng.random() < 0.7:
            thing = rng.choice([*(part.id for part in teardown.parts[1:]), *(joint.id for joint in teardown.joints)])
            do = rng.choice(("remove" if thing in teardown.part else "release", "reach"))
            amends = rng.choice(teardown.log).id if teardown.log and rng.random() < 0.1 else None
            entry = LogEntry(id=f"e{n}", do=do, thing=thing, pass_=rng.choice((1, 1, 2)), amends=amends)
            teardown = replace(teardown, log=(*teardown.log, entry))
        elif rng.random() < 0.3:
            teardown = replace(teardown, log=teardown.log[:-1])
        else:
            teardown = changed(teardown, rng)
        states_reached(before)
        evidence._passes(before)
        succeed(teardown, before)
        fresh = replace(teardown)
        anew = states_reached(fresh)
        assert list(readings(teardown)) == list(readings(fresh))
        assert evidence._passes(teardown) == evidence._passes(fresh)
        carried = states_reached(teardown)
        assert carried.keys() == anew.keys()
        for number, state in carried.items():
            for made in MADE:
                assert getattr(state, made) == getattr(anew[number], made), made


BREAKS = {
    "a part that carries": lambda t: replace(t, parts=tuple(p for p in t.parts if p.id != t.parts[1].id)),
    "a joint that hides": lambda t: replace(t, joints=t.joints[1:]),
    "a fastener in use": lambda t: replace(t, fasteners=()),
    "an entry that a view shows": lambda t: replace(t, log=t.log[:1]),
    "an entry that is amended": lambda t: replace(t, views=(), log=t.log[1:]),
    "an id twice": lambda t: replace(t, joints=(*t.joints, replace(t.joints[0]))),
    "an id of the other section": lambda t: replace(t, joints=(*t.joints, replace(t.joints[0], id=t.parts[1].id))),
    "an entry's id twice": lambda t: replace(t, log=(*t.log, t.log[0])),
    "a circle of carriers": lambda t: replace(t, parts=(t.parts[0], replace(t.parts[1], on=t.parts[2].id), replace(
        t.parts[2], on=t.parts[1].id), *t.parts[3:])),
    "a thing that is not there": lambda t: replace(t, parts=(*t.parts[:-1], replace(t.parts[-1], behind=(("no",),)))),
}


@pytest.mark.parametrize("what", BREAKS)
def test_a_check_against_a_checked_snapshot_finds_what_a_whole_check_finds(what: str) -> None:
    """What was checked before is not looked at again; what became wrong is found all the same, and said alike."""
    record = exchange.to_json(few_parts())
    record["log"] = [{"id": f"e{n}", "do": "note"} for n in range(3)] + [{"id": "e9", "do": "note", "amends": "e0"}]
    record["views"] = [{"id": "v", "side": "back", "at_entry": "e2"}]
    record["parts"][3]["on"] = record["parts"][1]["id"]
    record["parts"][4]["behind"] = [[record["joints"][0]["id"]]]
    before = exchange.from_json(record)
    after = BREAKS[what](before)
    with pytest.raises(Refusal) as whole:
        check_references(after)
    with pytest.raises(Refusal) as quick:
        check_references(after, before)
    assert (quick.value.path, quick.value.code) == (whole.value.path, whole.value.code)


def test_places_renewed_after_a_mark_are_the_places_read_anew() -> None:
    rng, teardown = random.Random(3), exchange.from_json(large_record())
    places = covering.Places(teardown)
    for _ in range(12):
        n = rng.randrange(len(teardown.views))
        view, joint = teardown.views[n], rng.choice(teardown.joints)
        mark = Mark(thing=joint.id, x=rng.random() * 900, y=rng.random() * 700, outline=((1, 1), (80, 9), (5, 60)))
        views = (*teardown.views[:n], replace(view, marks=(*view.marks, mark)), *teardown.views[n + 1:])
        teardown = replace(teardown, views=views)
        places, anew = covering.Places(teardown, places), covering.Places(teardown)
        assert places._of == anew._of and places._held_at_edge == anew._held_at_edge
