"""The command line as docs/format.md has it: answers, exit codes, and calm refusals."""

from __future__ import annotations

import json
import subprocess
import sys

import pytest

from oddbolt.cli import commands as cli


def call(capsys, *arguments):
    code = cli.run([str(a) for a in arguments])
    captured = capsys.readouterr()
    return code, captured.out, captured.err


def access(capsys, path, *options):
    code, out, _ = call(capsys, "access", path, "--json", *options)
    assert code == 0
    return json.loads(out)


@pytest.mark.parametrize(("options", "steps", "time"), [
    (["--entered"], 2, 126.6), (["--entered", "--objective", "time"], 3, 124.6), ([], 2, 128.6),
    (["--objective", "time"], 3, 126.6)])
def test_the_pack_of_the_example(capsys, example_path, options, steps, time):
    part = access(capsys, example_path, "--part", "pack", *options)["parts"][0]
    assert (part["steps"], part["time_s"], part["optimal"]) == (steps, time, True)


def test_the_answer_has_the_keys_of_the_contract(capsys, example_path):
    answer = access(capsys, example_path, "--entered", "--part", "pack")
    assert answer["format"] == "oddbolt-access" and answer["version"] == 1 and answer["objective"] == "steps"
    assert answer["convention"] == {"hand_is_tool": False, "tool_groups": [], "own_step": [], "each_tool": False,
                                    "isolate_first": True, "tool_change_s": 3.6, "turn_s": 3.6}
    part = answer["parts"][0]
    operations = part.pop("operations")
    low, high = part.pop("time_interval_s")
    assert low < 126.6 < high
    assert part == {"part": "pack", "feasible": True, "optimal": True, "steps": 2, "lower_bound": 2, "time_s": 126.6,
                    "live_acts": 0, "parts_removed": ["cover", "pack"],
                    "joints_released": ["cover-screws", "pack-plug", "pack-glue"], "tools": ["ph00", "card"],
                    "renewals": ["pack-glue"], "hazards": ["cell-bend", "lithium"], "assumed": [], "known": "confirmed"}
    low, high = operations[0].pop("active_interval_s")
    assert low < 24 < high and operations[0].pop("time_basis") == "entered"
    assert operations[0] == {"op": "release", "joint": "cover-screws", "way": 0, "act": 0, "tool": "ph00",
                             "side": "back", "step": 1, "start_s": 0.0, "active_s": 24.0, "wait_s": 0.0}
    assert operations[1]["op"] == "remove" and operations[1]["part"] == "cover"


def test_methods_are_listed_and_those_of_the_category_are_assessed(capsys, root):
    code, out, _ = call(capsys, "methods", "--json")
    answer = json.loads(out)
    ids = {one["method"] for one in answer["methods"]}
    assert code == 0 and answer["format"] == "oddbolt-methods" and {"edim", "en-45554-profile", "house-rubric"} <= ids
    code, out, _ = call(capsys, "methods")
    assert code == 0 and len(out.splitlines()) == len(ids) and "unconfirmed" in out
    radio = root / "src" / "oddbolt" / "demo" / "bittern.json"
    code, out, _ = call(capsys, "assess", radio, "--json")
    found = {one["method"]: one for one in json.loads(out)["verdicts"]}
    assert code == 0 and not any(id_.startswith(("eu-", "fr-")) for id_ in found) and "edim" in found
    assert found["en-45554-profile"]["index"] is None and found["en-45554-profile"]["criteria"][0]["letters"]
    code, out, _ = call(capsys, "assess", radio, "--method", "house-rubric", "--method", "edim", "--json")
    assert [one["method"] for one in json.loads(out)["verdicts"]] == ["house-rubric", "edim"]
    code, out, _ = call(capsys, "assess", root / "src" / "oddbolt" / "demo" / "dunlin-2.json", "--method",
                        "eu-2023-1669-tablet", "--json")
    one = json.loads(out)
    assert one["firm"] is False and one["over_all"]["classes"] == ["B", "C", "D", "E"] and one["over_all"]["all_worlds"]
    assert any(move["name"] == "hand_is_tool" for move in one["over_all"]["moves"])


def test_effort_tells_how_each_time_is_known_and_goes_by_a_pace(capsys, root):
    demo, radio = (root / "src" / "oddbolt" / "demo" / f"{name}.json" for name in ("dunlin-2", "bittern"))
    code, out, _ = call(capsys, "effort", demo, "--json")
    plain = json.loads(out)
    assert code == 0 and {row["basis"] for row in plain["acts"]} == {"measured", "entered", "estimated"}
    assert all(row["interval_s"][0] <= row["seconds"] <= row["interval_s"][1] for row in plain["acts"])
    assert plain["learning"] is None and next(p for p in plain["pace"] if p["verb"] == "unscrew")["readings"] == 15
    code, out, _ = call(capsys, "effort", demo, "--pace", demo, "--pace", radio, "--json")
    paced = json.loads(out)

    def lift(answer):
        return next(r["seconds"] for r in answer["acts"] if (r["thing"], r["verb"]) == ("strap-lug", "lift"))

    ratio = next(p["ratio"] for p in paced["pace"] if p["verb"] == "lift")
    assert lift(paced) == pytest.approx(lift(plain) * ratio, rel=0.01)
    code, out, _ = call(capsys, "effort", demo)
    assert code == 0 and "way to Display: 18 min" in out and "pace, unscrew" in out
    assert call(capsys, "effort", demo, "--pace", "nowhere.json")[0] == 2


