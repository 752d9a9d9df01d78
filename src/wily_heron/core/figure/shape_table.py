"""How each shape that is not drawn moves the finished body. Points lie in the base body's own place (metres, floor at 0)."""

from collections.abc import Callable

import numpy as np

from .rig import finger_joints
from .shape_moves import Ground, Moves, none, push, scaled, size, spread, stretch, thicken, tip, together
from .shapes import LEFT, SHAPES

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
    both = together(*(scaled(_TABLE[n](ground), by) for n, by in (("foot_width", .55), ("wrist_girth", .35))))
    return together(
        both, mirror(both), scaled(_TABLE["neck_girth"](ground), 0.5), scaled(_TABLE["cheek"](ground), 0.9), scaled(_TABLE["face_width"](ground), 0.45),
        push(ground, (0, 1.482, .052), (.030, .014, .028), (0, -.008, .004)), push(ground, (.030, 1.500, .050), (.020, .016, .03), (.002, -.004, .003)),
        *(size(ground, f"{s}_talocrural", (0, .06, 0), soft=2.0) for s in "lr"),
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
            thicken(g, f"{s}_elbow", f"{s}_radiocarpal", 0.09, 0.95, 0.25), thicken(g, f"{s}_shoulder", f"{s}_elbow", 0.07, 0.95, 0.22),
            thicken(g, f"{s}_hip", f"{s}_knee", 0.06, 0.98, 0.20), thicken(g, f"{s}_knee", f"{s}_talocrural", 0.09, 0.95, 0.22),
            size(g, f"{s}_talocrural", (.05, 0, .03)),
        ]
    p = g.points
    trunk = np.exp(-0.5 * ((p[:, 1] - 1.28) / 0.12) ** 2) * np.clip(1 - np.abs(p[:, 0]) / 0.5, 0, 1)
    wide = p[:, :1] * np.array([[0.055, 0.0, 0.0]]) * trunk[:, None] + p[:, 2:] * np.array([[0.0, 0.0, 0.04]]) * trunk[:, None]
    return together(*moves, (wide, none(g)[1]), size(g, "vt1", (.02, 0, .02)))


def _age(g: Ground) -> Moves:
    return together(
        scaled(_stoop(g), 0.45), scaled(_bust_height(g), -0.9), push(g, (.07, .86, -.10), (.06, .06, .06), (0, -.012, .004)),
        push(g, (0, 1.00, .10), (.09, .08, .06), (0, -.004, .012)), push(g, (.036, 1.512, .062), (.012, .014, .02), (.003, -.004, .0035), only=_HEAD),
        push(g, (.040, 1.556, .066), (.013, .016, .02), (0, -.002, -.0045), only=_HEAD),  # cheeks fall in
        push(g, (.029, 1.548, .074), (.004, .016, .014), (-.001, 0, -.0030), only=_HEAD),  # fold from nose to mouth
        push(g, (.031, 1.580, .075), (.011, .0035, .014), (0, -.0015, .0022), only=_HEAD),  # under the eye
        push(g, (.036, 1.603, .078), (.013, .006, .014), (0, -.0030, .001), only=_HEAD),  # upper lid
        push(g, (0, 1.520, .088), (.024, .009, .014), (0, 0, -.0022), only=_HEAD),  # lips thin
        push(g, (0, 1.562, .100), (.010, .008, .014), (0, -.0035, .001), only=_HEAD),  # tip of the nose drops
        push(g, (.078, 1.552, -.020), (.010, .012, .02), (0, -.006, 0), only=_HEAD),  # ear lobes
        push(g, (0, 1.480, .060), (.022, .012, .02), (0, -.006, .002)),  # under the chin
        push(g, (.018, 1.455, .030), (.006, .030, .02), (0, 0, .0035)),  # cords of the neck
    )


def _limbs(g: Ground) -> Moves:
    arms = [m for s in "lr" for m in (stretch(g, f"{s}_shoulder", f"{s}_elbow", .030), stretch(g, f"{s}_elbow", f"{s}_radiocarpal", .028))]
    return together(*arms, _thigh(g, .045), _shin(g, .042))


def _thigh(g: Ground, by: float) -> Moves:
    return together(*(stretch(g, f"{s}_hip", f"{s}_knee", by, -_Y) for s in "lr"))


