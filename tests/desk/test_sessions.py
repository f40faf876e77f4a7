from __future__ import annotations

import os
import tomllib
from functools import partial
from pathlib import Path

import numpy as np
import pandas as pd
import pytest

from tests.support.desks import session_of
from tests.support.ferries import CHARTS
from yuzen.charts.begin import load, load_picture
from yuzen.desk.desk_state import desk_state, findings
from yuzen.desk.edited_brief import EditedBrief
from yuzen.desk.moment import Moment
from yuzen.desk.session import Session
from yuzen.desk.shown.mark_rows import mark_reasons, mark_rows
from yuzen.desk.shown.parameter_controls import slider_ends
from yuzen.desk.text.edits import with_key
from yuzen.errors import YuzenError
from yuzen.files.records.kept_records import record_in

BRIEFS = sorted(name for name in CHARTS if name)


@pytest.fixture
def session(folder: Path) -> Session:
    return session_of(folder / "busiest.toml")


def counted(session: Session) -> list[int]:
    return [len(rule["marks"]) for rule in desk_state(session)["rules"]]


@pytest.mark.parametrize("name", BRIEFS)
def test_the_state_of_every_demo_chart_is_what_its_chart_says(folder: Path, name: str) -> None:
    path = next(folder.rglob(f"{name}.toml"))
    session = session_of(path)
    state = desk_state(session)
    assert state["faults"] == []
    chart = load(path)
    flags = chart.flags()
    on_mark = flags[flags["target"] == "mark"]
    for rule in state["rules"]:
        if rule["on"] != "mark":
            continue
        won = int((on_mark["rule"] == rule["name"]).sum())
        also = int(
            on_mark["also"]
            .fillna("")
            .str.split(", ")
            .map(lambda names, n=rule["name"]: n in names)
            .sum()
        )
        assert len(rule["marks"]) == won + also
        assert rule["shown"] == won or rule["shown"] >= won
        assert sum(count for _, count in rule["taken"]) <= also
    for row, color in zip(state["table"]["rows"], on_mark["color"], strict=False):
        assert row["color"] == color
    drawn = {int(part.partition('"')[0]) for part in state["picture"].split('data-mark="')[1:]}
    assert drawn <= set(range(state["marks"]))
    assert findings(session) == [
        {"code": f.code, "message": f.message, "remedy": f.remedy, "line": f.line}
        for f in chart.check()
    ]


