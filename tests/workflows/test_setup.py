"""run-demo and run-tests on systems they have not met: faked system files, a faked package database, no network."""

from __future__ import annotations

import os
import shutil
import stat
import subprocess

import pytest

OS_RELEASE = {"debian-12": "ID=debian\nVERSION_ID=12\n", "ubuntu-22.04": 'ID=ubuntu\nVERSION_ID="22.04"\n',
              "ubuntu-24.04": 'ID=ubuntu\nVERSION_ID="24.04"\n', "other": "ID=other\nVERSION_ID=1\n"}


class Machine:
    """A folder with a faked PATH; commands written there are the only odd ones the scripts see."""

    def __init__(self, root, tmp_path, system, installed=()):
        self.root, self.tmp, self.bin = root, tmp_path, tmp_path / "bin"
        self.bin.mkdir()
        (tmp_path / "os-release").write_text(OS_RELEASE[system])
        (tmp_path / "installed").write_text("\n".join(installed) + "\n")
        self.command("dpkg-query", 'for last; do :; done\n'
                     f'grep -qx -- "$last" {tmp_path}/installed && echo "install ok installed"')
        self.command("apt-get", f'echo "$*" >> {tmp_path}/apt\n[ "$1" = install ] || exit 0\nshift\n'
                     f'for p; do case $p in -*) ;; *) echo "$p" >> {tmp_path}/installed;; esac; done')
        self.command("sudo", "exit 1")

    def command(self, name, body):
        path = self.bin / name
        path.write_text(f"#!/bin/bash\n{body}\n")
        path.chmod(path.stat().st_mode | stat.S_IXUSR | stat.S_IXGRP | stat.S_IXOTH)

    def run(self, script, **environment):
        return subprocess.run(["bash", "-c", script], cwd=self.root, capture_output=True, text=True, check=False, env={
            "PATH": f"{self.bin}:{os.environ['PATH']}", "HOME": str(self.tmp),
            "ODD_BOLT_OS_RELEASE": str(self.tmp / "os-release"), "ODD_BOLT_VENV": str(self.tmp / "venv"),
            **environment})

    def prepare(self, call):
        return self.run(f'. setup/prepare.sh; {call}')


def wanted(root, system):
    rows = [line.split("\t") for line in (root / "setup" / "systems.tsv").read_text().splitlines()
            if line and not line.startswith("#")]
    return [row[3] for row in rows if row[0] == system], {row[1] for row in rows if row[0] == system}


@pytest.mark.parametrize(("system", "python", "glib", "number"), [
    ("debian-12", "3.11", "libglib2.0-0", 24), ("ubuntu-22.04", "3.10", "libglib2.0-0", 23),
    ("ubuntu-24.04", "3.12", "libglib2.0-0t64", 23)])
def test_each_system_has_its_packages_and_python(root, tmp_path, system, python, glib, number):
    packages, pythons = wanted(root, system)
    assert pythons == {python} and glib in packages and len(packages) == len(set(packages)) == number
    machine = Machine(root, tmp_path, system)
    run = machine.prepare(f"system_name; echo; system_python {system}; wanted_packages {system} run")
    assert run.stdout.split()[:2] == [system, python] and glib in run.stdout


def test_root_installs_what_is_missing_and_says_so(root, tmp_path):
    machine = Machine(root, tmp_path, "debian-12", ["python3-venv", "libgl1"])
    machine.command("id", "echo 0")
    run = machine.prepare("prepare_system run")
    assert run.returncode == 0 and "installing system packages" in run.stderr
    installed = (tmp_path / "apt").read_text()
    assert "libglib2.0-0" in installed and "libgl1 " not in installed and "xvfb" not in installed
    before = (tmp_path / "apt").read_text()
    assert machine.prepare("prepare_system run").returncode == 0  # nothing left to do
    assert (tmp_path / "apt").read_text() == before


def test_without_root_the_exact_line_is_printed_and_nothing_happens(root, tmp_path):
    machine = Machine(root, tmp_path, "ubuntu-24.04")
    machine.command("id", "echo 1000")
    run = machine.prepare("prepare_system run window")
    assert run.returncode == 3
    line = run.stdout.strip()
    assert line.startswith("sudo apt-get update && sudo apt-get install -y --no-install-recommends python3-venv")
    assert "libglib2.0-0t64" in line and not (tmp_path / "apt").exists()


def test_sudo_without_a_password_is_used(root, tmp_path):
    machine = Machine(root, tmp_path, "debian-12")
    machine.command("id", "echo 1000")
    machine.command("sudo", 'shift; [ "$1" = true ] && exit 0; exec "$@"')
    assert machine.prepare("prepare_system run").returncode == 0
    assert "install" in (tmp_path / "apt").read_text()


def test_an_unknown_system_goes_on_with_what_it_has(root, tmp_path):
    run = Machine(root, tmp_path, "other").prepare("prepare_system run && echo on")
    assert run.stdout.strip() == "on" and "other-1" in run.stderr


def test_a_python_that_is_too_old_is_passed_over(root, tmp_path):
    machine = Machine(root, tmp_path, "debian-12")
    machine.command("old", "exit 1")
    run = machine.run(". setup/prepare.sh; find_python", ODD_BOLT_PYTHON="old")
    assert run.returncode == 0 and run.stdout != "old"


def test_without_a_display_the_demo_says_so(root, tmp_path):
    machine = Machine(root, tmp_path, "other")
    run = machine.run("./run-demo")
    assert run.returncode == 4 and "no display" in run.stderr and "--shot" in run.stderr
    assert machine.run("./run-demo --nonsense").returncode == 2
    assert machine.run("./run-demo --shot").returncode == 2


def test_a_second_call_makes_nothing_again(root, tmp_path):
    """With the key of the lock file in place, the environment is taken as it is."""
    machine = Machine(root, tmp_path, "other")
    copy = tmp_path / "copy"
    (copy / "setup").mkdir(parents=True)
    for name in ("setup/prepare.sh", "setup/systems.tsv", "requirements.lock", "pyproject.toml"):
        shutil.copy(root / name, copy / name)
    script = f"ODD_BOLT_ROOT={copy}; . setup/prepare.sh; key=$(cat {copy}/requirements.lock {copy}/pyproject.toml " \
             "| sha256sum | cut -c1-16); mkdir -p $ODD_BOLT_VENV; " \
             "touch $ODD_BOLT_VENV/.ready-requirements.lock-$key; " \
             "prepare requirements.lock run && echo ready"
    run = machine.run(script)
    assert run.stdout.strip() == "ready" and "making" not in run.stderr
    (copy / "requirements.lock").write_text("other\n")
    machine.command("python3", "exit 1")
    run = machine.run(f"ODD_BOLT_ROOT={copy}; . setup/prepare.sh; find_python() {{ echo false; }}; "
                      "prepare requirements.lock run", ODD_BOLT_PYTHON="false")
    assert run.returncode == 3 and "making .venv" in run.stderr


def test_the_lock_files_pin_every_package_with_hashes(root):
    for name in ("requirements.lock", "requirements-test.lock"):
        text = (root / name).read_text()
        names = [line for line in text.splitlines() if line and not line.startswith((" ", "#"))]
        assert all("==" in line for line in names)
        assert text.count("--hash=sha256:") >= len(names)
    assert "pyside6-essentials==6.11.3" in (root / "requirements.lock").read_text()


@pytest.mark.parametrize("name", ["run-demo", "run-tests", ".ci/run", "setup/prepare.sh"])
def test_scripts_parse(root, name):
    assert subprocess.run(["bash", "-n", str(root / name)], check=False).returncode == 0
