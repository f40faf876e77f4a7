"""Hostile input: broken briefs, files, records, tables, objects and calls, each run to one outcome.

A run never raises: it says how it ended. What is told with a code is fine; what gets out as another error,
a warning, a run of ten seconds or a torn file is a defect. `python -m tests.fuzz` counts thousands of them.
"""

from __future__ import annotations

import base64
import contextlib
import copy
import datetime as dt
import io
import json
import os
import re
import signal
import struct
import sys
import tomllib
import traceback
import warnings
import zipfile
import zlib
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from decimal import Decimal
from pathlib import Path
from random import Random
from typing import Any
from unittest import mock

import numpy as np
import pandas as pd
import tomli_w

import yuzen as yz
from tests.support.ferries import DEMO
from yuzen.brief.model import Brief
from yuzen.brief.sections.chart import ChartSection
from yuzen.brief.toml.document import make_brief, parse_brief
from yuzen.brief.toml.source import BriefSource
from yuzen.charts.chart import Chart
from yuzen.cli.main import run as run_command
from yuzen.files.records.record import FORMAT_VERSION
from yuzen.files.whole import TEMPORARY_PREFIX
from yuzen.recolor.found import found_charts
from yuzen.recolor.painted_file import unpainted
from yuzen.stages.stages import Stages

LIMIT = 10  # seconds that a run may take
BRIEFS = sorted((DEMO / "briefs").glob("*.toml"))
WORDS = (
    "", " ", "a\x00b", "\x1b[31m", "\uffff", "\u202e", "{", "}", "{{", "{n", '"', "'", "\\", "../../etc/passwd", "=1+1", "-",
    "x" * 5_000, "route", "highest", "month", "top 3", "falls 0 times", "rank 3 to 1", "passengers above", "🚢", "Ash",
    "not not not negative", "(" * 300, "1e400", "-0", "NaN", "postgresql://u:pw@h/d?password=pw", "sqlite:///no.db",
    "weekday", "hour of month", "within 5% of passengers", "every 0", "count of rows where passengers above 3", "today", "year of month", "quarter of", "falls on a year before", "in last 3 months", "{latest month:%Q}", "€{,.1fM}",
    "moving average of passengers over 0", "April", "de", "previous 9 weeks before", "average of average of passengers", "passengers / 0", "`a", "always", "label.x", "layer y", "axis name",
)  # fmt: skip
PAINTED = (
    yz.rule("negative", color="adverse"),
    yz.rule("top 2", color="favorable", outline="ink"),
    yz.rule("negative", on="label", color="adverse"),
)
NUMBERS = (
    0,
    -1,
    1,
    3,
    2.5,
    -0.0,
    1e18,
    1e-18,
    1e308,
    5e-324,
    10**400,
    -(10**30),
    float("nan"),
    float("inf"),
)
VALUES: tuple[Any, ...] = (
    *WORDS,
    *NUMBERS,
    None,
    True,
    [],
    [1],
    {},
    {"a": 1},
    dt.date(2024, 1, 1),
    dt.time(1),
)


class Odd:
    """Somebody's object of which nothing can be asked."""

    def __repr__(self) -> str:
        raise RuntimeError("nothing to say")

    def __hash__(self) -> int:
        raise RuntimeError("no hash")

    def __eq__(self, other: object) -> bool:
        raise RuntimeError("not to be compared")


CELLS: tuple[Any, ...] = (
    *VALUES, Odd(), Decimal("1.5"), Decimal("sNaN"), b"text", b"\xff", 1j, pd.NaT, pd.Timestamp("2024-05-01"),
    pd.Timestamp("2024-05-01", tz="UTC"), pd.Timedelta(3, "D"), np.float32(2), np.datetime64("2024-01-01"), {1},
    (1, 2), "2024-01-01", "01.02.2024", "Dec 2025", "2025-W07", "Q1 2024", "1.234,5", "(3)", "12%", "1 000", "\ud800",
)  # fmt: skip


@dataclass(frozen=True)
class Outcome:
    """How a run ended: fine, told, or a defect; with what was told, or where it went wrong."""

    kind: str
    what: str = ""

    @property
    def is_defect(self) -> bool:
        return self.kind not in {"fine", "told"}


class OverTimeError(Exception):
    """A run took too long."""


