"""The summary of a chart: its sentences, for people and programs."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from yuzen.compose.judged_chart import JudgedChart
from yuzen.explain.changes import LastTime, changes_since
from yuzen.explain.sentences import Sentence, in_order, sentences
from yuzen.value import Value


class ChartSummary(Value):
    """What stands out in a chart, sentence by sentence; `str()` of it is lines.

    >>> ChartSummary((Sentence("rule", "Loss: none of 20."),))
    Loss: none of 20.
    """

    sentences: tuple[Sentence, ...]

    def __iter__(self) -> Iterator[Sentence]:
        return iter(self.sentences)

    def __len__(self) -> int:
        return len(self.sentences)

    def __str__(self) -> str:
        return "\n".join(sentence.text for sentence in self.sentences)

    __repr__ = __str__

    def data(self) -> list[dict[str, object]]:
        """The sentences and their facts as plain values: a dict for each."""
        return [sentence.data() for sentence in self.sentences]


def summary_of(
    judged: JudgedChart, trends: Mapping[str, JudgedChart], last: LastTime | None = None
) -> ChartSummary:
    """The sentences of a chart; with last time's rows also what has changed since."""
    all_sentences = sentences(judged, trends)
    if last is None:
        return ChartSummary(all_sentences)
    return ChartSummary(in_order([*all_sentences, *changes_since(judged, trends, last)]))
