"""What gestures on the bench make of a record, without any widget."""

from __future__ import annotations

import pytest

from oddbolt.model import exchange
from oddbolt.model.checking.references import check_references
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import View
from oddbolt.reassembly.ledger import ledger_of
from oddbolt.rules.replay import readings, replay
from oddbolt.rules.structure import Structure
from oddbolt.session import prepare, standing
from oddbolt.session.verbs import entries, groups, joints, letters, lifting, marking, parts, photos
from oddbolt.session.verbs.marking import Kind

LETTER = {"id": "A", "drive": "PH", "size": "00", "thread": "M1.6", "length_mm": 3, "head_mm": 2.5}
LONGER = {**LETTER, "id": "B", "length_mm": 5}


class Bench:
    """A record being made, gesture by gesture."""

    def __init__(self, **keys):
        data = {"format": "oddbolt-teardown", "version": 1, "device": {"base": "base"}, "fasteners": [LETTER, LONGER],
                "parts": [{"id": "base", "name": "Frame", "kind": "frame"},
                          {"id": "main-board", "name": "Main board", "kind": "board", "basis": "assumed"}],
                "joints": [], "views": [{"id": "v", "side": "back"}], **keys}
        self.now = exchange.from_json(data)
        self.t = 0.0
        self.made = ""

    def do(self, done):
        self.made = done.made
        self.now = exchange.from_json(exchange.to_json(done.teardown))
        self.t += 10
        return self.made

    def screws(self, letter, *spots, **keys):
        return self.do(marking.mark_new(self.now, "v", Kind(letter=letter), spots, **keys))

    def mark(self, kind, spot=(50, 50), **keys):
        what = Kind(joint=kind, type=keys.pop("type", ""), tool=keys.pop("tool", ""))
        return self.do(marking.mark_new(self.now, "v", what, [spot], **keys))

    def release(self, *joints):
        for joint in joints:
            self.do(lifting.release(self.now, joint, self.t))

    def lift(self, kind, **keys):
        return self.do(lifting.lift_as(self.now, kind, self.t, view_id="v", **keys))


def kinds(teardown):
    return {joint.id: (joint.kind, joint.of) for joint in teardown.joints}


def test_screws_belong_to_the_part_that_comes_off_next():
    bench = Bench()
    group = bench.screws("A", (10, 10), (30, 10), (20, 40))
    assert standing.is_next(bench.now.part[standing.next_part(bench.now)])
    bench.release(group)
    lid = bench.lift("bracket")
    assert bench.now.joint[group].of == (lid, "base") and bench.now.joint[group].count == 3
    assert (bench.now.part[lid].name, bench.now.part[lid].kind) == ("Bracket", "bracket")
    assert [(e.do, e.thing) for e in bench.now.log] == [("release", group), ("remove", lid)]
    mark = next(m for m in bench.now.views[0].marks if m.thing == lid)
    assert (mark.x, mark.y) == (20, 20) and not standing.next_part(bench.now)


def test_a_group_in_hand_is_released_by_the_lift_that_needs_it():
    bench = Bench()
    group = bench.screws("A", (10, 10))
    lid = bench.lift("bracket", hand=group)
    assert [(e.do, e.thing) for e in bench.now.log] == [("release", group), ("remove", lid)]
    assert ledger_of(bench.now).out == 1


def test_groups_marked_early_wait_for_their_own_part():
    bench = Bench()
    first, second = bench.screws("A", (10, 10)), bench.screws("B", (90, 90))
    bench.release(first)
    lid = bench.lift("bracket")
    assert bench.now.joint[first].of[0] == lid and bench.now.joint[second].of[0] != lid
    bench.release(second)
    horn = bench.lift("speaker")
    assert bench.now.joint[second].of == (horn, "base")
    assert all(not standing.is_next(part) for part in bench.now.parts)


def test_a_plug_stays_with_what_has_plugs():
    """A bracket has none: the plug opened under it belongs to what comes off later, and leads to the main board."""
    bench = Bench()
    plug = bench.mark("connector", type="board-to-board")
    bench.release(plug, bench.screws("A", (5, 5)))
    lid = bench.lift("bracket")
    assert lid not in bench.now.joint[plug].of and bench.now.joint[plug].of[1] == "main-board"
    bench.release(plug2 := bench.mark("connector", type="zif"))
    eye = bench.lift("camera")
    assert bench.now.joint[plug2].of == (eye, "main-board") and bench.now.part[eye].role == ("rear_camera",)


