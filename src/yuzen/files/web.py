"""Tables as HTML: real text with scopes for readers of the screen, colours inline, no script.

All that comes from briefs and data is escaped. Bars, small lines and badges are shapes of a scene.
"""

from collections.abc import Iterator, Sequence
from html import escape
from typing import Final

import numpy as np

from yuzen.arrays import Floats
from yuzen.color.gradient import hexes
from yuzen.color.named import rgb_of
from yuzen.color.themes import Theme
from yuzen.compose.tables.cells import over
from yuzen.draw.canvas import colors
from yuzen.draw.plots.trends import TrendPlace, trend_shapes
from yuzen.errors import make_error
from yuzen.files.picture import Drawn, Picture
from yuzen.files.picture_types import CHART_ENDINGS
from yuzen.page.description import Description
from yuzen.page.layer import PATTERN_NAMES
from yuzen.page.page import KeyEntry, KeyRamp, Page
from yuzen.page.plot import Plot
from yuzen.page.styled_texts import StyledTexts
from yuzen.page.table import GRAND_TOTAL, HEADING, SUBTOTAL, CellBars, Table, TableColumn
from yuzen.page.unprintable import replace_unprintable
from yuzen.render.svg.document import small_svg
from yuzen.scene.primitives import Badges, Primitive, Rectangles, Segments

GRAPH_SIZE_PX: Final = (120.0, 20.0)  # pixels of a bar or a small line
BADGE_PX: Final = 12.0
CELL_PADDING_PX: Final = 8
INDENT_PX: Final = 16
PATTERN_STRIP: Final = (
    "left / 9px 100% no-repeat"  # where a pattern is, beside the text and not under it
)
STRIPES: Final = {
    "stripes": ("repeating-linear-gradient(45deg, {0} 0 2px, transparent 2px 5px)",),
    "cross": (
        "repeating-linear-gradient(45deg, {0} 0 1px, transparent 1px 5px)",
        "repeating-linear-gradient(-45deg, {0} 0 1px, transparent 1px 5px)",
    ),
    "dots": ("radial-gradient({0} 1.2px, transparent 1.6px)",),
    "grid": (
        "repeating-linear-gradient(0deg, {0} 0 1px, transparent 1px 5px)",
        "repeating-linear-gradient(90deg, {0} 0 1px, transparent 1px 5px)",
    ),
}


def write(drawn: Drawn) -> Picture:
    """A page with a table as HTML. Raises YuzenError (call-format) for one without."""
    if drawn.page.table is None:
        message = f"{drawn.kind} is for tables; draw this chart into {CHART_ENDINGS}."
        raise make_error("call-format", message)
    return Picture(document(drawn.page, drawn.record(), drawn.words()).encode(), ())


def document(page: Page, record: str, words: Description) -> str:
    """A whole HTML document of a page with a table, which holds the chart's record."""
    theme = page.theme
    return (
        f'<!DOCTYPE html>\n<html lang="{words.language}">\n<head>\n<meta charset="utf-8">\n'
        f"<title>{_text(page.words.title)}</title>\n"
        '<meta name="viewport" content="width=device-width">\n<meta name="generator" '
        'content="Yuzen">\n'
        f'<meta name="description" content="{_text(words.text)}">\n'
        f'<meta name="yuzen" content="{escape(record)}">\n</head>\n'
        f'<body style="margin:30px '
        f'40px;background:{theme.color("paper")}">\n{fragment(page)}\n</body>\n'
        "</html>\n"
    )


