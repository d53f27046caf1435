"""Records set right: each mistake by its own correction, nothing else lost, every rule of the model kept."""

from __future__ import annotations

import random
from collections import Counter

import pytest
from msgspec.structs import replace

from oddbolt.model import exchange
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Fastener, Joint, Mark, Part, Refit, View
from oddbolt.reassembly.bolts import torques
from oddbolt.reassembly.slips import slips
from oddbolt.rules.replay import as_amended, in_order, readings
from oddbolt.session.derived import Derived
from oddbolt.session.standing import lifted, released
from oddbolt.session.verbs import answers, entries, groups, joints, letters, lifting, marking, parts, photos
from oddbolt.session.verbs.correcting import change, delete, relog
from oddbolt.session.verbs.marking import Kind
from oddbolt.store.document import Document
from oddbolt.store.files import read_with_digests
from oddbolt.words.findings import finding_text
from oddbolt.words.refusals import refusal_text
from tests.oracles.random_devices import random_device


@pytest.fixture
def radio(example):
    return exchange.from_json(example)


def done(verb, *arguments, **keys):
    return verb(*arguments, **keys).teardown


def test_what_was_not_done_is_struck_and_can_be_done_after_all(radio):
    struck = done(relog.strike, radio, "e2", 90)
    assert "cover" in lifted(radio) and "cover" not in lifted(struck)
    assert [e.id for e in struck.log] == ["e1", "e2", "e3", "e4"] and struck.log[3].amends == "e2"
    assert struck.log[1] is radio.log[1]  # what was said stays as it was said
    assert exchange.to_json(struck)["version"] == 2 and exchange.to_json(radio).get("version", 1) == 1
    again = done(relog.restore, struck, "e2", 91)
    assert "cover" in lifted(again) and len(again.log) == 5
    for refused in (lambda: relog.strike(struck, "e2", 1), lambda: relog.restore(radio, "e2", 1),
                    lambda: relog.strike(struck, "e4", 1), lambda: relog.strike(radio, "nothing", 1)):
        with pytest.raises(Refusal):
            refused()
    assert exchange.loads(exchange.dumps(again)) == again


def test_a_forgotten_act_stands_where_it_belongs(radio):
    after = done(relog.insert, radio, "e1", "release", thing="pack-plug")
    assert [e.id for e in in_order(after)] == ["e1", "e4", "e2", "e3"]
    assert after.log[-1].t == radio.log[0].t and "pack-plug" in released(after)
    later = done(relog.insert, after, "e4", "note", text="and the label came off")
    first = done(relog.insert, later, "e1", "note", text="second behind e1")
    assert [e.id for e in in_order(first)] == ["e1", "e4", "e5", "e6", "e2", "e3"]
    with pytest.raises(Refusal) as caught:
        exchange.from_json({**exchange.to_json(radio), "log": [{"id": "a", "do": "note", "after": "b"},
                                                               {"id": "b", "do": "note"}]})
    assert (caught.value.path, caught.value.code) == ("$.log[0].after", "after-what-is-later")
    assert exchange.loads(exchange.dumps(first)) == first


def test_glue_that_was_clips_and_a_release_by_a_way_that_is_gone(radio):
    third = done(lifting.release, radio, "pack-glue", 50, way=2)
    clips = done(change.set_kind, third, "pack-glue", Kind(joint="clip"), 60)
    joint = clips.joint["pack-glue"]
    assert (joint.kind, joint.type, joint.fastener) == ("clip", "", None)
    reading = next(e for e in readings(clips) if e.thing == "pack-glue")
    assert reading.way is None and "pack-glue" in released(clips)
    assert not Derived(clips).replay.unknown
    other = done(relog.by_another_way, third, third.log[-1].id, 1, 61)
    assert next(e for e in readings(other) if e.thing == "pack-glue").way == 1


