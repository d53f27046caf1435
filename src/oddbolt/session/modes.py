"""Modes: what each gesture means, as one table. Knows no widget; the Log, the trainer and the voice go by it.

The rules in words:

1. A plain click does what the base mode says. Nothing armed: it chooses. A letter armed: it marks screws. Another kind
   armed: it marks that kind; kinds that cover an area may be drawn round, kinds that are counted may be drawn in a row.
2. Over the base mode others may be on, and take the gestures that are theirs: measuring takes clicks; proposals are
   taken, refused or left; the reach, and what a part had covered, take what is drawn round next; an open question takes
   marks it asks about. What was seen between two photographs is ticked by clicks and taken over or left; while the kind
   of something seen is to be said, the keys of kinds say it. What came in by itself waits until it is looked at:
   no key and no click means something else because the camera photographed.
   What was heard and does not count yet counts at once by the usual act, and Escape takes it back.
3. Two modes are closed: while a group is numbered, and while the kind of a part is asked for, every other gesture is
   refused, said, and changes nothing. They end by being finished or by Escape.
4. Escape leaves the innermost mode. Whoever walks to another photograph (next, previous, a click on the strip) has put
   down what was armed; the camera's photograph of the present state keeps it, since the work goes on.
5. The usual act (Return, the foot switch) is what one most likely does next: finish the numbering, take the proposals,
   release what is chosen, lift what it held, photograph.
"""

from __future__ import annotations

from enum import Enum


class Mode(Enum):
    HEARD = "heard"
    POINTING = "pointing"
    NUMBERING = "numbering"
    NAMING = "naming"
    MEASURING = "measuring"
    PROPOSING = "proposing"
    NAMING_SEEN = "naming-seen"
    LETTERING_SEEN = "lettering-seen"
    SEEING = "seeing"
    REACHING = "reaching"
    COVERING = "covering"
    ANSWERING = "answering"
    TELLING = "telling"
    MARKING_SCREWS = "marking-screws"
    MARKING_CLIPS = "marking-clips"
    MARKING_AREAS = "marking-areas"
    MARKING_POINTS = "marking-points"
    CHOOSING = "choosing"


class Gesture(Enum):
    # on the photograph
    CLICK_BESIDE = "click-beside"
    CLICK_MARK = "click-mark"
    CLICK_PROPOSAL = "click-proposal"
    CLICK_SEEN = "click-seen"
    MOVE_MARK = "move-mark"
    MOVE_EDGE = "move-edge"
    DROP_END = "drop-end"
    DRAW_ROUND = "draw-round"
    DRAW_ROW = "draw-row"
    ARROW = "arrow"
    # kinds, by key or button
    KIND = "kind"
    LETTER = "letter"
    LIFT_AS = "lift-as"
    # the keys of the Log
    RELEASE = "release"
    LIFT = "lift"
    SWING = "swing"
    USUAL = "usual-act"
    UNDO_TOO = "undo-too"
    REACH_ALL = "reach-all"
    REACH = "reach"
    UNDERSIDE = "underside"
    NEW_GROUP = "new-group"
    MARKING = "marking"
    FIND_ALIKE = "find-alike"
    OUTCOME = "outcome"
    STOPWATCH = "stopwatch"
    QUESTION = "question"
    MEASURE = "measure"
    NEXT = "next-photo"
    PREVIOUS = "previous-photo"
    SHOW = "show-photo"
    CAMERA = "camera"
    TURN_OVER = "turn-over"
    COMPARE = "compare"
    SEE = "see"
    WATCH = "watch"
    LINE = "type-line"
    TYPED = "typed"
    DELETE = "delete-mark"
    ESCAPE = "escape"
    # answers to what is offered after an act
    ANSWER_1 = "answer-1"
    ANSWER_2 = "answer-2"
    ANSWER_3 = "answer-3"
    ANSWER_4 = "answer-4"
    WHOSE = "whose"
    NEXT_TOOL = "next-tool"
    FURTHER_TOOL = "further-tool"
    WAIT = "wait"
    AT_ONCE = "at-once"
    REUSE = "reuse"
    DISCARD = "discard"
    FACT = "fact"
    FOOTPRINT = "footprint"
    DRAW_COVERED = "draw-covered"
    COVERED_NOTHING = "covered-nothing"
    TAKE_ON = "take-on"
    # the menu
    ORDER_UNDOING = "order-undoing"
    ORDER_TIGHTENING = "order-tightening"
    SPLIT = "split"
    JOIN = "join"
    MOVE = "move-marks"
    CARRY = "carry-marks"
    OTHER_SIDE = "copy-to-other-side"
    LIMITS = "limits"


