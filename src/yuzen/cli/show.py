"""The commands that show what there is: words, themes, keys, schema, completion for shells."""

import json
from collections.abc import Iterable, Mapping
from dataclasses import asdict
from typing import Any, Final

import click

from yuzen.brief.keys.codes import code_tables
from yuzen.brief.keys.key_help import KeyHelp, keys_named, keys_of
from yuzen.cli.choices import complete_keys
from yuzen.cli.commands import COMMANDS
from yuzen.cli.options import as_json, example
from yuzen.cli.printing.output import print_json, print_themes, print_words
from yuzen.cli.printing.terminal import print_message, write_stdout
from yuzen.cli.stored_pages import page
from yuzen.errors import make_error

# The others print what is for people, for shells, or a schema itself.
ANSWERING: Final = tuple(
    name for name in COMMANDS if name not in {"completion", "demo", "edit", "schema"}
)


@click.command(epilog=example("words"))
@as_json
def words(*, as_json: bool) -> None:
    """Show the rule language on one screen, with examples."""
    if as_json:
        write_stdout(page("words"))
    else:
        print_words(_plain("words"))


@click.command(epilog=example("themes"))
@as_json
def themes(*, as_json: bool) -> None:
    """Show the built-in themes: their roles, their series, and the hatches that roles carry."""
    if as_json:
        write_stdout(page("themes"))
    else:
        print_themes(_plain("themes"))


@click.command(epilog=example("schema"))
@click.option("--report", "of_report", is_flag=True, help="That of a report file.")
@click.option(
    "--answer",
    metavar="COMMAND",
    type=click.Choice(ANSWERING),
    help="That of what a command prints with --json.",
)
def schema(*, of_report: bool, answer: str | None) -> None:
    """Print the JSON Schema of a brief, so that an editor can complete and check it."""
    if answer is None:
        write_stdout(page("report-schema" if of_report else "schema"))
        return
    if of_report:
        raise make_error("call-option", "--report and --answer are two schemas; ask for one.")
    print_json(_plain("answers")[answer])


@click.command(name="help", epilog=example("help"))
@click.argument("key", required=False, shell_complete=complete_keys)
@click.option("--report", "of_report", is_flag=True, help="The keys of a report file.")
@as_json
@click.pass_context
def help(ctx: click.Context, *, key: str | None, of_report: bool, as_json: bool) -> None:  # noqa: A001 - as the command is called
    """Explain a KEY of a brief, a command or the code of a message; without one, list all keys."""
    keys = keys_of(json.loads(page("report-schema" if of_report else "schema")))
    if key is not None and key in COMMANDS and key not in keys and ctx.parent is not None:
        shown_help = _help_of(ctx.parent, key)
        if as_json:
            print_json({"command": key, "help": shown_help})
        else:
            print_message(shown_help)
        return
    if key is not None and key in (known := codes()) and key not in keys:
        means, remedy = known[key]
        if as_json:
            print_json({"code": key, "means": means, "do": remedy})
        else:
            print_message(f"{key}  {means}\n  do  {remedy}")
        return
    shown = keys_named(key, keys) if key is not None else list(keys.values())
    if as_json:
        print_json([asdict(of) for of in shown])
    elif key is None:
        _print_all(keys)
    else:
        print_message("\n\n".join(_explained(of, keys) for of in shown))


def codes() -> dict[str, tuple[str, str]]:
    """What each code of an error or a finding means, and what to do."""
    return {code: told for of in code_tables().values() for code, told in of.items()}


def _help_of(group: click.Context, name: str) -> str:
    """The help page of a command."""
    assert isinstance(group.command, click.Group)  # noqa: S101 - whose command this is
    command = group.command.get_command(group, name)
    assert command is not None  # noqa: S101 - one of the listed commands
    return command.get_help(click.Context(command, info_name=name, parent=group))


def _print_all(keys: Mapping[str, KeyHelp]) -> None:
    """Every key with what it does, section after section."""
    top = [key for key in keys.values() if not key.section and not key.keys]
    print_message(_listed(top))
    for section in keys.values():
        if section.keys:
            print_message(f"\n{section.heading}  {section.about}")
            print_message(_listed(keys[f"{section.path}.{name}"] for name in section.keys))


def _listed(keys: Iterable[KeyHelp]) -> str:
    """Keys with what they do, a line each."""
    pairs = [(key.name, key.about) for key in keys]
    wide = max(len(name) for name, _ in pairs)
    return "\n".join(f"  {name:<{wide}}  {about}" for name, about in pairs)


def _explained(key: KeyHelp, keys: Mapping[str, KeyHelp]) -> str:
    """All that is known of a key, and the keys that it has."""
    lines = [f"{key.heading or key.path}  {key.about}"]
    facts = {"takes": key.accepted}
    if key.required:
        facts["default"] = "none: it must be set"
    elif not key.keys:
        facts["default"] = key.default or "nothing"
    lines += [f"  {name:<8} {fact}" for name, fact in facts.items()]
    first, *others = key.example.splitlines()
    lines += [f"  example  {first}", *(f"           {line}" for line in others)]
    if key.keys:
        lines += ["", _listed(keys[f"{key.path}.{name}"] for name in key.keys)]
    return "\n".join(lines)


@click.command(epilog=example("completion"))
@click.argument("shell", type=click.Choice(["bash", "zsh", "fish"]))
def completion(*, shell: str) -> None:
    """Print what makes a SHELL complete commands, options, files and the names of marks."""
    from click.shell_completion import get_completion_class

    completion_class = get_completion_class(shell)
    assert completion_class is not None  # noqa: S101 - the shells that click knows
    commands = click.get_current_context().find_root().command
    click.echo(completion_class(commands, {}, "yuzen", "_YUZEN_COMPLETE").source())


def _plain(name: str) -> dict[str, Any]:
    """A page as plain values."""
    plain: dict[str, Any] = json.loads(page(name))
    return plain