def test_a_part_goes_with_what_hangs_on_it_and_that_is_said_before(radio):
    hangs = delete.hangs_on(radio, ["pack"])
    assert hangs.parts == ("pack",) and set(hangs.joints) >= {"pack-glue", "pack-plug"}
    after = done(delete.delete_things, radio, ["pack"])
    assert "pack" not in after.part and not set(hangs.joints) & after.joint.keys()
    assert exchange.loads(exchange.dumps(after)) == after
    with pytest.raises(Refusal, match="base-stays"):
        delete.hangs_on(radio, [radio.device.base])


def test_a_mark_goes_and_the_count_follows(radio):
    four = done(marking.mark_more, radio, "v0", "cover-screws", [(10, 10), (20, 10), (30, 10)])
    four = done(change.set_letter, four, "cover-screws", "A")
    assert four.joint["cover-screws"].count == 4
    three = done(delete.delete_mark, four, "v0", 1)
    assert three.joint["cover-screws"].count == 3 and [m.n for m in three.view["v0"].marks] == [1, 2, 3]
    lone = marking.mark_new(radio, "v0", Kind(joint="film"), [(5, 5)], part="pack")
    assert lone.made not in done(delete.delete_mark, lone.teardown, "v0", len(lone.teardown.view["v0"].marks) - 1).joint


def test_marks_of_a_wrong_letter_and_groups_of_two_letters(radio):
    both = done(letters.add_fastener, radio, Fastener(id="B", drive="T"))
    four = done(marking.mark_more, both, "v0", "cover-screws", [(10, 10), (20, 10), (30, 10)])
    split = change.marks_to_letter(four, "v0", [1, 2], "B")
    assert split.teardown.joint[split.made].fastener == "B" and split.teardown.joint[split.made].count == 2
    assert split.teardown.joint["cover-screws"].fastener == "A"
    whole = change.marks_to_letter(four, "v0", [0, 1, 2, 3], "B")
    assert whole.made == "cover-screws" and whole.teardown.joint["cover-screws"].fastener == "B"
    with pytest.raises(Refusal, match="groups-differ"):
        groups.join_groups(split.teardown, "cover-screws", split.made)
    joined = done(change.join_as, split.teardown, "cover-screws", split.made, "B")
    assert joined.joint["cover-screws"].fastener == "B" and joined.joint["cover-screws"].count == 4


def test_a_photograph_goes_to_another_moment(radio):
    more = done(photos.add_view, radio, View(id="v1", photo="b.jpg", at_entry="e3"))
    more = done(photos.add_view, more, View(id="v2", photo="c.jpg", at_entry="e3"))
    moved = done(change.move_view, more, "v2", None)
    assert [v.id for v in moved.views][0] in ("v0", "v2") and moved.view["v2"].at_entry is None
    assert [v.id for v in moved.views].index("v2") < [v.id for v in moved.views].index("v1")


def test_slips_are_found(radio, tmp_path):
    """Each kind of slip planted once into a record that has none."""
    assert not slips(radio)
    slip = replace(
        radio,
        parts=(*radio.parts, Part(id="twin", name=" battery  PACK ", kind="label", captive=True), Part(id="next-1"),
               Part(id="blank", name="  ", kind="board")),
        joints=(*radio.joints, Joint(id="mystery", kind="screw", of=("next-1", radio.device.base))),
        views=(replace(radio.views[0], mm_per_px=0.1, marks=(*radio.views[0].marks, Mark(
            thing="twin", x=radio.views[0].marks[0].x + 4, y=radio.views[0].marks[0].y))),
            View(id="v1", photo="copy.jpg")))
    found = {(one.code, one.thing): one.others for one in slips(slip, {"v0.jpg": "same", "copy.jpg": "same"})}
    pack = next(part.id for part in radio.parts if part.name == "Battery pack")
    assert found == {("blank-name", "blank"): (), ("same-name", pack): ("twin",),
                     ("over-a-screw", "twin"): ("cover-screws",), ("holds-nothing-named", "mystery"): (),
                     ("same-picture", "v0"): ("v1",)}
    with Document.create(tmp_path / "a.oddbolt", slip) as document:
        document.add_photo(radio.views[0].photo, b"\xff\xd8\xffone")
        document.add_photo("copy.jpg", b"\xff\xd8\xffone")
    teardown, pictures = read_with_digests(tmp_path / "a.oddbolt")
    assert [one.code for one in slips(teardown, pictures)].count("same-picture") == 1
    assert all(finding_text(slip, one) for one in slips(slip, pictures))


