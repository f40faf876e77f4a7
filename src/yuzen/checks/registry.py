"""All checks, in the order of their findings."""

from collections.abc import Callable, Iterator, Sequence
from typing import Final

import numpy as np

from yuzen.checks import appearance, data, misleading, rules, sums
from yuzen.checks.finding import ExaminedPage, Finding
from yuzen.compose.judged_chart import JudgedChart
from yuzen.errors import YuzenError
from yuzen.page.page import Page

CHECKS: Final[tuple[Callable[[ExaminedPage], Iterator[Finding]], ...]] = (
    data.remarks,
    misleading.twins,
    misleading.totals_among_items,
    data.missing_numbers,
    data.partly_missing,
    data.averaged_ratios,
    data.outsized,
    sums.anchors,
    sums.slices,
    sums.no_parts,
    rules.unused_parameters,
    rules.silent_rules,
    rules.unshown_effects,
    rules.names_and_words,
    misleading.near_words,
    rules.idle_rules,
    misleading.ties,
    rules.orderless,
    rules.few_peers,
    appearance.scale_from_zero,
    appearance.colors_alike,
    appearance.faint_texts,
    appearance.left_out,
    appearance.unknown_letters,
)


def without_rows(error: YuzenError) -> list[Finding]:
    """What is found where a chart has no rows; any other error is raised again."""
    if error.code != "data-rows":
        raise error
    fault = error.faults[0]
    remedy = "Look at keep and at the file; nothing is drawn of a chart without rows."
    return [Finding("no-rows", fault.message, remedy, fault.where or "data", ("data",))]


def findings(judged: JudgedChart, page: Page, notes: Sequence[str]) -> list[Finding]:
    """All that is found in a chart, its page, and what had no room on it: check after check."""
    examined = ExaminedPage(judged, page, notes)
    with np.errstate(all="ignore"):  # what is reckoned of endless numbers may be none
        return [finding for check in CHECKS for finding in check(examined)]
