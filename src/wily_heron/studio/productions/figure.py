"""The figure, or a body of one's own, as the stage draws it."""

from ...core.figure.base.shapes import EXTRAS
from ...core.figure.correctives import DRIVEN
from ...core.figure.extras import with_extras
from ...core.figure.figure import figure
from ...core.memo import Memo
from ...formats.array_frame import array_frame, moved_rows
from ...store.productions.bodies import body_for

_FRAMES: Memo[bytes] = Memo("figures for the stage", 128 * 2**20)


def figure_frame(level: int, own: str | None) -> bytes:
    """Return base, shape deltas in hundredths of a millimetre, skeleton and skin as one frame."""
    return _FRAMES.of((level, own), lambda: _frame(level, own))


def _frame(level: int, own: str | None) -> bytes:
    body = body_for(own, {}) if own else with_extras(EXTRAS, level)
    arrays = {
        "points": body.base, "triangles": body.triangles, "skin_joints": body.skin.joints.astype("<u2"), "skin_weights": body.skin.weights,
        **moved_rows(body.deltas), "joints": body.skeleton.positions.astype("<f4"),
        "joint_parents": body.skeleton.parents, "joint_deltas": body.joint_deltas.astype("<f4"), "floor": body.floor.astype("<i4"),
    }
    driven = [[body.shapes.index(shape), body.skeleton.index(joint)] for shape, joint in DRIVEN.items() if shape in body.shapes]
    count = len(body.base) if own else len(figure(level).base)
    notes = {"joint_names": list(body.skeleton.names), "shapes": list(body.shapes), "driven": driven, "own": count}
    return array_frame(arrays, notes)
