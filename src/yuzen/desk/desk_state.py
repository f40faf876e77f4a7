"""What a page shows of a session, as plain values for JSON."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import asdict
from typing import Any

from yuzen.desk.reading import bounded
from yuzen.desk.session import Session
from yuzen.desk.shown.chart_choices import chart_choices, row_filters
from yuzen.desk.shown.mark_rows import mark_rows
from yuzen.desk.shown.parameter_controls import parameter_controls
from yuzen.desk.shown.picture import desk_picture
from yuzen.desk.shown.rule_outcomes import rule_outcomes
from yuzen.errors import Fault, YuzenError
from yuzen.stages.checking import checked
from yuzen.stages.stages import Stages


def desk_state(session: Session) -> dict[str, Any]:
    """All that a page shows; of a text with faults these, and no picture."""
    with session.lock:
        reading = session.reading
        state = _of_draft(session)
        if reading.stages is None:
            return {**state, "faults": fault_values(reading.faults)}
        try:
            with bounded():
                return {**state, "faults": [], **_of_chart(session, reading.stages)}
        except YuzenError as error:
            return {**state, "faults": fault_values(error.faults)}


def findings(session: Session) -> list[dict[str, Any]]:
    """What the check finds in the chart of now; nothing for a text with faults."""
    with session.lock:
        stages = session.reading.stages
        if stages is None:
            return []
        with bounded():
            found = checked(stages).findings
    return [
        {
            "code": finding.code,
            "message": finding.message,
            "remedy": finding.remedy,
            "line": finding.line,
        }
        for finding in found
    ]


def fault_values(faults: Iterable[Fault]) -> list[dict[str, Any]]:
    """Faults as a page shows them: each with its line, and the place that it is at."""
    return [
        {
            "code": fault.code,
            "message": fault.message,
            "where": fault.where,
            "line": fault.line,
            "source": fault.source,
            "span": None if fault.span is None else [fault.span.start, fault.span.end],
        }
        for fault in faults
    ]


def _of_draft(session: Session) -> dict[str, Any]:
    """The text, what can be undone, and what is with its file."""
    draft, offered = session.draft, session.offered
    return {
        "version": session.version,
        "called": session.brief.called,
        "target": session.target.name,
        "text": draft.text,
        "can_undo": draft.place > 0,
        "can_redo": draft.place < len(draft.texts) - 1,
        "saved": session.is_saved,
        "in_file": session.brief.path is not None,
        "offered": None
        if offered is None
        else {"text": offered.text, "when": f"{offered.kept_at:%d %B %Y, %H:%M}"},
        "on_disk": session.on_disk,
    }


def _of_chart(session: Session, stages: Stages) -> dict[str, Any]:
    """The picture, the rules, the first rows of the table, and what can be moved."""
    columns, moment = session.columns(stages), session.moment
    outcomes = [asdict(outcome) for outcome in rule_outcomes(stages)]
    return {
        "picture": desk_picture(stages),
        "alt": stages.alternative,
        "marks": len(stages.marks),
        "noun": stages.design.noun,
        "value": stages.marks.value.replace("_", " "),
        "category": stages.marks.category.replace("_", " "),
        "rules": outcomes,
        "table": asdict(mark_rows(stages, "all", 0)),
        "parameters": [asdict(control) for control in parameter_controls(stages, columns)],
        "choices": [asdict(choice) for choice in chart_choices(stages, columns, moment)],
        "filters": [asdict(row) for row in row_filters(stages, columns, moment)],
        "roles": dict(stages.theme.roles),
        "notes": list(dict.fromkeys([*stages.notes, *stages.scene.notes])),
    }
