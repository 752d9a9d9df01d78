"""How each shape that is not drawn moves the finished body. Points lie in the base body's own place (metres, floor at 0)."""

from collections.abc import Callable

import numpy as np

from .base.landmarks import finger_joints
from .base.shape_moves import Ground, Moves, none, push, scaled, size, spread, stretch, thicken, tip, together
from .base.shapes import LEFT, SHAPES

_X, _Y, _Z = np.eye(3)
_HEAD = "skullbase"


def shape_moves(ground: Ground, mirror: Callable[[Moves], Moves]) -> dict[str, Moves]:
    """Return the moves of every shape in the table and of the left twins of the sided ones."""
    out: dict[str, Moves] = {}
    for shape in SHAPES:
        if shape.name not in _TABLE:
            continue
        moves = _TABLE[shape.name](ground)
        if shape.sided:
            out[shape.name + LEFT] = moves
            moves = together(moves, mirror(moves))
        out[shape.name] = _footed(ground, moves)
    return out


def also(ground: Ground, shape: str, mirror: Callable[[Moves], Moves]) -> Moves:
    """Return what a drawn shape moves besides: face, neck, wrists and feet follow the body's weight."""
    if shape == "muscle":
        return scaled(_TABLE["neck_girth"](ground), 0.6)
    if shape != "girth":
        return none(ground)
    both = together(*(scaled(_TABLE[n](ground), by) for n, by in (("foot_width", 0.55), ("wrist_girth", 0.35))))
    return together(
        both,
        mirror(both),
        scaled(_TABLE["neck_girth"](ground), 0.5),
        scaled(_TABLE["cheek"](ground), 0.9),
        scaled(_TABLE["face_width"](ground), 0.45),
        push(ground, (0, 1.482, 0.052), (0.030, 0.014, 0.028), (0, -0.008, 0.004)),
        push(ground, (0.030, 1.500, 0.050), (0.020, 0.016, 0.03), (0.002, -0.004, 0.003)),
        *(size(ground, f"{s}_talocrural", (0, 0.06, 0), soft=2.0) for s in "lr"),
    )


def _footed(ground: Ground, moves: Moves) -> Moves:
    """Return the moves with the soles brought back to the height they stood at."""
    sole = ground.points[:, 1] < 0.01
    lift = np.array([0.0, moves[0][sole, 1].mean(), 0.0])
    return moves[0] - lift, moves[1] - lift


def _frame(g: Ground) -> Moves:
    moves = [thicken(g, f"{s}_radiocarpal", f"{s}_metacarpophalangeal_3", 0.05, 0.0, 0.6) for s in "lr"]
    for s in "lr":
        moves += [
            thicken(g, f"{s}_elbow", f"{s}_radiocarpal", 0.09, 0.95, 0.25),
            thicken(g, f"{s}_shoulder", f"{s}_elbow", 0.07, 0.95, 0.22),
            thicken(g, f"{s}_hip", f"{s}_knee", 0.06, 0.98, 0.20),
            thicken(g, f"{s}_knee", f"{s}_talocrural", 0.09, 0.95, 0.22),
            size(g, f"{s}_talocrural", (0.05, 0, 0.03)),
        ]
    p = g.points
    trunk = np.exp(-0.5 * ((p[:, 1] - 1.28) / 0.12) ** 2) * np.clip(1 - np.abs(p[:, 0]) / 0.5, 0, 1)
    wide = p[:, :1] * np.array([[0.055, 0.0, 0.0]]) * trunk[:, None] + p[:, 2:] * np.array([[0.0, 0.0, 0.04]]) * trunk[:, None]
    return together(*moves, (wide, none(g)[1]), size(g, "vt1", (0.02, 0, 0.02)))


