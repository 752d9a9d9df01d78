"""Body measures on the wire."""

from pydantic import BaseModel, Field

from ...wire import Out


class MeasureOut(Out):
    """A body measure in metres, its clause in ISO 8559-1, and its tape as a line of points (metres)."""

    name: str
    label: str
    group: str
    clause: str
    value: float
    line: list[list[float]]
    closed: bool


class SolvedOut(Out):
    """Shape settings solved for, what each measure reached (metres), and whether it is met within 5 mm."""

    shape: dict[str, float]
    reached: dict[str, float]
    met: dict[str, bool]


class SheetOut(Out):
    """Measures read from a sheet, in metres."""

    asked: dict[str, float]


class SolveIn(BaseModel):
    """Measures asked for (metres, by name), and the shape settings to stay near."""

    asked: dict[str, float] = Field(max_length=64)
    around: dict[str, float] = {}
