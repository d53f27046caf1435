"""Whose is what was undone: by place, by one key; what a part had covered; a cover that hangs by any name."""

from __future__ import annotations

import pytest

from oddbolt.knowledge.covering import IN, NOTHING, OUT, RIM_OF_IT, places_of
from oddbolt.knowledge.guesses import Guesses
from oddbolt.model import exchange
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import View
from oddbolt.rules.replay import in_order, readings
from oddbolt.session.modes import Gesture
from oddbolt.session.recording.answering_acts import AnsweringActs
from oddbolt.session.recording.arming_acts import ArmingActs
from oddbolt.session.recording.asked_acts import AskedActs
from oddbolt.session.recording.lifting_acts import LiftingActs
from oddbolt.session.recording.mark_acts import MarkActs
from oddbolt.session.recording.offers import CLOSED, ENOUGH, HANGING, NEEDED, ROLE, SHARED, SWUNG, TELL, WHOSE
from oddbolt.session.recording.recorder import Recorder
from oddbolt.session.recording.tool_acts import ToolActs, box_of
from oddbolt.session.session import Session
from oddbolt.session.verbs.correcting.delete import delete_things
from oddbolt.session.verbs.footprints import set_footprint
from oddbolt.session.verbs.joints import tie
from oddbolt.session.verbs.photos import add_view
from oddbolt.store.document import Document


def blank():
    return exchange.from_json({
        "format": "oddbolt-teardown", "version": 1, "device": {"base": "tray", "name": "Dunlin box"},
        "fasteners": [{"id": "A", "drive": "PH", "size": "00"}],
        "parts": [{"id": "tray", "kind": "frame"}, {"id": "main-board", "kind": "board", "basis": "assumed"}],
        "views": [{"id": "v", "side": "back", "photo": "v.jpg", "mm_per_px": 0.1}]})


class Bench:
    """The recorder as the window uses it, on a photograph of 10 px for a mm."""

    def __init__(self, path) -> None:
        self.session = Session(Document.create(path, blank()))
        self.said: list[str] = []
        self.recorder = Recorder(self.session)
        for acts in (LiftingActs, ArmingActs, MarkActs, AskedActs, AnsweringActs, ToolActs):
            acts(self.recorder)
        self.recorder.tell.said = lambda code, **_: self.said.append(code)
        self.recorder.selection.view = "v"
        self.do(Gesture.UNDO_TOO)

    def do(self, gesture, **what):
        return self.recorder.gesture(gesture, **what)

    @property
    def now(self):
        return self.session.teardown

    def screws(self, *spots):
        if self.recorder.selection.kind is None or self.recorder.selection.kind.letter != "A":
            self.do(Gesture.LETTER, letter="A", part="")
        else:
            self.do(Gesture.NEW_GROUP)
        for spot in spots:
            self.do(Gesture.CLICK_BESIDE, spot=spot)
        joint = self.recorder.selection.thing
        self.do(Gesture.RELEASE, way=0)
        return joint

    def one(self, kind, spot):
        before = set(self.now.joint)
        while set(self.now.joint) == before:
            armed = self.recorder.selection.kind
            self.do(Gesture.KIND, kind=kind, spot=spot, place=None) if armed is None or armed.letter \
                else self.do(Gesture.CLICK_BESIDE, spot=spot)
        self.recorder.arm(None)
        return next(iter(set(self.now.joint) - before))

    def lift(self, kind, spot):
        self.do(Gesture.LIFT_AS, kind=kind, spot=spot)
        return self.now.log[-1].thing

    def owner(self, joint):
        return self.now.joint[joint].of[0]


@pytest.fixture
def bench(tmp_path):
    return Bench(tmp_path / "one.oddbolt")


def test_screws_of_two_parts_undone_in_a_row_go_to_the_part_that_they_surround(bench):
    left = bench.screws((100, 100), (200, 100), (200, 200), (100, 200))
    right = bench.screws((700, 100), (800, 100), (800, 200), (700, 200))
    second = bench.lift("bracket", (750, 150))  # in another order than they were undone
    first = bench.lift("bracket", (150, 150))
    assert (bench.owner(left), bench.owner(right)) == (first, second) and first != second


