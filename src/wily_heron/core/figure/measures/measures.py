"""The body measures of a wearer, by the names and definitions of ISO 8559-1:2017."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from ...errors import InputError
from ..base.body import Wearer
from ..figure import figure
from .tapes import Laid, Marks, back_tape, level_of, marks, slice_tape, straight


@dataclass(frozen=True)
class Measure:
    """One measure: `lay` puts its tape on a wearer; a height is the first point's distance from the floor."""

    name: str
    label: str
    group: str
    clause: str
    lay: Callable[[Wearer, Marks], Laid | None]
    height: bool = False


@dataclass(frozen=True)
class Taken:
    """A measure taken: its value in metres and the tape as it lies."""

    measure: Measure
    value: float
    tape: Laid


def _girth(region: str, mark: str, tilt: float = 0.0, shift: float = 0.0) -> Callable[[Wearer, Marks], Laid | None]:
    def lay(w: Wearer, m: Marks) -> Laid | None:
        origin = w.points[m.at[mark]] + np.array([0.0, shift * _tall(w), 0.0])
        normal = np.array([0.0, np.cos(tilt), np.sin(tilt)])
        return slice_tape(w.points, m.regions[region], origin, normal)
    return lay


def _tall(w: Wearer) -> float:
    return float(w.points[:, 1].max() / 1.7)


def _limb(region: str, start: str, end: str, share: float) -> Callable[[Wearer, Marks], Laid | None]:
    def lay(w: Wearer, m: Marks) -> Laid | None:
        a, b = (w.skeleton.positions[w.skeleton.index(j)] for j in (start, end))
        normal = (b - a) / np.linalg.norm(b - a)
        return slice_tape(w.points, m.regions[region], a + share * (b - a), normal)
    return lay


def _points(*names: str) -> Callable[[Wearer, Marks], Laid | None]:
    return lambda w, m: straight(*(m.at[n] for n in names))


def _across(name: str) -> Callable[[Wearer, Marks], Laid | None]:
    def lay(w: Wearer, m: Marks) -> Laid | None:
        here = m.at[name]
        flip = w.body.base[here] * [-1, 1, 1]
        return straight(here, int(np.argmin(np.sum((w.body.base - flip) ** 2, axis=1))))
    return lay


def _skin_at(w: Wearer, joint: str) -> int:
    """The vertex that lies over a joint, on the outer and upper side: it does not change with the shape."""
    place = w.body.skeleton.positions[w.body.skeleton.index(joint)]
    coarse = w.body.base[: len(figure(1).base)]
    return int(np.argmin(np.sum((coarse - place - [0.012, 0.012, 0.0]) ** 2, axis=1)))


def _arm(*stops: str) -> Callable[[Wearer, Marks], Laid | None]:
    return lambda w, m: straight(*(m.at[s] if s in m.at else _skin_at(w, s) for s in stops))


def _back(w: Wearer, m: Marks) -> Laid:
    return back_tape(w.points, m.midline, m.at["cervical"], float(w.points[m.at["waist"], 1]))


def _finger_tip(w: Wearer, m: Marks) -> Laid:
    hand = np.unique(m.regions["hand"])
    hand = hand[hand < len(figure(1).base)]
    shoulder = w.body.skeleton.positions[w.body.skeleton.index("l_shoulder")]
    tip = hand[np.argmax(np.linalg.norm(w.body.base[hand] - shoulder, axis=1))]
    return straight(_skin_at(w, "l_radiocarpal"), int(tip))