def outcome(kind: str, seed: int, folder: Path) -> Outcome:
    """Run one kind of hostile input, made from a seed, in a folder of its own."""
    before = Path.cwd()
    os.chdir(folder)
    try:
        with limited(), warnings.catch_warnings(record=True) as warned:
            warnings.simplefilter("always")
            found = _ended(KINDS[kind], Random(seed))
    finally:
        os.chdir(before)
    if warned and not found.is_defect:
        first = warned[0]
        return Outcome(
            "warning", f"{first.message} ({Path(first.filename).name}, line {first.lineno})"
        )
    return found


def _ended(work: Callable[[Random], str], rnd: Random) -> Outcome:
    try:
        said = work(rnd)
    except yz.YuzenError as error:
        text = str(error)
        if "pw@" in text or "password=pw" in text:
            return Outcome("leak", text)
        if any(
            words in text for words in ("Input should", "should have at", "instance of", "C error")
        ):
            return Outcome("words of others", text)
        return Outcome("told", error.code)
    except OverTimeError:
        return Outcome("over time")
    except Exception as error:
        last = traceback.extract_tb(error.__traceback__)[-1]
        return Outcome(
            "traceback",
            f"{type(error).__name__}: {error!s:.80} ({last.filename}, line {last.lineno})",
        )
    return Outcome("fine" if not said else "torn", said)


@contextlib.contextmanager
def limited() -> Iterator[None]:
    """Raise OverTimeError inside after LIMIT seconds."""

    def stop(*_: object) -> None:
        raise OverTimeError

    before = signal.signal(signal.SIGALRM, stop)
    signal.setitimer(signal.ITIMER_REAL, LIMIT)
    try:
        yield
    finally:
        signal.setitimer(signal.ITIMER_REAL, 0)
        signal.signal(signal.SIGALRM, before)


def lay_out(folder: Path) -> Path:
    """The demo's data and briefs in a folder, and its rows in every type of file."""
    for item in (*(DEMO / "data").glob("*.csv"), *BRIEFS):
        (folder / item.name).write_bytes(item.read_bytes())
    rows = pd.read_csv(DEMO / "data" / "routes.csv").head(90)
    rows.to_csv(folder / "few.csv", index=False)
    rows.to_json(folder / "few.json", orient="records")
    rows.to_json(folder / "few.jsonl", orient="records", lines=True)
    rows.to_parquet(folder / "few.parquet")
    rows.to_excel(folder / "few.xlsx", index=False)
    for ending in ("png", "svg", "pdf", "pptx", "xlsx"):
        yz.load(folder / "busiest.toml").save(folder / f"picture.{ending}")
    for ending in ("pptx", "xlsx"):
        painted = yz.paint(folder / f"picture.{ending}", *PAINTED)
        painted.save(folder / f"painted.{ending}")
    (folder / "rules.toml").write_text('[[rule]]\nwhen = "top 3"\ncolor = "adverse"\n')
    return folder


# --- what is done with a chart that was made ---


def exercise(chart: Any, rnd: Random) -> str:
    """Ask a chart for some of what it gives; what is torn, '' for nothing."""
    asked = rnd.random()
    if asked < 0.3:
        chart.flags()
    elif asked < 0.35:
        str(chart.summary(since=rnd.choice([None, chart, rnd.choice(WORDS), "few.csv"])))
    elif asked < 0.4:
        made = yz.report(
            [chart], title=rnd.choice([None, rnd.choice(WORDS)]), intro=rnd.choice(WORDS)
        )
        assert made.save("r.html").read_text("utf-8").count("<script") == 0
    elif asked < 0.6:
        str(chart.why(*rnd.choice([(), ("Brinewick",), (2024,), (rnd.choice(WORDS),)])))
    elif asked < 0.7:
        assert parse_brief(BriefSource("b", chart.brief())) == chart.spec
    elif asked < 0.75:
        chart.check()
    elif asked < 0.85:
        list(chart.each(rnd.choice(["waters", "route", "nothing"])))
    else:
        return _saved(chart, rnd)
    return ""