LEFT_FOUR, RIGHT_THREE = ((100, 100), (200, 100), (200, 200), (100, 200)), ((700, 100), (800, 100), (750, 200))


def test_one_group_of_screws_of_two_parts_goes_to_both(bench):
    """One search marks all that are alike, whatever they hold."""
    group = bench.screws(*LEFT_FOUR, *RIGHT_THREE)
    speaker = bench.lift("speaker", (150, 140))
    assert (bench.owner(group), bench.now.joint[group].count) == (speaker, 4)
    rest, = (joint for joint in bench.now.joints if joint.kind == "screw" and joint.id != group)
    assert rest.count == 3 and bench.owner(rest.id) != speaker
    assert {(m.x, m.y) for m in bench.now.views[0].marks if m.thing == rest.id} == set(RIGHT_THREE)
    assert [(one.code, one.choice) for one in bench.recorder.offered] == [(SHARED, rest.id)]
    second = bench.lift("speaker", (750, 140))  # going on is an answer too
    assert second != speaker and bench.owner(rest.id) == second
    released = [entry.things or (entry.thing,) for entry in readings(bench.now) if entry.do == "release"]
    assert {joint for one in released for joint in one} == {group, rest.id}


def test_screws_are_told_apart_on_every_photograph_that_shows_them(bench):
    """The marks were carried on to the next photograph, where one screw cannot be seen, before the part came off."""
    group = bench.screws(*RIGHT_THREE, *LEFT_FOUR)
    marks = bench.now.views[0].marks
    later = View(id="w", side="back", photo="w.jpg", mm_per_px=0.1, marks=(marks[1], *marks[3:]))
    bench.session.do(add_view, later)
    bench.recorder.selection.view = "w"
    bench.lift("speaker", (150, 140))
    rest = next(joint.id for joint in bench.now.joints if joint.id != group)
    for view, known in ((bench.now.view["v"], 3), (bench.now.view["w"], 1)):
        spots = {(m.x, m.y): m.n for m in view.marks if m.thing == rest}
        assert set(spots) <= set(RIGHT_THREE) and len(spots) == known
        assert spots[RIGHT_THREE[1]] == 2
        assert sorted(m.n for m in view.marks if m.thing == group) == [1, 2, 3, 4]


def test_all_of_the_group_was_its_own(bench):
    group = bench.screws(*LEFT_FOUR, *RIGHT_THREE)
    speaker = bench.lift("speaker", (150, 140))
    assert bench.do(Gesture.ANSWER_1)
    assert [(joint.id, joint.count) for joint in bench.now.joints] == [(group, 7)] and bench.owner(group) == speaker
    assert SHARED not in [one.code for one in bench.recorder.offered]
    bench.session.undo()
    assert len(bench.now.joints) == 2


@pytest.mark.parametrize(("kind", "spots", "at"), [
    ("bracket", ((100, 100), (300, 100)), (200, 100)),  # one at each end
    ("bracket", ((100, 100), (100, 150), (600, 100), (600, 150)), (350, 125)),  # two at each end, pointed at between
    ("speaker", ((100, 100), (200, 100), (300, 100), (300, 200), (200, 200), (100, 200)), (120, 150)),
    ("board", (*LEFT_FOUR, *RIGHT_THREE), (150, 140)),  # screws lie all over a board
    ("cover", (*LEFT_FOUR, *RIGHT_THREE), (150, 140)),
    ("speaker", (*LEFT_FOUR, (700, 100)), (150, 140))])  # a single one elsewhere may be its own
def test_a_group_that_is_not_told_apart_stays_one(bench, kind, spots, at):
    group = bench.screws(*spots)
    part = bench.lift(kind, at)
    assert bench.owner(group) == part and bench.now.joint[group].count == len(spots)


