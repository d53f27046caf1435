"""The exchange file: read and written without loss, or refused with the path of what is wrong."""

from __future__ import annotations

import copy
import json

import jsonschema
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from oddbolt.model import exchange
from oddbolt.model.refusal import Refusal
from oddbolt.words.refusals import reason_text, refusal_text
from tests.oracles.random_devices import random_device


def test_example_is_written_back_as_it_was(example):
    assert exchange.to_json(exchange.from_json(example)) == example
    assert json.loads(exchange.dumps(exchange.from_json(example))) == example


def test_unknown_keys_are_kept_everywhere(example):
    example["colour_of_mat"] = "green"
    example["device"]["weather"] = {"rain": [1, 2]}
    example["parts"][1]["x"] = None
    example["joints"][1]["ways"][0]["acts"][1]["grip"] = "two fingers"
    example["joints"][0]["ways"][0]["pose"] = "flat"
    example["log"][0]["mood"] = 3
    example["views"][0]["marks"][0]["z"] = 0.5
    example["refit"][0]["when"] = "warm"
    example["opinions"][0]["dated"] = "2026"
    assert exchange.to_json(exchange.from_json(copy.deepcopy(example))) == example


def test_defaults_that_were_written_out_stay_written_out(example):
    example["parts"][1]["captive"] = False
    example["joints"][0]["ways"][0]["at_once"] = False
    example["settings"] = {}
    written = exchange.to_json(exchange.from_json(copy.deepcopy(example)))
    assert written == example


@settings(max_examples=60, deadline=None)
@given(st.integers(0, 10**6))
def test_random_devices_survive(seed):
    data = random_device(seed, 12)
    assert exchange.to_json(exchange.from_json(copy.deepcopy(data))) == data


json_values = st.recursive(st.none() | st.booleans() | st.integers(-9, 9) | st.text(max_size=4),
                           lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=3), inner,
                                                                                       max_size=3), max_leaves=6)


@settings(max_examples=300, deadline=None)
@given(st.data())
def test_anything_in_place_of_anything_is_read_or_refused(data):
    """Whatever stands anywhere in the file, it is taken without loss or refused with a path; never an exception."""
    example = json.loads(_EXAMPLE)
    places = []

    def walk(value, holder, key):
        places.append((holder, key))
        for name, item in value.items() if isinstance(value, dict) else enumerate(value) if isinstance(value, list) \
                else ():
            walk(item, value, name)

    for name, item in example.items():
        walk(item, example, name)
    holder, name = data.draw(st.sampled_from(places))
    holder[name] = data.draw(json_values)
    try:
        teardown = exchange.from_json(copy.deepcopy(example))
    except Refusal as refusal:
        assert refusal.path.startswith("$") and reason_text(refusal)
    else:
        assert exchange.to_json(teardown) == example


def _set(path, value):
    def change(data):
        *way, last = path
        for step in way:
            data = data[step]
        if value is KeyError:
            del data[last]
        else:
            data[last] = value
    return change