class Act(Enum):
    """What is done. Each has one function, wherever the gesture comes from."""

    CHOOSE = "choose"
    CHOOSE_NOTHING = "choose-nothing"
    MARK = "mark"
    MARK_ON_MARK = "mark-on-mark"
    MARK_ROUND = "mark-round"
    MARK_ALIKE_ROUND = "mark-alike-round"
    SELECT_ROUND = "select-round"
    PROPOSE_ROW = "propose-row"
    TAKE_PROPOSAL = "take-proposal"
    TAKE_PROPOSALS = "take-proposals"
    LEAVE_PROPOSALS = "leave-proposals"
    SEE = "see"
    WATCH = "watch"
    TICK_SEEN = "tick-seen"
    NAME_SEEN = "name-seen"
    TYPE_SEEN = "type-seen"
    LETTER_SEEN = "letter-seen"
    TOOL_SEEN = "tool-seen"
    TAKE_SEEN = "take-seen"
    TAKE_SEEN_ON = "take-seen-on"
    DROP_SEEN = "drop-seen"
    LEAVE_SEEN = "leave-seen"
    MOVE_EDGE = "move-edge"
    MEASURE_POINT = "measure-point"
    LEAVE_MEASURING = "leave-measuring"
    NUMBER_MARK = "number-mark"
    FINISH_ORDER = "finish-order"
    LEAVE_ORDER = "leave-order"
    NAME_UNNAMED = "name-unnamed"
    LEAVE_UNNAMED = "leave-unnamed"
    REACH_ROUND = "reach-round"
    ARM_FOOTPRINT = "arm-footprint"
    FOOTPRINT_ROUND = "footprint-round"
    COVERED_NOTHING = "covered-nothing"
    ANSWER_MARK = "answer-mark"
    DROP_END = "drop-end"
    MOVE_MARK = "move-mark"
    OPENS_THERE = "opens-there"
    ARM_KIND = "arm-kind"
    ARM_LETTER = "arm-letter"
    LIFT_AS = "lift-as"
    RELEASE = "release"
    LIFT = "lift"
    SWING = "swing"
    USUAL = "usual"
    UNDO_TOO = "undo-too"
    REACH_ALL = "reach-all"
    ARM_REACH = "arm-reach"
    UNDERSIDE = "underside"
    NEW_GROUP = "new-group"
    TOGGLE_MARKING = "toggle-marking"
    FIND_ALIKE = "find-alike"
    OUTCOME = "outcome"
    STOPWATCH = "stopwatch"
    QUESTION = "question"
    TOGGLE_MEASURING = "toggle-measuring"
    NEXT = "next"
    PREVIOUS = "previous"
    SHOW = "show"
    CAMERA = "camera"
    TURN_OVER = "turn-over"
    COMPARE = "compare"
    GO_TO_LINE = "go-to-line"
    TYPED = "typed"
    DELETE_MARK = "delete-mark"
    STOP_MARKING = "stop-marking"
    ANSWER_1 = "answer-1"
    ANSWER_2 = "answer-2"
    ANSWER_3 = "answer-3"
    ANSWER_4 = "answer-4"
    WHOSE = "whose"
    NEXT_TOOL = "next-tool"
    FURTHER_TOOL = "further-tool"
    WAIT = "wait"
    AT_ONCE = "at-once"
    REUSE = "reuse"
    DISCARD = "discard"
    FACT = "fact"
    TELL_1 = "tell-1"
    TELL_2 = "tell-2"
    TELL_3 = "tell-3"
    TELL_4 = "tell-4"
    TELL_MARK = "tell-mark"
    TELL_KIND = "tell-kind"
    LEAVE_POINTING = "leave-pointing"
    LEAVE_TELLING = "leave-telling"
    ORDER_UNDOING = "order-undoing"
    ORDER_TIGHTENING = "order-tightening"
    SPLIT = "split"
    JOIN = "join"
    MOVE_MARKS = "move-marks"
    CARRY_MARKS = "carry-marks"
    OTHER_SIDE = "other-side"
    LIMITS = "limits"
    COUNT_HEARD = "count-heard"
    TAKE_BACK_HEARD = "take-back-heard"