def test_what_a_person_said_of_a_group_is_not_told_apart(bench):
    group = bench.screws(*LEFT_FOUR, *RIGHT_THREE)
    board = bench.lift("board", (500, 150))
    bench.session.do(tie, group, 0, "main-board")
    bench.lift("speaker", (150, 140))
    assert bench.now.joint[group].count == 7 and board != "main-board"


def test_screws_that_went_with_another_are_given_back_as_they_lie(bench):
    """The first was pointed at beside its screws and took all; the second says what held it."""
    group = bench.screws(*LEFT_FOUR, *RIGHT_THREE)
    first = bench.lift("speaker", (450, 150))
    second = bench.lift("speaker", (750, 140))
    assert bench.recorder.offered[0].choice == group and bench.do(Gesture.ANSWER_1)
    rest, = (joint.id for joint in bench.now.joints if joint.id != group)
    assert (bench.owner(group), bench.now.joint[group].count) == (first, 4)
    assert (bench.owner(rest), bench.now.joint[rest].count) == (second, 3)


def test_three_parts_one_after_the_other(bench):
    third = ((100, 600), (200, 600), (150, 680))
    bench.screws(*LEFT_FOUR, *RIGHT_THREE, *third)
    parts = [bench.lift("speaker", at) for at in ((750, 140), (150, 640), (150, 150))]
    assert sorted((parts.index(joint.of[0]), joint.count) for joint in bench.now.joints) == [(0, 3), (1, 3), (2, 4)]


def test_a_screw_far_from_what_is_lifted_waits_for_its_own_part(bench):
    board = bench.screws((900, 600))
    bench.one("film", (100, 100))
    lens = bench.lift("lens", (100, 110))
    assert bench.owner(board) != lens
    assert bench.owner(board) == bench.lift("bracket", (890, 610))


def test_whoever_works_part_by_part_needs_to_say_nothing(bench):
    plug = bench.one("board-to-board", (100, 100))
    group = bench.screws((700, 600), (800, 600))
    speaker = bench.lift("speaker", (750, 620))  # its plug is at the other end of the device
    assert bench.owner(plug) == bench.owner(group) == speaker


def test_plugs_of_several_owners_in_a_row_are_open_until_somebody_says_whose(bench):
    plugs = [bench.one("board-to-board", spot) for spot in ((100, 100), (300, 100), (500, 100))]
    assert [offer.choice for offer in bench.recorder.offered] == ["battery", "display", "camera", "port"]
    assert all(offer.code == WHOSE and offer.about == plugs[-1] for offer in bench.recorder.offered)
    assert bench.do(Gesture.ANSWER_3)
    camera = bench.owner(plugs[-1])
    assert bench.now.part[camera].kind == "camera" and camera not in {e.thing for e in bench.now.log}
    assert bench.recorder.offered == () and not bench.do(Gesture.ANSWER_1) and bench.said[-1] == "nothing-offered"
    bench.recorder.choose(plugs[0])
    assert bench.do(Gesture.WHOSE) and bench.do(Gesture.LIFT_AS, kind="battery")
    cell = bench.owner(plugs[0])
    assert bench.now.part[cell].kind == "battery" and bench.now.joint[plugs[0]].isolates is True
    far = bench.lift("motor", (900, 700))
    assert bench.owner(plugs[1]) != far  # nobody near: it stays open
    assert bench.lift("camera", (520, 140)) == camera and bench.lift("battery", (800, 700)) == cell
    bench.session.undo()
    assert cell not in bench.session.derived.state.removed


def test_a_second_thing_of_a_kind_is_a_second_thing(bench):
    plugs = [bench.one("board-to-board", spot) for spot in ((100, 100), (600, 100))]
    for plug in plugs:
        bench.recorder.choose(plug)
        bench.do(Gesture.WHOSE)
        bench.do(Gesture.LIFT_AS, kind="camera")
    first, second = map(bench.owner, plugs)
    assert first != second
    assert bench.lift("camera", (590, 150)) == second and bench.lift("camera", (110, 150)) == first