def _shin(g: Ground, by: float) -> Moves:
    return together(*(stretch(g, f"{s}_knee", f"{s}_talocrural", by, -_Y) for s in "lr"))


def _thigh_girth(g: Ground) -> Moves:
    """Thicken the thigh, less towards the other one: the thighs do not meet."""
    points, joints = thicken(g, "l_hip", "l_knee", .13, .42, .26)
    return points * np.where(points[:, :1] < 0, [0.25, 1.0, 1.0], 1.0), joints


def _stoop(g: Ground) -> Moves:
    return together(tip(g, "vl1", _X, 3.0), tip(g, "vt10", _X, 4.5), tip(g, "vt6", _X, 6.0), tip(g, "vt1", _X, 4.0),
                    tip(g, "vc4", _X, -4.0), tip(g, "skullbase", _X, -9.5))


def _sway(g: Ground) -> Moves:
    return together(tip(g, "sacroiliac", _X, 2.0), tip(g, "l_hip", _X, -2.0), tip(g, "r_hip", _X, -2.0), tip(g, "vl5", _X, -4.5),
                    tip(g, "vl3", _X, -4.0), tip(g, "vt10", _X, 4.0), tip(g, "vt6", _X, 2.5),
                    push(g, (0, .88, -.10), (.12, .07, .08), (0, 0, -.010)), push(g, (0, 1.05, -.08), (.14, .07, .06), (0, 0, .010)))


def _trunk_band(g: Ground, height: float, width: float, amount: tuple[float, float, float], power: float = 1.0) -> Moves:
    """Size a band of the trunk about its middle; arms are left out."""
    p = g.points
    arm = sum(g.carried(f"{s}_shoulder") for s in "lr")
    band = np.exp(-0.5 * (np.abs(p[:, 1] - height) / width) ** (2 * power)) * np.clip(1 - arm, 0, 1)
    return band[:, None] * (p - [0, height, -.005]) * np.array(amount), none(g)[1]


def _bust_height(g: Ground) -> Moves:
    return push(g, (.080, 1.235, .115), (.055, .055, .055), (0, .016, 0))


def _fingers(g: Ground) -> Moves:
    moves = []
    for finger in range(5):
        first, second, third = (f"l_{j}" for j in finger_joints(finger))
        by = .0035 if finger == 0 else .0055
        moves += [stretch(g, first, second, by), stretch(g, second, third, 0.7 * by)]
    return together(*moves)


