"""Bind: skin weights taken from what lies under, or all on one joint."""

from dataclasses import replace

from pydantic import Field

from ...follow.bound_piece import bound_piece
from ...model.report import Found, Report
from ...model.state import Piece
from ...model.steps.bind import Bind
from ..step import BenchStep, Context


class Fault(Found):
    """One kind of fault in the weights, where (vertices), and what would put it right."""

    kind: str
    count: int
    joint: str
    text: str
    mend: str
    rows: list[int]


class BoundPart(Found):
    """A loose part of a bound piece: what it looks like, whether it keeps its form, a vertex of it, and the joint that bears it most."""

    name: str
    rigid: bool
    vertices: int
    size_mm: float
    vertex: int
    joint: str | None


class Legs(Found):
    """What the poses tried do to cloth about the legs by weights alone: the worst stretch, in which `pose`, how deep legs come through."""

    stretch: float
    pose: str
    depth_mm: float


class BindReport(Report):
    """How the weights came about; `hangs` is how many vertices are shared by both legs."""

    key = "bind"
    joints: int
    most: int
    accepted: float
    solved: float
    own: bool = False
    joints_unknown: list[str] = Field(default_factory=list)
    how: str = "solve"
    worn_as: str = "cloth"
    hangs: int = 0
    legs: Legs | None = None
    carried_by: str | None = None
    spring: bool = False
    links: int = 0
    length_mm: float = 0.0
    parts: list[BoundPart] = Field(default_factory=list)
    findings: list[Fault] = Field(default_factory=list)


def run(piece: Piece, context: Context, step: Bind) -> tuple[Piece, BindReport]:
    """Return the piece with its skin weights and the joints of its own."""
    bound = bound_piece(piece, context.wearer, step, context.layers(step.over))
    return replace(piece, skin=bound.skin, riders=bound.riders), BindReport.from_figures(bound.report)


STEP = BenchStep(Bind, (BindReport,), run, order="bind", bench="bind")