def test_an_end_is_dragged_to_a_part_or_to_a_new_one():
    bench = Bench()
    plug = bench.mark("connector", type="board-to-board")
    cell = bench.do(joints.tie_to_new(bench.now, plug, "battery", "v", (200, 200)))
    assert bench.now.joint[plug].of == (cell, "main-board") and bench.now.part[cell].hazards == ("lithium",)
    assert not any(standing.is_next(p) for p in bench.now.parts)
    bench.do(joints.tie(bench.now, plug, 1, "base"))
    assert bench.now.joint[plug].of == (cell, "base")
    with pytest.raises(Refusal):
        joints.tie(bench.now, plug, 1, cell)
    assert bench.lift("battery") == cell and len([p for p in bench.now.parts if p.kind == "battery"]) == 1


def test_names_and_roles_come_from_the_kind():
    bench = Bench()
    ids = [bench.lift("camera", spot=(n, n)) for n in range(3)]
    assert [(bench.now.part[id_].name, bench.now.part[id_].role) for id_ in ids] == [
        ("Camera", ("rear_camera",)), ("Camera 2", ("front_camera",)), ("Camera 3", ())]
    assert bench.lift("main board") == "main-board"


def test_a_swing_opens_a_layer_and_the_cover_comes_off_later():
    bench = Bench()
    seam = bench.mark("adhesive", type="heat")
    assert [a.tool for a in bench.now.joint[seam].ways[0].acts] == ["heat-mat", "pick"]
    bench.release(seam)
    cover = bench.do(lifting.swing_open(bench.now, bench.t, view_id="v"))
    swing = next(j for j in bench.now.joints if j.kind == "swing")
    assert swing.of == (cover, "base") and bench.now.part[cover].kind == "cover" and swing.behind == ((seam,),)
    plug = bench.mark("connector", type="board-to-board")
    assert bench.now.joint[plug].behind == ((swing.id,),)
    bench.release(plug)
    assert bench.lift("cover") == cover  # the swung one is meant
    assert bench.now.joint[plug].of == (cover, "main-board")
    assert not replay(bench.now, Structure(bench.now)).contradictions


def test_a_cover_lifted_while_tethered_was_swung():
    bench = Bench()
    bench.release(bench.mark("clip"))
    cover = bench.lift("cover")
    plug = bench.mark("connector", type="zif", part=cover)
    assert bench.now.joint[plug].behind == ((cover,),) or bench.now.joint[plug].behind == ()
    bench.do(lifting.swing_instead(bench.now, cover, bench.t))
    swing = next(j for j in bench.now.joints if j.kind == "swing")
    bench.release(plug)
    bench.do(lifting.lift(bench.now, cover, bench.t))
    assert bench.now.joint[plug].behind == ((swing.id,),)
    assert not replay(bench.now, Structure(bench.now)).contradictions
    with pytest.raises(Refusal):
        lifting.swing_instead(bench.now, "main-board", bench.t)


def test_what_is_on_a_lifted_part_lies_behind_the_base():
    bench = Bench()
    bench.release(bench.screws("A", (10, 10)))
    board = bench.lift("main board")
    under = bench.screws("B", (12, 12), carrier=board)
    bench.release(under)
    part = bench.lift("board", carrier=board)
    assert bench.now.part[part].on == board and bench.now.joint[under].of == (part, board)
    assert bench.now.joint[under].behind == (("base",),)
    assert not replay(bench.now, Structure(bench.now)).contradictions


def test_plugs_lead_to_the_main_board_when_it_is_met():
    bench = Bench(parts=[{"id": "base", "kind": "frame"}])
    plug = bench.mark("connector", type="coaxial", tool="plug-lifter")
    assert bench.now.joint[plug].of[1] == "base" and bench.now.joint[plug].ways[0].acts[0].tool == "plug-lifter"
    bench.release(plug)
    bench.lift("antenna")
    board = bench.lift("main board", spot=(1, 1))
    assert bench.now.joint[plug].of[1] == board


# -- groups

def recorded():
    bench = Bench()
    group = bench.screws("A", *((n * 10, 5) for n in range(9)))
    other = bench.screws("A", (0, 90), (10, 90))
    bench.release(group, other)
    lid = bench.lift("bracket")
    return bench, group, other, lid


def test_a_group_is_split_later_without_losing_the_log():
    bench, group, other, lid = recorded()
    before = [e.id for e in bench.now.log]
    new = bench.do(groups.split_group(bench.now, group, "v", [7, 8]))
    assert (bench.now.joint[group].count, bench.now.joint[new].count) == (7, 2)
    assert bench.now.joint[new].of == (lid, "base")
    assert [e.id for e in bench.now.log][:len(before)] == before and ledger_of(bench.now).out == 11
    found = replay(bench.now, Structure(bench.now))
    assert not found.contradictions and {group, new, other} <= found.state.released.keys()
    assert [m.n for m in bench.now.views[0].marks if m.thing == new] == [1, 2]
    for places in ([], list(range(9)), [99]):
        with pytest.raises((Refusal, IndexError)):
            groups.split_group(bench.now, group, "v", places)


