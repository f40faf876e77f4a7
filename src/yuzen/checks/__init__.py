"""Checks: what is wrong or misleading in a chart, before anyone sees it. One function for each thing."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from yuzen.checks import data, looks, rules

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator

    from yuzen.checks.finding import Finding, Subject

CHECKS: Final[tuple[Callable[[Subject], Iterator[Finding]], ...]] = (
    data.guesses,
    data.twins,
    data.totals_among_items,
    data.missing_numbers,
    data.averaged_ratios,
    data.outsized,
    rules.unused_parameters,
    rules.silent_rules,
    rules.ties,
    rules.orderless,
    rules.few_peers,
    looks.scale_from_zero,
    looks.colors_alike,
    looks.faint_texts,
    looks.left_out,
    looks.unknown_letters,
)


def findings(subject: Subject) -> list[Finding]:
    """All that is found, check after check."""
    return [finding for check in CHECKS for finding in check(subject)]