REFUSED = {
    "wrong format": (_set(["format"], "other"), "$.format"),
    "no format": (_set(["format"], KeyError), "$.format"),
    "newer version": (_set(["version"], 3), "$.version"),
    "device missing": (_set(["device"], KeyError), "$.device"),
    "wrong type: list": (_set(["parts"], {}), "$.parts"),
    "wrong type: text": (_set(["parts", 1, "name"], 4), "$.parts[1].name"),
    "wrong type: flag": (_set(["joints", 2, "isolates"], 1), "$.joints[2].isolates"),
    "wrong type: count": (_set(["joints", 0, "count"], 2.5), "$.joints[0].count"),
    "true is no number": (_set(["joints", 0, "count"], True), "$.joints[0].count"),
    "count below one": (_set(["joints", 0, "count"], 0), "$.joints[0].count"),
    "negative time": (_set(["joints", 1, "ways", 0, "acts", 0, "wait_s"], -1), "$.joints[1].ways[0].acts[0].wait_s"),
    "negative time in a plain way": (_set(["joints", 0, "ways", 0, "active_s"], -0.1), "$.joints[0].ways[0].active_s"),
    "unknown side": (_set(["joints", 0, "side"], "left"), "$.joints[0].side"),
    "unknown verb": (_set(["log", 0, "do"], "jump"), "$.log[0].do"),
    "unknown base": (_set(["device", "base"], "nothing"), "$.device.base"),
    "no base": (_set(["device", "base"], KeyError), "$.device.base"),
    "base on something": (_set(["parts", 0, "on"], "cover"), "$.parts[0].on"),
    "base not in the variant": (lambda d: (d["device"].update(variant="b"), d["parts"][0].update(only_in=["a"])),
                                "$.device.base"),
    "unknown on": (_set(["parts", 1, "on"], "nothing"), "$.parts[1].on"),
    "circle in on": (lambda d: (d["parts"][1].update(on="pack"), d["parts"][2].update(on="cover")), "$.parts[1].on"),
    "unknown of": (_set(["joints", 0, "of", 1], "nothing"), "$.joints[0].of[1]"),
    "one part only": (_set(["joints", 0, "of"], ["cover"]), "$.joints[0].of"),
    "same part twice": (_set(["joints", 0, "of"], ["cover", "cover"]), "$.joints[0].of[1]"),
    "unknown behind": (_set(["joints", 1, "behind"], [["cover", "nothing"]]), "$.joints[1].behind[0][1]"),
    "behind itself": (_set(["parts", 2, "behind"], [["pack"]]), "$.parts[2].behind[0][0]"),
    "way behind itself": (_set(["joints", 1, "ways", 2, "behind"], [["pack-glue"]]),
                          "$.joints[1].ways[2].behind[0][0]"),
    "unknown fastener": (_set(["joints", 0, "fastener"], "Z"), "$.joints[0].fastener"),
    "unknown spare part": (_set(["parts", 2, "spare", "includes"], ["nothing"]), "$.parts[2].spare.includes[0]"),
    "duplicate id over parts and joints": (_set(["joints", 0, "id"], "cover"), "$.joints[0].id"),
    "duplicate log id": (_set(["log", 1, "id"], "e1"), "$.log[1].id"),
    "unknown thing in the log": (_set(["log", 0, "thing"], "nothing"), "$.log[0].thing"),
    "unknown thing within reach": (_set(["log", 2, "things", 0], "nothing"), "$.log[2].things[0]"),
    "unknown entry amended": (_set(["log", 1, "amends"], "e9"), "$.log[1].amends"),
    "unknown entry of a view": (_set(["views", 0, "at_entry"], "e9"), "$.views[0].at_entry"),
    "unknown thing marked": (_set(["views", 0, "marks", 0, "thing"], "nothing"), "$.views[0].marks[0].thing"),
    "unknown thing refitted": (_set(["refit", 1, "thing"], "nothing"), "$.refit[1].thing"),
    "unknown thing to keep off": (_set(["refit", 2, "keep_off", 0, "thing"], "nothing"),
                                  "$.refit[2].keep_off[0].thing"),
    "negative quantity in a refit": (_set(["refit", 0, "uses", 0, "qty"], -2), "$.refit[0].uses[0].qty"),
    "negative distance in a limit": (
        _set(["joints", 1, "ways", 0, "acts", 1, "limits", 0, "depth_mm"], [-1, 5]),
        "$.joints[1].ways[0].acts[1].limits[0].depth_mm[0]"),
    "hand in a group": (_set(["settings", "tool_groups"], [["card", "hand"]]), "$.settings.tool_groups[0][1]"),
    "tool in two groups": (_set(["settings", "tool_groups"], [["a", "b"], ["b"]]), "$.settings.tool_groups[1][0]"),
    "way without acts": (_set(["joints", 1, "ways", 0, "acts"], []), "$.joints[1].ways[0].acts"),
    "a list in place of the file": (None, "$"),
}


@pytest.mark.parametrize("case", REFUSED)
def test_refused_with_the_path(example, case):
    change, path = REFUSED[case]
    if change is None:
        example = [example]
    else:
        change(example)
    with pytest.raises(Refusal) as caught:
        exchange.from_json(example)
    assert caught.value.path == path
    assert reason_text(caught.value) in refusal_text(caught.value)


TEXTS = {
    "empty": (b"", "empty-file"), "blank": (b" \n", "empty-file"), "binary": (bytes(range(256)), "not-utf8"),
    "not JSON": (b"{", "not-json"), "NaN": (b'{"format": "oddbolt-teardown", "x": [1, NaN]}', "not-finite"),
    "1e999": (b'{"format": "oddbolt-teardown", "device": {"base": "b", "mass_g": 1e999}}', "not-finite"),
    "deep": (b"[" * 100_000 + b"]" * 100_000, "too-deep"),
    "deep in an unknown key": (b'{"format": "oddbolt-teardown", "x": ' + b"[" * 200 + b"]" * 200 + b"}",
                               "too-deep"),
    "key twice": (b'{"format": "a", "format": "b"}', "key-twice"),
    "huge integer": (b'{"x": ' + b"9" * 5000 + b"}", "not-json-value"),
}


@pytest.mark.parametrize("case", TEXTS)
def test_texts_that_are_refused(case):
    text, code = TEXTS[case]
    with pytest.raises(Refusal) as caught:
        exchange.loads(text)
    assert caught.value.path.startswith("$") and caught.value.code == code and reason_text(caught.value)


def test_non_finite_numbers_are_named_by_path():
    with pytest.raises(Refusal) as caught:
        exchange.loads('{"format": "oddbolt-teardown", "device": {"base": "b", "more": [0, -Infinity]}}')
    assert caught.value.path == "$.device.more[1]"


def test_published_schema_is_the_one_that_reads(root):
    published = json.loads((root / "docs" / "oddbolt-teardown.schema.json").read_text())
    assert published == exchange.schema()


def test_schema_accepts_what_is_read_and_refuses_wrong_types(example):
    validator = jsonschema.Draft202012Validator(exchange.schema())
    validator.check_schema(exchange.schema())
    assert not list(validator.iter_errors(example))
    for seed in range(40):
        assert not list(validator.iter_errors(random_device(seed, 12)))
    for case in ("wrong type: list", "wrong type: text", "wrong type: flag", "count below one", "negative time",
                 "unknown side", "unknown verb", "way without acts", "device missing"):
        broken = copy.deepcopy(example)
        REFUSED[case][0](broken)
        assert list(validator.iter_errors(broken)), case


with open(__file__.replace("unit/test_exchange.py", "data/bench-radio.json"), encoding="utf-8") as file:
    _EXAMPLE = file.read()
