"""Poses of the library that do something: striding, working, feeling, and the ends of the range."""

from ..figure.base.pose_types import Pose
from .pose_author import PoseAuthor as A
from .poses_at_rest import hang


def striding() -> list[Pose]:
    """Return the poses of the family."""
    return [
        A()
        .arm("l", (0.16, -0.93, -0.34), elbow=14)
        .arm("r", (0.16, -0.90, 0.42), elbow=30)
        .fist("l", 24)
        .fist("r", 24)
        .leg("l", flex=30, knee=8, ankle=4)
        .leg("r", flex=-20, knee=16, ankle=-8, toes=26)
        .spine(bend=4, yaw=-7)
        .pose("stride", "Striding", "stride"),
        A()
        .arm("l", (0.26, -0.72, -0.64), elbow=88)
        .arm("r", (0.20, -0.62, 0.76), elbow=92)
        .fist("l", 54)
        .fist("r", 54)
        .leg("l", flex=66, knee=72, ankle=8)
        .leg("r", flex=-22, knee=34, ankle=-26, toes=30)
        .spine(bend=10, yaw=-16, root=8, look=10)
        .pose("run", "Running", "stride"),
        A()
        .arm("l", (0.20, -0.90, -0.26), elbow=30)
        .arm("r", (0.22, -0.58, 0.78), elbow=52)
        .fist("l", 24)
        .fist("r", 60)
        .leg("l", flex=72, out=4, knee=76, ankle=6)
        .leg("r", flex=-4, knee=6, ankle=-6, toes=10)
        .spine(bend=14, yaw=-8, root=6, nod=-10)
        .pose("climb", "Up the loft stair", "stride"),
        A()
        .arm("l", (0.62, -0.66, 0.40), elbow=44)
        .arm("r", (0.62, -0.66, 0.40), elbow=44)
        .fist("l", 16)
        .fist("r", 16)
        .leg("l", flex=44, out=6, knee=50, ankle=-6)
        .leg("r", flex=-6, out=5, knee=8)
        .spine(bend=8, nod=12)
        .pose("wade", "Wading", "stride"),
        A()
        .arm("l", (0.34, -0.84, 0.42), elbow=68)
        .arm("r", (0.34, -0.84, 0.42), elbow=68)
        .fist("l", 30)
        .fist("r", 30)
        .leg("l", flex=26, knee=26, ankle=-22, toes=30)
        .leg("r", flex=-10, knee=10, ankle=-22, toes=34)
        .spine(bend=14, nod=-10, yaw=4)
        .pose("creep", "On tiptoe", "stride"),
    ]