_TABLE: dict[str, Callable[[Ground], Moves]] = {
    "stature": lambda g: ((g.points * [.055, .078, .045]), g.skeleton.positions * [.055, .078, .045]),
    "leg_length": lambda g: together(_thigh(g, .030), _shin(g, .024)),
    "frame": _frame,
    "age": _age,
    "limb_length": _limbs,
    "stoop": _stoop,
    "sway": _sway,
    "torso_length": lambda g: together(stretch(g, "vl5", "vt6", .040, _Y), stretch(g, "vt6", "vt1", .012, _Y)),
    "shoulder_slope": lambda g: tip(g, "l_sternoclavicular", _Z, -7.5),
    "chest_depth": lambda g: _trunk_band(g, 1.27, .085, (0, 0, .11)),
    "bust_height": _bust_height,
    "back_round": lambda g: together(push(g, (.05, 1.33, -.12), (.09, .07, .07), (0, .002, -.016)), tip(g, "vt6", _X, 1.5), tip(g, "vc4", _X, -1.5)),
    "tiny_waist": lambda g: _trunk_band(g, 1.085, .055, (-.22, 0, -.13)),
    "belly_low": lambda g: push(g, (0, .935, .105), (.085, .045, .05), (0, -.004, .024)),
    "flank": lambda g: together(push(g, (.135, 1.035, -.015), (.035, .045, .07), (.018, 0, 0)), push(g, (.075, 1.06, -.09), (.05, .045, .04), (.003, 0, -.010))),
    "seat_height": lambda g: push(g, (.075, .865, -.115), (.060, .060, .055), (0, .016, 0)),
    "neck_length": lambda g: stretch(g, "vt1", "skullbase", .022),
    "neck_girth": lambda g: thicken(g, "vt1", "skullbase", .13, .55, .32),
    "upper_arm_length": lambda g: stretch(g, "l_shoulder", "l_elbow", .028),
    "forearm_length": lambda g: stretch(g, "l_elbow", "l_radiocarpal", .026),
    "upper_arm_girth": lambda g: thicken(g, "l_shoulder", "l_elbow", .20, .50, .24),
    "forearm_girth": lambda g: thicken(g, "l_elbow", "l_radiocarpal", .17, .32, .26),
    "wrist_girth": lambda g: thicken(g, "l_elbow", "l_radiocarpal", .13, .98, .16),
    "thigh_length": lambda g: _thigh(g, .040),
    "shin_length": lambda g: _shin(g, .036),
    "thigh_girth": _thigh_girth,
    "knee_girth": lambda g: thicken(g, "l_hip", "l_knee", .12, 1.0, .11),
    "calf_girth": lambda g: thicken(g, "l_knee", "l_talocrural", .17, .33, .20),
    "ankle_girth": lambda g: thicken(g, "l_knee", "l_talocrural", .14, .96, .14),
    "leg_bow": lambda g: together(tip(g, "l_hip", _Z, 2.6), tip(g, "l_knee", _Z, -5.2), tip(g, "l_talocrural", _Z, 2.6)),
    "head_size": lambda g: size(g, _HEAD, (.16, .16, .16)),
    "face_length": lambda g: together(push(g, (0, 1.500, .06), (.06, .030, .06), (0, -.012, 0), only=_HEAD), push(g, (0, 1.545, .08), (.05, .022, .05), (0, -.004, 0), only=_HEAD)),
    "face_width": lambda g: spread(g, (0, 1.55, .03), (.09, .060, .08), (.10, 0, 0), only=_HEAD),
    "forehead": lambda g: push(g, (0, 1.645, .085), (.045, .028, .04), (0, 0, .010), only=_HEAD),
    "brow": lambda g: together(push(g, (.026, 1.612, .082), (.018, .007, .02), (0, -.001, .0055), only=_HEAD), push(g, (0, 1.608, .092), (.012, .008, .02), (0, 0, .003), only=_HEAD)),
    "eye_size": lambda g: spread(g, (.0315, 1.594, .076), (.015, .012, .02), (.22, .26, .10), only=_HEAD),
    "eye_spacing": lambda g: push(g, (.0315, 1.594, .076), (.015, .016, .03), (.0045, 0, -.001), only=_HEAD),
    "cheekbone": lambda g: push(g, (.046, 1.570, .060), (.015, .011, .02), (.0035, .001, .0045), only=_HEAD),
    "cheek": lambda g: push(g, (.046, 1.535, .050), (.020, .020, .03), (.0055, 0, .0045), only=_HEAD),
    "nose_length": lambda g: together(push(g, (0, 1.562, .102), (.014, .013, .018), (0, -.0060, .0035), only=_HEAD), push(g, (0, 1.582, .097), (.010, .014, .018), (0, -.002, .002), only=_HEAD)),
    "nose_width": lambda g: spread(g, (0, 1.563, .095), (.018, .013, .016), (.38, 0, 0), only=_HEAD),
    "nose_bridge": lambda g: push(g, (0, 1.588, .094), (.009, .009, .018), (0, 0, .0045), only=_HEAD),
    "lips": lambda g: together(push(g, (0, 1.5155, .090), (.017, .0045, .012), (0, -.0015, .0026), only=_HEAD), push(g, (0, 1.5295, .090), (.017, .0045, .012), (0, .0015, .0024), only=_HEAD)),
    "mouth_width": lambda g: spread(g, (0, 1.522, .085), (.030, .009, .02), (.17, 0, 0), only=_HEAD),
    "jaw": lambda g: push(g, (.048, 1.515, .012), (.020, .022, .035), (.0075, -.002, 0), only=_HEAD),
    "chin": lambda g: push(g, (0, 1.490, .080), (.022, .016, .025), (0, -.002, .0085), only=_HEAD),
    "ear_size": lambda g: spread(g, (.083, 1.577, -.024), (.018, .034, .026), (.10, .24, .24), only=_HEAD),
    "ear_set": lambda g: push(g, (.090, 1.582, -.030), (.010, .034, .016), (.0075, 0, .002), only=_HEAD),
    "hand_size": lambda g: size(g, "l_radiocarpal", (.16, .16, .16)),
    "finger_length": _fingers,
    "foot_length": lambda g: size(g, "l_talocrural", (0, 0, .11)),
    "foot_width": lambda g: size(g, "l_talocrural", (.14, 0, 0)),
}