def fragment(page: Page, name: str = "") -> str:
    """The table with its words and its key, for a notebook or a page of one's own.

    name: how readers of the screen call a table whose page has no title.
    """
    theme, table = page.theme, page.table
    assert table is not None  # noqa: S101 - who calls has asked
    # A font's name stands inside an attribute, so only plain letters pass.
    fonts = ", ".join(f"'{font}'" for font in theme.fonts if font.replace(" ", "").isalnum())
    colors = f"color:{theme.color('ink')};background:{theme.color('paper')}"
    style = f"font-family:{fonts}, sans-serif;{colors};padding:4px"
    slate = f"color:{theme.color('slate')};margin:2px 0"
    parts = [f'<div style="{style}">']
    if page.words.title:
        parts.append(f'<h2 style="margin:0;font-size:25px">{_text(page.words.title)}</h2>')
    if page.words.subtitle:
        parts.append(f'<p style="{slate};font-size:16px">{_text(page.words.subtitle)}</p>')
    if page.key.entries:
        items = "".join(_entry(entry, theme) for entry in page.key.entries)
        parts.append(
            f'<ul style="list-style:none;margin:8px 0;padding:0;font-size:14px">{items}</ul>'
        )
    parts += _rows(table, page, name or page.words.title)
    if page.words.footer:
        parts.append(f'<p style="{slate};font-size:12px">{_text(page.words.footer)}</p>')
    return "\n".join([*parts, "</div>"])


def _text(text: str) -> str:
    return escape(replace_unprintable(text))


def _entry(entry: KeyEntry | KeyRamp, theme: Theme) -> str:
    """A line of the key: its swatch, and what it means."""
    item = '<li style="display:inline-block;margin-right:24px">'
    if not isinstance(entry, KeyEntry):
        ramp = f"linear-gradient(90deg, {', '.join(entry.colors)})"
        swatch = (
            f'<span style="display:inline-block;width:140px;height:11px;background:{ramp}"></span>'
        )
        middle = f" ({_text(entry.middle)} in the middle)" if entry.middle else ""
        return (
            f"{item}{_text(entry.text)} {_text(entry.low)} {swatch} "
            f"{_text(entry.high)}{middle}</li>"
        )
    text = f"<strong>{_text(entry.text)}</strong>" if entry.bold else _text(entry.text)
    badge = f"{_badge(entry.badge, entry.ink)} " if entry.badge else ""
    frame = f"border:2px {entry.stroke or 'solid'} {entry.outline};" if entry.outline else ""
    if entry.seen == "words":
        return f'{item}{badge}<span style="{frame}color:{entry.color}">{text}</span></li>'
    if entry.seen == "sign":
        return f"{item}{badge}{text}</li>"
    look = frame + _background(entry.color or theme.color("paper"), entry.pattern, theme)
    box = "display:inline-block;box-sizing:border-box;width:12px;height:12px"
    return f'{item}<span style="{box};{look}"></span> {badge}{text}</li>'


def _rows(table: Table, page: Page, name: str) -> Iterator[str]:
    """The table, row by row; a group's heading begins a body of its own, and folds its rows."""
    theme = page.theme
    hairline, slate = theme.color("hairline"), theme.color("slate")
    look = "border-collapse:collapse;font-size:14px;font-variant-numeric:tabular-nums"
    groups = groups_of_rows(table)
    yield _folding(groups)
    yield f'<table class="yuzen-table" style="{look}">'
    # Read aloud, a table needs its name; on the screen the heading says it already.
    caption = _text(name)
    yield f'<caption style="position:absolute;left:-9999px">{caption}</caption>'
    heads = "".join(_head(column, slate) for column in table.columns)
    yield (
        f'<thead><tr style="border-bottom:1px solid {hairline}"><th scope="col" '
        f'style="text-align:left;'
        f"vertical-align:bottom;font-weight:normal;padding:4px "
        f'8px;color:{slate}">{_text(table.corner)}</th>'
        f"{heads}</tr></thead>\n<tbody>"
    )
    paper = np.broadcast_to(rgb_of(theme.color("paper")), (len(table), 3))
    ground = over(table.ground, paper)
    letters = [_most_letters(column) for column in table.columns]
    for row, level in enumerate(table.roles.tolist()):
        folded = "".join(f" in-g{group}" for group in groups[row] if group != row)
        if level == HEADING:
            yield _heading(table, row, folded, page)
            continue
        border = {
            SUBTOTAL: f"border-top:1px solid {hairline}",
            GRAND_TOTAL: f"border-top:1px solid {slate}",
        }
        fill = f";background:{_hex(ground[row])}" if table.ground[row, 3] > 0 else ""
        line = border.get(level, "")
        cells = "".join(
            _cell(column, row, ground, theme, table.names.texts[row], wide, line)
            for column, wide in zip(table.columns, letters, strict=True)
        )
        yield f'<tr class="row{folded}" style="{fill}">{_name(table, row, line)}{cells}</tr>'
    yield "</tbody>\n</table>"


