"""Rehearse through the real window: the demo taken apart and put back by a learner, questions, the sheet on paper."""

from __future__ import annotations

import json
from datetime import date, timedelta

import pypdfium2
import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from oddbolt.rehearsing.questions import questions_of
from oddbolt.store.by_name import path_of
from oddbolt.store.learners import FOLDER, read_learner
from oddbolt.ui.rehearse.apart_page import THING
from oddbolt.ui.rehearse.panel import APART, AT_ONCE, BACK, FAULT, NAME
from oddbolt.words.names import name_of, tool_name
from oddbolt.words.rehearsing import option_text
from tests.ui.log_steps import K
from tests.ui_fixtures import settle

LEARNER = "Tern"


@pytest.fixture(autouse=True)
def own_folders(monkeypatch, tmp_path):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "xdg-data"))


@pytest.fixture
def room(demo):
    demo.show_workspace("rehearse")
    settle()
    QTest.keyClicks(demo.rehearse.learner.lineEdit(), LEARNER)
    return demo.rehearse


def begin(room, exercise, part="battery"):
    room.exercise.setCurrentIndex(room.exercise.findData(exercise))
    room.part.setCurrentIndex(room.part.findData(part))
    QTest.mouseClick(room.begin, Qt.MouseButton.LeftButton)


def said(page):
    return page.said.item(0).text()


def in_hand(page):
    return page.things.currentItem().data(THING)


def with_tool(page, tool):
    page.tool.setCurrentIndex(page.tool.findData(tool))
    QTest.mouseClick(page.undo, Qt.MouseButton.LeftButton)


# -- apart

def test_the_cell_is_taken_out_on_the_photographs_and_each_choice_is_judged(room, demo):
    before = demo.session.document.teardown
    begin(room, APART)
    page, teardown = room.apart, demo.session.teardown
    assert page.task.text() == "Take Cell out" and page._view.id == "s0-back"

    page.choose("battery")
    with_tool(page, "hand")
    assert "it is still behind" in said(page)
    page.choose("cover-seam")
    with_tool(page, "hand")
    assert said(page).startswith(f"{name_of(teardown, 'cover-seam')}: not with bare hand; it is undone with ")
    with_tool(page, page.rehearsal.tools_of("cover-seam")[0])
    assert ": done" in said(page) and "Glass may break" in said(page)  # the caution comes with the act

    seen = {page._view.id}
    while not page.rehearsal.is_there:
        for _ in range(3):
            QTest.mouseClick(page.hint, Qt.MouseButton.LeftButton)
        thing = page.rehearsal.helping()[0]
        assert said(page).startswith(f"{name_of(teardown, thing)}") and "with" in said(page)
        marks = [mark for mark in page._view.marks if mark.thing == thing]
        if marks:  # a tap on the photograph takes it in hand
            page.things.setCurrentRow(-1)
            for _ in range(4):  # again: the next of what is marked there
                QTest.mouseClick(page.photo, Qt.MouseButton.LeftButton, pos=page.photo.spot(marks[0]).toPoint())
                if in_hand(page) == thing:
                    break
        else:
            page.choose(thing)
        assert in_hand(page) == thing
        with_tool(page, page.rehearsal.hint(3).tool)  # of several ways that of the best
        seen.add(page._view.id)
    assert {"s0-back", "s1-back"} <= seen  # the photograph follows
    marks = page.rehearsal.marks()
    assert marks.steps == marks.best == page.rehearsal.best.count.steps
    assert marks.too_early == marks.wrong_tool == 1 and marks.hints and not marks.torn
    assert said(page).startswith(f"It is out. {marks.steps} steps; the best is {marks.best}")
    assert not page.undo.isEnabled()
    (kept,) = read_learner(LEARNER).rounds
    assert (kept.exercise, kept.steps, kept.best) == (APART, marks.steps, marks.best)
    assert demo.session.document.teardown == before  # nothing of the record changed