def _age(g: Ground) -> Moves:
    return together(
        scaled(_stoop(g), 0.45),
        scaled(_bust_height(g), -0.9),
        push(g, (0.07, 0.86, -0.10), (0.06, 0.06, 0.06), (0, -0.012, 0.004)),
        push(g, (0, 1.00, 0.10), (0.09, 0.08, 0.06), (0, -0.004, 0.012)),
        push(g, (0.036, 1.512, 0.062), (0.012, 0.014, 0.02), (0.003, -0.004, 0.0035), only=_HEAD),
        push(g, (0.040, 1.556, 0.066), (0.013, 0.016, 0.02), (0, -0.002, -0.0045), only=_HEAD),  # cheeks fall in
        push(g, (0.029, 1.548, 0.074), (0.004, 0.016, 0.014), (-0.001, 0, -0.0030), only=_HEAD),  # fold from nose to mouth
        push(g, (0.031, 1.580, 0.075), (0.011, 0.0035, 0.014), (0, -0.0015, 0.0022), only=_HEAD),  # under the eye
        push(g, (0.036, 1.603, 0.078), (0.013, 0.006, 0.014), (0, -0.0030, 0.001), only=_HEAD),  # upper lid
        push(g, (0, 1.526, 0.088), (0.024, 0.009, 0.014), (0, 0, -0.0022), only=_HEAD),  # lips thin
        push(g, (0, 1.562, 0.100), (0.010, 0.008, 0.014), (0, -0.0035, 0.001), only=_HEAD),  # tip of the nose drops
        push(g, (0.078, 1.552, -0.020), (0.010, 0.012, 0.02), (0, -0.006, 0), only=_HEAD),  # ear lobes
        push(g, (0, 1.480, 0.060), (0.022, 0.012, 0.02), (0, -0.006, 0.002)),  # under the chin
        push(g, (0.018, 1.455, 0.030), (0.006, 0.030, 0.02), (0, 0, 0.0035)),  # cords of the neck
    )


def _limbs(g: Ground) -> Moves:
    arms = [
        m for s in "lr" for m in (stretch(g, f"{s}_shoulder", f"{s}_elbow", 0.030), stretch(g, f"{s}_elbow", f"{s}_radiocarpal", 0.028))
    ]
    return together(*arms, _thigh(g, 0.045), _shin(g, 0.042))


def _thigh(g: Ground, by: float) -> Moves:
    return together(*(stretch(g, f"{s}_hip", f"{s}_knee", by, -_Y) for s in "lr"))


def _shin(g: Ground, by: float) -> Moves:
    return together(*(stretch(g, f"{s}_knee", f"{s}_talocrural", by, -_Y) for s in "lr"))


def _thigh_girth(g: Ground) -> Moves:
    """Thicken the thigh, less towards the other one: the thighs do not meet."""
    points, joints = thicken(g, "l_hip", "l_knee", 0.13, 0.42, 0.26)
    return points * np.where(points[:, :1] < 0, [0.25, 1.0, 1.0], 1.0), joints


def _stoop(g: Ground) -> Moves:
    return together(
        tip(g, "vl1", _X, 3.0),
        tip(g, "vt10", _X, 4.5),
        tip(g, "vt6", _X, 6.0),
        tip(g, "vt1", _X, 4.0),
        tip(g, "vc4", _X, -4.0),
        tip(g, "skullbase", _X, -9.5),
    )


def _sway(g: Ground) -> Moves:
    return together(
        tip(g, "sacroiliac", _X, 2.0),
        tip(g, "l_hip", _X, -2.0),
        tip(g, "r_hip", _X, -2.0),
        tip(g, "vl5", _X, -4.5),
        tip(g, "vl3", _X, -4.0),
        tip(g, "vt10", _X, 4.0),
        tip(g, "vt6", _X, 2.5),
        push(g, (0, 0.88, -0.10), (0.12, 0.07, 0.08), (0, 0, -0.010)),
        push(g, (0, 1.05, -0.08), (0.14, 0.07, 0.06), (0, 0, 0.010)),
    )


def _trunk_band(g: Ground, height: float, width: float, amount: tuple[float, float, float], power: float = 1.0) -> Moves:
    """Size a band of the trunk about its middle; arms are left out."""
    p = g.points
    arm = sum(g.carried(f"{s}_shoulder") for s in "lr")
    band = np.exp(-0.5 * (np.abs(p[:, 1] - height) / width) ** (2 * power)) * np.clip(1 - arm, 0, 1)
    return band[:, None] * (p - [0, height, -0.005]) * np.array(amount), none(g)[1]