# -- every verb at random

VERBS = Counter()


def step(t, rng):
    """One verb with arguments as a person might give them, many of them wrong."""
    things, part_ids = [*t.part, *t.joint], list(t.part)
    joint = rng.choice(list(t.joint) or ["none"])
    part, thing, view = rng.choice(part_ids), rng.choice(things), rng.choice([v.id for v in t.views] or ["none"])
    entry = rng.choice([e.id for e in t.log] or ["none"])
    letter = rng.choice([f.id for f in t.fasteners] or ["A"])
    spot = (rng.uniform(0, 900), rng.uniform(0, 600))
    marks = len(t.view[view].marks) if view in t.view else 0
    place = rng.randrange(max(1, marks))
    kind = rng.choice((Kind(joint="clip"), Kind(joint="connector", type="zif"), Kind(joint="film"), Kind(letter=letter),
                       Kind(joint="adhesive", type="pry")))
    other = rng.choice(list(t.joint) or ["none"])
    picks = [place, rng.randrange(max(1, marks))]
    choices = (
        (relog.strike, entry, 5), (relog.restore, entry, 5), (relog.reword, entry, "otherwise", 5),
        (relog.by_another_way, entry, rng.randrange(3), 5), (relog.insert, entry, "note"),
        (relog.insert, entry, "release", "thing", joint), (relog.insert, entry, "remove", "thing", part),
        (change.set_kind, joint, kind, 5), (change.set_letter, joint, letter),
        (change.marks_to_letter, view, picks, letter), (change.rename, thing, "another name"),
        (change.describe_device, "variant", ""), (change.describe_pass, 1, "by", "somebody"),
        (change.move_view, view, rng.choice((entry, None))), (change.join_as, joint, other, letter),
        (delete.delete_mark, view, place), (delete.delete_things, [thing]), (delete.delete_letter, letter),
        (delete.delete_view, view), (marking.mark_more, view, joint, [spot]),
        (marking.mark_new, view, kind, [spot]), (marking.mark_new, view, kind, [spot, (1, 1)]),
        (marking.unmark, view, place),
        (marking.move_mark, view, place, *spot),
        (marking.set_angle, view, joint, 90.0), (lifting.release, joint, 9),
        (lifting.release, joint, 9, rng.randrange(3)),
        (lifting.lift, part, 9), (lifting.swing_open, 9), (lifting.swing_instead, part, 9),
        (lifting.lift_as, rng.choice(("board", "speaker", "battery")), 9, "view_id", view, "spot", spot),
        (lifting.mark_and_release, view, kind, [spot], 9), (lifting.meet_and_release, kind, 9),
        (entries.note, "x", 9), (entries.reach, [joint, other], 9),
        (entries.set_outcome, entry, "damaged", 9), (entries.set_seconds, entry, 4.0, 9),
        (entries.aid, "foam", True, 9),
        (entries.start_pass, "2026-11-27T09:00:00+00:00"), (groups.split_group, joint, view, picks),
        (groups.join_groups, joint, other), (groups.move_marks, view, picks, joint), (groups.set_order, joint, [2, 1]),
        (joints.tie, joint, rng.randrange(2), part), (joints.set_type, joint, "zif"),
        (joints.set_tool, joint, 0, "tweezers"),
        (joints.add_way, joint, "pull"), (joints.set_isolates, joint, True),
        (joints.set_behind, thing, [other] if other in t.joint else []),
        (joints.set_limits, joint, 0, 0, [{"hold_s": 3}]), (photos.set_scale, view, 0.1),
        (photos.add_view, View(id=f"w{rng.randrange(10 ** 6)}", photo="p.jpg", at_entry=entry if t.log else None)),
        (parts.set_parts, [part], "mass_g", 3.0), (parts.set_fact, [part], "capacity", 5, "mAh"),
        (parts.set_spare, [part], "public"), (parts.weigh, part, 4.0, 9), (parts.make_part, "board", view, spot),
        (letters.add_fastener, Fastener(id=f"L{rng.randrange(99)}", drive="PH")),
        (answers.answer_access, "hides", part, {joint: True}), (answers.answer, "m", "years", 5))
    verb, *arguments = rng.choice(choices)
    plain, keys = [], {}
    while arguments:
        one = arguments.pop(0)
        if one in ("thing", "view_id", "spot", "variant", "by", "mass_g") and isinstance(one, str) and arguments:
            keys[one] = arguments.pop(0)
        else:
            plain.append(one)
    return verb, plain, keys