def test_a_cover_that_hangs_is_told_from_what_lies_in_it(bench):
    """What is lifted within it is another part; its own plug finds it; and one question is asked when it comes off."""
    glue = bench.one("glue", (500, 100))
    bench.do(Gesture.SWING, spot=(500, 400))
    cover = bench.recorder.selection.thing
    board = bench.screws((300, 300), (360, 300), (360, 360))
    shield = bench.lift("cover", (330, 330))  # a cover, but not the one that hangs
    assert shield != cover and bench.owner(board) == shield and bench.owner(glue) == cover
    plug = bench.one("zif", (200, 500))
    bench.recorder.choose(plug)
    bench.do(Gesture.WHOSE)
    bench.do(Gesture.LIFT_AS, kind="cover")
    assert bench.owner(plug) == cover
    assert bench.lift("cover", (500, 420)) == cover
    assert [(o.code, o.choice) for o in bench.recorder.offered] == [(HANGING, ENOUGH), (HANGING, NEEDED)]
    assert bench.do(Gesture.ANSWER_1)
    under = bench.one("film", (600, 600))
    assert cover not in {x for names in bench.now.joint[under].behind for x in names}


def square(left, top, right, bottom):
    return (left, top), (right, top), (right, bottom), (left, bottom)


def test_what_a_part_had_covered_tells_what_it_hid(bench):
    bench.screws((100, 100), (400, 100), (400, 400), (100, 400))
    cover = bench.lift("cover", (250, 250))
    assert bench.do(Gesture.FOOTPRINT) and bench.recorder.selection.covering == cover
    bench.do(Gesture.DRAW_ROUND, corners=square(50, 50, 450, 450), places=())
    assert bench.recorder.selection.covering == "" and bench.now.view["v"].footprints[0].of == cover
    inside, outside = bench.one("board-to-board", (250, 260)), bench.one("board-to-board", (900, 700))
    places = places_of(bench.now)
    assert (places.under(cover, inside), places.under(cover, outside)) == (IN, OUT)
    assert bench.now.joint[inside].behind == ((cover,),) and bench.now.joint[outside].behind == ()
    rim = bench.one("zif", (452, 250))
    assert places_of(bench.now).under(cover, rim) == RIM_OF_IT
    guesses = Guesses(bench.now)
    odds = [guesses.guess(thing).odds.get(cover, 0) for thing in (inside, rim, outside)]
    assert odds == sorted(odds, reverse=True) and odds[0] > 0.9 and odds[2] < 0.3


def test_drawn_again_it_is_replaced_and_nothing_on_purpose_counts_too(bench):
    bench.screws((100, 100), (400, 400))
    cover = bench.lift("cover", (250, 250))
    bench.do(Gesture.FOOTPRINT)
    bench.do(Gesture.DRAW_ROUND, corners=square(50, 50, 450, 450), places=())
    bench.do(Gesture.FOOTPRINT)
    bench.do(Gesture.DRAW_ROUND, corners=square(50, 50, 200, 200), places=())
    assert len(bench.now.view["v"].footprints) == 1
    bench.do(Gesture.COVERED_NOTHING)
    assert bench.now.view["v"].footprints[0].outline == ()
    plug = bench.one("zif", (250, 250))
    assert places_of(bench.now).under(cover, plug) == NOTHING and bench.now.joint[plug].behind == ()
    bench.session.undo()
    bench.session.undo()
    assert bench.now.view["v"].footprints[0].outline != ()
    assert not delete_things(bench.now, [cover]).teardown.view["v"].footprints
    with pytest.raises(Refusal):
        set_footprint(bench.now, "nowhere", cover, ())


def test_nothing_was_lifted_yet(bench):
    assert bench.do(Gesture.FOOTPRINT) is False and bench.said[-1] == "nothing-lifted"
    assert bench.do(Gesture.COVERED_NOTHING) is False and bench.do(Gesture.WHOSE) is False
    assert bench.said[-1] == "choose-plug-whose"