def _bust_height(g: Ground) -> Moves:
    return push(g, (0.080, 1.235, 0.115), (0.055, 0.055, 0.055), (0, 0.016, 0))


def _fingers(g: Ground) -> Moves:
    moves = []
    for finger in range(5):
        first, second, third = (f"l_{j}" for j in finger_joints(finger))
        by = 0.0035 if finger == 0 else 0.0055
        moves += [stretch(g, first, second, by), stretch(g, second, third, 0.7 * by)]
    return together(*moves)


_TABLE: dict[str, Callable[[Ground], Moves]] = {
    "stature": lambda g: ((g.points * [0.055, 0.078, 0.045]), g.skeleton.positions * [0.055, 0.078, 0.045]),
    "leg_length": lambda g: together(_thigh(g, 0.030), _shin(g, 0.024)),
    "frame": _frame,
    "age": _age,
    "limb_length": _limbs,
    "stoop": _stoop,
    "sway": _sway,
    "torso_length": lambda g: together(stretch(g, "vl5", "vt6", 0.040, _Y), stretch(g, "vt6", "vt1", 0.012, _Y)),
    "shoulder_slope": lambda g: tip(g, "l_sternoclavicular", _Z, -7.5),
    "chest_depth": lambda g: _trunk_band(g, 1.27, 0.085, (0, 0, 0.11)),
    "bust_height": _bust_height,
    "back_round": lambda g: together(
        push(g, (0.05, 1.33, -0.12), (0.09, 0.07, 0.07), (0, 0.002, -0.016)), tip(g, "vt6", _X, 1.5), tip(g, "vc4", _X, -1.5)
    ),
    "tiny_waist": lambda g: _trunk_band(g, 1.085, 0.055, (-0.22, 0, -0.13)),
    "belly_low": lambda g: push(g, (0, 0.935, 0.105), (0.085, 0.045, 0.05), (0, -0.004, 0.024)),
    "flank": lambda g: together(
        push(g, (0.135, 1.035, -0.015), (0.035, 0.045, 0.07), (0.018, 0, 0)),
        push(g, (0.075, 1.06, -0.09), (0.05, 0.045, 0.04), (0.003, 0, -0.010)),
    ),
    "seat_height": lambda g: push(g, (0.075, 0.865, -0.115), (0.060, 0.060, 0.055), (0, 0.016, 0)),
    "neck_length": lambda g: stretch(g, "vt1", "skullbase", 0.022),
    "neck_girth": lambda g: thicken(g, "vt1", "skullbase", 0.13, 0.55, 0.32),
    "upper_arm_length": lambda g: stretch(g, "l_shoulder", "l_elbow", 0.028),
    "forearm_length": lambda g: stretch(g, "l_elbow", "l_radiocarpal", 0.026),
    "upper_arm_girth": lambda g: thicken(g, "l_shoulder", "l_elbow", 0.20, 0.50, 0.24),
    "forearm_girth": lambda g: thicken(g, "l_elbow", "l_radiocarpal", 0.17, 0.32, 0.26),
    "wrist_girth": lambda g: thicken(g, "l_elbow", "l_radiocarpal", 0.13, 0.98, 0.16),
    "thigh_length": lambda g: _thigh(g, 0.040),
    "shin_length": lambda g: _shin(g, 0.036),
    "thigh_girth": _thigh_girth,
    "knee_girth": lambda g: thicken(g, "l_hip", "l_knee", 0.12, 1.0, 0.11),
    "calf_girth": lambda g: thicken(g, "l_knee", "l_talocrural", 0.17, 0.33, 0.20),
    "ankle_girth": lambda g: thicken(g, "l_knee", "l_talocrural", 0.14, 0.96, 0.14),
    "leg_bow": lambda g: together(tip(g, "l_hip", _Z, 2.6), tip(g, "l_knee", _Z, -5.2), tip(g, "l_talocrural", _Z, 2.6)),
    "head_size": lambda g: size(g, _HEAD, (0.16, 0.16, 0.16)),
    "face_length": lambda g: together(
        push(g, (0, 1.500, 0.06), (0.06, 0.030, 0.06), (0, -0.012, 0), only=_HEAD),
        push(g, (0, 1.545, 0.08), (0.05, 0.022, 0.05), (0, -0.004, 0), only=_HEAD),
    ),
    "face_width": lambda g: spread(g, (0, 1.55, 0.03), (0.09, 0.060, 0.08), (0.10, 0, 0), only=_HEAD),
    "forehead": lambda g: push(g, (0, 1.645, 0.085), (0.045, 0.028, 0.04), (0, 0, 0.010), only=_HEAD),
    "brow": lambda g: together(
        push(g, (0.026, 1.612, 0.082), (0.018, 0.007, 0.02), (0, -0.001, 0.0055), only=_HEAD),
        push(g, (0, 1.608, 0.092), (0.012, 0.008, 0.02), (0, 0, 0.003), only=_HEAD),
    ),
    "eye_size": lambda g: spread(g, (0.0315, 1.594, 0.076), (0.015, 0.012, 0.02), (0.22, 0.26, 0.10), only=_HEAD),
    "eye_spacing": lambda g: push(g, (0.0315, 1.594, 0.076), (0.015, 0.016, 0.03), (0.0045, 0, -0.001), only=_HEAD),
    "cheekbone": lambda g: push(g, (0.046, 1.570, 0.060), (0.015, 0.011, 0.02), (0.0035, 0.001, 0.0045), only=_HEAD),
    "cheek": lambda g: push(g, (0.046, 1.535, 0.050), (0.020, 0.020, 0.03), (0.0055, 0, 0.0045), only=_HEAD),
    "nose_length": lambda g: together(
        push(g, (0, 1.562, 0.102), (0.014, 0.013, 0.018), (0, -0.0060, 0.0035), only=_HEAD),
        push(g, (0, 1.582, 0.097), (0.010, 0.014, 0.018), (0, -0.002, 0.002), only=_HEAD),
    ),
    "nose_width": lambda g: spread(g, (0, 1.563, 0.095), (0.018, 0.013, 0.016), (0.38, 0, 0), only=_HEAD),
    "nose_bridge": lambda g: push(g, (0, 1.588, 0.094), (0.009, 0.009, 0.018), (0, 0, 0.0045), only=_HEAD),
    "lips": lambda g: together(
        push(g, (0, 1.5215, 0.090), (0.017, 0.0045, 0.012), (0, -0.0015, 0.0026), only=_HEAD),
        push(g, (0, 1.5360, 0.090), (0.017, 0.0045, 0.012), (0, 0.0015, 0.0024), only=_HEAD),
    ),
    "mouth_width": lambda g: spread(g, (0, 1.528, 0.085), (0.030, 0.009, 0.02), (0.17, 0, 0), only=_HEAD),
    "jaw": lambda g: push(g, (0.048, 1.515, 0.012), (0.020, 0.022, 0.035), (0.0075, -0.002, 0), only=_HEAD),
    "chin": lambda g: push(g, (0, 1.490, 0.080), (0.022, 0.016, 0.025), (0, -0.002, 0.0085), only=_HEAD),
    "ear_size": lambda g: spread(g, (0.081, 1.577, -0.024), (0.018, 0.034, 0.026), (0.10, 0.24, 0.24), both=False, only=_HEAD),
    "ear_set": lambda g: push(g, (0.087, 1.582, -0.030), (0.010, 0.034, 0.016), (0.0075, 0, 0.002), both=False, only=_HEAD),
    "hand_size": lambda g: size(g, "l_radiocarpal", (0.16, 0.16, 0.16)),
    "finger_length": _fingers,
    "foot_length": lambda g: size(g, "l_talocrural", (0, 0, 0.11)),
    "foot_width": lambda g: size(g, "l_talocrural", (0.14, 0, 0)),
}
