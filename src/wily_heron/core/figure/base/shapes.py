"""The shapes of the generated figure: names, groups, what +1 and -1 mean."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Shape:
    """One slider of the figure: centre 0, range -1 to 1 (1.5 with care), linear response.

    A `sided` shape works on both sides at once; its twin `<name>_left` adds to the left side alone.
    """

    name: str
    label: str
    group: str
    more: str
    less: str
    sided: bool = False
    least: float = -1.0


DRAWN = ("girth", "muscle", "shoulder", "bust", "waist", "belly", "hip", "seat")
"""Shapes the body is drawn anew for; the others move the finished body."""

_W, _T, _A, _L, _H, _E = "whole body", "torso", "arms", "legs", "head", "hands and feet"
SHAPES = (
    Shape("stature", "Stature", _W, "taller", "shorter"),
    Shape("girth", "Girth", _W, "heavier", "lighter"),
    Shape("muscle", "Muscle", _W, "stronger", "slighter"),
    Shape("frame", "Frame", _W, "broader bones", "finer bones"),
    Shape("age", "Age", _W, "older", "younger adult"),
    Shape("leg_length", "Leg length", _W, "longer legs", "shorter legs"),
    Shape("limb_length", "Long limbs", _W, "longer arms and legs", "shorter arms and legs"),
    Shape("stoop", "Stoop", _T, "bent", "drawn up"),
    Shape("sway", "Sway of the back", _T, "hollower", "flatter"),
    Shape("torso_length", "Torso length", _T, "longer", "shorter"),
    Shape("shoulder", "Shoulder breadth", _T, "broader", "narrower"),
    Shape("shoulder_slope", "Shoulder slope", _T, "sloping", "square", True),
    Shape("chest_depth", "Chest depth", _T, "deeper", "shallower"),
    Shape("bust", "Bust", _T, "fuller", "flatter"),
    Shape("bust_height", "Bust height", _T, "higher", "lower"),
    Shape("back_round", "Upper back", _T, "rounder", "flatter"),
    Shape("waist", "Waist", _T, "wider", "narrower"),
    Shape("tiny_waist", "Nipped waist", _T, "nipped in", "straight"),
    Shape("belly", "Belly", _T, "rounder", "flatter"),
    Shape("belly_low", "Lower belly", _T, "fuller", "flatter"),
    Shape("flank", "Flanks", _T, "fuller", "leaner"),
    Shape("hip", "Hips", _T, "wider", "narrower"),
    Shape("seat", "Seat", _T, "fuller", "flatter"),
    Shape("seat_height", "Seat height", _T, "higher", "lower"),
    Shape("neck_length", "Neck length", _T, "longer", "shorter"),
    Shape("neck_girth", "Neck girth", _T, "thicker", "slimmer"),
    Shape("upper_arm_length", "Upper arm length", _A, "longer", "shorter", True),
    Shape("forearm_length", "Forearm length", _A, "longer", "shorter", True),
    Shape("upper_arm_girth", "Upper arm girth", _A, "thicker", "slimmer", True),
    Shape("forearm_girth", "Forearm girth", _A, "thicker", "slimmer", True),
    Shape("wrist_girth", "Wrist girth", _A, "thicker", "slimmer", True),
    Shape("thigh_length", "Thigh length", _L, "longer", "shorter"),
    Shape("shin_length", "Shin length", _L, "longer", "shorter"),
    Shape("thigh_girth", "Thigh girth", _L, "thicker", "slimmer", True),
    Shape("knee_girth", "Knee girth", _L, "thicker", "slimmer", True),
    Shape("calf_girth", "Calf girth", _L, "thicker", "slimmer", True),
    Shape("ankle_girth", "Ankle girth", _L, "thicker", "slimmer", True),
    Shape("leg_bow", "Set of the knees", _L, "bowed", "knocked", True),
    Shape("head_size", "Head size", _H, "bigger", "smaller"),
    Shape("face_length", "Face length", _H, "longer", "shorter"),
    Shape("face_width", "Face width", _H, "broader", "narrower"),
    Shape("forehead", "Forehead", _H, "prominent", "receding"),
    Shape("brow", "Brow", _H, "heavier", "lighter"),
    Shape("eye_size", "Eyes", _H, "larger", "smaller"),
    Shape("eye_spacing", "Eye spacing", _H, "wider apart", "closer"),
    Shape("cheekbone", "Cheekbones", _H, "prominent", "flat"),
    Shape("cheek", "Cheeks", _H, "fuller", "hollow"),
    Shape("nose_length", "Nose length", _H, "longer", "shorter"),
    Shape("nose_width", "Nose width", _H, "broader", "narrower"),
    Shape("nose_bridge", "Nose bridge", _H, "humped", "hollow"),
    Shape("lips", "Lips", _H, "fuller", "thinner"),
    Shape("mouth_width", "Mouth width", _H, "wider", "narrower"),
    Shape("jaw", "Jaw", _H, "broader", "narrower"),
    Shape("chin", "Chin", _H, "prominent", "receding"),
    Shape("ear_size", "Ear size", _H, "larger", "smaller", True),
    Shape("ear_set", "Set of the ears", _H, "standing out", "lying close", True),
    Shape("hand_size", "Hand size", _E, "bigger", "smaller", True),
    Shape("finger_length", "Finger length", _E, "longer", "shorter", True),
    Shape("foot_length", "Foot length", _E, "longer", "shorter", True),
    Shape("foot_width", "Foot width", _E, "broader", "narrower", True),
)
GROWN = (
    Shape("pointed_ears", "Pointed ears", "extras", "longer tips", "none", least=0.0),
    Shape("horns", "Horns", "extras", "larger", "none", least=0.0),
    Shape("tail", "Tail", "extras", "longer", "none", least=0.0),
)
EXTRAS = tuple(s.name for s in GROWN)
"""Parts that grow from the body, from 0 (none) to 1."""
LEFT = "_left"
SLIDERS = tuple(s.name for s in SHAPES) + tuple(s.name + LEFT for s in SHAPES if s.sided)
