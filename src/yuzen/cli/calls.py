"""From the words of a call to a chart."""

from __future__ import annotations

from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

import click

from yuzen.charts import chart, load, load_picture
from yuzen.cli.output import print_editions
from yuzen.cli.terminal import printable_lines
from yuzen.errors import YuzenError, wrong
from yuzen.files.formats import FORMATS

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping, Sequence

    from yuzen.charts import Chart
    from yuzen.shape.sources import RowsLike


PIPED = "yuzen.rows from a pipe"


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
    if data is None:
        return loaded
    return loaded.with_rows(_given(data))


def _given(data: str) -> RowsLike:
    """The rows that a call names; a pipe is read once, however many briefs are drawn from it."""
    if data != "-":
        return data
    from yuzen.shape.pipes import piped

    kept = click.get_current_context().meta
    if PIPED not in kept:
        kept[PIPED] = piped()
    found: RowsLike = kept[PIPED]
    return found


def file_chart(
    source: str,
    category: str | None,
    value: str | None,
    kind: str | None,
    title: str | None,
    rules: Sequence[tuple[str, str]],
) -> Chart:
    """The chart of a data file and what was said of it."""
    if Path(source).suffix.casefold().lstrip(".") in FORMATS:
        message = "This is a picture, which has no rows to draw. Draw its brief, or ask it: yuzen why"
        raise wrong("call-picture", f"{message} {source}.")
    if category is None or value is None:
        missing = " and ".join(
            f"--{name}" for name, said in (("category", category), ("value", value)) if said is None
        )
        message = f"To draw a data file, say {missing} too. A brief ends in .toml."
        raise wrong("call-option", message)
    if title is None:
        titled = {}
    else:
        titled = {"title": title}
    made = chart(source, category=category, value=value, kind=kind or "bar", **titled)
    for when, color in rules:
        made = made.rule(when, color=color)
    return made


def with_options(made: Chart, settings: Sequence[str], keep: str | None) -> Chart:
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
    if keep is None:
        return made
    return made.also_keep(keep)


def reported(work: Callable[[], object]) -> int:
    """Do some work, and tell what is wrong instead of ending: 0, or the exit code."""
    try:
        work()
    except YuzenError as error:
        click.echo(printable_lines(f"yuzen: {error}"), err=True)
        return error.exit_code
    return 0


def each_reported(sources: Sequence[Path], work: Callable[[Path], object]) -> int:
    """The same with each of several briefs, one by one; the highest exit code."""
    return max(reported(partial(work, source)) for source in sources)


def picture_path(source: str, output: Path | None, count: int) -> Path:
    """Where the picture of a brief goes: the output, or in it if it is a folder or is for several."""
    name = Path(source).with_suffix(".png").name
    if output is None:
        return Path(name)
    if count == 1 and not output.is_dir():
        return output
    if not output.is_dir():
        raise wrong("call-folder", f"Several pictures go into a folder, and {output} is none.")
    return output / name


def many(
    sources: Sequence[str], make: Callable[[str], Chart], output: Path | None, *, refuse: bool, as_json: bool
) -> int:
    """Draw several briefs, on all processors; what is wrong with one is told, and the others are drawn."""
    from yuzen.batches import draw_all  # which loads what starts processes

    if refuse:
        raise wrong("call-option", "--each and --write-brief go with one chart at a time.")
    charts: list[tuple[str, Chart, Path]] = []
    paths = [picture_path(source, output, len(sources)) for source in sources]
    twins = sorted({str(path) for path in paths if paths.count(path) > 1})
    if twins:
        message = f"Two of the briefs would be drawn into {twins[0]}; draw them one by one."
        raise wrong("call-option", message)
    codes = [
        reported(lambda source=source, path=path: charts.append((source, make(source), path)))  # type: ignore[misc]
        for source, path in zip(sources, paths, strict=True)
    ]
    drawn = print_editions(draw_all(charts), len(charts), as_json=as_json)
    return max([*codes, *(edition.error.exit_code for edition in drawn if edition.error is not None)])
