"""What the steps of a piece found, by step: derived from the list of steps."""

from collections.abc import Mapping
from typing import TYPE_CHECKING, Any

from pydantic import BaseModel, ConfigDict, Field, create_model

from ..finish.finished_piece import FinishReport
from ..model.report import Report
from .steps import STEPS


def _field(report: type[Report]) -> tuple:
    return (list[report], Field(default_factory=list)) if report.several else (report | None, None)


_KINDS = [*dict.fromkeys(report for step in STEPS for report in step.reports), FinishReport]

if TYPE_CHECKING:
    Reports = BaseModel
else:
    Reports = create_model(
        "Reports", __config__=ConfigDict(json_schema_serialization_defaults_required=True),
        __doc__="What each step found, by step; null, or none, where it has not been done.",
        **{report.key: _field(report) for report in _KINDS},
    )


def read_reports(notes: Mapping[str, Any]) -> tuple[Report, ...]:
    """Return the reports that `report_notes` told of; those of steps that are no longer there are passed over."""
    kinds = {kind.key: kind for kind in _KINDS}
    return tuple(kinds[key].model_validate(found) for key, kept in notes.items() if key in kinds
                 for found in (kept if kinds[key].several else [kept]))
