"""How a chart begins: from rows, from the file of a brief, from a picture."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Unpack, cast

from yuzen.brief.house_defaults import defaults_above, load_brief, read_brief, with_defaults
from yuzen.brief.keys.signatures import with_keys_in_signature
from yuzen.brief.keywords import ChartCallKeys
from yuzen.brief.model import Brief
from yuzen.brief.rule_objects import in_words
from yuzen.brief.sections.chart import ChartSection
from yuzen.brief.toml.document import make_brief, parse_brief
from yuzen.brief.toml.source import BriefSource
from yuzen.charts.chart import Chart
from yuzen.charts.stages import Stages
from yuzen.errors import make_error
from yuzen.files.kept_records import damage_errors, record_in, records_in
from yuzen.files.record import Record
from yuzen.paths import path_of
from yuzen.sources.inputs import RowsLike, lasting

if TYPE_CHECKING:
    from sqlalchemy import Engine

    from yuzen.sources.sql.database import Database


@with_keys_in_signature(ChartCallKeys, Brief, ChartSection)
def chart(
    rows: RowsLike | None = None,
    *,
    category: str | int,
    value: str | int,
    table: str | None = None,
    query: str | None = None,
    **keys: Unpack[ChartCallKeys],
) -> Chart:
    """A chart of rows: a DataFrame, an Arrow table, a mapping of columns, records, a file's path.

    table, query: of an engine or a connection of SQLAlchemy, which of its rows are meant.
    `said` are the other keys of a brief's [chart] (kind, series, grain, order, limit, rest, totals,
    base, smooth, arrange, panels, ...) and its sections: title, subtitle, footer, theme, measures,
    parameters, layer, scale, size.
    Raises YuzenError with every fault of what is said.

    >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
    >>> chart(rows, category="route", value="surplus").rule("negative", color="adverse")
    <Chart bar: surplus by route, rules: 1>
    """
    # [chart] has a size, of points, and so has the picture, which is a section.
    chart_keys = {
        ChartSection.model_fields[key].alias or key: value
        for key, value in keys.items()
        if key in ChartSection.model_fields
        and value is not None
        and not (key in Brief.model_fields and isinstance(value, Mapping))
    }
    # What is None is left out, as where nobody gives it.
    sections = {
        key: value
        for key, value in keys.items()
        if key.rstrip("_") not in chart_keys and value is not None
    }
    if table is not None or query is not None:
        rows = _asked(rows, table, query)
    spec = make_brief(
        in_words({"chart": {"category": category, "value": value, **chart_keys}, **sections})
    )
    return Chart(Stages(spec, lasting(rows)))


def _asked(rows: RowsLike | None, table: str | None, query: str | None) -> Database:
    """A table or query of somebody's engine. Raises YuzenError (call-data) where it has no rows."""
    if hasattr(rows, "engine"):
        from yuzen.sources.sql.database import Database  # noqa: PLC0415 - few charts come from one

        return Database(cast("Engine", rows), table, query)
    message = "table and query are for an engine or a connection of SQLAlchemy; of a URL say"
    raise make_error("call-data", f'{message} yz.Database("sqlite:///ferry.db", table="routes").')


def load(path: str | Path) -> Chart:
    r"""The chart of a brief in a TOML file; its data file is found from the brief's folder.

    >>> import pathlib, tempfile
    >>> folder = pathlib.Path(tempfile.mkdtemp())
    >>> _ = (folder / "routes.csv").write_text("route,surplus\nBrinewick,-300\n")
    >>> _ = (folder / "routes.toml").write_text('''
    ... data = { file = "routes.csv" }
    ... chart = { category = "route", value = "surplus" }
    ... ''')
    >>> load(folder / "routes.toml").flags()["route"].tolist()
    ['Brinewick']
    """
    place = path_of(path)
    spec, written, defaults = load_brief(place)
    stages = Stages(spec, folder=place.parent, brief_source=written, defaults=defaults)
    return Chart(stages)


def load_text(text: str, called: str, folder: Path) -> Chart:
    """The chart of a brief that is in no file; its files are found from `folder`.

    called: what messages call the text. Raises YuzenError with all faults and their lines.
    """
    written = BriefSource(called, text)
    spec, defaults = read_brief(written, folder)
    return Chart(Stages(spec, folder=folder, brief_source=written, defaults=defaults))


def housed_chart(begun: Chart, folder: Path) -> Chart:
    """A chart with the defaults of the house that a folder is in, as briefs there have them."""
    defaults = defaults_above(folder)
    if defaults is None:
        return begun
    values, taken = with_defaults(begun.stages.brief.plain(), defaults, begun.stages.folder)
    return Chart(replace(begun.stages, brief=make_brief(values), defaults=taken))


def load_picture(path: str | Path, chart: str = "") -> Chart:
    """The chart inside a picture that Yuzen drew: its brief and its marks, without the rows.

    chart: of a report with several charts the name of one, which is that of its brief's file.
    Raises YuzenError (data-…) for a picture without a record, or with one that does not hold
    together.

    >>> import pathlib, tempfile
    >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
    >>> made = chart(rows, category="route", value="surplus").rule("negative", color="adverse")
    >>> picture = made.save(pathlib.Path(tempfile.mkdtemp()) / "routes.png")
    >>> load_picture(picture).flags()["role"].tolist()
    ['quiet', 'adverse']
    """
    place = path_of(path)
    return _kept_chart(place, record_in(place, chart))


def load_pictures(path: str | Path) -> dict[str, Chart]:
    """The charts of a picture, a report, a deck or a workbook, by their names.

    Raises YuzenError (data-…).
    """
    place = path_of(path)
    return {name: _kept_chart(place, record) for name, record in records_in(place).items()}


def _kept_chart(place: Path, record: Record) -> Chart:
    """The chart of a record. Raises YuzenError (data-…) where it does not hold together."""
    with damage_errors(place):
        kept = Chart(Stages(parse_brief(BriefSource(str(place), record.brief)), record))
        _ = (
            kept.stages.judged,
            kept.stages.judged_trends,
        )  # so that the record is blamed for faults
    return kept