def test_clips_wait_for_the_screws_of_their_own_part(bench):
    group = bench.screws((100, 100), (400, 100), (400, 400))
    clips = bench.one("clip", (250, 100))
    assert bench.owner(clips) == bench.owner(group)
    assert bench.now.joint[clips].behind == ((group,),)


def test_a_film_hides_what_is_done_next_and_nothing_else(bench):
    film = bench.one("film", (700, 600))
    bench.lift("foam", (700, 600))
    first, second = bench.one("zif", (100, 100)), bench.one("zif", (300, 100))
    behind = [{x for names in bench.now.joint[j].behind for x in names} for j in (first, second)]
    assert film not in behind[1]


def test_a_cover_that_came_off_as_if_by_itself_asks_what_held_it(bench):
    bench.one("film", (700, 600))
    cover = bench.lift("cover", (500, 400))
    assert [offer.choice for offer in bench.recorder.offered] == ["clip", "glue", "screw"]
    assert bench.do(Gesture.ANSWER_1)
    clips = bench.now.joints[-1]
    assert (clips.kind, clips.of[0]) == ("clip", cover)
    order = [(entry.do, entry.thing) for entry in in_order(bench.now)]
    assert order.index(("release", clips.id)) < order.index(("remove", cover))
    assert bench.session.derived.performed.obstacles == ()  # by the record it could come off then
    bench.session.undo()
    assert cover in bench.session.derived.state.removed and clips.id not in bench.now.joint
    plate = bench.lift("bracket", (100, 100))
    assert [offer.choice for offer in bench.recorder.offered] == ["screw", "clip", "glue"]
    bench.do(Gesture.ANSWER_1)
    assert bench.now.joints[-1].fastener == "A" and bench.now.joints[-1].of[0] == plate
    bench.lift("gasket", (900, 700))
    assert bench.recorder.offered == ()  # what is small and lies loose is not asked about


def test_a_second_swing_is_the_same_cover_opening_further(bench):
    bench.one("glue", (500, 100))
    bench.do(Gesture.SWING, spot=(500, 400))
    cover = bench.recorder.selection.thing
    plug = bench.one("zif", (300, 300))
    bench.do(Gesture.WHOSE)
    bench.do(Gesture.LIFT_AS, kind="cover")
    bench.do(Gesture.SWING, spot=(500, 420))
    swings = [joint for joint in bench.now.joints if joint.kind == "swing"]
    assert [joint.of[0] for joint in swings] == [cover, cover] and bench.owner(plug) == cover
    assert plug in swings[1].behind[0] and swings[0].id in swings[1].behind[0] and plug not in swings[0].behind[0]


def test_the_plug_at_the_far_end_of_a_cable_leads_to_the_board_that_lies_there(bench):
    near = [bench.one("board-to-board", spot) for spot in ((200, 100), (300, 100), (400, 120))]
    far = bench.one("board-to-board", (420, 900))
    board = bench.lift("port", (400, 950))
    assert bench.now.joint[far].of[1] == board or bench.owner(far) == board
    assert all(board not in bench.now.joint[plug].of for plug in near)


def test_what_was_drawn_as_covered_claims_the_screws_that_another_took(bench):
    bench.screws((100, 100), (900, 100), (900, 700), (100, 700))
    bench.lift("cover", (500, 400))
    board = bench.screws((300, 300))  # of the board, undone with those of a camera beside it
    camera = bench.lift("camera", (310, 330))
    assert bench.owner(board) == camera
    lifted = bench.lift("board", (420, 400))
    bench.do(Gesture.DRAW_COVERED, corners=square(250, 250, 600, 600))
    assert bench.owner(board) == lifted
    bench.session.undo()
    assert bench.owner(board) == camera  # with the drawing it is taken back


