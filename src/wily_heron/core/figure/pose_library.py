"""The poses that ship with the figure, written as limb directions and joint angles (degrees)."""

import numpy as np

from ..errors import InputError
from .landmarks import landmarks
from .pose import Pose
from .rotation import IDENTITY, between, inverse, mirrored, product, turn

_AT = landmarks({})
_X, _Y, _Z = np.eye(3)


class _Author:
    """Collects joint rotations; the left side's are written, the right side's mirrored."""

    def __init__(self) -> None:
        self.rotations: dict[str, np.ndarray] = {}

    def _set(self, side: str, joint: str, q: np.ndarray) -> None:
        self.rotations[f"{side}_{joint}"] = q if side == "l" else mirrored(q)

    def arm(self, side: str, towards, elbow=0.0, twist=0.0, collar=0.0, forward=0.0, wrist=0.0, pronate=0.0) -> "_Author":
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

    def fist(self, side: str, degrees: float) -> "_Author":
        """Curl the four fingers by `degrees` at each joint."""
        axis = np.cross(_AT.palm, _AT.arm)
        for n in range(2, 6):
            for joint in (f"metacarpophalangeal_{n}", f"carpal_proximal_interphalangeal_{n}", f"carpal_distal_interphalangeal_{n}"):
                self._set(side, joint, turn(axis, degrees))
        return self

    def leg(self, side: str, flex=0.0, out=0.0, twist=0.0, knee=0.0, ankle=0.0, toes=0.0) -> "_Author":
        """Flex the hip forward, spread it outwards, turn the thigh outwards; bend knee, lift foot, bend toes up."""
        swing = product(turn(_X, -flex), turn(_Z, out))
        self._set(side, "hip", product(swing, turn(_Y, twist / 2)))
        self._set(side, "hip_twist", turn(_Y, twist / 2))
        self._set(side, "knee", turn(_X, knee))
        self._set(side, "talocrural", turn(_X, -ankle))
        self._set(side, "metatarsophalangeal", turn(_X, -toes))
        return self

    def spine(self, bend=0.0, yaw=0.0, lean=0.0, nod=0.0, look=0.0, root=0.0) -> "_Author":
        """Bend forward, turn to the left, lean to the left, shared along the spine; `root` tips the whole body forward."""
        for joint, share in (("vl5", .18), ("vl3", .20), ("vl1", .20), ("vt10", .22), ("vt6", .20)):
            self.rotations[joint] = product(turn(_Y, yaw * share), product(turn(_X, bend * share), turn(_Z, -lean * share)))
        for joint in ("vt1", "vc4", "skullbase"):
            self.rotations[joint] = product(turn(_Y, look / 3), turn(_X, nod / 3))
        if root:
            self.rotations["humanoid_root"] = turn(_X, root)
        return self

    def pose(self, name: str, label: str, family: str) -> Pose:
        kept = {j: q for j, q in self.rotations.items() if not np.allclose(q, IDENTITY)}
        return Pose(name, label, family, kept)


def _library() -> dict[str, Pose]:
    a = _Author
    down = (.19, -.98, .04)
    poses = [
        a().pose("rest", "Rest", "stand"),
        a().arm("l", down, elbow=9, collar=-3).arm("r", down, elbow=9, collar=-3).fist("l", 12).fist("r", 12)
        .pose("stand", "Standing", "stand"),
        a().arm("l", (.30, .93, .20), elbow=16, twist=-25, collar=24).arm("r", down, elbow=14).fist("l", 20).fist("r", 14)
        .spine(bend=-4, lean=-5, nod=-16, look=12).pose("reach-up", "Reaching up", "reach"),
        a().arm("l", (.16, -.93, -.34), elbow=14).arm("r", (.16, -.90, .42), elbow=30).fist("l", 24).fist("r", 24)
        .leg("l", flex=30, knee=8, ankle=4).leg("r", flex=-20, knee=16, ankle=-8, toes=26)
        .spine(bend=4, yaw=-7).pose("stride", "Striding", "stride"),
        a().arm("l", (.20, -.88, .42), elbow=52, pronate=-20).arm("r", (.20, -.88, .42), elbow=52, pronate=-20).fist("l", 16).fist("r", 16)
        .leg("l", flex=86, out=6, twist=4, knee=84).leg("r", flex=86, out=6, twist=4, knee=84)
        .spine(bend=8, nod=4).pose("sit", "Sitting", "sit"),
        a().arm("l", (.22, -.86, .46), elbow=58, pronate=-20).arm("r", (.20, -.95, .22), elbow=35).fist("l", 18).fist("r", 18)
        .leg("l", flex=84, out=5, knee=86, ankle=2).leg("r", flex=-4, out=2, knee=96, ankle=-26, toes=48)
        .spine(bend=14, nod=10).pose("kneel", "Kneeling", "kneel"),
    ]
    return {p.name: p for p in poses}


POSES = _library()
"""By name; `rest` is the bind pose."""


def pose_named(name: str) -> Pose:
    """Return a shipped pose; raises `InputError` for an unknown name."""
    if name not in POSES:
        raise InputError(what=f"there is no pose called '{name}'", where="the pose library",
                         todo=f"The poses are {', '.join(POSES)}.")
    return POSES[name]
