"""Fit: brought to its ease over what lies under it."""

from dataclasses import replace

from ...figure.figure import figure
from ...fit.fit import fit
from ...fit.fit_paint import painted, rigid_parts
from ...fit.skin_under import under_of
from ...fit.target import FitTarget
from ...fit.worn_where import worn_elsewhere
from ...model.category import ENCLOSING
from ...model.state import Piece
from ...model.steps.fit import Fit, FitReport
from ..step import BenchStep, Context


def run(piece: Piece, context: Context, step: Fit) -> tuple[Piece, FitReport]:
    """Return the piece at its ease, over the layers it rests on and the skin."""
    mesh, wearer, made_for = piece.mesh, context.wearer, piece.made_for
    source = context.carrier_of(made_for.body, made_for.shape) if made_for is not None and step.ride else None
    own = wearer.shape if wearer.body.shapes == figure(1).shapes else figure(1).made_at
    layers = [(layer.mesh.points, layer.mesh.triangles) for layer in context.layers(step.over)]
    encloses = piece.category in ENCLOSING
    target = FitTarget(under_of(wearer).with_layers(layers), context.carrier(), own, source, encloses)
    got = fit(mesh.points, mesh.triangles, target, step, painted(mesh, step), rigid_parts(mesh, step))
    ridden = made_for.name if source is not None and made_for is not None else None
    elsewhere = worn_elsewhere(got.points, piece.category or "", target.carrier)
    told = {"made_for": ridden, "elsewhere": elsewhere, "said": [*got.report.said, *([elsewhere] if elsewhere else [])]}
    return replace(piece, mesh=mesh.moved(got.points), trouble=got.trouble), got.report.model_copy(update=told)


STEP = BenchStep(Fit, (FitReport,), run, order="fit", bench="fit")
