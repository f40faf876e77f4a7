"""What charts say and show is as it was recorded: words, flags, reasons, and the place of every shape."""

from __future__ import annotations

import pytest

from tests.support.records import FOLDER, RECORDED, REMEDY, differences, record_of


@pytest.mark.sampled(2)
@pytest.mark.parametrize("file", [f"{name}.txt" for name in RECORDED])
def test_a_chart_says_and_shows_what_is_recorded(file: str) -> None:
    recorded = (FOLDER / file).read_text("utf-8")
    other = differences(recorded, record_of(RECORDED[file.removesuffix(".txt")]()))
    assert not other, "\n".join([*other[:6], REMEDY])


def test_every_record_is_of_a_chart() -> None:
    assert {path.stem for path in FOLDER.iterdir()} == {*RECORDED, "random"}


@pytest.mark.parametrize(
    ("now", "alike"),
    [
        ("at 1.4 bold", True),
        ("at 1.7 bold", False),
        ("at 1.0 plain", False),
        ("at 1.0 bold\nmore", False),
        ("", False),
    ],
)
def test_a_record_tells_a_place_that_moved_from_one_that_did_not(now: str, alike: bool) -> None:
    assert (not differences("at 1.0 bold", now)) == alike
