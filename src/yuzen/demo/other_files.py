"""The files beside the gallery that the documents use: months, a database, Parquet, a deck."""

from __future__ import annotations

import csv
import sqlite3
from collections.abc import Callable, Iterator, Mapping, Sequence
from contextlib import closing
from importlib.resources import as_file, files
from io import BytesIO, StringIO
from pathlib import Path
from typing import Final

from yuzen.files.whole import made_folder, write_whole
from yuzen.sources.extras import is_installed

Row = Mapping[str, str]

WHOLE_COLUMNS: Final = ("passengers", "target_passengers", "fares", "cost", "surplus", "sailings")
DECK: Final[Mapping[str, Mapping[str, Sequence[float]]]] = {
    "Surplus by route": {"surplus": (-300, 120, 80, 5, -45)},
    "Two years": {"2025": (-300, 120, 80, 5, -45), "2026": (10, 20, 30, -40, 50)},
}
DECK_ROUTES: Final = ("Brinewick", "Kelpwick", "Larkholm", "Ottery", "Pellburn")


def write_other_files(folder: Path) -> list[str]:
    """Write the files into a folder with the demo's data; the names of those that need an extra."""
    rows = list(csv.DictReader(StringIO((folder / "routes.csv").read_text("utf-8"))))
    with as_file(files("yuzen.demo") / "files") as kept:
        for path in sorted(kept.rglob("*")):
            if path.is_file() and path.suffix in {".toml", ".csv"}:
                target = folder / path.relative_to(kept)
                made_folder(target.parent)
                write_whole(target, path.read_bytes())
    for name, text in _texts(rows):
        made_folder((folder / name).parent)
        write_whole(folder / name, text.encode())
    write_whole(folder / "ferry.db", _database(rows))
    left_out = []
    for extra, packages, write in EXTRAS:
        if is_installed(*packages):
            write(folder, rows)
        else:
            left_out.append(extra)
    return left_out


def _texts(rows: Sequence[Row]) -> Iterator[tuple[str, str]]:
    """Files of text made of the routes: their names and what they hold."""
    months = {"may.csv": "2026-05", "june.csv": "2026-06"}
    for name, month in months.items():
        yield name, _csv([row for row in rows if row["month"] == month])
    yield "may/routes.csv", _csv([row for row in rows if row["month"] < "2026-06"])
    latest = [row for row in rows if row["month"] >= "2026-01" and row["service"] == "ferry"]
    yield "wide.csv", _side_by_side(latest)
    yield "german.csv", _in_german(latest)
    goals = [{"route": row["route"], "month": row["month"], "goal": "1500"} for row in latest]
    yield "goals.csv", _csv(goals)


def _csv(rows: Sequence[Row]) -> str:
    text = StringIO()
    writer = csv.DictWriter(text, list(rows[0]), lineterminator="\n")
    writer.writeheader()
    writer.writerows(rows)
    return text.getvalue()


def _side_by_side(rows: Sequence[Row]) -> str:
    """The fares of each route, with a column for each month."""
    months = sorted({row["month"] for row in rows})
    by_route: dict[str, dict[str, str]] = {}
    for row in rows:
        by_route.setdefault(row["route"], {"route": row["route"]})[row["month"]] = row["fares"]
    return _csv([{"route": name, **{m: of[m] for m in months}} for name, of in by_route.items()])


def _in_german(rows: Sequence[Row]) -> str:
    """Fares as a German spreadsheet writes them: 1.234,50 and 30.06.2026."""
    lines = ["Strecke;Tag;Erlöse"]
    for row in rows:
        # Half a crown more, so that the decimal comma is seen.
        whole, fares = divmod(int(row["fares"]) * 10 + 5, 10)
        thousands = f"{whole:,}".replace(",", ".")
        lines.append(
            f"{row['route']};01.{row['month'][5:]}.{row['month'][:4]};{thousands},{fares}0"
        )
    return "\n".join(lines) + "\n"


def _database(rows: Sequence[Row]) -> bytes:
    """A database of SQLite with the routes as a table."""
    with closing(sqlite3.connect(":memory:")) as base:
        kinds = [f'"{name}" {"integer" if name in WHOLE_COLUMNS else "text"}' for name in rows[0]]
        base.execute(f"create table routes ({', '.join(kinds)})")
        places = ", ".join("?" * len(rows[0]))
        base.executemany(f"insert into routes values ({places})", [[*row.values()] for row in rows])  # noqa: S608 - question marks
        base.commit()
        return base.serialize()


def _parquet(folder: Path, rows: Sequence[Row]) -> None:
    """A file of Parquet for each month of 2026."""
    import pyarrow as pa  # noqa: PLC0415 - an extra
    import pyarrow.parquet as pq  # noqa: PLC0415 - as above

    made_folder(folder / "sailings")
    for month in sorted({row["month"] for row in rows if row["month"] >= "2026-01"}):
        of_month = [row for row in rows if row["month"] == month]
        columns = {name: [row[name] for row in of_month] for name in of_month[0]}
        typed = {
            name: [int(cell) for cell in cells] if name in WHOLE_COLUMNS else cells
            for name, cells in columns.items()
        }
        written = BytesIO()
        pq.write_table(pa.table(typed), written)
        write_whole(folder / "sailings" / f"{month}.parquet", written.getvalue())


def _deck(folder: Path, rows: Sequence[Row]) -> None:  # noqa: ARG001 - as all writers are called
    """A deck with charts that somebody has made by hand."""
    from pptx import Presentation  # noqa: PLC0415 - an extra
    from pptx.chart.data import CategoryChartData  # noqa: PLC0415 - as above
    from pptx.enum.chart import XL_CHART_TYPE  # noqa: PLC0415 - as above
    from pptx.util import Inches  # noqa: PLC0415 - as above

    deck = Presentation()
    kinds = (XL_CHART_TYPE.BAR_CLUSTERED, XL_CHART_TYPE.COLUMN_CLUSTERED)
    for kind, (title, series) in zip(kinds, DECK.items(), strict=True):
        slide = deck.slides.add_slide(deck.slide_layouts[5])
        slide.shapes.title.text = title
        data = CategoryChartData()
        data.categories = DECK_ROUTES
        for name, numbers in series.items():
            data.add_series(name, numbers)
        place = (Inches(1), Inches(2), Inches(8), Inches(5))
        slide.shapes.add_chart(kind, *place, data)
    written = BytesIO()
    deck.save(written)
    write_whole(folder / "paint" / "deck.pptx", written.getvalue())


# What needs a package, as messages name its extra, and what writes it.
EXTRAS: Final[tuple[tuple[str, tuple[str, ...], Callable[[Path, Sequence[Row]], None]], ...]] = (
    ("parquet", ("pyarrow",), _parquet),
    ("slides", ("pptx", "lxml"), _deck),
)
