"""What two photographs say came off, in a real window: offered, named, taken, refused; footprints with their edge."""

from __future__ import annotations

import math

import pytest
from PySide6.QtCore import QPoint, QPointF
from PySide6.QtTest import QTest

from oddbolt.instruments.simulated import Stand
from oddbolt.knowledge.said.seen import NEW_OFF
from oddbolt.model.things import Fastener
from oddbolt.paint.drawn_bench.instruments import demo_scene
from oddbolt.paint.drawn_bench.photo import Shot, render
from oddbolt.session.modes import Mode
from oddbolt.session.recording.seeing.proposals import Suggested
from oddbolt.session.verbs.letters import add_fastener
from oddbolt.session.verbs.lifting import mark_and_release
from oddbolt.session.verbs.marking import Kind
from oddbolt.ui.log.pages import LIFT_AS, SEEN
from tests.ui.log_steps import LEFT, SHIFT, K, bench, click, now, press  # noqa: F401 (a fixture)
from tests.ui_fixtures import settle, wait_for

DONE = ("battery-lid-screws", "battery-lid")


def picture(seed, done=(), hand=""):
    scene = demo_scene()
    released = {thing for thing in ("cover-swing", "label-film", *done) if "of" in scene.records[thing]}
    stand = Stand(seed=seed, shift_mm=(0.3 * seed, -0.2 * seed), turn_deg=0.1 * seed, lamp=(0.3, 0.2), brightness=1)
    return render(scene, Shot(released=frozenset(released | {scene.seam}), removed=frozenset(set(done) - released),
                              seed=seed, shift_mm=stand.shift_mm, turn_deg=stand.turn_deg, hand=hand, parallax=True))


@pytest.fixture
def two(bench):  # noqa: F811
    """Two photographs; between them a bracket came off, and two of its three screws can be seen to have gone."""
    states, log = bench.log.states, bench.log
    log.recorder.do(add_fastener, Fastener(id="A", drive="PH", size="00", head_mm=2.5))
    states.side = "back"
    assert states.add("one.jpg", picture(1))
    arrive(bench, picture(2, DONE))
    return bench


def arrive(window, body):
    assert window.log.states.add("next.jpg", body)
    wait_for(lambda: not window.log.seeing.is_looking)
    settle()


def rows(window):
    return [(row.words.text(), row.tick.isChecked()) for row in window.log.seen_page.rows]


def test_it_is_offered_with_pictures_named_by_one_key_and_taken_by_one(two):
    log = two.log
    assert log.above.currentIndex() == SEEN and log.above.tabText(SEEN) == "Seen (2)"
    (heads, ticked), (part, named) = rows(two)
    assert "A: out" in heads and ticked and "its kind" in part and not named
    for row in log.seen_page.rows:
        assert len(row.crops) == 2 and all(not crop.pixmap().isNull() for crop in row.crops)
    assert log.recorder.selection.modes()[0] is Mode.NAMING_SEEN
    press(two, K.Key_B, SHIFT)
    assert rows(two)[1] == ("Bracket came off", True) and log.recorder.selection.modes()[0] is Mode.SEEING
    press(two, K.Key_Return)
    done = [(entry.do, entry.basis) for entry in now(two).log]
    assert done == [("release", "seen"), ("remove", "seen")]
    bracket = now(two).log[-1].thing
    assert [f.of for view in now(two).views for f in view.footprints] == [bracket]
    assert not log.seen_page.rows and log.above.currentIndex() == LIFT_AS
    two.session.undo()
    assert not now(two).log


def test_refused_nothing_is_recorded(two):
    press(two, K.Key_Escape)
    assert not now(two).log and not rows(two) and not two.log.canvas.overlay.seen


def test_a_click_on_its_outline_or_its_line_ticks_it(two):
    spot = two.log.canvas.overlay.seen[0].outline
    x, y = (sum(v) / len(spot) for v in zip(*spot))
    before = rows(two)[0][1]
    under = two.log.canvas.overlay.seen_at(QPointF(x, y))
    click(two, x, y)
    assert rows(two)[under][1] != (before if under == 0 else False)
    two.log.seen_page.rows[0].tick.click()
    two.log.seen_page.take.click()
    settle()
    assert len(now(two).log) <= 2


