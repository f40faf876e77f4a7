"""How a chart begins: from rows, from the file of a brief, from a picture."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Unpack, cast

from yuzen.brief.house_defaults import defaults_above, load_brief, read_brief, with_defaults
from yuzen.brief.keys.signatures import with_keys_in_signature
from yuzen.brief.keywords import ChartCallKeys
from yuzen.brief.model import Brief
from yuzen.brief.rule_objects import in_words
from yuzen.brief.sections.chart import ChartSection
from yuzen.brief.sections.former_names import with_present_keywords
from yuzen.brief.toml.document import MAX_BRIEF_BYTES, make_brief, parse_brief
from yuzen.brief.toml.source import BriefSource, KeyPath
from yuzen.charts.chart import Chart
from yuzen.errors import Fault, YuzenError, make_error, require_type
from yuzen.files.records.kept_records import damage_errors, record_in, records_in
from yuzen.files.records.record import Record
from yuzen.paths import path_of
from yuzen.sources.inputs import RowsLike, lasting
from yuzen.stages.stages import Stages

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
    The other keywords are the keys of a brief's [chart] (kind, series, grain, order, limit, rest,
    totals, base, smooth, arrange, panels, ...) and its sections: title, subtitle, footer, theme,
    measures, parameters, layer, scale, size.
    Raises YuzenError with every fault of what is said.

    >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
    >>> chart(rows, category="route", value="surplus").rule("negative", color="adverse")
    <Chart bar: surplus by route, rules: 1>
    """
    keys = cast("ChartCallKeys", with_present_keywords(keys))
    chart_keys = {
        ChartSection.model_fields[key].alias or key: value
        for key, value in keys.items()
        if key in ChartSection.model_fields and value is not None
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


def loads(
    text: str,
    rows: RowsLike | None = None,
    *,
    folder: str | Path | None = None,
    called: str = "the brief",
) -> Chart:
    """The chart of a brief in a text, as a service gets one.

    rows:   the rows, in the place of those that the brief names.
    folder: from which the brief's files are found; None: it may name no file and no database, as a
            brief of somebody else that is drawn on a server, and no yuzen.toml is looked for.
    called: what messages call the text.
    Raises YuzenError with all faults and their lines, and (call-files) for files without a folder.

    >>> brief = 'chart = { category = "route", value = "surplus" }'
    >>> loads(brief, {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]})
    <Chart bar: surplus by route, rules: 0>
    """
    require_type(text, str, "Give the text of a brief, in TOML; yz.load takes its file.")
    if len(text) > MAX_BRIEF_BYTES:
        message = f"It has more than {MAX_BRIEF_BYTES / 1e6:.0f} MB, and no brief is as long."
        raise make_error("brief-file", message, where=called)
    # Without a folder even a yuzen.toml is not looked for, as it would be that of the server.
    written = BriefSource(called, text)
    if folder is None:
        spec, defaults = parse_brief(written), None
        _refuse_files(spec, written)
    else:
        spec, defaults = read_brief(written, path_of(folder))
    stages = Stages(
        spec,
        lasting(rows),
        path_of("." if folder is None else folder),
        brief_source=written,
        defaults=defaults,
    )
    return Chart(stages)


def _refuse_files(spec: Brief, written: BriefSource) -> None:
    """Raise YuzenError (call-files) for everything in a brief that would be read or asked."""
    data = spec.data
    named: dict[KeyPath, object] = {
        ("theme",): spec.theme if spec.theme.casefold().endswith(".toml") else None,
        ("rules",): spec.rules,
        ("data", "file"): data.file,
        ("data", "url"): data.url,
        ("data", "query"): data.query,
        ("data", "also"): data.also,
    }
    faults = [
        Fault("call-files", f"{'.'.join(map(str, key))} names a file or a database, and this brief "
              "may name none. Its rows are given with it.", key=key)
        for key, value in named.items()
        if value is not None
    ]  # fmt: skip
    if faults:
        raise YuzenError(*map(written.located, faults))


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
