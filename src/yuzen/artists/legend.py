"""Entries for rules in the legend of an Axes made elsewhere, after those that it has."""

from matplotlib.artist import Artist
from matplotlib.legend import Legend
from matplotlib.lines import Line2D
from matplotlib.patches import Patch

from yuzen.artists.styler import AxesStyler
from yuzen.color.named import rgb_of
from yuzen.compose.key import KeyMaker, colored_by
from yuzen.page.page import KeyEntry, KeyRamp
from yuzen.render.artists import line_style
from yuzen.render.paths import HATCHES
from yuzen.scene.strokes import DASHES, STROKES


def keyed(styler: AxesStyler, before: Legend | None) -> Legend | None:
    """The legend with a line for each rule that is seen; None: there is nothing to tell."""
    axes, judged = styler.axes, styler.judged
    colored = colored_by(judged.marks, judged.verdict, styler.pieces.slices)
    entries = KeyMaker(judged.design, judged.context, judged.verdict, colored).rule_entries()
    handles = [handle for entry in entries for handle in _handles(entry)]
    if not handles:
        return None
    labels = [str(handle.get_label()) for handle in handles]
    if before is None:
        return axes.legend(handles=handles, labels=labels)
    old_labels = [text.get_text() for text in before.get_texts()]
    # Made anew: adding entries to a legend that is laid out is not possible, and axes.legend()
    # would forget its place.
    legend = Legend(
        axes,
        [*before.legend_handles, *handles],  # type: ignore[list-item]  # as they are drawn
        [*old_labels, *labels],
        loc=vars(before)["_loc_real"],  # which Matplotlib tells in no other way
        title=before.get_title().get_text() or None,
        prop=before.prop,
        frameon=before.get_frame_on(),
    )
    axes.legend_ = legend
    return legend


def _handles(entry: KeyEntry | KeyRamp) -> list[Artist]:
    """The handles of an entry: one; of a shade one for each of its ends."""
    if not isinstance(entry, KeyEntry):
        ends = [(entry.colors[0], f"{entry.text}: {entry.low}"), (entry.colors[-1], entry.high)]
        return [Patch(facecolor=color, label=text) for color, text in ends]
    color = entry.color or "none"
    if entry.seen == "line":
        dashes = line_style(DASHES[entry.pattern])
        return [Line2D([], [], color=color, linewidth=2, linestyle=dashes, label=entry.text)]
    if entry.seen == "point":
        return [
            Line2D(
                [], [], color=color, marker="o", linestyle="none", label=entry.text,
                markeredgecolor=entry.outline or color,
            )
        ]  # fmt: skip
    paper = (*rgb_of("#FFFFFF").tolist(), 1.0)
    return [
        Patch(
            facecolor=color,
            edgecolor=entry.outline or paper,
            linestyle=line_style(STROKES[entry.stroke]),
            hatch=HATCHES.get(entry.pattern),
            label=entry.text,
        )
    ]