def _heading(table: Table, row: int, folded: str, page: Page) -> str:
    """The row of a group's name, which begins a body of its own and hides its rows when ticked.

    folded: the classes by which the headings above it hide it.
    """
    name = table.names.texts[row]
    wide, left = len(table.columns) + 1, _indent_px(table, row)
    hides = _text(page.words.own.say("fold", name=name))
    return (
        f'</tbody>\n<tbody><tr class="group{folded}"><th scope="rowgroup" '
        f'colspan="{wide}" style="text-align:left;padding:8px 8px 4px {left}px">'
        f'<input type="checkbox" class="g{row}" aria-label="{hides}" title="{hides}"> '
        f"{_text(name)}</th></tr>"
    )


def groups_of_rows(table: Table) -> list[tuple[int, ...]]:
    """The headings that each row folds with, by their rows; a subtotal stays with its heading."""
    open_headings: list[int] = []
    groups = []
    for row, (role, depth) in enumerate(
        zip(table.roles.tolist(), table.depths.tolist(), strict=True)
    ):
        # Headings as deep as this row, or deeper, are those of groups that have ended.
        del open_headings[depth:]
        if role == HEADING:
            open_headings.append(row)
        groups.append(tuple(open_headings))
    return groups


def _folding(groups: Sequence[tuple[int, ...]]) -> str:
    """The rules by which a ticked heading hides its rows, without a script."""
    headings = sorted({heading for row in groups for heading in row})
    if not headings:
        return ""
    # A table that holds a ticked heading hides what bears the heading's class.
    rules = "".join(
        f".yuzen-table:has(.g{heading}:checked) .in-g{heading}{{display:none}}"
        for heading in headings
    )
    return f"<style>{rules}</style>"


def _indent_px(table: Table, row: int) -> int:
    """How far the name of a row is set in, in pixels."""
    return CELL_PADDING_PX + INDENT_PX * int(table.depths[row])


def _head(column: TableColumn, slate: str) -> str:
    """What stands over a column."""
    align = "left" if column.bars is not None or column.trends else "right"
    style = f"text-align:{align};vertical-align:bottom;font-weight:normal;padding:4px 8px"
    title = _text(f"{column.title} {column.above}".strip())
    return f'<th scope="col" style="{style};max-width:150px;color:{slate}">{title}</th>'


def _name(table: Table, row: int, line: str) -> str:
    """The head of a row; line: the line over it, which lies on cells, as rows have none."""
    left = _indent_px(table, row)
    text = _written(table.names, row)
    weight = "bold" if table.names.bold[row] else "normal"
    style = f"text-align:left;font-weight:{weight};padding:4px 8px 4px {left}px;{line}"
    return f'<th scope="row" style="{style}">{text}</th>'


def _cell(
    column: TableColumn, row: int, ground: Floats, theme: Theme, name: str, letters: int, line: str
) -> str:
    """A cell: its fill, its bar or its small line, its texts.

    letters: how many the longest text of the column has; line: the line over the cell.
    """
    look, fill = column.ground, column.ground.fill
    style = [
        "padding:4px 8px",
        "text-align:right",
        "border:1px solid transparent",
        *filter(None, [line]),
        "background-clip:padding-box",
    ]
    if fill[row, 3] > 0:
        seen = _hex(over(fill[row : row + 1], ground[row : row + 1])[0])
        pattern = PATTERN_NAMES[int(look.patterns[row])]
        style.append(_background(seen, pattern, theme))
        if pattern:
            style.append("padding-left:14px")
    if look.outline[row, 3] > 0:
        stroke, ink = str(look.strokes[row]), _hex(look.outline[row, :3])
        plain = f"box-shadow:inset 0 0 0 1.5px {ink}"
        style.append(f"outline:1.5px {stroke} {ink};outline-offset:-1.5px" if stroke else plain)
    text = "".join(_written(piece, row) for piece in column.pieces)
    if graph := _graph(column, row, theme, name):
        # As wide in all rows, so that bars begin at one zero.
        wide = f"display:inline-block;min-width:{letters}ch"
        text = f'{graph}<span style="{wide}">{text}</span>' if text else graph
    return f'<td style="{";".join(style)}">{text}</td>'