@pytest.mark.parametrize("name", BRIEFS)
def test_the_python_of_every_demo_chart_makes_it_again(
    folder: Path, name: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    path = next(folder.rglob(f"{name}.toml"))
    text = session_of(path).python()
    monkeypatch.chdir(path.parent)
    made: dict[str, object] = {}
    exec(text, made)  # noqa: S102 - what we have written
    again, chart = made["chart"], load(path)
    pd.testing.assert_frame_equal(again.flags(), chart.flags())  # type: ignore[attr-defined]
    assert again.image("svg")[:200] == chart.image("svg")[:200]  # type: ignore[attr-defined]


def test_a_parameter_of_a_rule_reads_and_groups_nothing_anew(
    session: Session, monkeypatch: pytest.MonkeyPatch
) -> None:
    assert counted(session) == [4, 3]
    marks = session.stages.marks
    asked: list[object] = []
    monkeypatch.setattr("yuzen.stages.stages.shaped", lambda *parts: asked.append(parts))
    for n in range(20):
        session.edit(partial(with_key, key=("parameters", "n"), value=n), "drag")
        assert counted(session) == [4, n]
        assert session.stages.marks is marks
    assert asked == []
    session.undo()
    assert counted(session) == [4, 3]
    session.redo()
    assert counted(session) == [4, 19]


def test_what_changes_the_marks_groups_them_anew(session: Session) -> None:
    first = session.stages.marks
    session.edit(lambda text: with_key(text, ("chart", "limit"), 5))
    assert len(session.stages.marks) == 5
    session.edit(lambda text: with_key(text, ("data", "keep"), 'waters = "Saltmarsh"'))
    frame = pd.read_csv(session.brief.folder / "routes.csv")
    assert set(session.stages.marks.names()) <= set(frame[frame["waters"] == "Saltmarsh"]["route"])
    session.undo()
    session.undo()
    assert session.stages.marks.names() == first.names()


def test_filters_and_single_values_are_of_the_moment(session: Session) -> None:
    frame = pd.read_csv(session.brief.folder / "routes.csv")
    frame = frame[frame["service"] == "ferry"]
    session.set_moment(Moment({"waters": ("Saltmarsh", "Outer Isles"), "service": ("ferry",)}))
    kept = frame[frame["waters"].isin(["Saltmarsh", "Outer Isles"])]
    assert set(session.stages.marks.names()) == set(kept["route"])
    session.set_moment(Moment(each=("waters", "Saltmarsh")))
    assert set(session.stages.marks.names()) == set(frame[frame["waters"] == "Saltmarsh"]["route"])
    assert "Saltmarsh" in session.stages.page.words.subtitle
    session.save()
    assert session.is_saved
    assert "Saltmarsh" not in session.target.read_text()
    session.set_moment(Moment())
    filters = {row["column"]: row["values"] for row in desk_state(session)["filters"]}
    assert filters["waters"] == tuple(sorted(set(frame["waters"])))


def test_faults_stand_at_their_lines_and_the_way_back_is_free(session: Session) -> None:
    text = session.draft.text
    for wrong, right, line in (
        ("surpluss negative", "surplus negative", 21),
        ("topp n", "top n", 27),
        ("[chart", "[chart]", 12),
        ('kind     = "barr"', 'kind     = "bar"', 13),
    ):
        session.write_text(text.replace(right, wrong))
        state = desk_state(session)
        assert [fault["line"] for fault in state["faults"]] == [line], wrong
        assert "picture" not in state
        session.undo()
    assert desk_state(session)["faults"] == []


def test_nothing_is_written_before_it_is_said(session: Session) -> None:
    before = {path: path.read_bytes() for path in session.brief.folder.iterdir() if path.is_file()}
    session.edit(lambda text: with_key(text, ("parameters", "n"), 9))
    session.set_moment(Moment({"waters": ("Saltmarsh",)}))
    desk_state(session)
    findings(session)
    session.python()
    after = {path: path.read_bytes() for path in session.brief.folder.iterdir() if path.is_file()}
    assert after == before


def test_unsaved_work_is_kept_beside_the_brief_and_offered_again(session: Session) -> None:
    kept = session.target.with_name("busiest.toml.unsaved")
    session.keep()
    assert not kept.exists()
    session.edit(lambda text: with_key(text, ("parameters", "n"), 9))
    session.keep()
    assert tomllib.loads(kept.read_text())["parameters"] == {"n": 9}
    again = session_of(session.target)
    again.keep()  # what is offered stays until somebody has decided
    assert kept.exists()
    assert desk_state(again)["offered"]["text"] == session.draft.text
    assert counted(again) == [4, 3]
    again.take_offer()
    assert counted(again) == [4, 9]
    again.undo()
    assert counted(again) == [4, 3]
    again.redo()
    again.save()
    assert not kept.exists()
    assert tomllib.loads(session.target.read_text())["parameters"] == {"n": 9}
    assert "# Which routes" in session.target.read_text()
    session.edit(lambda text: with_key(text, ("parameters", "n"), 2))
    session.keep()
    dropping = session_of(session.target)
    dropping.drop_offer()
    assert not kept.exists()
    assert dropping.is_saved


def test_a_brief_that_changed_on_the_disk_is_never_written_over(session: Session) -> None:
    theirs = session.target.read_text().replace("n = 3", "n = 5")
    session.edit(lambda text: with_key(text, ("parameters", "n"), 9))
    version = session.version
    session.target.write_text(theirs)
    session.look_at_files()
    assert session.version > version  # so that pages hear of it
    assert desk_state(session)["on_disk"] == theirs
    with pytest.raises(YuzenError) as refused:
        session.save()
    assert refused.value.code == "call-changed"
    assert session.target.read_text() == theirs
    session.take_from_disk()
    assert (counted(session), session.is_saved, session.on_disk) == ([4, 5], True, None)
    session.undo()
    assert counted(session) == [4, 9]
    session.target.write_text(theirs + "\n# more\n")
    session.keep_own()
    session.save()
    assert tomllib.loads(session.target.read_text())["parameters"] == {"n": 9}


def test_line_ends_of_the_file_stay(folder: Path) -> None:
    path = folder / "busiest.toml"
    text = path.read_text()
    path.write_bytes(text.replace("\n", "\r\n").encode())
    session = session_of(path)
    session.edit(lambda text: with_key(text, ("parameters", "n"), 9))
    session.save()
    assert path.read_bytes() == text.replace("n = 3", "n = 9").replace("\n", "\r\n").encode()
    assert session.is_saved


def test_rows_that_change_on_the_disk_are_read_anew(session: Session) -> None:
    before = session.stages.context.values.copy()  # noqa: PD011 - no frame of pandas
    path = session.brief.folder / "routes.csv"
    frame = pd.read_csv(path)
    frame["passengers"] *= 2
    frame.to_csv(path, index=False)
    os.utime(path, (1, 1))
    session.look_at_files()
    assert np.allclose(session.stages.context.values, before * 2)


def test_copies_and_pictures_are_written_below_the_folder_alone(session: Session) -> None:
    folder = session.brief.folder
    session.edit(lambda text: with_key(text, ("parameters", "n"), 9))
    copy = session.save_copy("other.toml")
    assert copy.read_text() == session.draft.text
    assert not session.is_saved
    for kind in ("png", "svg", "pdf", "xlsx", "pptx"):
        picture = session.save_picture(f"a.{kind}")
        assert load_picture(picture).stages.brief.parameters == {"n": 9.0}
        assert session.save_picture(f"a.{kind}") == picture
    (folder / "rows.xlsx").write_bytes(b"no picture")
    (folder / "out").symlink_to(folder.parent)
    for save, name in (
        (session.save_copy, "../b.toml"), (session.save_copy, str(folder.parent / "b.toml")),
        (session.save_copy, "out/b.toml"), (session.save_copy, "b.txt"),
        (session.save_copy, "other.toml"), (session.save_copy, "\0.toml"), (session.save_copy, ""),
        (session.save_picture, "../a.png"), (session.save_picture, "a.gif"),
        (session.save_picture, "rows.xlsx"), (session.save_picture, "out/a.png"),
    ):  # fmt: skip
        with pytest.raises(YuzenError) as refused:
            save(name)
        assert refused.value.code in {"call-path", "call-format", "call-exists"}, name
    assert (folder / "rows.xlsx").read_bytes() == b"no picture"
    assert not (folder.parent / "b.toml").exists()


@pytest.mark.parametrize(("key", "value"), [
    (("data", "file"), "/etc/hosts"), (("data", "file"), "../secret.csv"),
    (("data", "file"), "out/secret.csv"), (("data", "file"), "*/../../*.csv"),
    (("data", "file"), "-"), (("theme",), "../house.toml"), (("rules",), "/etc/rules.toml"),
    (("data", "also", "file"), "../secret.csv"), (("data", "query"), "select * from routes"),
])  # fmt: skip
def test_a_brief_names_no_new_file_outside_of_its_folder(
    session: Session, key: tuple[str, ...], value: str
) -> None:
    outside = session.brief.folder.parent
    (outside / "secret.csv").write_text("route,passengers\nHidden,1\n")
    (session.brief.folder / "out").symlink_to(outside)
    if "also" in key:
        session.edit(lambda text: with_key(text, ("data", "also", "by"), ["route"]))
    session.edit(lambda text: with_key(text, key, value))
    (fault,) = desk_state(session)["faults"]
    assert fault["code"] == "call-files"
    assert fault["line"]
    assert "Hidden" not in str(desk_state(session))


def test_what_a_brief_named_when_it_was_opened_may_stay(folder: Path) -> None:
    inner = folder / "inner"
    inner.mkdir()
    text = (folder / "busiest.toml").read_text().replace('"routes.csv"', '"../routes.csv"')
    (inner / "b.toml").write_text(text)
    session = session_of(inner / "b.toml")
    assert counted(session) == [4, 3]
    session.edit(lambda text: with_key(text, ("data", "file"), "../dirty.csv"))
    assert desk_state(session)["faults"][0]["code"] == "call-files"


def test_a_picture_is_moved_without_its_rows(folder: Path, tmp_path: Path) -> None:
    picture = load(folder / "busiest.toml").save(tmp_path / "b.png")
    record = record_in(picture)
    session = Session(EditedBrief("b.toml", record.brief, tmp_path, source=record))
    session.edit(lambda text: with_key(text, ("parameters", "n"), 7))
    assert counted(session) == [4, 7]
    session.edit(lambda text: with_key(text, ("theme",), "dusk"))
    dusk = load(folder / "busiest.toml").given(n=7).themed("dusk")
    assert [row["color"] for row in desk_state(session)["table"]["rows"]] == list(
        dusk.flags()["color"]
    )
    for key, value in (
        (("chart", "limit"), 3),
        (("chart", "category"), "waters"),
        (("data", "keep"), "n > 3"),
    ):
        session.edit(partial(with_key, key=key, value=value))
        assert desk_state(session)["faults"][0]["code"] == "call-picture"
        session.undo()
    session.save()
    assert (tmp_path / "b.toml").exists()


def test_rows_in_memory_and_first_briefs_have_no_file_yet(tmp_path: Path) -> None:
    rows = pd.DataFrame({"route": ["a", "b", "c"], "fares": [3.0, -1.0, 2.0]})
    text = '[chart]\ncategory = "route"\nvalue = "fares"\n[[rule]]\nwhen = "negative"\ncolor = "adverse"\n'
    session = Session(EditedBrief("first.toml", text, tmp_path, source=rows))
    assert counted(session) == [1]
    assert session.python().count("rows") == 2
    (tmp_path / "first.toml").write_text("x")
    with pytest.raises(YuzenError) as refused:
        session.save()
    assert refused.value.code == "call-exists"
    (tmp_path / "first.toml").unlink()
    assert session.save() == tmp_path / "first.toml"
    assert session.is_saved


def test_reasons_and_rows_of_marks_are_those_of_why(session: Session) -> None:
    stages = session.stages
    why = load(session.target).why()
    by_name = {mark["name"]: mark for mark in why.data()}
    rows = mark_rows(stages, "all", 0)
    assert rows.count == len(rows.rows) == 20
    for row in rows.rows:
        reasons = mark_reasons(stages, row.mark)
        if row.name in by_name:
            told = {rule["because"] for rule in by_name[row.name]["rules"]}  # type: ignore[attr-defined]
            assert {sentence for *_, sentence in reasons.reasons} == told
    flagged = mark_rows(stages, "flagged", 0)
    assert flagged.count == rows.flagged == 6
    assert [row.name for row in mark_rows(stages, "0", 0).rows] == [
        row.name for row in rows.rows if "loss" in row.rules
    ]
    for wrong in ("2", "x", "-1"):
        with pytest.raises(YuzenError):
            mark_rows(stages, wrong, 0)
    for mark in (-1, 20):
        with pytest.raises(YuzenError):
            mark_reasons(stages, mark)


@pytest.mark.parametrize(("values", "value"), [
    ([3.0, 961.0], 100.0), ([0.62, 0.97], 0.8), ([-5e6, 7e9], 0.0), ([2.0], 2.0), ([], 3.0),
    ([], 0.0), ([np.nan, 4.0], -9.0), ([1e-9, 2e-9], 1.5e-9), ([np.inf, 1.0], 5.0),
])  # fmt: skip
def test_a_slider_reaches_all_values_in_sensible_steps(values: list[float], value: float) -> None:
    low, high, step = slider_ends(np.array(values), value)
    known = [v for v in [*values, value] if np.isfinite(v)]
    assert low <= min(known) + 1e-9 * step
    assert high >= max(known) - 1e-9 * step
    assert low < high
    assert 50 <= (high - low) / step <= 410 or step == 1
    assert f"{step:e}"[0] in "125"


def test_parameters_are_what_they_are(folder: Path) -> None:
    (folder / "p.toml").write_text(
        """
[data]
file = "routes.csv"
keep = 'service = "ferry" and month after since'
[parameters]
since = "2025-06"
n = 3
limit = 20000
near = 0.1
pier = "Brinewick"
high = "favorable"
piers = ["Kelpwick", "Otterby"]
day = "2026-01-01"
[chart]
category = "route"
value = "passengers"
[[rule]]
when = "top n"
color = "high"
[[rule]]
when = "above limit"
color = "adverse"
[[rule]]
when = "route = pier or route one of piers"
color = "notice"
[[rule]]
when = "passengers within near of average"
color = "ink"
"""
    )
    session = session_of(folder / "p.toml")
    state = desk_state(session)
    assert [f["message"] for f in state["faults"]] == []
    controls = {control["name"]: control for control in state["parameters"]}
    assert controls["n"]["kind"] == "number"
    assert (controls["n"]["low"], controls["n"]["high"]) == (1, 20)
    numbers = session.stages.context.values  # noqa: PD011 - no frame of pandas
    assert controls["limit"]["low"] <= numbers.min()
    assert numbers.max() <= controls["limit"]["high"]
    assert controls["near"]["high"] == 0.2
    assert controls["pier"]["options"] == controls["piers"]["options"]
    assert "Otterby" in controls["pier"]["options"]
    assert controls["high"]["kind"] == "color"
    assert "adverse" in controls["high"]["options"]
    assert (controls["piers"]["kind"], controls["day"]["kind"]) == ("list", "date")


def test_kept_work_is_not_led_elsewhere_by_a_link(session: Session) -> None:
    elsewhere = session.brief.folder / "letters.txt"
    elsewhere.write_text("mine")
    session.target.with_name("busiest.toml.unsaved").symlink_to(elsewhere)
    session.offered = None
    session.edit(lambda text: with_key(text, ("parameters", "n"), 9))
    session.keep()
    assert elsewhere.read_text() == "mine"


def test_files_that_go_and_come_back_are_told_and_read(session: Session) -> None:
    rows = session.brief.folder / "routes.csv"
    text = rows.read_text()
    assert counted(session) == [4, 3]
    rows.unlink()
    session.look_at_files()
    assert "routes.csv" in desk_state(session)["faults"][0]["message"]
    rows.write_text(text)
    session.look_at_files()
    assert counted(session) == [4, 3]
    session.edit(lambda text: with_key(text, ("parameters", "n"), 4))
    assert counted(session) == [4, 4]
    session.target.unlink()
    session.save()
    assert "n = 4" in session.target.read_text()