def test_what_is_searched_for_is_tried_by_return_alone(room):
    begin(room, APART)
    page = room.apart
    QTest.keyClicks(page.search, "tray latch")
    assert page.things.count() >= 1
    page.things.setCurrentRow(0)
    thing = in_hand(page)
    page.tool.setCurrentIndex(page.tool.findData(page.rehearsal.tools_of(thing)[0]))
    page.things.setFocus()
    QTest.keyClick(page.things, K.Key_Return)
    assert len(page.rehearsal.judged) == 1 and "it was not needed" in said(page)


def test_without_a_name_nothing_is_kept_and_it_says_so(room):
    room.learner.setEditText("")
    begin(room, APART, "card-tray")
    page = room.apart
    while not page.rehearsal.is_there:
        page.choose(page.rehearsal.helping()[0])
        with_tool(page, page.rehearsal.tools_of(in_hand(page))[0])
    assert room.echo.text() == "Not kept: no learner is named"


# -- back

def test_putting_back_closes_over_nothing_and_asks_for_torques(room, demo):
    begin(room, BACK)
    page = room.back
    putting = page.putting
    assert page.things.count() == len(putting.off)
    order = list(reversed([one.part or one.joint for one in demo.session.derived.planner.plan(["battery"]).sequence]))
    order = list(dict.fromkeys(order))

    def put(thing):
        for n in range(page.things.count()):
            if page.things.item(n).data(THING) == thing:
                page.things.setCurrentRow(n)
        QTest.mouseClick(page.put, Qt.MouseButton.LeftButton)

    put("cover-seam")  # much too early
    assert "it would close over" in said(page) or "it cannot go in before" in said(page)
    assert not putting.is_closed
    asked = 0
    for thing in order:
        put(thing)
        if page._asked:
            told = putting.torques[thing]
            answer = told * 3 if asked == 0 else told * 1.05
            QTest.keyClicks(page.torque, f"{answer:g}")
            QTest.keyClick(page.torque, K.Key_Return)
            asked += 1
            newest = [page.said.item(n).text() for n in range(3)]
            assert any(text.startswith("No: the instruction says" if asked == 1 else "Right:") for text in newest)
    assert putting.is_closed and said(page).startswith("Closed. 1 wrong choices")
    (kept,) = read_learner(LEARNER).rounds
    assert kept.exercise == BACK and kept.asked == len(order) + 1 + asked
    assert kept.asked - kept.right == 1 + (1 if asked else 0)


# -- questions

def test_questions_are_answered_by_keys_and_what_was_wrong_comes_first(room, demo):
    begin(room, NAME)
    page, wrong = room.cards, []
    assert not room.part.isEnabled()
    for n in range(AT_ONCE):
        one = page.question
        answer = (one.right + 1) % len(one.options) if n % 3 == 0 else one.right
        QTest.keyClick(page, K.Key_1 + answer)
        text = page.verdict.text()
        if answer != one.right:
            wrong.append(one.id)
            assert text == f"No: {option_text(one, one.options[one.right])}."
        else:
            assert text == "Right."
        QTest.keyClick(page.next, K.Key_Space)
    assert page.question is None and f"{AT_ONCE - len(wrong)} of {AT_ONCE} right" in page.task.text()
    learner = read_learner(LEARNER)
    today = demo.session.now().date()
    assert {id_ for id_, card in learner.cards.items() if card.box == 1 and id_ in wrong} == set(wrong)
    every = [one.id for one in questions_of(demo.session.teardown)]
    assert not set(learner.cards) & set(learner.due(every, today))  # a day later at the earliest
    tomorrow, after = (learner.due(every, today + timedelta(days=n)) for n in (1, 2))
    assert tomorrow[:len(wrong)] == sorted(wrong) and not set(tomorrow[len(wrong):]) & set(learner.cards)
    assert after[:len(wrong)] == sorted(wrong) and set(after[:len(learner.cards)]) == set(learner.cards)