def test_the_log_goes_on_meanwhile_and_what_is_recorded_is_proposed_no_more(two):
    log, spot = two.log, two.log.seen_acts.shown[1].before
    press(two, K.Key_Delete)  # nothing went there, it is said; then by hand
    x, y = (sum(v) / len(spot) for v in zip(*spot))
    log.lifting.lift_as("bracket", (x, y))
    settle()
    assert [entry.do for entry in now(two).log] == ["remove"]
    assert [text for text, _ in rows(two)] == ["1 × A: out", "what Bracket had covered"]


def test_what_was_suggested_stays_when_something_that_looks_like_it_is_named_otherwise(two):
    acts = two.log.seen_acts
    part = acts.shown[1]
    acts.suggested = Suggested({NEW_OFF: [(part.look, "camera")]})
    acts.refresh()
    assert (acts.shown[1].kind, acts.is_ticked(1)) == ("camera", True)
    acts.suggested = Suggested({NEW_OFF: [(part.look, "motor")]})
    acts.refresh()
    assert acts.shown[1].kind == "camera"
    press(two, K.Key_Escape)
    press(two, K.Key_F11)
    wait_for(lambda: not two.log.seeing.is_looking)
    settle()
    assert acts.shown[1].kind == "motor"  # looked at anew


CELL_OFF = (*DONE, "battery-plug", "cell-glue", "battery")


@pytest.fixture
def cell_off(two):
    """The bracket on record; then the cell came off, and its plug before it, between two photographs."""
    press(two, K.Key_B, SHIFT)
    press(two, K.Key_Return)
    arrive(two, picture(4, CELL_OFF))
    assert [one.wants_kind for one in two.log.seen_acts.shown] == [True, True]
    press(two, K.Key_A, SHIFT)
    press(two, K.Key_B)
    return two


def bonds(window):
    return [(joint, [act.does for act in joint.ways[0].acts] if joint.ways else []) for joint in now(window).joints
            if joint.kind not in ("screw", "connector")]


def test_what_held_a_part_is_proposed_where_no_photograph_shows_it(cell_off):
    texts = [text for text, _ in rows(cell_off)]
    held = texts.index("Cell held by: Pull tab (not seen)")
    assert held == len(texts) - 1 and rows(cell_off)[held][1]  # the others stay where they were
    before = len(now(cell_off).log)
    press(cell_off, K.Key_Return)
    (bond, verbs), = bonds(cell_off)
    entries = now(cell_off).log[before:]
    assert verbs == ["pull"] and now(cell_off).part[bond.of[0]].kind == "battery"
    assert [entry.do for entry in entries][-2:] == ["release", "remove"] and entries[-2].thing == bond.id
    assert entries[-2].basis != "seen" and entries[-1].basis == "seen"  # nobody saw it, somebody let it stand
    cell_off.session.undo()
    assert bonds(cell_off) == [] and len(now(cell_off).log) == before


def test_what_held_it_can_be_named_otherwise_or_refused(cell_off):
    log = cell_off.log
    held = next(n for n, one in enumerate(log.seen_acts.shown) if one.code == "held")
    QTest.mouseClick(log.seen_page.rows[held], LEFT)
    press(cell_off, K.Key_A, SHIFT)
    assert "What held it is a joint" in log.echo.text()
    press(cell_off, K.Key_A)
    assert rows(cell_off)[held][0] == "Cell held by: Glue (not seen)"
    QTest.mouseClick(log.seen_page.rows[held], LEFT)
    press(cell_off, K.Key_Delete)
    assert not any(one.code == "held" for one in log.seen_acts.shown)
    press(cell_off, K.Key_Return)
    assert bonds(cell_off) == [] and now(cell_off).log[-1].do == "remove"


