"""Where the generated figure's joints lie and how much each cage vertex follows them."""

from collections.abc import Mapping

import numpy as np

from ..base.landmarks import finger_joints, landmarks
from ..cage_grid import Cage
from .body_field import finger_chains, foot_frame

_SPINE = [
    ("humanoid_root", None, (0, .905, -.005)), ("sacroiliac", "humanoid_root", (0, .915, -.010)),
    ("vl5", "sacroiliac", (0, .985, -.025)), ("vl3", "vl5", (0, 1.040, -.022)), ("vl1", "vl3", (0, 1.100, -.022)),
    ("vt10", "vl1", (0, 1.170, -.032)), ("vt6", "vt10", (0, 1.270, -.048)), ("vt1", "vt6", (0, 1.415, -.045)),
    ("vc4", "vt1", (0, 1.475, -.022)), ("skullbase", "vc4", (0, 1.530, -.005)),
]
THIGH_TWIST, ARM_TWIST, FOREARM_TWIST = 0.690, 0.150, 0.410
BALL = 0.178
"""The ball of the foot lies this far from the back of the heel."""


def joint_tree(p: Mapping[str, float]) -> tuple[tuple[str, ...], np.ndarray, np.ndarray]:
    """Return names, parent indices (j,) and rest positions (j, 3) in metres for shape values `p`."""
    at = landmarks(p)
    rows: list[tuple[str, str | None, np.ndarray]] = [(n, parent, np.array(x, float)) for n, parent, x in _SPINE]
    forward = np.array([0.0, 0.0, 1.0])
    heel, ahead, _ = foot_frame(at)
    arm = [
        ("sternoclavicular", "vt6", np.array([.022, 1.405, .010])), ("shoulder", "sternoclavicular", at.shoulder),
        ("shoulder_twist", "shoulder", at.shoulder + ARM_TWIST * at.arm), ("elbow", "shoulder_twist", at.elbow),
        ("elbow_twist", "elbow", at.shoulder + FOREARM_TWIST * at.arm + .006 * forward),
        ("radiocarpal", "elbow_twist", at.wrist),
    ]
    for finger, (points, _) in enumerate(finger_chains(at)):
        parent = "radiocarpal"
        for name, point in zip(finger_joints(finger), points, strict=False):
            arm.append((name, parent, point))
            parent = name
    thigh = (at.hip[1] - THIGH_TWIST) / (at.hip[1] - at.knee[1])
    leg = [
        ("hip", "sacroiliac", at.hip), ("hip_twist", "hip", at.hip + thigh * (at.knee - at.hip)), ("knee", "hip_twist", at.knee),
        ("talocrural", "knee", at.ankle),
        ("metatarsophalangeal", "talocrural", heel + BALL * ahead + np.array([0, .018, 0])),
    ]
    for side, sign in (("l", 1.0), ("r", -1.0)):
        flip = np.array([sign, 1.0, 1.0])
        for name, parent, x in arm + leg:
            above = parent if parent in ("vt6", "sacroiliac") else f"{side}_{parent}"
            rows.append((f"{side}_{name}", above, x * flip))
    names = tuple(r[0] for r in rows)
    parents = np.array([-1 if r[1] is None else names.index(r[1]) for r in rows], np.int32)
    return names, parents, np.array([r[2] for r in rows])


def _step(x: float, low: float, high: float) -> float:
    t = min(max((x - low) / (high - low), 0.0), 1.0)
    return t * t * (3 - 2 * t)


def _chain(x: float, stops: list[tuple[str, float, float]], start: str) -> dict[str, float]:
    """Share 1 along a chain: each stop (joint, low, high) takes over from the one before as `x` goes from low to high."""
    shares, rest = {}, 1.0
    previous = start
    for joint, low, high in stops:
        t = _step(x, low, high) if high > low else 1.0 - _step(x, high, low)
        shares[previous] = shares.get(previous, 0.0) + rest * (1.0 - t)
        rest *= t
        previous = joint
    shares[previous] = shares.get(previous, 0.0) + rest
    return shares


_TRUNK = [("vl5", .945, 1.005), ("vl3", 1.000, 1.070), ("vl1", 1.055, 1.135), ("vt10", 1.12, 1.21), ("vt6", 1.20, 1.33),
          ("vt1", 1.37, 1.45)]
_NECK = [("vc4", 1.435, 1.488), ("skullbase", 1.485, 1.540)]


def cage_weights(cage: Cage, names: tuple[str, ...]) -> np.ndarray:
    """Return dense weights `(n, j)` of the cage's vertices, rows summing to 1."""
    index = {name: i for i, name in enumerate(names)}
    out = np.zeros((len(cage.points), len(names)))
    for i, (part, u, side, point) in enumerate(zip(cage.parts, cage.along, cage.sides, cage.points, strict=True)):
        for joint, share in _shares(part, u, side, point).items():
            out[i, index[joint]] += share
    return out / out.sum(axis=1, keepdims=True)


def _shares(part: str, u: float, side: int, point: np.ndarray) -> dict[str, float]:
    s = "l" if side > 0 else "r"
    x = abs(point[0])
    if part == "trunk":
        shares = _chain(u, _TRUNK, "sacroiliac")
        collar = 0.85 * _step(u, 1.26, 1.39) * _step(x, .035, .115)
        arm = 0.55 * _step(u, 1.26, 1.34) * _step(x, .112, .150)
        hip = 0.55 * _step(-u, -.955, -.838) * _step(x, .015, .075)
        if side == 0:
            collar = arm = hip = 0.0
        keep = (1 - collar) * (1 - arm) * (1 - hip)
        out = {joint: share * keep for joint, share in shares.items()}
        if side:
            out[f"{s}_sternoclavicular"] = collar * (1 - arm)
            out[f"{s}_shoulder"] = arm
            out[f"{s}_hip"] = hip
        return out
    if part == "pelvis":
        return {"sacroiliac": .56, "l_hip": .22, "r_hip": .22}
    if part == "neck":
        return _chain(u + 0.25 * (point[2] + .02), _NECK, "vt1")
    if part == "ear":
        return {"skullbase": 1.0}
    if part.startswith("toe"):
        return {f"{s}_metatarsophalangeal": 1.0}
    if part == "head":
        return _chain(u, [("skullbase", 1.455, 1.485)], "vc4")
    if part == "leg":
        return _chain(-u, [(f"{s}_hip", -.850, -.745), (f"{s}_hip_twist", -.78, -.60), (f"{s}_knee", -.520, -.428),
                           (f"{s}_talocrural", -.125, -.060)], "sacroiliac")
    if part == "foot":
        return _chain(u, [(f"{s}_metatarsophalangeal", .158, .200)], f"{s}_talocrural")
    if part == "arm":
        return _chain(u, [(f"{s}_shoulder", -.010, .085), (f"{s}_shoulder_twist", .09, .21), (f"{s}_elbow", .240, .324),
                          (f"{s}_elbow_twist", .35, .47), (f"{s}_radiocarpal", .500, .550)], f"{s}_sternoclavicular")
    if part == "palm":
        return {f"{s}_radiocarpal": 1.0}
    finger = int(part[-1])
    first, second, third = (f"{s}_{j}" for j in finger_joints(finger))
    lengths = {0: (.044, .076), 1: (.044, .068), 2: (.048, .076), 3: (.045, .071), 4: (.035, .055)}[finger]
    return _chain(u, [(first, -.004, .016), (second, lengths[0] - .008, lengths[0] + .008),
                      (third, lengths[1] - .007, lengths[1] + .007)], f"{s}_radiocarpal")