def test_replace_and_sequence(capsys, example_path):
    part = access(capsys, example_path, "--replace", "--part", "pack", "--entered")["parts"][0]
    back = part["replace"].pop("back_time_s"), part["replace"].pop("back_time_interval_s")
    assert part["replace"] == {"targets": ["pack"], "steps": [2, 2], "time_s": [126.6, 126.6], "back_untimed": [2, 2]}
    assert back[1][0][0] < back[0][0] < back[1][0][1]
    code, out, _ = call(capsys, "sequence", example_path, "--json", "--entered")
    answer = json.loads(out)
    assert code == 0 and answer["targets"] == ["cover", "pack"] and answer["cannot"] == []
    assert answer["steps"] == 2 and answer["feasible"] and answer["optimal"]


def test_a_target_that_cannot_be_freed(capsys, tmp_path, example):
    example["parts"][1]["behind"] = [["pack"]]
    path = tmp_path / "blocked.json"
    path.write_text(json.dumps(example))
    code, out, _ = call(capsys, "sequence", path, "--target", "pack", "--json")
    answer = json.loads(out)
    assert code == 0 and answer["feasible"] is False and set(answer["blocked_by"]) >= {"cover", "pack"}
    code, out, _ = call(capsys, "sequence", path, "--json")
    answer = json.loads(out)
    assert answer["cannot"] == ["cover", "pack"] and answer["targets"] == [] and answer["feasible"]
    assert access(capsys, path)["parts"][0]["feasible"] is False
    assert call(capsys, "check", path)[0] == 1


def test_check_exits_0_without_findings(capsys, tmp_path, example):
    for key in ("log", "views", "refit"):
        example[key] = []
    path = tmp_path / "clean.json"
    path.write_text(json.dumps(example))
    assert call(capsys, "check", path)[:2] == (0, "no findings\n")


def test_assess_names_the_convention_and_every_criterion(capsys, example_path):
    code, out, _ = call(capsys, "assess", example_path, "--method", "eu-2023-1669-tablet", "--json")
    answer = json.loads(out)
    assert code == 0 and len(answer["criteria"]) == 6
    assert answer["convention"]["own_step"] == ["heat", "clean"] and answer["convention"]["each_tool"] is True
    assert answer["index"][0] < answer["index"][1] and answer["firm"] is False
    code, out, _ = call(capsys, "assess", example_path, "--method", "eu-2023-1669-tablet")
    assert code == 0 and "class" in out and "memory" in out


def test_plain_answers_can_be_read(capsys, example_path):
    for arguments in (["access", example_path], ["access", example_path, "--part", "pack"], ["sequence", example_path]):
        code, out, _ = call(capsys, *arguments)
        assert code == 0 and "proven" in out and "convention" in out


@pytest.mark.parametrize("arguments", [
    ["access", "--part", "nothing"], ["sequence", "--target", "nothing"], ["assess", "--method", "nothing"]])
def test_unknown_ids_exit_2(capsys, example_path, arguments):
    code, out, err = call(capsys, arguments[0], example_path, *arguments[1:])
    assert code == 2 and out == "" and "nothing" in err


@pytest.mark.parametrize("command", [["check"], ["access"], ["sequence"],
                                     ["assess", "--method", "eu-2023-1669-tablet"]])
@pytest.mark.parametrize("kind", ["empty", "folder", "missing", "binary", "deep", "nan", "broken-id", "not-ours"])
def test_what_cannot_be_read_exits_2_with_the_path(capsys, tmp_path, example, command, kind):
    path = tmp_path / "file.json"
    example["parts"][1]["on"] = "nothing"
    contents = {"empty": b"", "binary": bytes(range(256)) * 10, "deep": b"[" * 100_000, "nan": b'{"x": NaN}',
                "broken-id": json.dumps(example).encode(), "not-ours": b"SQLite format 3\x00" + bytes(4096)}
    if kind == "folder":
        path.mkdir()
    elif kind != "missing":
        path.write_bytes(contents[kind])
    code, out, err = call(capsys, command[0], path, *command[1:])
    assert code == 2 and out == ""
    assert str(path) in err and "Traceback" not in err
    if kind == "broken-id":
        assert "$.parts[1].on" in err


