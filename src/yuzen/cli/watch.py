"""Drawing anew whenever a brief, its theme or its rows change, and saying which flags changed."""

from collections.abc import Callable, Sequence
from pathlib import Path
from typing import NoReturn

from yuzen.charts.chart import Chart
from yuzen.charts.comparison import compare
from yuzen.cli.calls import picture_path, reported
from yuzen.cli.printing.output import print_summary
from yuzen.cli.printing.terminal import print_error, print_message
from yuzen.cli.stopping import track_outputs
from yuzen.errors import make_error
from yuzen.jobs.batches import draw_one
from yuzen.paths import FileSignature, file_signature
from yuzen.sources.extras import extra

QUIET_MS = 200  # milliseconds without a change before it counts as made
LOOK_EVERY_MS = (
    1_000  # milliseconds after which files are looked at even if nothing was told of them
)


class Watched:
    """One brief that is watched: its picture, its last chart, and the files that both depend on.

    What a file was like when it was last read is kept, so that no change is missed while a picture
    is drawn.
    """

    def __init__(self, source: str, make: Callable[[str], Chart], path: Path) -> None:
        self.source, self.make, self.path = source, make, path
        self.chart: Chart | None = None
        self.seen: dict[Path, FileSignature] = {Path(source).resolve(): None}

    @property
    def stale(self) -> bool:
        """Whether some file is not any more what it was."""
        return any(file_signature(file) != seen for file, seen in self.seen.items())

    def draw(self) -> None:
        """Draw it anew, and say what is drawn, or which flags changed."""
        self.seen = {file: file_signature(file) for file in self.seen}
        chart = self.make(self.source)
        for file in chart.stages.files:
            self.seen.setdefault(file.resolve(), file_signature(file.resolve()))
        edition = draw_one(self.source, chart, self.path)
        if self.chart is None:
            print_summary(edition)
        else:
            print_message(f"{self.path}: drawn anew\n\n{compare(self.chart, chart)}\n")
        self.chart = chart


def watched(
    sources: Sequence[str], make: Callable[[str], Chart], output: Path | None, *, refuse: bool
) -> NoReturn:
    """Draw every brief, then again what changes, until the user stops it."""
    if refuse:
        raise make_error(
            "call-option", "--watch draws briefs as they are; leave out --each, --json and pipes."
        )
    with extra("watch", "changes of files"):
        from watchfiles import watch

    briefs = [
        Watched(source, make, picture_path(source, output, len(sources))) for source in sources
    ]
    track_outputs(brief.path for brief in briefs)
    for brief in briefs:
        reported(brief.draw)
    print_error("watching; stop with Ctrl-C")
    while True:
        files = {file for brief in briefs for file in brief.seen}
        changes = watch(
            # Folders are watched, as editors write a new file and rename it over the old one.
            *{file.parent for file in files if file.parent.is_dir()},
            watch_filter=lambda _, path, files=files: Path(path) in files,  # type: ignore[misc]
            debounce=QUIET_MS,
            step=50,
            rust_timeout=LOOK_EVERY_MS,
            yield_on_timeout=True,
            recursive=False,
        )
        next(changes)  # or Ctrl-C, by which watching ends
        for brief in briefs:
            if brief.stale:
                reported(brief.draw)
