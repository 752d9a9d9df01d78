"""What a production has settled for its rooms: ease by category, when a cell holds, units, and whether the sheet measures itself again."""

from typing import Annotated, Literal

from psycopg.types.json import Jsonb
from pydantic import Field, field_validator

from ...core.clearance.cell import CLEAN_AREA
from ...core.model.category import CATEGORIES
from ..db import Connection, Row, row, run
from ..events import notify

Ease = Annotated[float, Field(ge=0.0, le=0.2)]


class Settings(Row):
    """A production's settings.

    `ease` by category (metres) is what a fit begins with; `holds_cm2` is how much may show in a cell that holds; `lengths` is the unit of
    body measures; `measure_again` lets the sheet measure itself again after a change.
    """

    ease: dict[str, Ease] = Field(default={})
    holds_cm2: float = Field(default=1e4 * CLEAN_AREA, ge=0.0, le=100.0)
    lengths: Literal["cm", "in"] = "cm"
    measure_again: bool = True

    @field_validator("ease")
    @classmethod
    def _known(cls, ease: dict[str, float]) -> dict[str, float]:
        unknown = sorted(ease.keys() - set(CATEGORIES))
        if unknown:
            raise ValueError(f"there is no category '{unknown[0]}'")
        return ease


class _Kept(Row):
    settings: Settings


def settings_of(connection: Connection, production: int) -> Settings:
    """Return the settings of a production; as the house has them where none were kept."""
    kept = row(connection, _Kept, "production_settings", production=production)
    return kept.settings if kept else Settings()


def keep_settings(connection: Connection, production: int, settings: Settings) -> None:
    """Keep the settings of a production."""
    run(connection, "keep_production_settings", production=production, settings=Jsonb(settings.model_dump(mode="json")))
    notify(connection, "settings")
