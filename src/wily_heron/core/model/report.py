"""What a step of the bench found: a small frozen model, kept on the piece under the step's name."""

from collections.abc import Iterable
from typing import Any, ClassVar, TypeVar

from pydantic import BaseModel, ConfigDict


class Found(BaseModel):
    """A frozen part of a report. A field that a later version has dropped is passed over when an old one is read."""

    model_config = ConfigDict(frozen=True, json_schema_serialization_defaults_required=True)


class Report(Found):
    """What one step found. It is kept under `key`; where a step may be repeated, `several` of them stand in a list."""

    key: ClassVar[str]
    several: ClassVar[bool] = False


ReportKind = TypeVar("ReportKind", bound=Report)


def with_report(reports: tuple[Report, ...], report: Report) -> tuple[Report, ...]:
    """Return reports with another: after those of its kind where several stand together, else in the place of the last of its kind."""
    at = [k for k, each in enumerate(reports) if type(each) is type(report)]
    if at and not report.several:
        return tuple(report if k == at[0] else each for k, each in enumerate(reports))
    return (*reports, report)


def report_notes(reports: Iterable[Report]) -> dict[str, Any]:
    """Return reports in plain types by key: one, or a list where several stand together."""
    notes: dict[str, Any] = {}
    for each in reports:
        found = each.model_dump(mode="json")
        if each.several:
            notes.setdefault(each.key, []).append(found)
        else:
            notes[each.key] = found
    return notes
