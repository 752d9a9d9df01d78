"""The shapes of the generated figure: names, what +1 means, and the settings type."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Shape:
    """One slider of the figure: centre 0, range -1 to 1, linear response."""

    name: str
    label: str
    group: str
    more: str
    less: str


SHAPES = (
    Shape("stature", "Stature", "whole body", "taller", "shorter"),
    Shape("girth", "Girth", "whole body", "heavier", "lighter"),
    Shape("muscle", "Muscle", "whole body", "stronger", "slighter"),
    Shape("leg_length", "Leg length", "whole body", "longer legs", "shorter legs"),
    Shape("shoulder", "Shoulders", "torso", "broader", "narrower"),
    Shape("bust", "Bust", "torso", "fuller", "flatter"),
    Shape("waist", "Waist", "torso", "wider", "narrower"),
    Shape("belly", "Belly", "torso", "rounder", "flatter"),
    Shape("hip", "Hips", "torso", "wider", "narrower"),
    Shape("seat", "Seat", "torso", "fuller", "flatter"),
)
SHAPE_NAMES = tuple(s.name for s in SHAPES)
