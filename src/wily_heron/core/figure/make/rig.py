"""Where the generated figure's joints lie and how much each cage vertex follows them."""

from collections.abc import Iterable, Mapping

import numpy as np

from ..base.landmarks import finger_joints, landmarks
from ..cage_grid import Cage
from .body_field import finger_chains, foot_frame
from .tables import drawing

_RIG = drawing("rig")


def joint_tree(p: Mapping[str, float]) -> tuple[tuple[str, ...], np.ndarray, np.ndarray]:
    """Return names, parent indices (j,) and rest positions (j, 3) in metres for shape values `p`."""
    at = landmarks(p)
    side_of = _RIG["side"]
    rows: list[tuple[str, str | None, np.ndarray]] = [(row["joint"], row.get("from"), np.array(row["place"])) for row in _RIG["spine"]]
    forward = np.array([0.0, 0.0, 1.0])
    heel, ahead, _ = foot_frame(at)
    arm = [
        ("sternoclavicular", "vt6", np.array(side_of["collar"])), ("shoulder", "sternoclavicular", at.shoulder),
        ("shoulder_twist", "shoulder", at.shoulder + side_of["arm_twist"] * at.arm), ("elbow", "shoulder_twist", at.elbow),
        ("elbow_twist", "elbow", at.shoulder + side_of["forearm_twist"] * at.arm + side_of["forearm_forward"] * forward),
        ("radiocarpal", "elbow_twist", at.wrist),
    ]
    for finger, (points, _) in enumerate(finger_chains(at)):
        parent = "radiocarpal"
        for name, point in zip(finger_joints(finger), points, strict=False):
            arm.append((name, parent, point))
            parent = name
    thigh = (at.hip[1] - side_of["thigh_twist"]) / (at.hip[1] - at.knee[1])
    leg = [
        ("hip", "sacroiliac", at.hip), ("hip_twist", "hip", at.hip + thigh * (at.knee - at.hip)), ("knee", "hip_twist", at.knee),
        ("talocrural", "knee", at.ankle),
        ("metatarsophalangeal", "talocrural", heel + side_of["ball"] * ahead + np.array([0, side_of["ball_height"], 0])),
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


def _chain(x: float, stops: Iterable[tuple[str, float, float]], start: str) -> dict[str, float]:
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
    x, bands = abs(point[0]), _RIG["bands"]

    def own(limb: str) -> list[tuple[str, float, float]]:
        return [(f"{s}_{joint}", low, high) for joint, low, high in bands[limb]]

    if part == "trunk":
        shares = _chain(u, bands["trunk"], "sacroiliac")
        collar, arm, hip = (of["most"] * _step(high, *of["height"]) * _step(x, *of["aside"])
                            for high, of in ((u, _RIG["trunk"]["collar"]), (u, _RIG["trunk"]["arm"]), (-u, _RIG["trunk"]["hip"])))
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
        return _RIG["pelvis"]
    if part == "neck":
        return _chain(u + _RIG["neck"]["lean"] * (point[2] + _RIG["neck"]["upright"]), bands["neck"], "vt1")
    if part == "ear":
        return {"skullbase": 1.0}
    if part.startswith("toe"):
        return {f"{s}_metatarsophalangeal": 1.0}
    if part == "head":
        return _chain(u, bands["head"], "vc4")
    if part == "leg":
        return _chain(-u, own("leg"), "sacroiliac")
    if part == "foot":
        return _chain(u, own("foot"), f"{s}_talocrural")
    if part == "arm":
        return _chain(u, own("arm"), f"{s}_sternoclavicular")
    if part == "palm":
        return {f"{s}_radiocarpal": 1.0}
    finger, drawn = int(part[-1]), _RIG["finger"]
    starts = [0.0, *drawn["joints"][finger]]
    about = [[start + past for past in drawn[name]] for start, name in zip(starts, ("first", "second", "third"), strict=True)]
    return _chain(u, [(f"{s}_{j}", low, high) for j, (low, high) in zip(finger_joints(finger), about, strict=False)], f"{s}_radiocarpal")
