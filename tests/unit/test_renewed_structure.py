"""A structure renewed from the one before is the structure that is found anew, after any change of the record."""

from __future__ import annotations

import random
from dataclasses import replace

import pytest
from benchmarks.large_record import large_record

from oddbolt.model import exchange
from oddbolt.model.things import Teardown
from oddbolt.rules.structure import Structure

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


@pytest.mark.parametrize("seed", range(6))
def test_renewed_equals_anew(seed: int) -> None:
    rng = random.Random(seed)
    record = large_record()
    keep = {part["id"] for part in record["parts"][:60]}
    record |= {"parts": record["parts"][:60], "log": [], "views": [], "joints": [
        joint for joint in record["joints"] if set(joint["of"]) <= keep]}
    for thing in (*record["parts"], *record["joints"]):
        thing["behind"] = []
        thing.pop("ways", None)
    teardown = exchange.from_json(record)
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
