"""From the words of a call to a chart."""

from __future__ import annotations

from typing import TYPE_CHECKING

from yuzen.charts import chart, load, load_picture
from yuzen.draw.files import FORMATS
from yuzen.errors import wrong

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence
    from pathlib import Path

    from yuzen.charts import Chart


def chart_of(source: Path, data: str | None) -> Chart:
    """The chart of a brief, or the one inside a picture."""
    if source.suffix.casefold().lstrip(".") in FORMATS:
        if data is not None:
            raise wrong("call-data", "A picture has its own marks; --data goes with a brief.")
        return load_picture(source)
    return brief_chart(source, data, {})


def brief_chart(source: Path, data: str | None, others: Mapping[str, object]) -> Chart:
    """The chart of a brief, of other rows if they are named.

    `others` are the options that go with a data file only; those that were said are refused.
    """
    said = [f"--{name}" for name, given in others.items() if given]
    if said:
        message = f"{', '.join(said)} goes with a data file; in a brief, write it into the brief."
        raise wrong("call-option", message)
    loaded = load(source)
    return loaded if data is None else loaded.with_rows(data)


def file_chart(
    source: str,
    category: str | None,
    value: str | None,
    kind: str | None,
    title: str | None,
    rules: Sequence[tuple[str, str]],
) -> Chart:
    """The chart of a data file and what was said of it."""
    if category is None or value is None:
        missing = " and ".join(
            f"--{name}" for name, said in (("category", category), ("value", value)) if said is None
        )
        message = f"To draw a data file, say {missing} too. A brief ends in .toml."
        raise wrong("call-option", message)
    titled = {} if title is None else {"title": title}
    made = chart(source, category=category, value=value, kind=kind or "bar", **titled)
    for when, color in rules:
        made = made.rule(when, color=color)
    return made


def settled(made: Chart, settings: Sequence[str], keep: str | None) -> Chart:
    """The chart with the parameters and the rows that the call asks for."""
    parameters = {}
    for setting in settings:
        name, _, number = setting.partition("=")
        try:
            parameters[name.strip()] = float(number)
        except ValueError:
            message = f"'{setting[:60]}' sets nothing; write it like --set n=5."
            raise wrong("call-set", message) from None
    if parameters:
        made = made.given(**parameters)
    return made if keep is None else made.also_keep(keep)