def test_what_a_person_said_and_what_opened_the_device_is_not_claimed_by_a_drawing(bench):
    rim = bench.screws((100, 100), (900, 100), (900, 700), (100, 700))
    cover = bench.lift("cover", (500, 400))
    foam = bench.lift("foam", (800, 600))
    one = bench.screws((300, 300))
    camera = bench.lift("camera", (310, 330))
    bench.session.do(tie, one, 0, foam)
    bench.session.do(tie, one, 0, camera)  # a person says whose it is
    board = bench.lift("board", (420, 400))
    bench.do(Gesture.DRAW_COVERED, corners=square(50, 50, 950, 750))
    assert bench.owner(rim) == cover and bench.owner(one) == camera != board


def test_a_bond_parted_as_those_of_cells_waits_for_the_cell(bench):
    bench.screws((100, 100), (900, 100), (900, 700), (100, 700))
    bench.lift("cover", (500, 400))
    tab = bench.one("tab", (300, 300))
    motor = bench.lift("motor", (310, 310))
    assert bench.owner(tab) != motor
    assert bench.owner(tab) == bench.lift("battery", (600, 500))
    bench.one("tab", (300, 300))
    assert bench.owner(bench.now.joints[-1].id) == bench.lift("speaker", (310, 310))  # the cell is off


def test_a_plug_lies_behind_one_plate_the_one_that_it_lies_furthest_within(bench):
    bench.screws((100, 100), (900, 100), (900, 700), (100, 700))
    bench.lift("cover", (500, 400))
    left = bench.screws((200, 200), (300, 200))
    first = bench.lift("bracket", (250, 200))
    bench.do(Gesture.DRAW_COVERED, corners=square(180, 170, 340, 260))
    right = bench.screws((380, 200), (480, 200))
    second = bench.lift("bracket", (430, 200))
    bench.do(Gesture.DRAW_COVERED, corners=square(300, 170, 500, 260))  # drawn a little over the first
    assert (bench.owner(left), bench.owner(right)) == (first, second)
    plug, other = bench.one("zif", (225, 215)), bench.one("zif", (420, 215))
    far = bench.one("zif", (800, 600))
    behind = {x: {y for names in bench.now.joint[x].behind for y in names} & {first, second}
              for x in (plug, other, far)}
    assert behind == {plug: {first}, other: {second}, far: set()}
    bench.recorder.choose(first)
    bench.session.do(set_footprint, "v", first, ())  # it covered nothing, somebody says
    assert {y for names in bench.now.joint[plug].behind for y in names} & {first, second} == set()


def test_the_second_swing_is_that_of_the_screen_though_a_tray_waits(bench):
    bench.one("slide", (20, 400))
    bench.screws((100, 700), (900, 700))
    bench.do(Gesture.SWING, spot=(500, 400))
    screen = bench.recorder.selection.thing
    bench.one("clip", (500, 100))
    bench.do(Gesture.SWING, spot=(500, 420))
    assert [joint.of[0] for joint in bench.now.joints if joint.kind == "swing"] == [screen, screen]
    assert bench.owner("slide-1") != screen


# -- what a lift and a swing ask

def codes(bench):
    return [(offer.code, offer.choice) for offer in bench.recorder.offered]


def test_a_group_that_is_marked_and_still_closed_is_not_left_behind_without_a_word(bench):
    bench.do(Gesture.UNDO_TOO)  # marking only
    bench.do(Gesture.LETTER, letter="A", part="")
    for spot in ((100, 100), (200, 100), (200, 200)):
        bench.do(Gesture.CLICK_BESIDE, spot=spot)
    group = bench.recorder.selection.thing
    bench.recorder.put_down()
    bench.recorder.choose("")
    plate = bench.lift("bracket", (150, 150))
    assert codes(bench)[0] == (CLOSED, group)
    assert bench.do(Gesture.ANSWER_1)
    done = [(entry.do, entry.thing) for entry in in_order(bench.now) if entry.do in ("release", "remove")]
    assert done == [("release", group), ("remove", plate)] or bench.owner(group) == plate
    assert bench.owner(group) == plate and group in {e.thing for e in bench.now.log if e.do == "release"}