_H, _G, _L = "heights", "girths", "lengths and breadths"
MEASURES = (
    Measure("stature", "Stature", _H, "5.1.1", _points("crown"), True),
    Measure("cervical_height", "Cervical height", _H, "5.1.2", _points("cervical"), True),
    Measure("bust_height", "Bust height", _H, "5.1.8", _points("bust"), True),
    Measure("waist_height", "Waist height", _H, "5.1.10", _points("waist"), True),
    Measure("hip_height", "Hip height", _H, "5.1.13", _points("hip"), True),
    Measure("inside_leg_height", "Inside leg height", _H, "5.1.15", _points("crotch"), True),
    Measure("head_girth", "Head girth", _G, "5.3.1", _girth("head", "brow", tilt=0.10)),
    Measure("neck_girth", "Neck girth", _G, "5.3.2", _girth("neck", "larynx", tilt=0.20)),
    Measure("neck_base_girth", "Neck base girth", _G, "5.3.3", _girth("neck", "cervical", tilt=0.19)),
    Measure("upper_chest_girth", "Upper chest girth", _G, "5.3.7", _girth("trunk", "armpit", shift=.02)),
    Measure("bust_girth", "Bust girth", _G, "5.3.4", _girth("trunk", "bust")),
    Measure("under_bust_girth", "Under-bust girth", _G, "5.3.6", _girth("trunk", "under_bust")),
    Measure("waist_girth", "Waist girth", _G, "5.3.10", _girth("trunk", "waist")),
    Measure("hip_girth", "Hip girth", _G, "5.3.13", _girth("trunk", "hip")),
    Measure("upper_arm_girth", "Upper arm girth", _G, "5.3.16", _limb("arm", "l_shoulder", "l_elbow", 0.45)),
    Measure("elbow_girth", "Elbow girth", _G, "5.3.17", _limb("arm", "l_shoulder", "l_elbow", 1.0)),
    Measure("forearm_girth", "Forearm girth", _G, "5.3.18", _limb("arm", "l_elbow", "l_radiocarpal", 0.25)),
    Measure("wrist_girth", "Wrist girth", _G, "5.3.19", _limb("arm", "l_elbow", "l_radiocarpal", 0.96)),
    Measure("hand_girth", "Hand girth", _G, "5.3.20", _limb("hand", "l_radiocarpal", "l_metacarpophalangeal_3", 0.85)),
    Measure("thigh_girth", "Thigh girth", _G, "5.3.21", _girth("leg", "crotch", shift=-.02)),
    Measure("mid_thigh_girth", "Mid-thigh girth", _G, "5.3.22", _limb("leg", "l_hip", "l_knee", 0.62)),
    Measure("knee_girth", "Knee girth", _G, "5.3.23", _limb("leg", "l_hip", "l_knee", 1.0)),
    Measure("calf_girth", "Calf girth", _G, "5.3.25", _limb("leg", "l_knee", "l_talocrural", 0.33)),
    Measure("ankle_girth", "Ankle girth", _G, "5.3.26", _limb("leg", "l_knee", "l_talocrural", 0.88)),
    Measure("shoulder_breadth", "Shoulder breadth", _L, "5.2.2", _across("acromion")),
    Measure("shoulder_length", "Shoulder length", _L, "5.4.1", _points("neck_side", "acromion")),
    Measure("back_waist_length", "Back waist length", _L, "5.4.5", _back),
    Measure("upper_arm_length", "Upper arm length", _L, "5.4.14", _arm("acromion", "l_elbow")),
    Measure("arm_length", "Arm length", _L, "5.4.15", _arm("acromion", "l_elbow", "l_radiocarpal")),
    Measure("hand_length", "Hand length", _L, "5.4.17", _finger_tip),
    Measure("foot_length", "Foot length", _L, "5.2.7", _points("heel", "toe")),
    Measure("foot_breadth", "Foot breadth", _L, "5.2.8", _points("ball_in", "ball_out")),
)
BY_NAME = {m.name: m for m in MEASURES}


def measure_named(name: str) -> Measure:
    """Return a measure; raises `InputError` for an unknown name.

    >>> measure_named("stature").name
    'stature'
    """
    if name not in BY_NAME:
        raise InputError(what=f"there is no measure called '{name}'", where="the body measures",
                         todo=f"The measures are {', '.join(BY_NAME)}.")
    return BY_NAME[name]


def take(wearer: Wearer, names: tuple[str, ...] | None = None) -> dict[str, Taken]:
    """Return the measures of a wearer of the figure, standing in the rest pose."""
    m = marks(level_of(wearer.body))
    chosen = MEASURES if names is None else tuple(measure_named(n) for n in names)
    out = {}
    for measure in chosen:
        tape = measure.lay(wearer, m)
        if tape is None:
            raise InputError(what=f"{measure.label.lower()} cannot be taken", where="this body",
                             todo="Bring its shape nearer to the middle.")
        value = float(tape.on(wearer.points)[0, 1]) if measure.height else tape.length(wearer.points)
        out[measure.name] = Taken(measure, value, tape)
    return out
