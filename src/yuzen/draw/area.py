"""Areas between a base and a line, filled apart above and below it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from yuzen.draw.curves import draw_fields
from yuzen.draw.line_plot import course_kind, draw_curve

if TYPE_CHECKING:
    from yuzen.draw.line_plot import Course


def _fill(course: Course) -> None:
    """Everything between the base, which is zero or what the brief names, and the line."""
    picture = course.picture
    fields = picture.tracing.fields(course.paths, course.values, picture.base)
    paper, through = picture.theme.color("paper"), len(picture.series) > 1
    draw_fields(course.axes, course.paths, fields, paper, through=through)
    if picture.based:
        draw_curve(course, picture.base, picture.theme.color("ink"), 1.1)


AREA: Final = course_kind(lambda picture: picture.base, _fill)
