"""What marks look like by the rules on a target."""

from yuzen.compose.styles.colored_verdict import ColoredVerdict
from yuzen.page.layer import MarkStyles
from yuzen.rules.target import Target


def mark_styles(verdict: ColoredVerdict, target: Target) -> MarkStyles:
    """The fill with its opacity, the outline and the pattern of every mark, shape (n,)."""
    outlined = verdict.winner(target, "outline")
    return MarkStyles(
        fill=verdict.rgba(target),
        outline=verdict.outline(outlined),
        patterns=verdict.patterns(target),
        strokes=verdict.strokes(outlined),
    )
