"""The production on the wire."""

import numpy as np
from pydantic import BaseModel, Field

from ....core.figure.base.pose_types import Pose
from ....core.figure.base.shapes import GROWN, SHAPES
from ....store.productions.settings import Settings
from ....studio.productions.overview import Axis, Cast, Overview, OwnBody
from ...wire import Out
from ..outfits.schemas import OutfitOut
from ..pieces.schemas import PieceOut
from ..shots.schemas import ShotOut


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
    outfit: int
    can_undo: bool = False
    can_redo: bool = False


class PoseOut(Out):
    """A pose: local rotations as quaternions (x, y, z, w) by joint name."""

    name: str
    label: str
    family: str
    rotations: dict[str, list[float]]

    @classmethod
    def of(cls, found: Pose) -> "PoseOut":
        """Return a pose with its rotations as plain numbers."""
        rotations = {joint: np.asarray(q, float).tolist() for joint, q in found.rotations.items()}
        return cls(name=found.name, label=found.label, family=found.family, rotations=rotations)


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
    poses: list[PoseOut]

    @classmethod
    def of(cls, found: OwnBody) -> "BodyOut":
        """Return a body of one's own with its sliders."""
        shapes = [ShapeOut(name=s, label=s.replace("_", " ").capitalize(), group="Its own", more="more", less="less", sided=False,
                           least=-1.0) for s in found.shapes]
        own = found.row.found
        return cls(body=found.row.body, name=found.row.name, shapes=shapes, poses=[PoseOut.of(p) for p in found.poses],
                   own_skeleton=own.own_skeleton, joints=own.joints, vertices=own.vertices, stature=own.stature,
                   registered_mm=own.registered_mm)


class MotionOut(Out):
    """A motion and how long it takes."""

    name: str
    label: str
    seconds: float

    @classmethod
    def of(cls, found: tuple[str, str, float]) -> "MotionOut":
        """Return a motion told by its name, its label and its length."""
        name, label, seconds = found
        return cls(name=name, label=label, seconds=seconds)


class CastOut(Out):
    """The wearers, and the bodies of their own that some have."""

    cast: list[WearerOut]
    bodies: list[BodyOut]

    @classmethod
    def of(cls, found: Cast) -> "CastOut":
        """Return the cast with its bodies."""
        return cls(cast=[WearerOut.of(w) for w in found.cast], bodies=[BodyOut.of(b) for b in found.bodies])


class AxisOut(Out):
    """The columns of the sheet: its poses and motions."""

    poses: list[PoseOut]
    motions: list[MotionOut]

    @classmethod
    def of(cls, found: Axis) -> "AxisOut":
        """Return the axis with its poses as plain numbers."""
        return cls(poses=[PoseOut.of(p) for p in found.poses], motions=[MotionOut.of(m) for m in found.motions])


class ProductionOut(Out):
    """Everything the Fitting room shows, but for geometry."""

    id: int
    name: str
    shapes: list[ShapeOut]
    cast: list[WearerOut]
    bodies: list[BodyOut]
    poses: list[PoseOut]
    motions: list[MotionOut]
    shots: list[ShotOut]
    outfits: list[OutfitOut]
    settings: Settings
    pieces: list[PieceOut]

    @classmethod
    def of(cls, found: Overview) -> "ProductionOut":
        """Return the production with the figure's sliders."""
        return cls(id=found.id, name=found.name, shapes=[ShapeOut(**vars(s)) for s in SHAPES + GROWN], **vars(CastOut.of(found)),
                   **vars(AxisOut.of(found)), shots=[ShotOut.of(s) for s in found.shots],
                   outfits=[OutfitOut.of(o) for o in found.outfits], settings=found.settings,
                   pieces=[PieceOut.of(p) for p in found.pieces])


class WearerIn(BaseModel):
    """A new wearer, on the house's figure or on a body of one's own."""

    name: str = Field(min_length=1, max_length=40)
    shape: dict[str, float]
    body: str | None = None


class ShapeIn(BaseModel):
    """New shape settings for a wearer."""

    shape: dict[str, float]