def test_two_cameras_are_told_apart_once_and_the_first_gets_the_other_role(bench):
    first = bench.lift("camera", (100, 100))
    assert bench.now.part[first].role == ("rear_camera",) and codes(bench) == [(TELL, TELL)]
    second = bench.lift("camera", (600, 100))
    assert codes(bench) == [(ROLE, "rear_camera"), (ROLE, "front_camera"), (ROLE, "none")]
    assert bench.do(Gesture.ANSWER_1)
    assert bench.now.part[second].role == ("rear_camera",) and bench.now.part[first].role == ("front_camera",)
    assert "role" in bench.now.part[second].said and codes(bench) == [(TELL, TELL)]  # the next question, nothing twice
    third = bench.lift("camera", (300, 500))
    assert bench.now.part[third].role == () and bench.do(Gesture.ANSWER_3)
    assert bench.now.part[third].role == () and "role" in bench.now.part[third].said


def test_what_hangs_may_be_something_else_than_a_cover(bench):
    bench.screws((100, 100), (900, 100), (900, 700), (100, 700))
    bench.do(Gesture.SWING, spot=(500, 400))
    assert codes(bench) == [(SWUNG, "cover"), (SWUNG, "display"), (SWUNG, "main board")]
    part = bench.recorder.offered[0].about
    assert bench.do(Gesture.ANSWER_2)
    assert bench.now.part[part].kind == "display" and bench.now.part[part].role == ("display",)
    bench.one("film", (200, 200))
    bench.do(Gesture.SWING, spot=(500, 400))
    assert bench.recorder.offered == ()  # it opens further; nobody is asked again


# -- with what, and how it is left: one key

def test_one_key_takes_the_next_tool_for_the_act_just_done_and_it_is_remembered(bench):
    plug = bench.one("zif", (100, 100))
    box = box_of(bench.now)
    assert "hand" in box and len(box) > 3
    for tool in (*box[1:], *box[:1]):  # round once
        assert bench.do(Gesture.NEXT_TOOL)
        assert bench.now.joint[plug].ways[0].acts[-1].tool == tool and bench.said[-1] == "tool-now"
    bench.do(Gesture.NEXT_TOOL)
    second = bench.one("zif", (300, 100))
    assert bench.now.joint[second].ways[0].acts[-1].tool == box[1]  # of its kind and type
    motor = bench.lift("motor", (200, 200))
    assert bench.do(Gesture.NEXT_TOOL) and bench.now.part[motor].tool != "hand"  # a lift has one too


def test_a_bond_remembers_its_tool_for_its_way_of_parting(bench):
    bench.do(Gesture.KIND, kind="glue", spot=None, place=None)
    bench.do(Gesture.CLICK_BESIDE, spot=(100, 100))
    bench.do(Gesture.NEXT_TOOL)
    tool = bench.now.joint[bench.recorder.selection.thing].ways[0].acts[-1].tool
    bench.do(Gesture.CLICK_BESIDE, spot=(400, 400))
    assert bench.now.joint[bench.recorder.selection.thing].ways[0].acts[-1].tool == tool


def test_screws_have_the_driver_of_their_letter_and_nothing_done_has_no_tool(bench):
    assert not bench.do(Gesture.NEXT_TOOL) and not bench.do(Gesture.REUSE)
    bench.screws((100, 100), (200, 100))
    assert not bench.do(Gesture.NEXT_TOOL) and bench.said[-1] == "no-tool-to-change"


def test_how_a_fixing_is_left_goes_round_by_one_key(bench):
    film = bench.one("film", (100, 100))
    first = bench.now.joint[film].ways[0].reuse if bench.now.joint[film].ways else ""
    seen = []
    for _ in range(3):
        assert bench.do(Gesture.REUSE)
        seen.append(bench.now.joint[film].ways[0].reuse)
    assert sorted(seen) == ["destroyed", "renew", "reusable"] and (not first or seen[-1] == first)
