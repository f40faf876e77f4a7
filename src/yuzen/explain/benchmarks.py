"""What numbers are compared with, and how far from it they are, in the words of a language."""

from dataclasses import replace

from yuzen.compose.judged_chart import JudgedChart
from yuzen.compose.texts.number_formats import number_format
from yuzen.explain.standing_out import StandsOut, plain_name, values_of
from yuzen.formats.number_format import Form, NumberFormat
from yuzen.rules.answers.gaps import BenchmarkGap, gaps
from yuzen.rules.quantities.ago import Ago
from yuzen.rules.quantities.fields import Field
from yuzen.rules.quantities.numbers import Moving, Percent, Previous, Quantity, Summary
from yuzen.rules.quantities.structure import constant
from yuzen.value import Value


class Measured(Value):
    """The number of a mark by which a rule holds, and what it is compared with.

    measure:  what the number is of; value: the number; text: the number as it is written.
    distance: how far the number is above what it is compared with; None: it is compared with none.
    compared: the distance in words; '' for none.
    """

    measure: str
    value: float
    text: str
    distance: float | None = None
    compared: str = ""


def measured(judged: JudgedChart, asked: StandsOut) -> list[Measured]:
    """The number of each mark that a rule holds for, in the order of `asked.marks`."""
    rule = judged.verdict.rules[asked.rule]
    # A part is a piece of a mark, and the piece's own number is told.
    rule_gaps = [] if rule.part is not None else gaps(rule, judged.context)
    known = [(gap, gap.known) for gap in rule_gaps]
    plain = number_format(judged.design, judged.context, asked.measure)
    numbers = []
    for mark, value in zip(asked.marks.tolist(), values_of(judged, asked).tolist(), strict=True):
        gap = next((gap for gap, is_known in known if is_known[mark]), None)
        if gap is None:
            numbers.append(Measured(asked.measure, value, plain.write(value)))
        else:
            numbers.append(_compared(judged, gap, mark))
    return numbers


def _compared(judged: JudgedChart, gap: BenchmarkGap, mark: int) -> Measured:
    """The number that a test compared, with its distance."""
    value, other = float(gap.values[mark]), float(gap.benchmark[mark])
    form = _format(judged, gap.subject)
    words = judged.words
    benchmark = _benchmark(judged, gap, other, form)
    distance = value - other
    if distance == 0:
        compared = words.say("at benchmark", benchmark=benchmark)
    else:
        key = "above benchmark" if distance > 0 else "below benchmark"
        size = distance_text(judged, form, abs(distance))
        compared = words.say(key, distance=size, benchmark=benchmark)
    return Measured(_subject(judged, gap.subject), value, form.write(value), distance, compared)


def distance_text(judged: JudgedChart, form: NumberFormat, size: float) -> str:
    """A distance in the format of its measure; of shares in points: '3.4 points'."""
    plain = form.styled("")
    if not form.form.percent:
        return _never_zero(plain, size)
    points = replace(plain, form=Form("", f",.{form.form.decimals}f"))
    text = _never_zero(points, 100 * size)
    count = int(text) if text.isdigit() else 2
    return f"{text} {judged.words.noun('points', count)}"


def _never_zero(form: NumberFormat, size: float) -> str:
    """A number that is not zero, with more decimals than its format has if that writes it as 0."""
    text = form.write(size)
    return form.tell(size)[0] if text == form.write(0.0) else text


def _format(judged: JudgedChart, subject: Quantity) -> NumberFormat:
    """How the numbers of a quantity are written."""
    context = judged.context
    name = context.whole.name(subject.name) if isinstance(subject, Field) else None
    if name in context.marks.columns:
        return number_format(judged.design, context, str(name))
    return context.formats.of(subject, context.marks.value)


def _subject(judged: JudgedChart, subject: Quantity) -> str:
    """What a compared number is of."""
    name = judged.context.whole.name(subject.name) if isinstance(subject, Field) else None
    return name or str(subject)


def _benchmark(judged: JudgedChart, gap: BenchmarkGap, value: float, form: NumberFormat) -> str:
    """What a number is compared with: 'target', '85%', 'the average of its waters'."""
    words = judged.words
    if gap.of is None:
        text = words.texts["benchmark usual"]
    elif constant(gap.of, judged.context.parameters) is not None:
        # Every digit of it counts, as the number would otherwise be compared with another one.
        return form.styled("").tell(value)[0]
    else:
        text = _quantity(judged, gap.of, gap.subject)
    peers = [plain_name(name) for name in gap.within if name not in judged.marks.peer_columns]
    summed = gap.of is None or _summarises(gap.of)
    # Only what is summed up among peers is theirs; a target is the mark's own.
    if peers and summed:
        text = words.say("benchmark peers", benchmark=text, peers=words.listed(peers))
    return text


def _summarises(quantity: Quantity) -> bool:
    inner = quantity.of if isinstance(quantity, Percent) else quantity
    return isinstance(inner, Summary)


def _quantity(judged: JudgedChart, quantity: Quantity, subject: Quantity) -> str:
    """A quantity in words; what the language has no words for, as the rule is written."""
    text = str(quantity).replace("`", "")
    match quantity:
        case Field():
            text = plain_name(judged.context.whole.name(quantity.name) or quantity.name)
        case Percent(of=inner) if inner is not None:
            share = judged.context.formats.share.tell(quantity.share)[0]
            of = _quantity(judged, inner, subject)
            text = judged.words.say("benchmark of", benchmark=share, measure=of)
        case Summary(kind=kind, of=of):
            text = _of(judged, f"benchmark {kind}", of, subject)
        case Moving(of=of):
            text = _of(judged, "benchmark moving", of, subject)
        case Previous(of=None, ago=None):
            text = judged.words.texts["benchmark previous"]
        case Previous(of=None, ago=ago) if ago is not None:
            text = _ago(judged, ago)
    return text


def _of(judged: JudgedChart, key: str, of: Quantity | None, subject: Quantity) -> str:
    """A summary in words, with what it is of where that is not the subject."""
    text = judged.words.texts[key]
    if of is None or of == subject:
        return text
    measure = _quantity(judged, of, subject)
    return judged.words.say("benchmark of", benchmark=text, measure=measure)


def _ago(judged: JudgedChart, ago: Ago) -> str:
    """A time before: '3 months before'."""
    counted = 1.0 if ago.count is None else constant(ago.count, judged.context.parameters)
    count = int(counted or 0)
    unit = judged.words.noun(f"unit {ago.unit}", count)
    key = "benchmark ago one" if count == 1 else "benchmark ago"
    return judged.words.say(key, count=count, unit=unit)
