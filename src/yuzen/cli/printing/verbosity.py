"""How much a call prints, and whether in colours: -q, -v and --color, which every command has."""

from __future__ import annotations

import os
import sys
from collections.abc import Mapping
from dataclasses import replace
from typing import Final, TextIO

import click
from click.core import ParameterSource

from yuzen.stage_times import package_logger
from yuzen.value import Value

COLORS: Final = ("auto", "always", "never")


class Verbosity(Value):
    """What a call wants to see: errors and answers alone with -q, times of its stages with -v."""

    quiet: bool = False
    verbose: bool = False
    color: str = "auto"

    def colors(self, stream: TextIO | None, environment: Mapping[str, str] = os.environ) -> bool:
        """Whether a stream is written in colours.

        --color comes first, then NO_COLOR (no-color.org), then FORCE_COLOR (force-color.org), each
        of which counts where it is not empty; else a terminal has colours, and a file has none.
        """
        if self.color != "auto":
            return self.color == "always"
        if environment.get("NO_COLOR"):
            return False
        if environment.get("FORCE_COLOR"):
            return True
        return stream is not None and stream.isatty()


_current = Verbosity()  # of the call that runs, of which a process has one at a time


def current() -> Verbosity:
    """What the call that runs wants to see."""
    return _current


def set_verbosity(verbosity: Verbosity) -> None:
    """Print from now on as a call wants it."""
    global _current  # noqa: PLW0603 - streams are those of the process, and so is this
    if _current.verbose != verbosity.verbose:
        _listen(verbose=verbosity.verbose)
    _current = verbosity


def _quiet(_: click.Context, __: click.Parameter, value: bool) -> None:  # noqa: FBT001 - as click calls it
    if value:
        _refuse_both(other=_current.verbose)
        set_verbosity(replace(_current, quiet=True))


def _verbose(_: click.Context, __: click.Parameter, value: bool) -> None:  # noqa: FBT001 - as click calls it
    if not value:
        return
    _refuse_both(other=_current.quiet)
    set_verbosity(replace(_current, verbose=True))


def _refuse_both(*, other: bool) -> None:
    """Raise click.UsageError where a call is to be quiet and to say more."""
    if other:
        raise click.UsageError("-q and -v go one without the other.")


def _colored(ctx: click.Context, _: click.Parameter, value: str) -> None:
    # What was said before the command's name is not taken back by the command's own default.
    if ctx.get_parameter_source("color") is not ParameterSource.DEFAULT:
        set_verbosity(replace(_current, color=value))


def _listen(*, verbose: bool) -> None:
    """Print on standard error what the logger of the package reports of each stage, or no more."""
    import logging

    logger = package_logger()
    # A second one would print each line twice.
    for handler in [one for one in logger.handlers if isinstance(one, logging.StreamHandler)]:
        logger.removeHandler(handler)
    logger.setLevel(logging.NOTSET)
    if verbose:
        printing = logging.StreamHandler(sys.stderr)
        printing.setFormatter(logging.Formatter("  %(message)s"))
        logger.addHandler(printing)
        logger.setLevel(logging.DEBUG)


def verbosity_options() -> list[click.Parameter]:
    """The options of every command."""
    return [
        click.Option(
            ["-q", "--quiet"], is_flag=True, expose_value=False, callback=_quiet,
            help="Print answers and errors, and nothing about files that are written.",
        ),
        click.Option(
            ["-v", "--verbose"], is_flag=True, expose_value=False, callback=_verbose,
            help="Print what is read, from where, and how long each stage takes.",
        ),
        click.Option(
            ["--color"], type=click.Choice(COLORS), expose_value=False, callback=_colored,
            default="auto", show_default=True, help="Use colours: on a terminal, always or never.",
        ),
    ]  # fmt: skip
