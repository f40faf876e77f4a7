"""How a chart begins: from rows, from the file of a brief, from a picture."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING, Any

from yuzen.brief.model import Brief
from yuzen.brief.places import Written
from yuzen.brief.sections import ChartSection
from yuzen.brief.toml import load_brief, make_brief, parse_brief
from yuzen.charts import Chart
from yuzen.files.record import damage_told, record_in
from yuzen.paths import path_of

if TYPE_CHECKING:
    from pathlib import Path

    from yuzen.shape.sources import RowsLike


def chart(
    rows: RowsLike | None = None,
    *,
    category: str | int,
    value: str | int,
    **said: Any,  # noqa: ANN401 - a brief's own keys
) -> Chart:
    """A chart of rows: a DataFrame, an Arrow table, a mapping of columns, or a file's path.

    `said` are the other keys of a brief's [chart] (kind, series, grain, order, limit, rest, totals, base,
    smooth, arrange, panels, ...) and its sections: title, subtitle, footer, theme, measures, parameters,
    layer, scale, size.
    Raises YuzenError with every fault of what is said.
    """
    # [chart] has a size, of points, and so has the picture, which is a section.
    own = {
        key: value
        for key, value in said.items()
        if key in ChartSection.model_fields and not (key in Brief.model_fields and isinstance(value, Mapping))
    }
    sections = {key: value for key, value in said.items() if key not in own}
    return Chart(make_brief({"chart": {"category": category, "value": value, **own}, **sections}), rows)


def load(path: str | Path) -> Chart:
    """The chart of a brief in a TOML file; its data file is found from the brief's folder."""
    place = path_of(path)
    spec, written = load_brief(place)
    return Chart(spec, folder=place.parent, written=written)


def load_picture(path: str | Path) -> Chart:
    """The chart inside a picture that Yuzen drew: its brief and its marks, without the rows.

    Raises YuzenError (data-…) for a picture without a record, or with one that does not hold together.
    """
    place = path_of(path)
    record = record_in(place)
    with damage_told(place):
        chart = Chart(parse_brief(Written(str(path), record.brief)), record)
        chart.judged, chart.judged_trends  # noqa: B018 - so that what does not fit is told of the record
    return chart