def working() -> list[Pose]:
    """Return the poses of the family."""
    return [
        A()
        .arm("l", (0.18, -0.34, 0.92), elbow=8, forward=16)
        .arm("r", (0.18, -0.34, 0.92), elbow=8, forward=16)
        .fist("l", 62)
        .fist("r", 62)
        .leg("l", flex=84, out=8, knee=62)
        .leg("r", flex=84, out=8, knee=62)
        .spine(bend=26, root=14, nod=-18)
        .pose("row-catch", "Rowing, the catch", "work"),
        A()
        .arm("l", (0.40, -0.78, -0.46), elbow=112)
        .arm("r", (0.40, -0.78, -0.46), elbow=112)
        .fist("l", 62)
        .fist("r", 62)
        .leg("l", flex=70, out=8, knee=26)
        .leg("r", flex=70, out=8, knee=26)
        .spine(bend=-4, root=-20, nod=12)
        .pose("row-finish", "Rowing, the finish", "work"),
        A()
        .arm("l", (0.40, -0.30, 0.86), elbow=142, twist=-30, collar=10, forward=8)
        .arm("r", (0.24, -0.84, 0.46), elbow=70)
        .fist("l", 60)
        .fist("r", 30)
        .leg("l", flex=30, out=5, knee=26, ankle=8)
        .leg("r", flex=-4, out=6, knee=10)
        .spine(bend=26, root=10, lean=6, nod=-14)
        .pose("haul-sack", "Hauling a mail sack", "work"),
        hang(A(), "r", elbow=20)
        .arm("l", (0.30, -0.10, 0.95), elbow=104, twist=-30, forward=8)
        .fist("l", 66)
        .thumb("l", 24)
        .leg("l", flex=10, knee=6)
        .leg("r", flex=-8, knee=6)
        .spine(bend=4, yaw=-8)
        .pose("knock", "Knocking", "work"),
        A()
        .arm("l", (0.34, -0.10, 0.90), elbow=92, collar=8, twist=-20)
        .arm("r", (0.20, -0.90, 0.36), elbow=94, pronate=40)
        .fist("l", 60)
        .fist("r", 18)
        .spine(bend=8, nod=22)
        .pose("read-lantern", "Reading by lantern", "work"),
        hang(A(), "r", elbow=18)
        .arm("l", (0.36, 0.46, 0.80), elbow=36, collar=16, twist=-30)
        .fist("l", 62)
        .leg("l", flex=16, knee=8)
        .leg("r", flex=-12, knee=6, toes=8)
        .spine(bend=-2, yaw=8, look=12, nod=-6)
        .pose("lantern-high", "Lantern held high", "work"),
        A()
        .arm("l", (0.22, -0.86, 0.44), elbow=84, pronate=-30)
        .arm("r", (0.16, -0.78, 0.60), elbow=76, pronate=-30)
        .fist("l", 18)
        .fist("r", 46)
        .thumb("r", 20)
        .leg("l", flex=86, out=7, knee=86)
        .leg("r", flex=86, out=7, knee=86)
        .spine(bend=22, nod=22)
        .pose("write", "Writing the ledger", "work"),
        A()
        .arm("l", (0.14, -0.50, 0.85), elbow=34, forward=12)
        .arm("r", (0.14, -0.50, 0.85), elbow=34, forward=12)
        .fist("l", 56)
        .fist("r", 56)
        .leg("l", flex=46, knee=40, ankle=12)
        .leg("r", flex=-22, knee=14, ankle=10, toes=24)
        .spine(bend=12, root=20, nod=-22)
        .pose("push-cart", "Pushing the cart", "work"),
        A()
        .arm("l", (0.40, 0.56, -0.72), elbow=62, collar=16, twist=-40)
        .arm("r", (0.30, -0.20, 0.93), elbow=14, forward=10)
        .fist("l", 56)
        .fist("r", 10)
        .leg("l", flex=-16, out=6, knee=12, toes=16)
        .leg("r", flex=26, out=6, knee=16)
        .spine(bend=-8, yaw=26, look=-18)
        .pose("throw", "Throwing the line", "work"),
        A()
        .arm("l", (0.16, -0.84, 0.50), elbow=88, pronate=30)
        .arm("r", (0.16, -0.84, 0.50), elbow=88, pronate=30)
        .fist("l", 34)
        .fist("r", 34)
        .leg("l", flex=12, knee=6)
        .leg("r", flex=-8, knee=6)
        .spine(bend=-6, nod=4)
        .pose("carry", "Carrying a crate", "work"),
    ]