def test_a_way_with_a_fault_is_shown_and_each_answer_is_checked(room):
    begin(room, FAULT)
    page, asked = room.cards, 0
    while page.question is not None:
        assert page.way.item(0).text().startswith("1. ") and page.way.count() == len(page.question.way)
        QTest.keyClick(page, K.Key_1 + page.question.right)
        assert page.verdict.text() == "Right."
        QTest.keyClick(page.next, K.Key_Space)
        asked += 1
    assert asked and read_learner(LEARNER).rounds[0].right == asked


# -- files

@pytest.mark.parametrize("body", [
    b"", b"[]", b"null", b"{}", b'{"format": "oddbolt-learner", "version": 2}', b"\xff\xfe", b"[" * 50_000,
    json.dumps({"format": "oddbolt-learner", "version": 1, "cards": {"a": [9, "2026-01-01"]}, "rounds": []}).encode(),
    json.dumps({"format": "oddbolt-learner", "version": 1, "cards": {}, "rounds": [{"day": "2026-01-01"}]}).encode()])
def test_a_file_that_is_none_of_a_learner_is_left_as_it_was(room, body):
    path = path_of(FOLDER, LEARNER)
    path.parent.mkdir(parents=True)
    path.write_bytes(body)
    begin(room, NAME)
    page = room.cards
    assert page.question is not None
    QTest.keyClick(page, K.Key_1)
    assert "this is no file of a learner" in room.echo.text()
    assert path.read_bytes() == body


def test_a_name_that_is_none_of_a_file_is_refused(room, tmp_path):
    room.learner.setEditText("../tern")
    begin(room, NAME)
    QTest.keyClick(room.cards, K.Key_1)
    assert room.echo.text() and not list(tmp_path.rglob("tern*"))


def test_the_day_of_a_card_is_kept(room, demo):
    begin(room, NAME)
    QTest.keyClick(room.cards, K.Key_1)
    data = json.loads(path_of(FOLDER, LEARNER).read_bytes())
    (row,) = data["cards"].values()
    assert date.fromisoformat(row[1]) == demo.session.now().date()


# -- on paper

def test_the_sheet_asks_and_its_solution_answers(room, demo, tmp_path):
    begin(room, APART)
    sheet, solution = tmp_path / "sheet.pdf", tmp_path / "sheet-solution.pdf"
    room.write_paper(sheet)
    assert "Written to" in room.echo.text()

    def read(path):
        pdf = pypdfium2.PdfDocument(path)
        text = " ".join(" ".join(page.get_textpage().get_text_range().split()) for page in pdf)
        pictures = sum(one.type == pypdfium2.raw.FPDF_PAGEOBJ_IMAGE for page in pdf for one in page.get_objects())
        pdf.close()
        return text, pictures

    asked, pictures = read(sheet)
    solved, _ = read(solution)
    teardown, planner = demo.session.teardown, demo.session.derived.planner
    plan = planner.plan(["battery"])
    assert "Write down what is undone, in order" in asked and f"{plan.count.steps} steps" not in asked
    assert f"{plan.count.steps} steps" in solved
    for operation in plan.sequence:  # the whole way stands in the solution
        assert name_of(teardown, operation.part or operation.joint) in solved
    tool = planner.structure.releases["cover-seam"].ways[0].acts[-1].tool
    named = tool_name(teardown, tool).lower()
    assert named in solved.lower() and named not in asked.lower()
    speaker = f"{name_of(teardown, 'speaker-left-screws')}: "
    assert "Torques of putting back" in solved and "1200" not in solved and speaker not in asked  # would break it
    questions = questions_of(teardown, room._seed)[:6]
    for one in questions:
        right = option_text(one, one.options[one.right])
        assert right in asked and right in solved
        for option in one.options:
            assert option_text(one, option) in asked
    assert pictures == 1 + len(questions)  # the closed device, and the thing of each question
    before = sheet.read_bytes()
    room.write_paper(sheet)  # nothing is replaced
    assert "there is a file already" in room.echo.text() and sheet.read_bytes() == before
