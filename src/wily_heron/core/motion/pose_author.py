"""Writing a pose as limb directions and joint angles in degrees; left is written, right is its mirror image."""

import numpy as np

from ..figure.base.landmarks import landmarks
from ..figure.base.rotation import IDENTITY, between, inverse, mirrored, product, turn
from .pose import Pose

_AT = landmarks({})
_X, _Y, _Z = np.eye(3)
_STILL = 1e-8
"""A joint whose quaternion differs from no turn by no more than this is left out of a pose."""


class PoseAuthor:
    """Collects joint rotations; the left side's are written, the right side's mirrored."""

    def __init__(self) -> None:
        self.rotations: dict[str, np.ndarray] = {}

    def _set(self, side: str, joint: str, q: np.ndarray) -> None:
        self.rotations[f"{side}_{joint}"] = q if side == "l" else mirrored(q)

    def arm(self, side: str, towards, elbow=0.0, twist=0.0, collar=0.0, forward=0.0, wrist=0.0, pronate=0.0) -> "PoseAuthor":
        """Point the upper arm `towards` (x outwards, y up, z ahead, seen from the chest); angles in degrees."""
        shrug = product(turn(_Z, collar), turn(_Y, -forward))
        swing = product(between(_AT.arm, towards), turn(_AT.arm, twist / 2))
        self._set(side, "sternoclavicular", shrug)
        self._set(side, "shoulder", product(inverse(shrug), swing))
        self._set(side, "shoulder_twist", turn(_AT.arm, twist / 2))
        self._set(side, "elbow", turn(-_AT.palm, elbow))
        self._set(side, "elbow_twist", turn(_AT.arm, pronate))
        self._set(side, "radiocarpal", turn(np.cross(_AT.arm, _AT.palm), wrist))
        return self

    def fist(self, side: str, degrees: float) -> "PoseAuthor":
        """Curl the four fingers by `degrees` at each joint."""
        curled = turn(np.cross(_AT.palm, _AT.arm), degrees)
        for n in range(2, 6):
            for joint in (f"metacarpophalangeal_{n}", f"carpal_proximal_interphalangeal_{n}", f"carpal_distal_interphalangeal_{n}"):
                self._set(side, joint, curled)
        return self

    def leg(self, side: str, flex=0.0, out=0.0, twist=0.0, knee=0.0, ankle=0.0, toes=0.0) -> "PoseAuthor":
        """Flex the hip forward, spread it outwards, turn the thigh outwards; bend knee, lift foot, bend toes up."""
        swing = product(turn(_X, -flex), turn(_Z, out))
        self._set(side, "hip", product(swing, turn(_Y, twist / 2)))
        self._set(side, "hip_twist", turn(_Y, twist / 2))
        self._set(side, "knee", turn(_X, knee))
        self._set(side, "talocrural", turn(_X, -ankle))
        self._set(side, "metatarsophalangeal", turn(_X, -toes))
        return self

    def thumb(self, side: str, degrees: float) -> "PoseAuthor":
        """Fold the thumb across the palm."""
        folded = turn(np.cross(_AT.palm, _AT.arm) + 0.6 * _AT.arm, degrees)
        for joint in ("carpometacarpal_1", "metacarpophalangeal_1", "carpal_interphalangeal_1"):
            self._set(side, joint, folded)
        return self

    def spine(self, bend=0.0, yaw=0.0, lean=0.0, nod=0.0, look=0.0, root=0.0, tilt=0.0) -> "PoseAuthor":
        """Bend forward, turn to the left, lean to the left, shared along the spine; `root` tips all forward, `tilt` to the left."""
        for joint, share in (("vl5", .18), ("vl3", .20), ("vl1", .20), ("vt10", .22), ("vt6", .20)):
            self.rotations[joint] = product(turn(_Y, yaw * share), product(turn(_X, bend * share), turn(_Z, -lean * share)))
        for joint in ("vt1", "vc4", "skullbase"):
            self.rotations[joint] = product(turn(_Y, look / 3), turn(_X, nod / 3))
        if root or tilt:
            self.rotations["humanoid_root"] = product(turn(_X, root), turn(_Z, -tilt))
        return self

    def pose(self, name: str, label: str, family: str) -> Pose:
        """Return the pose so far."""
        kept = {j: q for j, q in self.rotations.items() if np.abs(q - IDENTITY).max() > _STILL}
        return Pose(name, label, family, kept)
