"""Defaults of a house: a file yuzen.toml in a folder sets keys for all briefs in and below it."""

from __future__ import annotations

import os
from collections.abc import Mapping, Sequence
from contextlib import suppress
from dataclasses import field
from pathlib import Path
from typing import Any, Final

from yuzen.brief.design import Design
from yuzen.brief.model import Brief
from yuzen.brief.row_plan import names_used
from yuzen.brief.today import named_texts
from yuzen.brief.toml.document import make_brief, read_brief_values, read_text, read_toml
from yuzen.brief.toml.source import BriefSource, KeyPath
from yuzen.errors import Fault, YuzenError, make_error, suggestion
from yuzen.paths import DEFAULTS_FILE
from yuzen.value import Value

# Texts and charts are each brief's own. Rules that all share are in a file that `rules` names.
MERGED: Final = ("parameters", "formats", "words", "calendar", "size")  # entry by entry
SET_WHOLE: Final = ("theme", "locale", "rules")
SETTABLE: Final = (*SET_WHOLE, *MERGED, "ignore")
FILES: Final = ("theme", "rules")  # which are found from the folder of yuzen.toml
_NO_CHART: Final = {"category": "-", "value": "-"}


class HouseDefaults(Value):
    """What a yuzen.toml sets, and its text.

    given: the keys that a brief has from it, because the brief does not set them itself.
    """

    path: Path
    values: Mapping[str, Any] = field(repr=False)
    written: BriefSource = field(repr=False)
    given: frozenset[KeyPath] = frozenset()

    def gives(self, key: KeyPath) -> bool:
        """Whether a key of the brief, or what it is in, comes from here."""
        return any(key[:end] in self.given for end in range(1, len(key) + 1))


def defaults_above(folder: Path) -> HouseDefaults | None:
    """The nearest yuzen.toml in a folder or above it; None where there is none.

    Raises YuzenError with all its faults and their lines.
    """
    # Only the nearest counts: of a value that may come from three files nobody finds the place.
    start = folder.resolve()
    for place in (start, *start.parents):
        path = place / DEFAULTS_FILE
        with suppress(OSError):  # of a folder that nobody may look into there is no file to be used
            if not path.is_file():
                continue
            return _read(path)
    return None


def _read(path: Path) -> HouseDefaults:
    """The defaults in a file. Raises YuzenError."""
    written = read_text(path, "file of defaults")
    values = read_toml(written)
    faults = [_unsettable(key) for key in values if key not in SETTABLE]
    if not faults:
        # With any chart it is a brief, by which all its values are checked as those of briefs are.
        try:
            make_brief({**values, "chart": _NO_CHART})
        except YuzenError as error:
            faults = list(error.faults)
    if faults:
        raise YuzenError(*map(written.located, faults))
    return HouseDefaults(path, values, written)


def _unsettable(key: str) -> Fault:
    """The fault of a key that each brief sets for itself."""
    if key in Brief.model_fields:
        message = f"{key} is for a brief, and not for all of them. Set it in each brief."
    else:
        message = f"I know no key '{key}' here.{suggestion(key, SETTABLE)}"
    return Fault("brief-key", f"{message} {DEFAULTS_FILE} sets {', '.join(SETTABLE)}.", key=(key,))


def with_defaults(
    values: Mapping[str, Any], defaults: HouseDefaults, folder: Path
) -> tuple[dict[str, Any], HouseDefaults]:
    """The values of a brief with those of its house, which count where the brief says nothing.

    folder: that of the brief, from which files are named. Also returns the defaults with the keys
    that were taken.
    """
    merged, given = dict(values), set[KeyPath]()
    for key, value in defaults.values.items():
        if key == "ignore" and key in values:
            merged[key] = [*dict.fromkeys([*value, *values[key]])]
        elif key in MERGED and isinstance(of_brief := values.get(key, {}), Mapping):
            set_already = {name.casefold() for name in of_brief}
            new = {name: of for name, of in value.items() if name.casefold() not in set_already}
            merged[key] = {**new, **of_brief}
            given |= {(key, name) for name in new}
        elif key not in values:
            merged[key] = _from(folder, defaults.path.parent, value) if key in FILES else value
            given.add((key,))
    return merged, HouseDefaults(defaults.path, defaults.values, defaults.written, frozenset(given))


def _from(folder: Path, home: Path, value: str) -> str:
    """A file as it is named from another folder; the name of a theme as it is."""
    if not value.casefold().endswith(".toml"):
        return value
    try:
        return Path(os.path.relpath(home / value, folder.resolve())).as_posix()
    except ValueError:  # on another drive
        return (home / value).as_posix()


def fitted(brief: Brief, defaults: HouseDefaults | None, column_names: Sequence[str]) -> Brief:
    """A brief without those defaults that are about nothing in it: parameters and formats."""
    if defaults is None or not {key[0] for key in defaults.given} & {"parameters", "formats"}:
        return brief
    # A house sets formats for all its measures, of which a chart has a few.
    used = {name.casefold() for name in (*names_used(Design(brief)), *named_texts(brief))}
    written = {name.casefold() for name in (*column_names, *brief.measures)}
    return brief.having(
        parameters={
            name: value
            for name, value in brief.parameters.items()
            if name.casefold() in used or not defaults.gives(("parameters", name))
        },
        formats={
            name: value
            for name, value in brief.formats.items()
            if name.casefold() in written or not defaults.gives(("formats", name))
        },
    )


def read_brief_text(path: Path) -> BriefSource:
    """The text of a brief's file. Raises YuzenError (brief-file, brief-text)."""
    if path.name == DEFAULTS_FILE:
        message = "This file sets defaults for briefs, and is no brief. Name a brief."
        raise make_error("brief-file", message, where=path.name)
    return read_text(path, "brief")


def load_brief(path: Path) -> tuple[Brief, BriefSource, HouseDefaults | None]:
    """The brief in a TOML file with the defaults of its house, its text, and these defaults.

    Raises YuzenError with all faults and places.
    """
    written = read_brief_text(path)
    brief, defaults = read_brief(written, path.parent)
    return brief, written, defaults


def read_brief(written: BriefSource, folder: Path) -> tuple[Brief, HouseDefaults | None]:
    """The brief in a text, with the defaults of the house of a folder. Raises YuzenError."""
    values = read_brief_values(written)
    defaults = defaults_above(folder)
    if defaults is not None:
        values, defaults = with_defaults(values, defaults, folder)
    try:
        return make_brief(values), defaults
    except YuzenError as error:
        raise YuzenError(*(located(fault, written, defaults) for fault in error.faults)) from None


def located(fault: Fault, written: BriefSource, defaults: HouseDefaults | None) -> Fault:
    """A fault with the file and the line of the brief, or of its house's defaults."""
    if defaults is not None and defaults.gives(fault.key):
        return defaults.written.located(fault)
    return written.located(fault)