def _most_letters(column: TableColumn) -> int:
    """How many letters the longest text of a column has."""
    return max(
        map(len, map("".join, zip(*(p.texts for p in column.pieces), strict=True))), default=0
    )


def _written(piece: StyledTexts, row: int) -> str:
    """A text in its ink, after its badge."""
    ink = f"color:{_hex(piece.ink[row, :3])}"
    if piece.ink[row, 3] < 1:
        ink += f";opacity:{piece.ink[row, 3]:.3g}"
    if piece.bold[row]:
        ink += ";font-weight:bold"
    if piece.frame is not None and piece.frame[row, 3] > 0:
        ink += f";outline:1px solid {_hex(piece.frame[row, :3])};outline-offset:2px"
    badge = ""
    if piece.badge(row) and piece.badge_ink is not None:
        badge = _badge(piece.badge(row), _hex(piece.badge_ink[row])) + " "
    if not piece.texts[row]:
        return badge
    return f'{badge}<span style="{ink}">{_text(piece.texts[row])}</span>'


def _background(color: str, pattern: str, theme: Theme) -> str:
    """A fill, with a strip of its pattern at its left edge."""
    if not pattern:
        return f"background:{color}"
    layers = [f"{layer.format(theme.color('paper'))} {PATTERN_STRIP}" for layer in STRIPES[pattern]]
    return f"background:{', '.join(layers)}, {color}"


def _hex(color: Floats) -> str:
    return hexes(color[None, :3])[0]


def _badge(name: str, color: str) -> str:
    """A badge as a small drawing with its name."""
    middle = np.array([[BADGE_PX / 2, BADGE_PX / 2]])
    badge = Badges(
        role="badge", names=(name,), centers=middle, ink=colors([color]), size_px=BADGE_PX
    )
    return small_svg([badge], (BADGE_PX, BADGE_PX), name)


def _graph(column: TableColumn, row: int, theme: Theme, name: str) -> str:
    """The bar or the small line of a cell; '' where it has none."""
    called = replace_unprintable(f"{column.title}, {name}")
    if column.bars is not None and np.isfinite(column.bars.values[row]):
        value = f"{column.bars.values[row]:.6g}"
        shapes, style = _bar(column.bars, row, theme), "vertical-align:middle;margin-right:8px"
        return small_svg(shapes, GRAPH_SIZE_PX, f"{called}: {value}", style)
    if column.trends and (plot := column.trends[row]) is not None:
        return small_svg(_trend(plot, theme.color("paper")), GRAPH_SIZE_PX, called)
    return ""


def _bar(bars: CellBars, row: int, theme: Theme) -> list[Primitive]:
    """The bar of a cell, and the line at zero where some bars lie below it."""
    (wide, tall), (low, high) = GRAPH_SIZE_PX, bars.ends
    length = (high - low) or 1.0
    zero, end = (wide * (value - low) / length for value in (0.0, float(bars.values[row])))
    corners = np.array([[min(zero, end), 4.0, max(zero, end), tall - 4.0]])
    bar = Rectangles(role="bar", corners=corners, fill=bars.styles.fill[row : row + 1])
    if low >= 0:
        return [bar]
    ends, ink = np.array([[zero, 0.0], [zero, tall]]), colors([theme.color("slate")])
    line = Segments(role="zero", points=ends, ends=np.array([2]), ink=ink, width_px=np.ones(1))
    return [bar, line]


def _trend(plot: Plot, paper: str) -> list[Primitive]:
    """The small line of a row: its pieces, and the points that rules change."""
    wide, tall = GRAPH_SIZE_PX
    place = TrendPlace(plot, (0.0, wide), (3.0, tall - 3.0))
    return [*trend_shapes([(0, place, layer) for layer in plot.layers], paper)]
