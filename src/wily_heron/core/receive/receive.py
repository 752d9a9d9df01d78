"""Receiving: what a piece that has come in looks like, and what puts it right."""

from dataclasses import dataclass, replace

import numpy as np

from ..errors import InputError
from ..mesh.edges import edge_use
from ..mesh.islands import islands
from ..mesh.mesh import Mesh
from ..model.category import guess_category
from ..model.model import LYING, MIRRORED, TURNED, Model
from ..model.steps.receive import Receive, ReceiveReport
from .facing import guess_stance
from .findings import look_over, symmetry, told_of_file, told_only
from .pairs import look_for_pair
from .scale import METRES, UNIT_WORDS, guess_scale


@dataclass(frozen=True)
class Received:
    """The mesh put right (metres, Y up, standing on its own place), what came with it in the same place, and what was found."""

    mesh: Mesh
    brought: Model
    report: ReceiveReport


def receive(model: Model, step: Receive, stature: float) -> Received:
    """Return the model's mesh in metres, Y up, with the findings; `auto` is settled against a wearer's `stature` (metres).

    The mesh's `received` rows lead back to the model's points, and so to its weights and morphs.

    Args:
        model: The model, as its file tells it.
        step: What is asked for, as a step of the bench.
        stature: The wearer's, metres.
    """
    if len(model.mesh.triangles) == 0:
        raise InputError(what="the piece has no faces", where="receiving", todo="Bring in a file that holds a surface.")
    mesh, findings = look_over(replace(model.mesh, received=np.arange(len(model.mesh.points), dtype=np.int32)), step.mends)
    if len(mesh.triangles) == 0:
        raise InputError(what="none of its faces has any area", where="receiving", todo="Check the export scale and export again.")
    size = np.ptp(mesh.points.astype(np.float64), axis=0)
    if size.max() <= 0:
        raise InputError(what="all its points lie in one place", where="receiving", todo="Check the export scale and export again.")
    scale = guess_scale(mesh.points, mesh.triangles, stature, step.unit, step.up)
    upright = METRES[scale.unit] * (LYING if scale.up == "z" else np.eye(3))
    stance = guess_stance(model.turned(upright)) if model.skeleton is not None else guess_stance(model)
    hand = ("left" if stance.mirrored else "right") if step.hand == "auto" else step.hand
    facing = ("back" if stance.turned else "front") if step.facing == "auto" else step.facing
    linear = (MIRRORED if hand == "left" else np.eye(3)) @ (TURNED if facing == "back" else np.eye(3)) @ upright
    mesh = Model(mesh).turned(linear).mesh
    category = guess_category(mesh.points, mesh.triangles, stature)
    mesh, pair = look_for_pair(mesh, category.name, step.mends)
    points = mesh.points
    count, label = islands(mesh.triangles, len(points))
    _, use = edge_use(mesh.triangles)
    size = np.ptp(points.astype(np.float64), axis=0)
    beside = [*told_only(mesh, stature), *told_of_file(model)]
    report = ReceiveReport(
        unit=scale.unit, unit_word=UNIT_WORDS[scale.unit], unit_why=scale.unit_why, up=scale.up, up_why=scale.up_why,
        hand=hand, facing=facing, stance_why=stance.why if "auto" in (step.hand, step.facing) else "as you set it",
        size=[round(float(x), 4) for x in size], vertices=len(points), triangles=len(mesh.triangles),
        polygons=len(np.unique(mesh.polygon)), parts=count,
        largest_part=int(np.bincount(label).max()), materials=[m.name for m in mesh.materials],
        open_edges=int((use == 1).sum()), non_manifold_edges=int((use > 2).sum()),
        has_uv=mesh.corner_uv is not None, findings=[*findings, *pair, *beside],
        category=category.name, category_sure=round(category.sure, 2), category_why=category.why,
        symmetric=round(symmetry(points), 3),
        beside_wearer=round(float(size[1] / stature), 3),
        textures=[t.name for t in model.textures], missing_textures=list(model.missing()),
        joints=len(model.skeleton.names) if model.skeleton else 0, morphs=list(model.morphs), clips=[c.name for c in model.clips],
    )
    return Received(mesh, model.turned(linear), report)