def test_groups_are_joined_and_marks_moved():
    bench, group, other, _ = recorded()
    bench.do(groups.move_marks(bench.now, "v", [0, 1], other))
    assert (bench.now.joint[group].count, bench.now.joint[other].count) == (7, 4)
    with pytest.raises(Refusal):
        every = [n for n, m in enumerate(bench.now.views[0].marks) if m.thing == other]
        groups.move_marks(bench.now, "v", every, group)
    bench.do(groups.join_groups(bench.now, group, other))
    assert bench.now.joint[group].count == 11 and other not in bench.now.joint
    assert ledger_of(bench.now).out == 11 and not replay(bench.now, Structure(bench.now)).contradictions
    bench.screws("B", (7, 7))
    with pytest.raises(Refusal):
        groups.join_groups(bench.now, group, bench.made)


def test_renumbering_is_the_order_of_undoing():
    bench, group, *_ = recorded()
    bench.do(groups.renumber(bench.now, "v", group, [8, 7, 6, 5, 4, 3, 2, 1, 0]))
    assert [m.n for m in bench.now.views[0].marks if m.thing == group] == [9, 8, 7, 6, 5, 4, 3, 2, 1]
    for order in ([8, 7], [0, 1, 2, 3, 4, 5, 6, 7, 7], [9, 1, 2, 3, 4, 5, 6, 7, 8]):
        with pytest.raises(Refusal):
            groups.renumber(bench.now, "v", group, order)


def test_a_number_means_the_same_screw_everywhere():
    """A group numbered anew on one view is numbered anew on the others, in its tightening order and in the refit."""
    bench = Bench(refit=[{"do": "fasten", "thing": "a-1", "passes": [{"level": "tight", "order": [2, 3, 1]}]}],
                  procedures=[{"id": "p", "entries": [{"do": "fasten", "thing": "a-1", "places": [3]}]}],
                  views=[{"id": "v", "side": "back"}, {"id": "w", "side": "back"}],
                  joints=[{"id": "a-1", "kind": "screw", "of": ["main-board", "base"], "fastener": "A", "count": 3}])
    bench.do(marking.mark_more(bench.now, "v", "a-1", [(1, 1), (2, 2), (3, 3)]))
    bench.do(marking.carry_marks(bench.now, "w", bench.now.views[0].marks[:2]))
    bench.do(groups.set_order(bench.now, "a-1", [1, 3, 2]))
    bench.do(groups.renumber(bench.now, "v", "a-1", [2, 0, 1]))  # the old 3 is 1 now, 1 is 2, 2 is 3
    assert [[m.n for m in view.marks] for view in bench.now.views] == [[2, 3, 1], [2, 3]]
    assert bench.now.joint["a-1"].order == (2, 1, 3)
    assert [(one.level, one.order) for one in bench.now.refit[0].passes] == [("tight", (3, 1, 2))]
    assert bench.now.procedures[0].entries[0].places == (1,)


def test_a_correction_leaves_the_rest_of_its_entry():
    bench, group, *_ = recorded()
    new = bench.do(groups.split_group(bench.now, group, "v", [7, 8]))
    entry = next(e for e in bench.now.log if e.do == "release" and e.thing == group and not e.amends)
    bench.do(entries.set_seconds(bench.now, entry.id, 18.0, bench.t))
    bench.do(entries.set_outcome(bench.now, entry.id, "stripped", bench.t))
    read = {e.thing: (e.outcome, e.finding, e.seconds) for e in readings(bench.now) if e.do == "release"}
    assert read[group] == ("damaged", "stripped", 14.0) and read[new] == ("damaged", "stripped", 4.0)


def test_what_a_lift_takes_along_is_logged_with_its_tool():
    bench = Bench()
    group = bench.screws("A", (10, 10), (30, 10))
    bench.lift("bracket", hand=group)
    assert [(e.do, e.tool) for e in bench.now.log] == [("release", "ph00"), ("remove", "")]


def test_protections_are_put_where_they_are():
    bench = Bench()
    for what, on, thing in (("foam", True, "main-board"), ("foam", True, ""), ("dummy plug", True, "main-board")):
        bench.do(entries.aid(bench.now, what, on, bench.t, thing))
    assert entries.protections_on(bench.now, "main-board") == ["foam", "dummy plug"]
    with pytest.raises(Refusal):
        entries.aid(bench.now, "dummy plug", False, bench.t)
    bench.do(entries.aid(bench.now, "foam", False, bench.t, "main-board"))
    assert (entries.protections_on(bench.now), entries.protections_on(bench.now, "main-board")) == \
        (["foam"], ["dummy plug"])


def test_many_marks_at_once_grow_the_group():
    bench = Bench()
    group = bench.screws("A", (1, 1))
    bench.do(marking.mark_more(bench.now, "v", group, [(2, 2), (3, 3)]))
    assert bench.now.joint[group].count == 3 and [m.n for m in bench.now.views[0].marks] == [1, 2, 3]