def keeps_the_rules(teardown):
    """Everything that docs/format.md says of a record, and that everything can be made of it."""
    assert exchange.to_json(exchange.loads(exchange.dumps(teardown))) == exchange.to_json(teardown)
    derived = Derived(teardown).build()
    assert set(derived.state.removed) <= set(derived.structure.removals)
    order = [entry.id for entry in in_order(teardown)]
    assert sorted(order) == sorted(entry.id for entry in teardown.log)
    assert {entry.id for entry in as_amended(teardown)} <= {e.id for e in teardown.log if e.amends is None}
    for view in teardown.views:
        numbers = {}
        for mark in view.marks:
            if mark.n is not None and mark.thing in teardown.joint:
                numbers.setdefault(mark.thing, []).append(mark.n)
        assert all(len(set(own)) == len(own) for own in numbers.values())


def test_a_random_walk_over_all_commands_keeps_every_rule(tmp_path, long_run, capsys):
    """Through the document, with undo and redo between; refused or right, never half."""
    rng, told = random.Random(11), Counter()
    for seed in range(25 if long_run else 4):
        teardown = exchange.from_json(random_device(seed, 10))
        views = (View(id="v0", photo="a.jpg", side="back"), View(id="v1", photo="b.jpg", side="front"))
        teardown = replace(teardown, views=(*teardown.views, *views), fasteners=(Fastener(id="A"), Fastener(id="B")))
        with Document.create(tmp_path / f"{seed}.oddbolt", teardown) as document:
            for n in range(200 if long_run else 110):
                if rng.random() < 0.1:
                    rng.choice((document.undo, document.redo))()
                verb, arguments, keys = step(document.teardown, rng)
                before = document.teardown
                try:
                    made = verb(before, *arguments, **keys)
                except Refusal:
                    told["refused"] += 1
                    continue
                document.commit(made.teardown, made.label, "now")
                told["done"] += 1
                VERBS[verb.__name__] += 1
                if n % 5 == 0:
                    keeps_the_rules(document.teardown)
            keeps_the_rules(document.teardown)
        with Document.open(tmp_path / f"{seed}.oddbolt", read_only=True) as again:
            keeps_the_rules(again.teardown)
    with capsys.disabled():
        print(f"\nrandom walk: {dict(told)}, {len(VERBS)} verbs")
    assert told["done"] > told["refused"] * 0.5 and len(VERBS) > 40



def test_a_torque_whose_screws_have_no_letter_any_more_says_why_it_cannot_be_judged(radio):
    """Found by random corrections: a letter deleted, with a torque of its screws on record."""
    passes = [{"torque_ncm": 12}]
    planned = replace(radio, refit=(*radio.refit, Refit(do="fasten", thing="cover-screws", extra={"passes": passes})))
    bare = done(delete.delete_letter, planned, "A")
    found = [one for one in torques(bare) if one.check is None]
    assert found and all(refusal_text(one.refusal) for one in found)