def _saved(chart: Any, rnd: Random) -> str:
    """Save a chart where writing may fail; says what is torn."""
    path = Path(f"out.{rnd.choice(['png', 'svg', 'pdf', 'pptx', 'xlsx'])}")
    path.write_bytes(b"old")
    if rnd.random() < 0.3:
        disk: Any = mock.patch("os.fsync", side_effect=OSError(28, "No space left on device"))
    else:
        disk = contextlib.nullcontext()
    with disk:
        try:
            chart.save(path)
        except yz.YuzenError:
            torn = path.read_bytes() != b"old"
        else:
            head, tail = {
                "png": (b"\x89PNG", b"IEND"),
                "svg": (b"<?xml", b"</svg>"),
                "pdf": (b"%PDF", b"%%EOF"),
                "pptx": (b"PK", b"PK\x05\x06"),
                "xlsx": (b"PK", b"PK\x05\x06"),
            }[path.suffix[1:]]
            data = path.read_bytes()
            torn = not data.startswith(head) or tail not in data[-22:]
    left = [item.name for item in Path().iterdir() if item.name.startswith(TEMPORARY_PREFIX)]
    return f"{path} {left}" if torn or left else ""


# --- briefs ---


def brief_values(rnd: Random) -> str:
    """A demo brief with one or two of its values replaced, removed or added."""
    values = tomllib.loads(rnd.choice(BRIEFS).read_text())
    for _ in range(rnd.choice([1, 1, 2])):
        way = rnd.choice([*_ways(values)][1:])
        holder = _at(values, way[:-1])
        change = rnd.random()
        if change < 0.15 and isinstance(holder, dict):
            del holder[way[-1]]
        elif change < 0.4 and isinstance(holder, dict):
            keys = [
                *Brief.model_fields,
                *ChartSection.model_fields,
                "when",
                "color",
                "part",
                "shade",
                "label",
                "on",
            ]
            holder[rnd.choice(keys)] = copy.deepcopy(rnd.choice(VALUES))
        else:
            holder[way[-1]] = _twisted(holder[way[-1]], rnd)
    if rnd.random() < 0.5:
        try:
            text = tomli_w.dumps({key: value for key, value in values.items() if value is not None})
        except Exception:  # what TOML has no words for goes in by Python
            return exercise(_of_values(values), rnd)
        Path("hostile.toml").write_text(text, encoding="utf-8", errors="replace")
        return exercise(yz.load("hostile.toml"), rnd)
    return exercise(_of_values(values), rnd)


def _of_values(values: dict[str, Any]) -> Any:
    return Chart(Stages(make_brief(values)))


def brief_text(rnd: Random) -> str:
    """A demo brief whose text was cut, doubled, shuffled or bitten."""
    text = rnd.choice(BRIEFS).read_text()
    for _ in range(rnd.choice([1, 2, 4])):
        place, length = rnd.randrange(len(text) + 1), rnd.choice([1, 1, 5, 40])
        bite = rnd.choice(
            ["", text[place : place + length] * 2, rnd.choice(WORDS[:30]), text[::-1][:length]]
        )
        text = text[:place] + bite + text[place + length :]
    Path("hostile.toml").write_text(text, encoding="utf-8", errors="replace")
    return exercise(yz.load("hostile.toml"), rnd)


