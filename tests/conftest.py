"""What all tests share: where things are, and whether the full counts were asked for."""

from __future__ import annotations

import json
import os
from pathlib import Path

import pytest

ROOT = Path(__file__).resolve().parent.parent
os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")


# They take minutes each: begun first, they do not leave one of the workers alone at the end.
LONGEST = ("test_record_seen", "test_archetypes_at_the_window", "test_record_demo", "test_record_bittern",
           "test_voice_bittern")


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    items.sort(key=lambda item: item.path.stem not in LONGEST)


@pytest.fixture(scope="session")
def root() -> Path:
    return ROOT


@pytest.fixture(scope="session")
def long_run() -> bool:
    """True under ./run-tests --long."""
    return bool(os.environ.get("ODD_BOLT_LONG"))


@pytest.fixture
def example_path() -> Path:
    return ROOT / "tests" / "data" / "bench-radio.json"


@pytest.fixture
def example(example_path: Path) -> dict:
    """The example device of docs/format.md as plain JSON values."""
    return json.loads(example_path.read_text("utf-8"))


@pytest.fixture(scope="session")
def demo_record():
    """The main demo device."""
    from oddbolt.store.files import read_teardown

    return read_teardown(ROOT / "src" / "oddbolt" / "demo" / "dunlin-2.json")
