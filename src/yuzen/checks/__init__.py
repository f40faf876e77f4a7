"""Checks: what is wrong or misleading in a chart, before anyone sees it. One function for each thing."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from yuzen.checks import data, looks, rules
from yuzen.checks.finding import Examined

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator, Sequence

    from yuzen.checks.finding import Finding
    from yuzen.picture.judged import Judged
    from yuzen.picture.page import Page

CHECKS: Final[tuple[Callable[[Examined], Iterator[Finding]], ...]] = (
    data.remarks,
    data.twins,
    data.totals_among_items,
    data.missing_numbers,
    data.partly_missing,
    data.averaged_ratios,
    data.outsized,
    rules.unused_parameters,
    rules.silent_rules,
    rules.unshown_effects,
    rules.names_and_words,
    rules.ties,
    rules.orderless,
    rules.few_peers,
    looks.scale_from_zero,
    looks.colors_alike,
    looks.faint_texts,
    looks.left_out,
    looks.unknown_letters,
)


def findings(judged: Judged, page: Page, notes: Sequence[str]) -> list[Finding]:
    """All that is found in a chart, its page, and what had no room on it: check after check."""
    examined = Examined(judged, page, notes)
    return [finding for check in CHECKS for finding in check(examined)]
