"""Learners' progress: a file each in the data folder."""

from __future__ import annotations

import json
from datetime import date
from typing import Any

from oddbolt.model.refusal import Refusal
from oddbolt.rehearsing.boxes import LAST, Card, Learner, Round
from oddbolt.store.by_name import names_in, path_of
from oddbolt.store.files import make_room, read_bytes, write_whole

FORMAT, VERSION = "oddbolt-learner", 1
FOLDER = "learners"


def known_learners() -> list[str]:
    return names_in(FOLDER)


def read_learner(name: str) -> Learner:
    """A new one where there is no file yet. Raises Refusal `bad-learner` where it is none of ours."""
    path = path_of(FOLDER, name)
    if not path.exists():
        return Learner(name=name.strip())
    try:
        data = json.loads(read_bytes(path))
        if data["format"] != FORMAT or data["version"] != VERSION:
            raise ValueError(data["format"])
        cards = {str(id_): Card(_box(box), date.fromisoformat(day)) for id_, (box, day) in data["cards"].items()}
        rounds = tuple(Round(**{**row, "day": date.fromisoformat(row["day"])}) for row in data["rounds"])
    except (ValueError, KeyError, TypeError, AttributeError, RecursionError):
        raise Refusal(str(path), "bad-learner") from None
    return Learner(name=name.strip(), cards=cards, rounds=rounds)


def _box(value: Any) -> int:
    if type(value) is not int or not 0 <= value <= LAST:
        raise ValueError(value)
    return value


def write_learner(learner: Learner) -> None:
    path = path_of(FOLDER, learner.name)
    make_room(path)
    rows = [{name: getattr(one, name) for name in one.__struct_fields__} | {"day": one.day.isoformat()}
            for one in learner.rounds]
    write_whole(path, json.dumps({"format": FORMAT, "version": VERSION, "cards": {
        id_: [card.box, card.asked.isoformat()] for id_, card in learner.cards.items()}, "rounds": rows},
        ensure_ascii=False, indent=1).encode())