def test_import_and_export_are_each_others_reverse(capsys, tmp_path, example_path, example):
    document, again = tmp_path / "a.oddbolt", tmp_path / "b.json"
    code, _, err = call(capsys, "import", example_path, "-o", document)
    assert code == 0 and "v0.jpg" in err
    assert access(capsys, document, "--part", "pack", "--entered")["parts"][0]["steps"] == 2
    assert call(capsys, "export", document, "--to", "json", "-o", again)[0] == 0
    assert json.loads(again.read_text()) == example
    assert call(capsys, "export", document, "--to", "json", "-o", again)[0] == 2  # never over a file
    assert call(capsys, "import", example_path, "-o", document)[0] == 2


def test_an_exchange_file_is_imported_not_repaired(capsys, tmp_path, example_path):
    code, out, err = call(capsys, "repair", example_path, "-o", tmp_path / "a.oddbolt")
    assert code == 2 and out == "" and not (tmp_path / "a.oddbolt").exists()
    assert str(example_path) in err and "import it" in err


def test_the_program_itself_in_a_process(example_path):
    """Once through the real entry point: no Qt is loaded for the command line, and no traceback is shown."""
    code = "import sys; from oddbolt.__main__ import main; sys.argv[1:] = ['access', sys.argv[1]]; c = main(); " \
           "print([m for m in sys.modules if 'PySide6' in m or m in ('numpy', 'scipy')], file=sys.stderr); sys.exit(c)"
    run = subprocess.run([sys.executable, "-c", code, str(example_path)], capture_output=True, text=True, check=False)
    assert run.returncode == 0 and run.stderr.strip() == "[]"


def test_a_policy_is_kept_and_what_breaks_one_is_told(capsys, tmp_path, example):
    glue = next(joint for joint in example["joints"] if joint["id"] == "pack-glue")
    for way in glue["ways"]:
        way["reuse"] = "destroyed"
    glue["ways"].append({"tool": "card", "active_s": 900, "reuse": "renew"})
    path = tmp_path / "t.json"
    path.write_text(json.dumps(example))
    free = access(capsys, path, "--part", "pack", "--entered")["parts"][0]
    assert "breaches" not in free and free["time_s"] < 900
    kept = access(capsys, path, "--part", "pack", "--entered", "--keep", "keep-for-reuse")["parts"][0]
    assert kept["breaches"] == [] and kept["time_s"] > 900
    glue["ways"].pop()
    path.write_text(json.dumps(example))
    broken = access(capsys, path, "--part", "pack", "--keep", "keep-for-reuse")["parts"][0]
    assert broken["breaches"] == [{"policy": "keep-for-reuse", "things": ["pack-glue"], "temp_c": None}]
    assert "against keep-for-reuse" in call(capsys, "access", path, "--part", "pack", "--keep", "keep-for-reuse")[1]


def test_analysts_who_agree_and_who_do_not(root, tmp_path, capsys):
    demo = root / "src" / "oddbolt" / "demo" / "dunlin-2.json"
    data = json.loads(demo.read_text()) | {"views": []}
    data["opinions"] = [{"by": "W. Ansel", "mark": 6, "of": 10, "marks": [{"name": "cell", "mark": 1, "of": 2}]}]
    (tmp_path / "one.json").write_text(json.dumps(data))
    data["opinions"] = [{"by": "M. Ferring", "mark": 4, "of": 10, "marks": [{"name": "cell", "mark": 2, "of": 2}]}]
    (tmp_path / "two.json").write_text(json.dumps(data))
    assert cli.run(["agree", str(tmp_path / "one.json"), str(tmp_path / "two.json"), "--json"]) == 0
    found = json.loads(capsys.readouterr().out)
    matters = {one["matter"]: one for one in found["matters"]}
    depth = matters["depth"]
    assert (depth["alpha"], depth["mark"], depth["metric"]) == (1, "good", "interval")
    assert matters["marks"]["names"] == ["", "cell"] and matters["marks"]["mark"] == "poor"
    assert found["orders"] == [{"one": 0, "other": 1, "common": 8, "tau_b": 1.0, "p": found["orders"][0]["p"]}]
    assert cli.run(["agree", str(demo), str(root / "src" / "oddbolt" / "demo" / "dunlin-3.json")]) == 0
    told = capsys.readouterr().out
    assert "interval metric" in told and "nothing to compare" in told
    assert cli.run(["agree", str(demo), str(tmp_path / "nowhere.json")]) == 2


def test_two_devices_and_why_they_differ(root, capsys):
    one, other = (str(root / "src" / "oddbolt" / "demo" / f"dunlin-{n}.json") for n in (2, 3))
    assert cli.run(["compare", one, other, "--json"]) == 0
    found = {row["role"]: row for row in json.loads(capsys.readouterr().out)["roles"]}
    why = found["battery"]["why"][0]
    assert why["difference"] == -2 == sum(cause["steps"] for cause in why["causes"]) + why["remainder"]
    assert [one["steps"] for one in found["battery"]["reached"]] == [5, 3]
    assert cli.run(["compare", one, other]) == 0
    assert "Dunlin 2 alone has Cover seam \u22121" in capsys.readouterr().out
    with pytest.raises(SystemExit):
        cli.run(["compare", one])
