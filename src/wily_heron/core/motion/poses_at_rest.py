"""Poses of the library that stay in place: standing, reaching, sitting, kneeling, crouching."""

from ..figure.base.pose_types import Pose
from .pose_author import PoseAuthor as A

_DOWN = (0.19, -0.98, 0.04)
# The hand lies on the hip and not in it: found by search on the default figure, no skin of the hand inside the trunk.
_ON_HIP = (0.51, -0.72, -0.76)
_HIP_HAND = {"elbow": 109.5, "twist": 40, "pronate": 2, "wrist": 19, "collar": -4, "forward": -13}


def hang(a: A, *sides: str, elbow: float = 9) -> A:
    """Let the arms of `sides` hang."""
    for side in sides:
        a.arm(side, _DOWN, elbow=elbow, collar=-3).fist(side, 14)
    return a


def standing() -> list[Pose]:
    """Return the poses of the family."""
    return [
        A().pose("rest", "Rest", "stand"),
        A()
        .arm("l", _DOWN, elbow=9, collar=-3)
        .arm("r", _DOWN, elbow=9, collar=-3)
        .fist("l", 12)
        .fist("r", 12)
        .pose("stand", "Standing", "stand"),
        hang(A(), "l", elbow=14)
        .arm("r", (0.58, -0.72, -0.76), **_HIP_HAND | {"elbow": 104})
        .fist("r", 30)
        .leg("l", flex=3, out=4, knee=3)
        .leg("r", flex=14, out=9, twist=14, knee=20, ankle=4)
        .spine(lean=-4, yaw=3, look=14)
        .pose("at-ease", "At ease", "stand"),
        A()
        .arm("l", _ON_HIP, **_HIP_HAND)
        .arm("r", _ON_HIP, **_HIP_HAND)
        .fist("l", 30)
        .fist("r", 30)
        .leg("l", out=8)
        .leg("r", out=8)
        .spine(bend=-3)
        .pose("hands-on-hips", "Hands on hips", "stand"),
        A()
        .arm("l", (0.97, -0.05, 0.05), elbow=3)
        .arm("r", (0.97, -0.05, 0.05), elbow=3)
        .leg("l", out=6)
        .leg("r", out=6)
        .pose("arms-out", "Arms held out", "stand"),
    ]


def reaching() -> list[Pose]:
    """Return the poses of the family."""
    return [
        A()
        .arm("l", (0.30, 0.93, 0.20), elbow=16, twist=-25, collar=24)
        .arm("r", _DOWN, elbow=14)
        .fist("l", 20)
        .fist("r", 14)
        .spine(bend=-4, lean=-5, nod=-16, look=12)
        .pose("reach-up", "Reaching up", "reach"),
        A()
        .arm("l", (0.26, 0.72, 0.64), elbow=12, twist=-15, collar=18, forward=8)
        .arm("r", (0.26, 0.72, 0.64), elbow=12, twist=-15, collar=18, forward=8)
        .fist("l", 20)
        .fist("r", 20)
        .leg("l", flex=4, ankle=-24, toes=24)
        .leg("r", flex=-4, ankle=-20, toes=20)
        .spine(bend=-6, nod=-18)
        .pose("reach-shelf", "To the top shelf", "reach"),
        A()
        .arm("l", (0.10, -0.18, 0.98), elbow=10, forward=14)
        .arm("r", (0.22, -0.90, -0.30), elbow=22)
        .fist("l", 8)
        .fist("r", 20)
        .leg("l", flex=26, knee=22, ankle=6)
        .leg("r", flex=-16, knee=6, ankle=-8, toes=14)
        .spine(bend=16, yaw=-12, nod=-6)
        .pose("reach-forward", "Reaching ahead", "reach"),
        A()
        .arm("l", (-0.44, -0.30, 0.84), elbow=24, forward=18)
        .arm("r", (0.34, -0.92, -0.10), elbow=14)
        .fist("l", 12)
        .fist("r", 14)
        .spine(bend=8, yaw=-26, look=-18)
        .pose("reach-across", "Reaching across", "reach"),
        A()
        .arm("l", (0.42, -0.88, 0.22), elbow=6)
        .arm("r", (0.80, -0.50, -0.20), elbow=30)
        .fist("l", 10)
        .fist("r", 14)
        .leg("l", flex=22, out=12, knee=38, ankle=10)
        .leg("r", flex=4, out=12, knee=4)
        .spine(bend=26, lean=20, nod=10)
        .pose("reach-low", "Reaching low", "reach"),
    ]


