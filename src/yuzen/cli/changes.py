"""What one call changes of a brief: its parameters, its rows, the marks that are drawn."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import wraps
from typing import Any

import click


@dataclass(frozen=True)
class Changes:
    """What one call changes of a brief.

    settings: parameters, NAME=VALUE each.
    keep:     a condition on rows, besides the brief's own.
    show:     a condition on marks, in the place of the brief's own.
    """

    settings: tuple[str, ...] = ()
    keep: str | None = None
    show: str | None = None


def changing(command: Callable[..., Any]) -> Callable[..., Any]:
    """The options that change what a brief says for one call, given to the command as one value."""

    @wraps(command)
    def changed(
        *,
        settings: tuple[str, ...],
        keep: str | None,
        show: str | None,
        **options: Any,  # noqa: ANN401 - those of the command
    ) -> Any:  # noqa: ANN401 - what it gives
        return command(changes=Changes(settings, keep, show), **options)

    for option in (
        click.option("--show", metavar="CONDITION", help="Draw only marks for which this holds."),
        click.option("--keep", metavar="CONDITION", help="Keep only rows for which this holds."),
        click.option(
            "--set",
            "settings",
            metavar="NAME=VALUE",
            multiple=True,
            help="Set a parameter: a number, a word or a date.",
        ),
    ):
        changed = option(changed)
    return changed


def shared(command: Callable[..., Any]) -> Callable[..., Any]:
    """The options that change what a brief says, and its rows."""
    rows = click.option(
        "--data", metavar="FILE", help="Other rows: a file, a database's url, or - for a pipe."
    )
    return rows(changing(command))
