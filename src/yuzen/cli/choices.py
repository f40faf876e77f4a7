"""Choices of options and arguments: what is accepted, and what a shell completes."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterable
from contextlib import suppress
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from yuzen.brief.keys.codes import code_tables, finding_code_fault, finding_codes
from yuzen.brief.keys.key_help import keys_of
from yuzen.cli.commands import COMMANDS
from yuzen.cli.printing.terminal import print_note
from yuzen.cli.stored_pages import page
from yuzen.errors import YuzenError, suggestion
from yuzen.paths import DEFAULTS_FILE

if TYPE_CHECKING:
    from click.shell_completion import CompletionItem

    from yuzen.stages.stages import Stages


class ThemeName(click.ParamType[str]):
    """The name of a built-in theme, or the file of another."""

    name = "theme"

    def get_metavar(self, param: click.Parameter, ctx: click.Context) -> str:  # noqa: ARG002
        """What a help page shows."""
        return f"[{'|'.join(theme_names())}|FILE.toml]"

    def convert(self, value: str, param: click.Parameter | None, ctx: click.Context | None) -> str:
        """The name, or the whole path of a file. Raises click.BadParameter."""
        if value.casefold().endswith(".toml"):
            # A brief finds its theme from its own folder, and a call means the current one.
            return str(Path(value).resolve())
        if value not in (names := theme_names()):
            message = f"{value!r} is no theme.{suggestion(value, names)} There is"
            self.fail(f"{message} {', '.join(names)}, or a file that ends in .toml.", param, ctx)
        return value

    def shell_complete(
        self,
        ctx: click.Context,  # noqa: ARG002 - as click asks
        param: click.Parameter,  # noqa: ARG002
        incomplete: str,
    ) -> list[CompletionItem]:
        """The themes; files where no theme begins so, as bash completes one or the other."""
        return _items(theme_names(), incomplete) or _files(incomplete)


class FindingCode(click.ParamType[str]):
    """The code of a finding."""

    name = "code"

    def convert(self, value: str, param: click.Parameter | None, ctx: click.Context | None) -> str:
        """The code. Raises click.BadParameter."""
        if fault := finding_code_fault(value):
            self.fail(fault, param, ctx)
        return value

    def shell_complete(
        self,
        ctx: click.Context,  # noqa: ARG002 - as click asks
        param: click.Parameter,  # noqa: ARG002
        incomplete: str,
    ) -> list[CompletionItem]:
        """The codes."""
        return _items(finding_codes(), incomplete)


def briefs_among(
    _: click.Context, __: click.Parameter, sources: tuple[Any, ...]
) -> tuple[Any, ...]:
    """The briefs of a call, without the file of defaults that a shell names for *.toml too."""
    briefs = tuple(source for source in sources if Path(source).name != DEFAULTS_FILE)
    if not briefs or len(briefs) == len(sources):
        return sources
    print_note(f"  note: {DEFAULTS_FILE} sets defaults for briefs, and is left out here.")
    return briefs


def theme_names() -> list[str]:
    """The names of the built-in themes."""
    return list(json.loads(page("themes")))


def complete_sources(_: click.Context, __: click.Parameter, begun: str) -> list[CompletionItem]:
    """Files, which the shell knows itself."""
    return _files(begun)


def complete_marks(ctx: click.Context, _: click.Parameter, begun: str) -> list[CompletionItem]:
    """The names of the marks of the brief or the picture that stands in the call."""
    return _items(_names(ctx, lambda stages: stages.marks.names()), begun)


def complete_columns(ctx: click.Context, _: click.Parameter, begun: str) -> list[CompletionItem]:
    """The columns of the file, or of the brief's rows, that stands in the call."""
    return _items(_names(ctx, lambda stages: stages.data.column_names), begun)


def complete_settings(ctx: click.Context, _: click.Parameter, begun: str) -> list[CompletionItem]:
    """The parameters of the brief that stands in the call, as --set takes them."""
    names = _names(ctx, lambda stages: stages.housed.brief.parameters)
    return _items([f"{name}=" for name in names], begun)


def complete_rule(ctx: click.Context, param: click.Parameter, begun: str) -> list[CompletionItem]:
    """For a condition the columns that it may begin with, for its colour the roles of a theme."""
    roles = next(iter(json.loads(page("themes")).values()))["roles"]
    return [*complete_columns(ctx, param, begun), *_items(roles, begun)]


def complete_keys(_: click.Context, __: click.Parameter, begun: str) -> list[CompletionItem]:
    """What can be explained: keys of a brief, commands, codes of messages."""
    keys = keys_of(json.loads(page("schema")))
    return _items(
        [*keys, *COMMANDS, *(code for of in code_tables().values() for code in of)], begun
    )


def _names(ctx: click.Context, names_of: Callable[[Stages], Iterable[str]]) -> Iterable[str]:
    """Names in what a call names first: a brief, a picture or rows; none if it cannot be read."""
    # click leaves arguments as they are before an option that has no value yet.
    named = ctx.params.get("sources") or ctx.params.get("source") or ctx.args
    first = named[0] if isinstance(named, tuple | list) and named else named
    if not first or str(first) == "-":  # a pipe would be read up, and the shell waits
        return ()
    with suppress(YuzenError):  # what is wrong is reported when the command runs
        return names_of(_stages(str(first), ctx))
    return ()


def _stages(source: str, ctx: click.Context) -> Stages:
    """The chart of a brief or a picture, or one of the rows in a file. Raises YuzenError."""
    from yuzen.charts.begin import chart, load, load_picture

    if source.casefold().endswith(".toml"):
        return load(source).stages
    if ctx.info_name in {"draw", "start"}:
        return chart(source, category="-", value="-").stages
    return load_picture(source, ctx.params.get("of_report") or "").stages


def _items(names: Iterable[str], begun: str) -> list[CompletionItem]:
    """The names that begin as a word does, in whatever case."""
    from click.shell_completion import CompletionItem

    fold = begun.casefold()
    return [CompletionItem(name) for name in names if name.casefold().startswith(fold)]


def _files(begun: str) -> list[CompletionItem]:
    from click.shell_completion import CompletionItem

    return [CompletionItem(begun, type="file")]
