"""Checks: what is wrong or misleading in a chart, before anyone sees it. One function for each thing."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from yuzen.checks import of_data, of_looks, of_rules

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator

    from yuzen.checks.finding import Finding, Subject

CHECKS: Final[tuple[Callable[[Subject], Iterator[Finding]], ...]] = (
    of_data.guesses,
    of_data.twins,
    of_data.totals_among_items,
    of_data.missing_numbers,
    of_data.averaged_ratios,
    of_data.outsized,
    of_rules.unused_parameters,
    of_rules.silent_rules,
    of_rules.ties,
    of_rules.orderless,
    of_rules.few_peers,
    of_looks.scale_from_zero,
    of_looks.colors_alike,
    of_looks.faint_texts,
    of_looks.left_out,
    of_looks.unknown_letters,
)


def findings(subject: Subject) -> list[Finding]:
    """All that is found, check after check."""
    return [finding for check in CHECKS for finding in check(subject)]
