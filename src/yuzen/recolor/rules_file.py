"""The file of rules for a deck or a workbook: which rules go to which chart."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import field
from pathlib import Path
from typing import Annotated

from pydantic import Field, ValidationError

from yuzen.brief.sections.base import Parameter, Parameters, Section, Word, described
from yuzen.brief.sections.rule import Rules
from yuzen.brief.toml.document import read_text, read_toml
from yuzen.brief.toml.faults import faults_of
from yuzen.brief.toml.source import BriefSource
from yuzen.compose.styles.palette import colors_of_rules
from yuzen.errors import YuzenError
from yuzen.recolor.parts_of import ChartPlace
from yuzen.value import Value


class ChartRules(Section):
    """Rules for some charts: those of a title, a slide or a sheet, of all that are given.

    title: of the chart itself, or of its slide; whatever its case is.
    """

    title: Annotated[
        Word | None, described("The title of the chart.", example="Surplus by route")
    ] = None
    slide: Annotated[
        Annotated[int, Field(ge=1)] | None, described("The slide that it is on.", example=2)
    ] = None
    sheet: Annotated[Word | None, described("The sheet that it is on.", example="June")] = None
    data: Annotated[
        Word | None, described("Rows with further columns for the chart.", example="routes.csv")
    ] = None
    parameters: Parameters = Field(default_factory=dict)
    rule: Rules = ()

    def fits(self, place: ChartPlace, title: str) -> bool:
        """Whether the rules are for a chart."""
        titles = {title.casefold(), place.heading.casefold()}
        return (
            (self.title is None or self.title.casefold() in titles)
            and (self.slide is None or self.slide == place.slide)
            and (self.sheet is None or self.sheet.casefold() == place.sheet.casefold())
        )

    @property
    def called(self) -> str:
        """What messages call the charts that it is for."""
        parts = {"title": self.title, "slide": self.slide, "sheet": self.sheet}
        named = [f"{key} {value!r}" for key, value in parts.items() if value is not None]
        return " and ".join(named) or "all charts"


class PaintFile(Section):
    """What a file of rules for charts that are there already says.

    rule: of all charts, before those of each, as house rules; data: rows with further columns.
    """

    theme: Annotated[
        Word | None, described("The theme that the colours are from.", example="dusk")
    ] = None
    locale: Annotated[Word | None, described("The language of numbers in texts.", example="de")] = (
        None
    )
    data: Annotated[
        Word | None, described("Rows with further columns for all charts.", example="routes.csv")
    ] = None
    parameters: Parameters = Field(default_factory=dict)
    rule: Rules = ()
    chart: Annotated[
        tuple[ChartRules, ...],
        Field(max_length=500),
        described(
            "Which chart some rules are for: its title, its slide or its sheet.",
            example=[{"title": "Surplus by route"}],
        ),
    ] = ()


class PaintRules(Value):
    """The rules of a file or of a call.

    folder:   from which they name files; written: their text.
    settings: what a call sets of their parameters.
    """

    file: PaintFile
    folder: Path
    written: BriefSource | None = None
    settings: Mapping[str, float | str] = field(default_factory=dict)

    @property
    def parameter_names(self) -> frozenset[str]:
        """The parameters that the file sets."""
        own = (name for section in self.file.chart for name in section.parameters)
        return frozenset([*self.file.parameters, *own])

    @property
    def colors(self) -> frozenset[str]:
        """The colours that rules name, by which a theme's own roles are told from misspelt ones."""
        of_charts = (rule for section in self.file.chart for rule in section.rule)
        return colors_of_rules([*self.file.rule, *of_charts])

    def parameters(self, sections: Sequence[ChartRules]) -> dict[str, Parameter]:
        """The parameters of a chart: of all charts, of itself, of the call."""
        values = dict(self.file.parameters)
        for section in sections:
            values |= section.parameters
        given = {name.casefold(): value for name, value in self.settings.items()}
        return {name: given.get(name.casefold(), value) for name, value in values.items()}

    def of_chart(self, place: ChartPlace, title: str) -> list[ChartRules]:
        """What is said of one chart alone."""
        return [section for section in self.file.chart if section.fits(place, title)]

    def unused(self, charts: Sequence[tuple[ChartPlace, str]]) -> list[ChartRules]:
        """What is said of charts that are not there."""
        return [
            section
            for section in self.file.chart
            if not any(section.fits(place, title) for place, title in charts)
        ]


def load_paint_file(path: Path) -> PaintRules:
    """The rules of a file. Raises YuzenError with all faults and places."""
    written = read_text(path, "file of rules")
    values = read_toml(written)
    try:
        return PaintRules(PaintFile.model_validate(values), path.absolute().parent, written)
    except ValidationError as error:
        faults = faults_of(error.errors(), values, PaintFile)
        raise YuzenError(*map(written.located, faults)) from None