def _ways(value: Any, way: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    yield way
    if isinstance(value, dict | list):
        for key in value if isinstance(value, dict) else range(min(len(value), 5)):
            yield from _ways(value[key], (*way, key))


def _at(value: Any, way: tuple[Any, ...]) -> Any:
    for key in way:
        value = value[key]
    return value


def _twisted(value: Any, rnd: Random) -> Any:
    """A value of the same type that is a little or much another, or of another type."""
    if isinstance(value, str) and rnd.random() < 0.6:
        place = rnd.randrange(len(value) + 1)
        return value[:place] + rnd.choice(WORDS[:30]) + value[place + rnd.choice([0, 1, 4]) :]
    return copy.deepcopy(rnd.choice(VALUES))


THEME = """base = "dusk"
fonts = ["Inter", "DejaVu Sans"]
series = ["#112233", "teal"]
[roles]
adverse = "#AA0000"
brand = "teal"
[patterns]
adverse = "stripes"
[sizes]
title = 21
number = 9
"""


def theme(rnd: Random) -> str:
    """A theme with one of its values another one, under a demo brief."""
    values = tomllib.loads(THEME)
    way = rnd.choice([*_ways(values)][1:])
    _at(values, way[:-1])[way[-1]] = _twisted(_at(values, way), rnd)
    try:
        text = tomli_w.dumps({key: value for key, value in values.items() if value is not None})
    except Exception:
        text = THEME.replace(rnd.choice(THEME), rnd.choice(WORDS))
    Path("hostile-theme.toml").write_text(text, encoding="utf-8", errors="replace")
    return exercise(
        yz.load(rnd.choice(["busiest.toml", "waters.toml"])).themed("hostile-theme.toml"), rnd
    )


# --- files and tables ---


def file_bytes(rnd: Random) -> str:
    """A file of rows that was cut, bitten or given other cells."""
    source = Path(rnd.choice(["few.csv", "few.json", "few.jsonl", "few.parquet", "few.xlsx"]))
    data = bytearray(source.read_bytes())
    change = rnd.random()
    if change < 0.3:
        data = data[: rnd.randrange(len(data))]
    elif change < 0.7 or source.suffix in {".parquet", ".xlsx"}:
        for _ in range(rnd.choice([1, 3, 20])):
            data[rnd.randrange(len(data))] = rnd.randrange(256)
    else:
        words = [word.encode(errors="replace") for word in WORDS] + [
            b"1" * 5_000,
            b"[[[",
            b"null",
            b"\xff\xfe",
            b"\0",
        ]
        place = rnd.randrange(len(data))
        data[place : place + rnd.choice([0, 3, 60])] = rnd.choice(words)
    path = Path(f"hostile{source.suffix}")
    path.write_bytes(data)
    value = rnd.choice(["passengers", "surplus", "total of surplus / total of fares"])
    category = rnd.choice(["route", "month", "passengers"])
    return exercise(
        yz.chart(path, category=category, value=value).rule("top 3", color="adverse"), rnd
    )


def frame(rnd: Random) -> str:
    """A chart of any kind of a table whose cells are of any type."""
    count = rnd.choice([0, 1, 2, 5, 12])
    dates = pd.date_range("2024-01-01", periods=max(count, 1), freq="MS")[:count]
    columns: dict[str, Any] = {
        "s": [f"name {i}" for i in range(count)], "d": list(dates), "n": list(range(2015, 2015 + count)),
        "v": [float(rnd.randrange(-9, 9)) for _ in range(count)], "w": [rnd.choice("xyz") for _ in range(count)],
    }  # fmt: skip
    for _ in range(rnd.choice([0, 1, 3])):
        cells = columns[rnd.choice([*columns])]
        odd = rnd.choice(CELLS)
        for place in range(len(cells)):
            if rnd.random() < rnd.choice([0.2, 1.0]):
                cells[place] = odd
    rows: Any = pd.DataFrame(
        {name: pd.Series(cells, dtype=object) for name, cells in columns.items()}
    )
    rows = rnd.choice([lambda x: x, _inferred, lambda x: x.set_index("s"), lambda x: x["v"],
                       lambda x: x.to_dict("list"), lambda x: x.to_dict("records"), lambda x: x.to_numpy()])(rows)  # fmt: skip
    said: dict[str, Any] = {
        "category": rnd.choice(
            ["s", "d", "n", "w", "v", "quarter of d", "weekday", "hour of d", "calendar month"]
        ),
        "value": rnd.choice(
            [
                "v",
                "n",
                "s",
                "change of v",
                "moving average of v over 2",
                "running share of v",
                "count of rows where v above 0",
                '(total of v where w = "x") / total of v',
                "share of v within w",
                "average of v where d in last 2 months and not above 3",
            ]
        ),
    }
    options: dict[str, Any] = {
        "kind": ["column", "line", "area", "table", "bridge"], "show": ["d in last 3 months", "v above 0", "top 3", "always", "not missing"],
        "from_": ['w = "x"', "v above 0"], "to": ['w = "y"', "v below 0"], "opening": ["x"], "group_order": ["largest first", "by name", "n, smallest first"],
        "data": [{"also": {"file": "routes.csv", "by": ["w"]}}, {"also": {"file": "nowhere.csv", "by": ["s"]}}], "rules": ["../nowhere.toml", "busiest.toml"], "series": ["w"], "panels": ["w"], "limit": [1, 3], "rest": ["Others"],
        "grain": ["month", "year"], "order": ["smallest first", "in time", "by name", ["name 2", "x"], "step, largest first"], "totals": [["all"], ["w", "all"], ["w", "s"]],
        "arrange": ["stacked"], "smooth": [True], "base": ["lowest of v", 3], "title": ["{total} {average:.1f} {n}", "{latest month} {earliest year of d}", "{pier}{w}"],
        "size": [{"width": 320, "height": 240}, {"height": 240}, {"width": 2000, "row_height": 14}], "theme": ["press", "dusk"],
        "scale": [{"low": -5, "high": 5}, {"low": 3}, {"high": -3}, {"high": "110% of highest", "title": "{total} kr"}],
        "formats": [{"v": "€{,.1fM}"}, {"v": "{.1%}", "n": "{sign ,.0f} m"}], "locale": ["de", "xx", "fr"], "calendar": [{"year_starts": "May"}],
        "note": [[{"at": "name 1", "text": "{v} here"}], [{"when": "highest", "text": "x" * 400}], [{"at": "2024-02", "text": "{s}"}]],
        "parameters": [{"pier": "name 1", "k": 2}, {"pier": ["name 1", "name 2"], "k": 3}, {"pier": "today", "k": "today"}], "measures": [{"step": "change of v on a year before", "twice": "2 * step"}], "panel_scale": ["own"], "key_place": ["none", "beside subtitle"],
        "layer": [[{"name": "a", "value": "v"}, {"name": "b", "value": "n", "axis": "own"}]],
    }  # fmt: skip
    for name in rnd.sample(sorted(options), rnd.choice([0, 1, 2, 4])):
        said[name] = rnd.choice(options[name])
    chart = yz.chart(rows, **said)
    for when in rnd.sample(["above average", "top 3 within w", "rises", "n above 2016", 'd after "2024-03"', "missing",
                            "share at least 20%", "outlier", "falls on a month before", "d in last 2 quarters", "highest within year",
                            "s = pier", "within 50% of average", "v within k of n", "every 2", "every k from 1 within w", "hour of d above 3",
                            'calendar month of d one of "March", "May"', "rises within calendar month", "d before today", "s one of pier", "v above moving average over k", "previous a year before negative", 's starts with "n"', "new high"], rnd.choice([0, 1, 3])):  # fmt: skip
        keys: Any = rnd.choice(
            [{"color": "adverse"}, {"badge": "up"}, {"label": "{v} {average:.0%}"}, {"shade": "v"}]
        )
        chart = chart.rule(when, **keys)
    if rnd.random() < 0.3:
        chart = chart.reference("average", label="average {average:,.1fM}")
    return exercise(chart, rnd)


def _inferred(rows: pd.DataFrame) -> pd.DataFrame:
    """With pandas' own types, where it has some."""
    try:
        return rows.infer_objects()
    except UnicodeEncodeError:  # of halves of letters, which are no defect of ours
        return rows


# --- pictures ---


def record(rnd: Random) -> str:
    """A picture whose bytes, or one field of whose record, are other ones."""
    source = Path(f"picture.{rnd.choice(['png', 'svg', 'pdf', 'pptx', 'xlsx'])}")
    data = source.read_bytes()
    if rnd.random() < 0.3:
        bitten = bytearray(data)
        for _ in range(rnd.choice([1, 4])):
            bitten[rnd.randrange(len(bitten))] = rnd.randrange(256)
        data = bytes(bitten[: rnd.choice([len(bitten), rnd.randrange(len(bitten))])])
    else:
        data = b"x " + tampered(yz.load("busiest.toml").stages.record.packed(), rnd)
    path = Path(f"hostile{source.suffix}")
    path.write_bytes(data)
    chart = yz.load_picture(path)
    return exercise(chart, rnd)


def tampered(packed: str, rnd: Random) -> bytes:
    """A packed record with one field of its head replaced, whole in all else."""
    raw = base64.b64decode(packed.split(":")[2])
    (size,) = struct.unpack_from("<I", raw, 4)
    head = json.loads(zlib.decompress(raw[8 : 8 + size]))
    way = rnd.choice([*_ways(head)][1:])
    holder = _at(head, way[:-1])
    if rnd.random() < 0.2 and isinstance(holder, dict):
        del holder[way[-1]]
    else:
        other = _twisted(holder[way[-1]], rnd)
        holder[way[-1]] = other if not isinstance(other, dt.date | dt.time) else 7
    told = zlib.compress(json.dumps(head).encode())
    body = struct.pack("<I", len(told)) + told + raw[8 + size :]
    letters = base64.b64encode(struct.pack("<I", zlib.crc32(body)) + body)
    return f"yuzen-record:{FORMAT_VERSION}:".encode() + letters + b":end"


# --- decks and workbooks ---


def office_file(rnd: Random) -> str:
    """A deck or a workbook some of whose parts are other ones, read and painted."""
    source = Path(rnd.choice(["picture", "painted"]) + rnd.choice([".pptx", ".xlsx"]))
    with zipfile.ZipFile(source) as archive:
        parts = {name: archive.read(name) for name in archive.namelist()}
    likely = [name for name in parts if re.search(r"charts/chart\d|yuzen|rels$|slide1|book", name)]
    for name in rnd.sample(likely, rnd.choice([1, 1, 2])):
        changed = _bitten_part(parts[name], rnd)
        if changed is None:
            del parts[name]
        else:
            parts[name] = changed
    path = Path(f"hostile{source.suffix}")
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in parts.items():
            archive.writestr(name, data)
    before = path.read_bytes()
    if rnd.random() < 0.2:
        found_charts(path)
    elif rnd.random() < 0.2:
        unpainted(path)
    else:
        target = yz.paint(path, *PAINTED).save(f"repainted{source.suffix}")
        # What was painted can be read, and painted again.
        assert len(found_charts(target)) == len(found_charts(path))
    return "" if path.read_bytes() == before else "the file that was read is another one"


def _bitten_part(data: bytes, rnd: Random) -> bytes | None:
    """A part with other bytes, tags, numbers or texts; None where it is gone."""
    asked = rnd.random()
    if asked < 0.25:
        place = rnd.randrange(len(data))
        return data[:place] + bytes([rnd.randrange(256)]) + data[place + 1 :]
    tags = re.findall(rb"<[A-Za-z:]+[^<>]*>", data)
    if asked < 0.5 and tags:
        return data.replace(rnd.choice(tags), rnd.choice(tags), rnd.choice([1, -1]))
    values = re.findall(rb'(?:val|idx)="[^"]*"', data)
    odd = [b"-1", b"1e9", b"99999999999", b"", b"nan", b"true", "é".encode()]
    if asked < 0.75 and values:
        value = rnd.choice(values)
        other = value.partition(b"=")[0] + b'="' + rnd.choice(odd) + b'"'
        return data.replace(value, other, rnd.choice([1, -1]))
    texts = re.findall(rb"<c:v>[^<]*</c:v>", data)
    if asked < 0.95 and texts:
        words = [b"", b"inf", b"nan", b"1e400", b"abc", b"=1+1", b"-1e308"]
        return data.replace(rnd.choice(texts), b"<c:v>" + rnd.choice(words) + b"</c:v>", 1)
    return None


# --- calls ---


def python_call(rnd: Random) -> str:
    """A method of a chart, or a builder of the language, with any object."""
    odd: Any = rnd.choice(
        [*CELLS, Odd(), object(), yz.top(3), yz.measure("v"), print, pd.DataFrame()]
    )
    chart = yz.load("busiest.toml")
    made = yz.measure("passengers")
    calls: list[Callable[[], Any]] = [
        lambda: chart.rule(odd, color="adverse"), lambda: chart.rule("top 3", color=odd), lambda: chart.keep(odd),
        lambda: chart.reference(odd), lambda: chart.label(odd), lambda: chart.measure(m=odd), lambda: chart.given(n=odd),
        lambda: chart.themed(odd), lambda: chart.panelled(odd), lambda: chart.with_rows(odd), lambda: chart.each(odd),
        lambda: chart.save(odd), lambda: chart.image(odd), lambda: chart.why(odd), lambda: chart.write(odd),
        lambda: yz.load(odd), lambda: yz.load_picture(odd), lambda: yz.chart(odd, category="route", value="v"),
        lambda: yz.chart({"a": [1]}, category=odd, value="v"), lambda: yz.chart({"a": [1]}, category="a", value=odd),
        lambda: made > odd, lambda: made == odd, lambda: made + odd, lambda: made.before(odd), lambda: made.top(odd),
        lambda: made.contains(odd), lambda: made.one_of(odd), lambda: made.between(odd, 3), lambda: made.rises(odd),
        lambda: yz.top(odd), lambda: yz.top(3, within=odd), lambda: yz.rank(odd, odd), lambda: yz.position(odd),
        lambda: yz.falls(times=odd), lambda: yz.measure(odd), lambda: yz.percent(odd), lambda: yz.top(3) & odd,
        lambda: made.falls(on=odd), lambda: made.in_last(odd), lambda: made.moving_average(odd), lambda: made.change_on(odd),
        lambda: chart.note(odd, at="Brinewick"), lambda: chart.note("x", at=odd), lambda: chart.note("x", when=odd),
        lambda: made.turns(odd), lambda: yz.outlier(odd), lambda: chart.save(io.BytesIO(), odd),
        lambda: chart.summary(odd), lambda: yz.report(odd), lambda: yz.report([chart, odd]), lambda: yz.load_report(odd),
        lambda: yz.report([chart], title=odd), lambda: yz.report([chart], since=odd), lambda: yz.report([chart], columns=odd),
        lambda: yz.report([chart], since=[odd]), lambda: yz.report([chart], theme=odd), lambda: yz.report([chart]).save(odd),
        lambda: yz.load_picture("busiest.png", odd), lambda: yz.paint(odd), lambda: yz.paint("picture.pptx", odd),
        lambda: yz.paint("picture.pptx", *PAINTED, data=odd), lambda: yz.paint("picture.xlsx", *PAINTED, theme=odd),
        lambda: chart.save("a.pptx", template=odd), lambda: yz.paint("picture.pptx", *PAINTED).save(odd),
    ]  # fmt: skip
    with contextlib.redirect_stdout(io.StringIO()):
        found = rnd.choice(calls)()
    if isinstance(found, yz.Chart):
        return exercise(found, rnd)
    return ""


def command(rnd: Random) -> str:
    """A call of the command line with some of its words replaced."""
    calls = [
        ["why", "busiest.toml", "Brinewick"], ["flags", "busiest.toml", "--format", "csv"], ["check", "busiest.toml"],
        ["draw", "busiest.toml", "-o", "out.png"], ["draw", "few.csv", "--category", "route", "--value", "surplus"],
        ["flags", "busiest.toml", "-o", "flags.json"], ["why", "picture.png"], ["flags", "busiest.toml", "--json"],
        ["compare", "busiest.toml", "few.csv", "few.csv"], ["draw", "busiest.toml", "--set", "n=2", "-o", "o.svg"],
        ["why", "busiest.toml", "--data", "few.parquet"], ["draw", "busiest.toml", "--each", "waters", "-o", "e.png"],
        ["flags", "busiest.toml", "--keep", 'waters = "Gull Sound"'], ["draw", "waters.toml", "--theme", "press"],
        ["draw", "busiest.toml", "--each", "quarter of month", "-o", "q.png"], ["draw", "calls.toml", "--panels", "year"],
        ["flags", "fiscal.toml", "--set", "pier=Kelpwick"], ["why", "year_before.toml", "2026-03"],
        ["report", "busiest.toml", "-o", "r.html"], ["report", "busiest.toml", "waters.toml", "-o", "r.html", "--since", "few.csv"],
        ["tell", "busiest.toml", "--since", "few.csv"], ["flags", "busiest.toml", "waters.toml", "-o", "f.xlsx"],
        ["why", "picture.png", "--chart", "busiest"], ["paint", "picture.pptx", "--list"],
        ["paint", "picture.pptx", "rules.toml", "-o", "p.pptx"], ["paint", "painted.xlsx", "--undo", "-o", "u.xlsx"],
        ["draw", "busiest.toml", "-o", "b.pptx", "--template", "painted.pptx"], ["flags", "painted.xlsx", "--json"],
        ["report", "busiest.toml", "waters.toml", "-o", "r.pptx"],
    ]  # fmt: skip
    words = list(rnd.choice(calls))
    words[rnd.randrange(1, len(words))] = rnd.choice(
        [*filter(lambda word: "\0" not in word, WORDS), "few.xlsx", "x.csv"]
    )
    argv, out, err = sys.argv, io.TextIOWrapper(io.BytesIO(), "utf-8"), io.StringIO()
    sys.argv = ["yuzen", *words]
    try:
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            run_command()
    except SystemExit as stop:
        code = stop.code
    finally:
        sys.argv = argv
    if code not in {None, 0, 2, 3} or "Traceback" in err.getvalue():
        raise AssertionError(f"exit {code} of {words!r:.80}: {err.getvalue()[:200]}")
    out.flush()
    if "pw@" in err.getvalue() + out.buffer.getvalue().decode(errors="replace"):
        raise AssertionError(f"a password is told: {err.getvalue()[:200]}")
    return ""


KINDS: dict[str, Callable[[Random], str]] = {
    work.__name__: work
    for work in (
        brief_values,
        brief_text,
        theme,
        file_bytes,
        frame,
        record,
        office_file,
        python_call,
        command,
    )
}