def feeling() -> list[Pose]:
    """Return the poses of the family."""
    return [
        A()
        .arm("l", (0.46, 0.86, 0.14), elbow=22, collar=24, twist=-20)
        .arm("r", (0.46, 0.86, 0.14), elbow=22, collar=24, twist=-20)
        .fist("l", 66)
        .fist("r", 66)
        .leg("l", out=7)
        .leg("r", out=7)
        .spine(bend=-10, nod=-16)
        .pose("cheer", "Cheering", "emote"),
        A()
        .arm("l", (0.14, -0.76, 0.60), elbow=96, forward=6)
        .arm("r", (0.44, -0.82, -0.34), elbow=24)
        .fist("l", 16)
        .fist("r", 14)
        .leg("l", flex=22, knee=2)
        .leg("r", flex=8, knee=14)
        .spine(bend=40, root=16, nod=14)
        .pose("bow", "Bowing", "emote"),
        A()
        .arm("l", (0.06, -0.74, 0.66), elbow=118, forward=14, collar=12)
        .arm("r", (0.06, -0.80, 0.58), elbow=112, forward=14, collar=12)
        .fist("l", 20)
        .fist("r", 20)
        .leg("l", flex=6, knee=12, out=-2)
        .leg("r", flex=6, knee=12, out=-2)
        .spine(bend=20, nod=14)
        .pose("shiver", "Shivering", "emote"),
        hang(A(), "r", elbow=16)
        .arm("l", (0.62, -0.16, 0.60), elbow=142, twist=-22, collar=12)
        .fist("l", 25)
        .spine(bend=6, lean=8, look=-18, nod=4)
        .pose("listen", "Listening", "emote"),
        hang(A(), "r", elbow=30)
        .arm("l", (0.34, 0.10, 0.94), elbow=4, collar=6)
        .fist("l", 30)
        .leg("l", flex=10, knee=4)
        .leg("r", flex=-8, knee=4)
        .spine(yaw=-6, look=10)
        .pose("point", "Pointing the way", "emote"),
        A()
        .arm("l", (0.52, -0.80, 0.14), elbow=84, collar=22, pronate=70)
        .arm("r", (0.52, -0.80, 0.14), elbow=84, collar=22, pronate=70)
        .fist("l", 10)
        .fist("r", 10)
        .spine(bend=4, nod=6, lean=3)
        .pose("shrug", "Shrugging", "emote"),
    ]


def extremes() -> list[Pose]:
    """Return the poses of the family."""
    return [
        A()
        .arm("l", (0.10, 0.99, 0.02), elbow=4, collar=34, twist=-30)
        .arm("r", (0.10, 0.99, 0.02), elbow=4, collar=34, twist=-30)
        .pose("overhead", "Arms overhead", "extreme"),
        A()
        .arm("l", (0.44, -0.84, 0.20), elbow=20)
        .arm("r", (0.44, -0.84, 0.20), elbow=20)
        .fist("l", 14)
        .fist("r", 14)
        .leg("l", flex=88, knee=84, ankle=4)
        .leg("r", flex=-32, knee=20, ankle=-4, toes=40)
        .spine(bend=-4)
        .pose("lunge", "Lunging", "extreme"),
        A()
        .arm("l", (0.30, 0.86, -0.30), elbow=10, collar=26)
        .arm("r", (0.30, 0.86, -0.30), elbow=10, collar=26)
        .leg("l", flex=-12, knee=10)
        .leg("r", flex=-12, knee=10)
        .spine(bend=-38, root=-8, nod=-22)
        .pose("backbend", "Bending back", "extreme"),
        A()
        .arm("l", (0.94, -0.10, -0.20), elbow=8)
        .arm("r", (0.94, -0.10, 0.20), elbow=8)
        .leg("l", out=8)
        .leg("r", out=8)
        .spine(yaw=60, look=24)
        .pose("twist", "Twisted round", "extreme"),
        A()
        .arm("l", (0.70, -0.60, -0.20), elbow=12)
        .arm("r", (0.34, -0.20, 0.90), elbow=10)
        .leg("l", flex=104, knee=12, ankle=-20)
        .leg("r", flex=-6, knee=8)
        .spine(bend=-2, root=-8)
        .pose("high-kick", "Kicking high", "extreme"),
        A()
        .arm("l", (0.12, 0.31, 0.94), elbow=6)
        .arm("r", (0.12, 0.31, 0.94), elbow=6)
        .leg("l", flex=40, knee=6)
        .leg("r", flex=40, knee=6)
        .spine(bend=66, root=42, nod=12)
        .pose("toe-touch", "Touching the toes", "extreme"),
    ]
