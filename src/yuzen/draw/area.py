"""Areas between a base and a line, filled apart above and below it."""

from __future__ import annotations

from typing import TYPE_CHECKING

from yuzen.draw.course import draw_course, draw_curve
from yuzen.draw.strokes import draw_fields

if TYPE_CHECKING:
    from yuzen.draw.canvas import Canvas
    from yuzen.draw.course import Course
    from yuzen.draw.picture import Picture


def draw_area(picture: Picture) -> Canvas:
    """An area for each series, from zero or from the value that the brief names."""
    return draw_course(picture, picture.base, _fill)


def _fill(course: Course) -> None:
    picture = course.picture
    fields = picture.tracing.fields(course.paths, course.values, picture.base)
    draw_fields(
        course.axes, course.paths, fields, picture.theme.color("paper"), through=len(picture.series) > 1
    )
    if picture.based:
        draw_curve(course, picture.base, picture.theme.color("ink"), 1.1)
