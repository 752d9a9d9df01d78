"""What a step of the bench found: a small frozen model, kept on the piece under the step's name."""

from collections.abc import Mapping
from typing import Any, ClassVar, Self

from pydantic import BaseModel, ConfigDict


class Found(BaseModel):
    """A frozen part of a report. A field that a later version has dropped is passed over when an old one is read."""

    model_config = ConfigDict(frozen=True, json_schema_serialization_defaults_required=True)


class Report(Found):
    """What one step found. It is kept under `key`; where a step may be repeated, `several` of them stand in a list."""

    key: ClassVar[str]
    several: ClassVar[bool] = False

    @classmethod
    def from_figures(cls, found: Mapping[str, Any]) -> Self:
        """Return the report of figures by name. Raises `ValidationError` for a name it does not know: nothing found is dropped."""
        return cls.model_validate(dict(found), extra="forbid")

    def added_to(self, reports: Mapping[str, Any]) -> dict[str, Any]:
        """Return reports by key, in plain types, with this one put in: after those before it, or in the place of the last."""
        told = self.model_dump(mode="json")
        return {**reports, self.key: [*reports.get(self.key, []), told] if self.several else told}