def test_the_tool_of_what_was_named_is_said_by_its_key(cell_off):
    from oddbolt.session.recording.tool_acts import box_of

    log, box = cell_off.log, box_of(now(cell_off))
    press(cell_off, K.Key_F7)
    tool = log.recorder.used.remembered()["board-to-board"]
    assert tool in box and "F7 takes the next" in log.echo.text()
    press(cell_off, K.Key_F7)
    following = log.recorder.used.remembered()["board-to-board"]
    assert following == box[(box.index(tool) + 1) % len(box)]
    press(cell_off, K.Key_Return)
    plug = next(joint for joint in now(cell_off).joints if joint.kind == "connector")
    assert [act.tool for act in plug.ways[0].acts] == [following]


def test_what_was_recorded_by_hand_is_not_proposed_to_have_held_it_too(cell_off):
    log = cell_off.log
    spot = next(one for one in log.seen_acts.shown if one.code == "new-off").middle
    log.recorder.selection.kind = None
    assert any(one.code == "held" for one in log.seen_acts.shown)
    log.recorder.do(mark_and_release, log.seen_acts.pairs[-1].looking.before.id, Kind(joint="adhesive", type="pry"),
                    [spot], log.recorder.t)
    settle()
    assert not any(one.code == "held" for one in log.seen_acts.shown)
    press(cell_off, K.Key_Return)
    (bond, verbs), = bonds(cell_off)
    assert verbs == ["pry"] and now(cell_off).part[bond.of[0]].kind == "battery"


def test_another_photograph_that_is_shown_puts_it_away_and_f11_brings_it_back(two):
    press(two, K.Key_P)
    assert not rows(two)
    press(two, K.Key_N)
    press(two, K.Key_F11)
    wait_for(lambda: not two.log.seeing.is_looking)
    settle()
    assert len(rows(two)) == 2
    press(two, K.Key_P)
    press(two, K.Key_P)
    press(two, K.Key_F11)
    assert "no earlier state" in two.log.echo.text()


def test_what_was_not_taken_waits_over_the_next_photographs(two):
    was = rows(two)
    arrive(two, picture(4, DONE))
    assert rows(two) == was and two.log.canvas.overlay.seen  # nothing went since, and where it was is shown on this one
    arrive(two, picture(5, (*DONE, "battery-plug")))
    assert rows(two)[:2] == was and len(rows(two)) == 3 and len(two.log.canvas.overlay.seen) == 3
    press(two, K.Key_B, SHIFT)
    assert two.log.recorder.selection.modes()[0] is Mode.NAMING_SEEN  # what went after that
    press(two, K.Key_B)
    press(two, K.Key_Return)
    log, views = now(two).log, now(two).views
    assert [entry.do for entry in log] == ["release", "remove", "release"]
    # Each photograph shows what was so when it was taken.
    assert [view.at_entry for view in views[-4:]] == [None, log[1].id, log[1].id, log[2].id]
    two.session.undo()
    assert not now(two).log


def test_whoever_walks_to_an_older_photograph_is_told_what_was_not_taken(two):
    press(two, K.Key_P)
    assert not rows(two)
    press(two, K.Key_N)
    arrive(two, picture(4, DONE))
    assert "1 seen on the photograph before were not taken" in two.log.echo.text() and not rows(two)


def test_where_a_hand_or_another_side_is_seen_nothing_is_proposed(two):
    press(two, K.Key_Escape)
    arrive(two, picture(3, DONE, hand="glove"))
    assert not two.log.seen_acts.shown or all(one.code != "new-off" for one in two.log.seen_acts.shown)
    scene = demo_scene()
    press(two, K.Key_Escape)
    arrive(two, render(scene, Shot(side="front", seed=5)))
    assert not rows(two) and "nothing is proposed" in two.log.seen_page.empty.text()


