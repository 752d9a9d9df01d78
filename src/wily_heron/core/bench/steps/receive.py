"""Receive: unit and axes put right, accepted mends done."""

from dataclasses import replace

from pydantic import Field

from ...model.model import Model
from ...model.report import Found, Report
from ...model.state import Piece
from ...model.steps.receive import Receive
from ...receive.receive import receive
from ..step import BenchStep, Context


class Finding(Found):
    """One thing receiving found; `mend` says what would put it right, None if no program can."""

    kind: str
    count: int
    text: str
    mend: str | None
    mended: bool


class ReceiveReport(Report):
    """What receiving found."""

    key = "receive"
    unit: str
    unit_word: str
    unit_why: str
    up: str
    up_why: str
    size: list[float]
    vertices: int
    triangles: int
    polygons: int
    parts: int
    largest_part: int
    materials: list[str]
    open_edges: int
    non_manifold_edges: int
    has_uv: bool
    findings: list[Finding]
    category: str
    category_sure: float
    category_why: str
    symmetric: float
    beside_wearer: float
    hand: str = "right"
    facing: str = "front"
    stance_why: str = ""
    textures: list[str] = Field(default_factory=list)
    missing_textures: list[str] = Field(default_factory=list)
    joints: int = 0
    morphs: list[str] = Field(default_factory=list)
    clips: list[str] = Field(default_factory=list)


def run(piece: Piece, context: Context, step: Receive) -> tuple[Piece, ReceiveReport]:
    """Return the piece in metres, Y up, with what came along in the same place."""
    got = receive(piece.brought or Model(piece.mesh), step, float(context.wearer.points[:, 1].max()))
    return replace(piece, mesh=got.mesh, brought=got.brought, made_for=step.made_for), ReceiveReport.from_figures(got.found)


STEP = BenchStep(Receive, (ReceiveReport,), run, order="receive", bench="receive")
