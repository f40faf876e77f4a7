"""What is found in charts whose marks make up a whole: steps, slices, and shares of them."""

from collections.abc import Iterator

from yuzen.checks.finding import Examined, Finding
from yuzen.compose.ring import Slices
from yuzen.compose.sums import adds_up_over, anchor_gaps


def anchors(examined: Examined) -> Iterator[Finding]:
    """Pillars of a bridge that say something else than the steps before them lead to."""
    if not examined.judged.design.traits.steps:
        return
    for gap in anchor_gaps(examined.judged.context):
        remedy = (
            "Check whether a step is missing, or leave the pillar out, so that Yuzen computes it."
        )
        yield Finding("pillar-off", gap.message, remedy, "chart", ("chart",))


def slices(examined: Examined) -> Iterator[Finding]:
    """More slices than an eye tells apart."""
    judged = examined.judged
    if not judged.design.traits.shape.of_whole:
        return
    slices = Slices(judged.context, judged.verdict)
    few = sum(len(slices.gathered(ring_marks)) for ring_marks in slices.rings())
    if few:
        message = f"{few:,} slices are too small and too many to tell apart, and are drawn as one."
        remedy = 'Set limit and rest to gather them by name, or draw kind = "bar".'
        yield Finding("slices-many", message, remedy, "chart", ("chart",))


def no_parts(examined: Examined) -> Iterator[Finding]:
    """A value of which the number of all is not the sum of the numbers of its marks."""
    judged = examined.judged
    whole = judged.design.traits.steps or judged.design.traits.shape.of_whole
    if whole and not adds_up_over(judged.marks):
        message = f"{judged.marks.value} does not add up, so parts of its sum say nothing."
        remedy = 'Take a total or a count, or draw kind = "bar".'
        yield Finding("no-sum", message, remedy, "chart, value", ("chart", "value"))