CLOSED = (Mode.NUMBERING, Mode.NAMING)  # what they do not take is refused

G, A = Gesture, Act  # for the table
EVERYWHERE = {
    G.MOVE_MARK: A.MOVE_MARK, G.MOVE_EDGE: A.MOVE_EDGE, G.SEE: A.SEE, G.WATCH: A.WATCH,
    G.DROP_END: A.DROP_END, G.ARROW: A.OPENS_THERE, G.KIND: A.ARM_KIND,
    G.LETTER: A.ARM_LETTER, G.LIFT_AS: A.LIFT_AS, G.RELEASE: A.RELEASE, G.LIFT: A.LIFT, G.SWING: A.SWING,
    G.USUAL: A.USUAL, G.UNDO_TOO: A.UNDO_TOO, G.REACH_ALL: A.REACH_ALL, G.REACH: A.ARM_REACH,
    G.UNDERSIDE: A.UNDERSIDE, G.NEW_GROUP: A.NEW_GROUP, G.MARKING: A.TOGGLE_MARKING, G.FIND_ALIKE: A.FIND_ALIKE,
    G.OUTCOME: A.OUTCOME, G.STOPWATCH: A.STOPWATCH, G.QUESTION: A.QUESTION, G.MEASURE: A.TOGGLE_MEASURING,
    G.NEXT: A.NEXT, G.PREVIOUS: A.PREVIOUS, G.SHOW: A.SHOW, G.CAMERA: A.CAMERA, G.TURN_OVER: A.TURN_OVER,
    G.COMPARE: A.COMPARE, G.LINE: A.GO_TO_LINE, G.TYPED: A.TYPED, G.DELETE: A.DELETE_MARK, G.ESCAPE: A.STOP_MARKING,
    G.ANSWER_1: A.ANSWER_1, G.ANSWER_2: A.ANSWER_2, G.ANSWER_3: A.ANSWER_3, G.ANSWER_4: A.ANSWER_4, G.WHOSE: A.WHOSE,
    G.NEXT_TOOL: A.NEXT_TOOL, G.FURTHER_TOOL: A.FURTHER_TOOL, G.WAIT: A.WAIT, G.AT_ONCE: A.AT_ONCE, G.REUSE: A.REUSE,
    G.DISCARD: A.DISCARD, G.FACT: A.FACT,
    G.FOOTPRINT: A.ARM_FOOTPRINT, G.DRAW_COVERED: A.FOOTPRINT_ROUND, G.COVERED_NOTHING: A.COVERED_NOTHING,
    G.ORDER_UNDOING: A.ORDER_UNDOING, G.ORDER_TIGHTENING: A.ORDER_TIGHTENING, G.SPLIT: A.SPLIT, G.JOIN: A.JOIN,
    G.MOVE: A.MOVE_MARKS, G.CARRY: A.CARRY_MARKS, G.OTHER_SIDE: A.OTHER_SIDE, G.LIMITS: A.LIMITS,
}
OWN = {
    Mode.HEARD: {G.USUAL: A.COUNT_HEARD, G.ESCAPE: A.TAKE_BACK_HEARD},
    Mode.POINTING: {G.CLICK_MARK: A.TELL_MARK, G.LIFT_AS: A.TELL_KIND, G.ESCAPE: A.LEAVE_POINTING},
    Mode.NUMBERING: {G.CLICK_MARK: A.NUMBER_MARK, G.USUAL: A.FINISH_ORDER, G.ESCAPE: A.LEAVE_ORDER,
                     G.STOPWATCH: A.STOPWATCH, G.COMPARE: A.COMPARE},
    Mode.NAMING: {G.LIFT_AS: A.NAME_UNNAMED, G.ESCAPE: A.LEAVE_UNNAMED, G.DROP_END: A.DROP_END,
                  G.DRAW_ROUND: A.SELECT_ROUND, G.STOPWATCH: A.STOPWATCH, G.COMPARE: A.COMPARE},
    Mode.MEASURING: {G.CLICK_BESIDE: A.MEASURE_POINT, G.CLICK_MARK: A.MEASURE_POINT, G.ESCAPE: A.LEAVE_MEASURING},
    Mode.PROPOSING: {G.CLICK_PROPOSAL: A.TAKE_PROPOSAL, G.USUAL: A.TAKE_PROPOSALS, G.ESCAPE: A.LEAVE_PROPOSALS},
    Mode.NAMING_SEEN: {G.LIFT_AS: A.NAME_SEEN, G.KIND: A.TYPE_SEEN, G.DELETE: A.DROP_SEEN},
    Mode.LETTERING_SEEN: {G.LETTER: A.LETTER_SEEN, G.DELETE: A.DROP_SEEN},
    Mode.SEEING: {G.CLICK_SEEN: A.TICK_SEEN, G.USUAL: A.TAKE_SEEN, G.TAKE_ON: A.TAKE_SEEN_ON,
                  G.NEXT_TOOL: A.TOOL_SEEN, G.ESCAPE: A.LEAVE_SEEN},
    Mode.COVERING: {G.DRAW_ROUND: A.FOOTPRINT_ROUND},
    Mode.REACHING: {G.DRAW_ROUND: A.REACH_ROUND},
    Mode.ANSWERING: {G.CLICK_MARK: A.ANSWER_MARK},
    Mode.TELLING: {G.ANSWER_1: A.TELL_1, G.ANSWER_2: A.TELL_2, G.ANSWER_3: A.TELL_3, G.ANSWER_4: A.TELL_4,
                   G.ESCAPE: A.LEAVE_TELLING},
    Mode.MARKING_SCREWS: {G.CLICK_BESIDE: A.MARK, G.CLICK_MARK: A.MARK_ON_MARK, G.DRAW_ROUND: A.MARK_ALIKE_ROUND,
                          G.DRAW_ROW: A.PROPOSE_ROW},
    Mode.MARKING_CLIPS: {G.CLICK_BESIDE: A.MARK, G.CLICK_MARK: A.MARK_ON_MARK, G.DRAW_ROUND: A.MARK_ROUND,
                         G.DRAW_ROW: A.PROPOSE_ROW},
    Mode.MARKING_AREAS: {G.CLICK_BESIDE: A.MARK, G.CLICK_MARK: A.MARK_ON_MARK, G.DRAW_ROUND: A.MARK_ROUND},
    Mode.MARKING_POINTS: {G.CLICK_BESIDE: A.MARK, G.CLICK_MARK: A.MARK_ON_MARK, G.DRAW_ROUND: A.SELECT_ROUND},
    Mode.CHOOSING: {G.CLICK_BESIDE: A.CHOOSE_NOTHING, G.CLICK_MARK: A.CHOOSE, G.DRAW_ROUND: A.SELECT_ROUND},
}


def act_of(modes: tuple[Mode, ...], gesture: Gesture, *, beyond: int = 0) -> Act | None:
    """What a gesture means now; None where it means nothing, and `refusing_mode` says whose doing that is.

    `beyond` passes over that many of the inner modes: for an act that leaves the gesture to the next one.
    """
    for mode in modes[beyond:]:
        if gesture in OWN[mode]:
            return OWN[mode][gesture]
        if mode in CLOSED:
            return None
    return EVERYWHERE.get(gesture)


def refusing_mode(modes: tuple[Mode, ...]) -> Mode:
    """The mode in which a gesture that means nothing was made."""
    return next((mode for mode in modes if mode in CLOSED), modes[-1])