def test_a_lift_by_hand_gets_its_footprint_by_the_next_photograph_and_its_edge_is_dragged(two):
    log, spot = two.log, two.log.seen_acts.shown[1].before
    x, y = (sum(v) / len(spot) for v in zip(*spot))
    press(two, K.Key_Escape)
    log.lifting.lift_as("bracket", (x, y))
    log.states.show(log.states.views[-2].id)
    log.states.show(log.states.views[-1].id)
    press(two, K.Key_F11)
    wait_for(lambda: not log.seeing.is_looking)
    settle()
    assert any("what Bracket had covered" in text and ticked for text, ticked in rows(two))
    press(two, K.Key_Return)
    ghost = log.canvas.overlay.ghosts[-1]
    marks = [(mark.x, mark.y) for mark in log.states.view.marks]  # a mark comes first where one lies at a corner
    canvas, corner = log.canvas, max(ghost.outline, key=lambda one: min(math.dist(one, mark) for mark in marks))
    start = canvas.mapFromScene(QPointF(*corner))
    QTest.mousePress(canvas.viewport(), LEFT, pos=start)
    QTest.mouseMove(canvas.viewport(), start + QPoint(12, 9))
    QTest.mouseMove(canvas.viewport(), start + QPoint(30, 20))
    QTest.mouseRelease(canvas.viewport(), LEFT, pos=start + QPoint(30, 20))
    settle()
    (after,) = [f for view in now(two).views for f in view.footprints]
    assert after.of == ghost.of and after.outline != ghost.outline and len(after.outline) == len(ghost.outline)


def test_photographs_that_cannot_be_read_and_documents_that_close_do_no_harm(two):
    states = two.log.states
    assert states.add("bad.jpg", b"no picture at all") is False
    assert states.add("last.jpg", picture(9, DONE))  # and the window closes while it is looked at
    assert two.log.seeing.is_looking


def test_the_simulated_hands_go_ahead_and_the_photograph_says_so(bench):  # noqa: F811
    """Whoever has no device on the bench can try it: the camera shows what the record does not know."""
    log, hands = bench.log, bench.bench().hands
    action = next(one for one in bench.menus.records.actions() if one.text().startswith("Simulated"))
    action.trigger()
    assert "undid 3 things" in log.echo.text()
    press(bench, K.Key_V)
    for _ in range(4):
        hands.work(3)
    press(bench, K.Key_V)
    wait_for(lambda: not log.seeing.is_looking)
    hands.work(3)
    press(bench, K.Key_V)
    wait_for(lambda: not log.seeing.is_looking)
    settle()
    assert rows(bench) and not now(bench).log
    while hands.work(3):
        pass
    action.trigger()
    assert "Nothing is left" in log.echo.text() and not now(bench).log


def test_one_key_takes_what_is_ticked_and_photographs_on(two, monkeypatch):
    log = two.log
    page = log.seen_page
    assert page.take_on.isVisible() and page.take_on.isEnabled()
    press(two, K.Key_B, SHIFT)
    views = len(now(two).views)
    drawn = []

    class Camera:
        mm_per_px = None

        def photograph(self, side):
            drawn.append(side)
            return picture(3, DONE)

    monkeypatch.setattr(type(log.states), "camera", Camera())
    press(two, K.Key_Return, SHIFT)
    wait_for(lambda: not log.seeing.is_looking)
    settle()
    assert {e.do for e in now(two).log if e.basis == "seen"} == {"release", "remove"}
    assert drawn == ["back"] and len(now(two).views) == views + 1 and not log.seen_acts.shown
    # Where nothing was seen the key does nothing, and neither does it where all is unticked.
    press(two, K.Key_Return, SHIFT)
    assert len(drawn) == 1


def test_what_is_not_ticked_is_not_photographed_over(two):
    log = two.log
    for n in range(len(log.seen_acts.shown)):
        if log.seen_acts.is_ticked(n):
            QTest.mouseClick(log.seen_page.rows[n].tick, LEFT)
    assert not log.seen_page.take_on.isEnabled() and not log.seen_acts.ticked
    before = now(two)
    press(two, K.Key_Return, SHIFT)
    assert now(two) == before and log.seen_acts.shown