# -- entries, passes, preparation

def test_outcomes_are_corrections_and_the_entry_stays():
    bench, group, *_ = recorded()
    first = bench.now.log[0]
    for word, (outcome, finding) in entries.OUTCOMES.items():
        bench.do(entries.set_outcome(bench.now, first.id, word, bench.t))
        last = bench.now.log[-1]
        assert (last.outcome, last.finding, last.amends) == (outcome, finding, first.id)
        assert entries.outcome_of(last) == word
    assert bench.now.log[0] == first
    bench.do(entries.set_seconds(bench.now, first.id, 25, bench.t))
    assert bench.now.log[-1].seconds == 25
    assert entries.last_act(bench.now).do == "remove"
    with pytest.raises(Refusal):
        entries.set_outcome(bench.now, "e99", "fine", 0)


def test_a_protection_left_on_is_a_finding():
    from oddbolt.reassembly.findings import findings

    bench = Bench()
    bench.do(entries.aid(bench.now, "protective film", True, 1))
    assert entries.protections_on(bench.now) == ["protective film"]
    assert "left-on" in [f.code for f in findings(bench.now)]
    bench.do(entries.aid(bench.now, "protective film", False, 2))
    assert entries.protections_on(bench.now) == []
    with pytest.raises(Refusal):
        entries.aid(bench.now, "foam", False, 3)


def test_another_pass_is_recorded_beside_the_first():
    bench, group, *_ = recorded()
    bench.do(entries.start_pass(bench.now, "2026-03-03T09:00:00+00:00", by="M. Ferring"))
    bench.release(group)
    assert bench.now.log[-1].pass_ == 2 and bench.now.sessions[-1].pass_ == 2
    assert not replay(bench.now, Structure(bench.now), 2).contradictions


def test_a_new_teardown_begins_with_what_its_category_has():
    made = prepare.new_teardown(prepare.Preparation(name="Dunlin 3", category="slate_tablet", by="W. Ansel",
                                                    checked=(("strap", "Strap tested"),)), "2026-03-02T09:00:00+00:00")
    check_references(made)
    assert made.part["base"].name == "Mid frame" and made.part["main-board"].kind == "board"
    assert "spudger" in {tool.id for tool in made.tools} and made.log[0].text == "Strap tested"
    assert prepare.new_teardown(prepare.Preparation(category="unheard of"), "").device.category == "other"


def test_an_earlier_model_gives_its_parts_by_word(example):
    earlier = exchange.from_json(example)
    made = prepare.new_teardown(prepare.Preparation(name="Bench radio 2"), "", earlier)
    check_references(made)
    assert made.joint["cover-screws"].basis == "told" and not made.log and not made.views and made.refit
    assert prepare.tools_of_similar([earlier, earlier])[0] == "ph00"
    assert letters.next_letter(earlier) == "B" and letters.next_letter(made) == "B"


def test_checks_as_one_goes():
    from oddbolt.knowledge.checks import warnings

    bench = Bench()
    found = warnings.on_letter(bench.now, "A")
    assert [(c.code, c.things) for c in found] == [("look-alike", ("B",))]
    assert dict(found[0].figures) == {"A": 3, "B": 5}
    group = bench.screws("A", (1, 1), (2, 2))
    bench.do(marking.unmark(bench.now, "v", 1))
    bench.release(group)
    assert [c.code for c in warnings.on_release(bench.now, group, live=True)] == ["live", "count-short"]
    bench.do(entries.entry(bench.now, "heat", bench.t, value=70, unit="degC"))
    glue = bench.mark("adhesive", type="solvent")
    bench.release(glue)
    assert [c.code for c in warnings.on_release(bench.now, glue, live=False)] == ["solvent-beside-heat"]


def test_a_part_is_marked_before_it_is_lifted(example):
    bench = Bench()
    cell = bench.do(parts.make_part(bench.now, "battery", "v", (9, 9), outline=[(0, 0), (20, 0), (20, 20)]))
    assert bench.now.views[0].marks[0].outline == ((0, 0), (20, 0), (20, 20))
    glue = bench.mark("adhesive", type="pull", part=cell)
    assert bench.now.joint[glue].of == (cell, "base")
    with pytest.raises(Refusal):
        bench.mark("clip", part="base")


def test_views_keep_their_marks_apart():
    bench = Bench()
    bench.do(photos.add_view(bench.now, View(id="w", side="front")))
    group = bench.screws("A", (1, 1))
    bench.do(marking.mark_more(bench.now, "w", group, [(2, 2)]))
    assert bench.now.joint[group].count == 1 and [len(v.marks) for v in bench.now.views] == [1, 1]
