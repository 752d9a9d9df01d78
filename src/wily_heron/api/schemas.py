"""What goes over the wire."""

from datetime import datetime
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from ..core.bench.recipe import Recipe
from ..core.bench.reports import Reports
from ..core.model.steps.alteration import Cell
from .schemas_base import Category, Out, ProblemOut
from .schemas_shots import ShotOut


class ShapeOut(Out):
    """One slider of the figure."""

    name: str
    label: str
    group: str
    more: str
    less: str
    sided: bool
    least: float


class WearerOut(Out):
    """A wearer of the cast."""

    id: int
    name: str
    shape: dict[str, float]
    body: str | None = None
    can_undo: bool = False
    can_redo: bool = False


class BodyOut(Out):
    """A body of one's own: its address, name, sliders, whether its skeleton is its own, and the poses of the axis on its joints."""

    body: str
    name: str
    shapes: list[ShapeOut]
    own_skeleton: bool
    joints: int
    vertices: int
    stature: float
    registered_mm: float
    poses: list["PoseOut"]


class PoseOut(Out):
    """A pose: local rotations as quaternions (x, y, z, w) by joint name."""

    name: str
    label: str
    family: str
    rotations: dict[str, list[float]]


class PieceOut(Out):
    """A piece with its standing edit."""

    id: int
    name: str
    category: str
    rail: int
    file_name: str
    stock: int | None
    colourway: str | None
    edit: int
    recipe: Recipe
    label: str
    author: str
    made_at: datetime
    status: Literal["waiting", "done", "failed"]
    report: Reports
    error: ProblemOut | None
    geometry: str | None
    finished: str | None
    before: str | None
    thumb: str | None
    undo_label: str | None
    redo_label: str | None


class PairOut(Out):
    """Two layers that come near one another in a cell, whatever stands between them on the rail; `at` is where they are closest."""

    over: str
    under: str
    clearance_mm: float
    area_cm2: float
    pinched_cm2: float = 0.0
    at: str | None = None
    in_shots_cm2: float | None = None
    places: list["PlaceOut"]


class PlaceOut(Out):
    """A connected poke-through: where its middle is (metres), a way out along which it is seen, and what the shots see of it."""

    name: str
    depth_mm: float
    area_cm2: float
    centre: list[float]
    seen_along: tuple[float, float, float] = (0.0, 0.0, 1.0)
    in_shots_cm2: float | None = None
    shots: tuple[str, ...] = ()


class FiguresOut(Out):
    """The figures of one cell. Of a motion they are those of its worst frame, whose number, time and rotations are told.

    What the shots see is told where the production has shots: in all, and by each.
    """

    clearance_mm: float
    area_cm2: float
    places: int
    holds: bool
    holes_cm2: float = 0.0
    holes: tuple["HoleOut", ...] = ()
    pairs: list[PairOut]
    in_shots_cm2: float | None = None
    shots: tuple["SeenByOut", ...] = ()
    frame: int | None = None
    seconds: float | None = None
    rotations: dict[str, list[float]] | None = None


class HoleOut(Out):
    """What of a layer is left out and can be missed in a cell."""

    of: str
    area_cm2: float


class SeenByOut(Out):
    """What one shot sees of what shows in a cell."""

    name: str
    area_cm2: float


class TrialCellOut(Out):
    """One cell of a trial; `figures` is null until it is measured, and `stale` once what they were measured of has changed."""

    wearer: int
    pose: str
    figures: FiguresOut | None
    stale: bool = False
    picture: str | None
    error: str | None
    causes: list["CellCauseOut"] | None = None


class CellCauseOut(Out):
    """What a failing cell comes from: the piece it shows through, the layer that shows, the kind of cause, and it in words."""

    over: str
    under: str | None = None
    kind: str
    words: str


class TrialOut(Out):
    """A run of the trial sheet. `stale` when the outfit has changed since."""

    id: int
    state: Literal["running", "done", "cancelled"]
    total: int
    done: int
    seconds: float
    started_at: datetime
    stale: bool
    cells: list[TrialCellOut]


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


class ProductionOut(Out):
    """Everything the Fitting room shows, but for geometry."""

    name: str
    shapes: list[ShapeOut]
    bodies: list[BodyOut]
    cast: list[WearerOut]
    poses: list[PoseOut]
    motions: list["MotionOut"]
    shots: list[ShotOut]
    pieces: list[PieceOut]


class MotionOut(Out):
    """A motion and how long it takes."""

    name: str
    label: str
    seconds: float


class RecipeIn(BaseModel):
    """A new recipe for a piece, and the edit it was made from."""

    recipe: Recipe
    label: str = Field(min_length=1, max_length=80)
    based_on: int | None = None


class PieceChangeIn(BaseModel):
    """A new name or category for a piece."""

    name: str | None = Field(default=None, min_length=1, max_length=60)
    category: Category | None = None


class CandidateOut(Out):
    """A body a piece may have been made for: where it lies from its skin, and its joints from that body's (mm)."""

    name: str
    body: str
    shape: dict[str, float]
    skin_mm: float
    inside: float
    joints_mm: float | None
    warning: str | None


class OverIn(BaseModel):
    """The wearer a piece is brought over to."""

    wearer: int


class LinkedOut(Out):
    """Which textures were found again, and which are still missing."""

    linked: list[str]
    missing: list[str]


class MoveIn(BaseModel):
    """Which way to move on the rail."""

    outwards: bool


class WearerIn(BaseModel):
    """A new wearer, on the house's figure or on a body of one's own."""

    name: str = Field(min_length=1, max_length=40)
    shape: dict[str, float]
    body: str | None = None


class ShapeIn(BaseModel):
    """New shape settings for a wearer."""

    shape: dict[str, float]


class SolveIn(BaseModel):
    """Measures asked for (metres, by name), and the shape settings to stay near."""

    asked: dict[str, float] = Field(max_length=64)
    around: dict[str, float] = {}


class ShownPiece(BaseModel):
    """A piece as it is shown: its number and the address of its geometry."""

    model_config = ConfigDict(extra="forbid")
    piece: int
    geometry: str = Field(pattern="^[0-9a-f]{64}$")


class CellIn(Cell):
    """The cell to measure now, with the shape as it stands on the stage, on a body of one's own or the house's figure.

    `wearer` says which shots show it. `pieces` are those that are shown, as they are shown; all that stand if they are not named, with
    `unfinished` as their steps made them, without their finish.
    """

    body: str | None = None
    pieces: list[ShownPiece] | None = Field(default=None, max_length=100)
    wearer: int | None = None
    unfinished: bool | None = None
