"""Drawing anew whenever a brief, its theme or its rows change, and saying which flags changed."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

import click

from yuzen.cli.calls import picture_path, told
from yuzen.cli.printing import print_summary
from yuzen.cli.terminal import printable_lines
from yuzen.comparing import compare
from yuzen.errors import wrong
from yuzen.shape.extras import extra

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

    from yuzen.charts import Chart

PAUSE = 200  # milliseconds without a change before it counts as made


class Watched:
    """One brief that is watched: its picture, its last chart, and the files that both depend on."""

    def __init__(self, source: str, make: Callable[[str], Chart], path: Path) -> None:
        self.source, self.make, self.path = source, make, path
        self.chart: Chart | None = None
        self.files: set[Path] = {Path(source).resolve()}

    def draw(self) -> None:
        """Draw it anew, and say what is drawn, or which flags changed."""
        chart = self.make(self.source)
        self.files |= {file.resolve() for file in chart.files}
        chart.save(self.path)
        if self.chart is None:
            print_summary(self.path, chart)
        else:
            click.echo(printable_lines(f"{self.path}: drawn anew\n\n{compare(self.chart, chart)}\n"))
        self.chart = chart


def watched(
    sources: Sequence[str], make: Callable[[str], Chart], output: Path | None, *, refuse: bool
) -> int:
    """Draw every brief, then again what changes, until the user stops it."""
    if refuse:
        raise wrong("call-option", "--watch draws briefs as they are; leave out --each, --json and pipes.")
    with extra("watch", "changes of files"):
        from watchfiles import watch

    briefs = [Watched(source, make, picture_path(source, output, len(sources))) for source in sources]
    for brief in briefs:
        told(brief.draw)
    click.echo("watching; stop with Ctrl-C", err=True)
    while True:
        files = set().union(*(brief.files for brief in briefs))
        folders = {file.parent for file in files}
        changes = watch(
            *folders,
            watch_filter=lambda _, path, files=files: Path(path) in files,  # type: ignore[misc]
            debounce=PAUSE,
            step=50,
            recursive=False,
            raise_interrupt=False,
        )
        changed = {Path(path) for _, path in next(changes, set())}
        if not changed:
            return 0
        for brief in briefs:
            if brief.files & changed:
                told(brief.draw)
