"""Words and dates in the texts of a chart: those of marks, and the period of the rows."""

import numpy as np

from yuzen.arrays import kind_of
from yuzen.compose.mark_names import date_text, dates_in_words
from yuzen.errors import Fault, YuzenError
from yuzen.formats.date_text import formatted
from yuzen.formats.display import shown
from yuzen.formats.locales import Locale
from yuzen.formats.number_format import Form, NumberFormat
from yuzen.formats.periods import Grain
from yuzen.rules.evaluation_data import EvaluationData
from yuzen.rules.grammar.wording import DateForm, OfDates, Plural, Slot
from yuzen.rules.marks import Marks
from yuzen.rules.quantities.fields import Field


def words_of(piece: Slot, data: EvaluationData) -> list[str] | None:
    """The text or date of each mark that a slot refers to; None where it refers to numbers.

    Raises YuzenError (text-format) for a format of another kind than what is written.
    """
    marks = data.marks
    name = data.name(piece.quantity.name) if isinstance(piece.quantity, Field) else None
    if name is None or name not in marks.columns or isinstance(piece.form, NumberFormat):
        return None
    kind = kind_of(marks.columns[name])
    _refuse_format(piece, name, kind)
    binned = name == marks.category and bool(marks.bins)
    if kind == "number" and not binned:
        return None
    if kind == "date" and isinstance(piece.form, DateForm):
        return dates_in_words(name, marks, piece.form.pattern, data.formats.locale)
    if kind == "date":
        return dates_in_words(name, marks, "", data.formats.locale)
    if name == marks.category:
        return marks.names_in(name)
    return shown(marks.columns[name])


def _refuse_format(piece: Slot, name: str, kind: str) -> None:
    """Raise YuzenError (text-format) where a format does not suit the kind of column."""
    form = piece.form
    dated, plural = isinstance(form, DateForm), isinstance(form, Plural)
    numbered = isinstance(form, Form) and bool(form.spec or form.style or form.scale)
    if kind == "number" and dated:
        message = (
            f"{name} holds numbers, and this is a format of dates. Write one such as ,.0f or .1%."
        )
    elif kind == "text" and (dated or plural or numbered):
        message = (
            f"{name} holds words, and this is no format of them. Write {{{piece.quantity}}} alone."
        )
    elif kind == "date" and (plural or numbered):
        message = f"{name} holds dates, and this is no format of them. Write one such as %b %Y."
    else:
        return
    raise YuzenError(Fault("text-format", message, "", piece.span.source, piece.span))


def of_dates(piece: OfDates, marks: Marks, locale: Locale) -> str:
    """The first or last period with rows. Raises YuzenError (text-dates) where there is none."""
    span = marks.origin.spans.get(str(piece.period))
    if span is None:
        message = f"{piece.period} needs the rows, and a picture has none."
        raise YuzenError(Fault("text-dates", message, "", piece.span.source, piece.span))
    moment = np.datetime64(span[piece.end == "latest"], "s")
    if piece.period.unit == "weekday":
        return formatted(moment, piece.form.pattern or "%A", locale)
    grain = Grain(piece.period.unit, marks.calendar)  # type: ignore[arg-type]  # as it was read
    return date_text(moment, piece.form.pattern, grain, locale)
