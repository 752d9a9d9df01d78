"""What the alterations of the work step did."""

from pydantic import Field

from ..report import Report


class WorkReport(Report):
    """What one alteration of the work step did."""

    key, several = "work", True
    kind: str
    tool: str | None = None
    touched: int | None = None
    lost: int = 0
    unknown: list[str] = Field(default_factory=list)
    moved: float | None = None
    removed: int | None = None
    slit: bool = False
    cut: int | None = None
    borders: int | None = None
    vertices: int | None = None
    triangles: int | None = None