def sitting() -> list[Pose]:
    """Return the poses of the family."""
    return [
        A()
        .arm("l", (0.20, -0.88, 0.42), elbow=52, pronate=-20)
        .arm("r", (0.20, -0.88, 0.42), elbow=52, pronate=-20)
        .fist("l", 16)
        .fist("r", 16)
        .leg("l", flex=86, out=6, twist=4, knee=84)
        .leg("r", flex=86, out=6, twist=4, knee=84)
        .spine(bend=8, nod=4)
        .pose("sit", "Sitting", "sit"),
        A()
        .arm("l", (0.42, -0.82, -0.38), elbow=18)
        .arm("r", (0.42, -0.82, -0.38), elbow=18)
        .fist("l", 8)
        .fist("r", 8)
        .leg("l", flex=70, out=9, knee=58)
        .leg("r", flex=76, out=9, knee=84)
        .spine(bend=-4, root=-14, nod=10)
        .pose("sit-back", "Leaning back", "sit"),
        A()
        .arm("l", (0.38, -0.55, 0.74), elbow=58, forward=8)
        .arm("r", (0.38, -0.55, 0.74), elbow=58, forward=8)
        .fist("l", 26)
        .fist("r", 26)
        .leg("l", flex=92, out=12, knee=88)
        .leg("r", flex=92, out=12, knee=88)
        .spine(bend=34, nod=-4)
        .pose("sit-bent", "Arms on the knees", "sit"),
    ]


def kneeling() -> list[Pose]:
    """Return the poses of the family."""
    return [
        A()
        .arm("l", (0.22, -0.86, 0.46), elbow=58, pronate=-20)
        .arm("r", (0.20, -0.95, 0.22), elbow=35)
        .fist("l", 18)
        .fist("r", 18)
        .leg("l", flex=84, out=5, knee=86, ankle=2)
        .leg("r", flex=-4, out=2, knee=96, ankle=-26, toes=48)
        .spine(bend=14, nod=10)
        .pose("kneel", "Kneeling", "kneel"),
        hang(A(), "l", "r", elbow=24)
        .leg("l", flex=4, out=7, knee=96, ankle=-38)
        .leg("r", flex=4, out=7, knee=96, ankle=-38)
        .spine(bend=4, nod=6)
        .pose("kneel-both", "On both knees", "kneel"),
        A()
        .arm("l", (0.22, -0.52, 0.82), elbow=30, forward=12)
        .arm("r", (0.24, -0.66, 0.70), elbow=62)
        .fist("l", 14)
        .fist("r", 50)
        .leg("l", flex=22, out=7, knee=118, ankle=-36)
        .leg("r", flex=22, out=7, knee=118, ankle=-36)
        .spine(bend=40, nod=2)
        .pose("kneel-work", "At the boards", "kneel"),
    ]


def crouching() -> list[Pose]:
    """Return the poses of the family."""
    return [
        A()
        .arm("l", (0.10, -0.25, 0.86), elbow=34, forward=8)
        .arm("r", (0.10, -0.25, 0.86), elbow=34, forward=8)
        .fist("l", 14)
        .fist("r", 14)
        .leg("l", flex=116, out=16, twist=12, knee=128, ankle=26)
        .leg("r", flex=116, out=16, twist=12, knee=128, ankle=26)
        .spine(bend=20, root=26, nod=-24)
        .pose("squat", "Deep squat", "crouch"),
        A()
        .arm("l", (0.20, -0.72, 0.66), elbow=66)
        .arm("r", (0.24, -0.80, 0.50), elbow=40)
        .fist("l", 20)
        .fist("r", 20)
        .leg("l", flex=88, out=10, knee=92, ankle=16)
        .leg("r", flex=52, out=10, knee=98, ankle=2, toes=34)
        .spine(bend=24, root=18, nod=-16)
        .pose("crouch", "Hiding in the reeds", "crouch"),
        A()
        .arm("l", (0.30, -0.82, 0.56), elbow=10, forward=6)
        .arm("r", (0.30, -0.82, 0.56), elbow=10, forward=6)
        .fist("l", 52)
        .fist("r", 52)
        .leg("l", flex=74, out=12, knee=72, ankle=12)
        .leg("r", flex=74, out=12, knee=72, ankle=12)
        .spine(bend=22, root=34, nod=-22)
        .pose("lift", "Lifting a crate", "crouch"),
    ]
