"""A piece carried by one joint, firmly or swinging from it on a spring."""

import numpy as np

from ..figure.base.body import Wearer
from ..figure.base.skeleton import Skin
from ..model.riders import Riders
from ..model.steps.bind import Bind, BindReport
from ..motion.spring import Spring
from .bind import Bound


def carried(points: np.ndarray, wearer: Wearer, step: Bind) -> Bound:
    """Return the weights of a piece (n, 3) that `step.joint` carries whole; with a spring it hangs from its grip in links of even length.

    Raises `InputError` for an unknown joint.

    Args:
        points: (n, 3) float, metres.
        wearer: The body in its shape, at rest.
        step: What is asked for, as a step of the bench.
    """
    joint = wearer.skeleton.index(step.joint)
    p = np.asarray(points, np.float64)
    report = BindReport(joints=1, most=step.most, accepted=1.0, solved=0.0, carried_by=step.joint, spring=step.spring is not None)
    if step.spring is None:
        return Bound(Skin(_rows(len(p), joint), _ones(len(p))), None, report)
    grip = np.array(step.grip) if step.grip is not None else _top(p)
    away = p - grip
    far = away[np.argsort(-np.linalg.norm(away, axis=1))[: max(3, len(p) // 20)]].mean(axis=0)
    length = max(float(np.linalg.norm(far)), 0.02)
    count, first = step.spring.links, len(wearer.skeleton.names)
    at = np.linspace(0.0, 1.0, count + 1)
    places, ends = grip + at[:-1, None] * far, grip + at[1:, None] * far
    along = np.clip((away @ far) / length**2, 0.0, 1.0) * count
    main = np.minimum(along.astype(int), count - 1)
    past = along - main - 0.5
    beside = np.clip(main + np.sign(past).astype(int), 0, count - 1)
    share = np.where(beside == main, 0.0, np.abs(past)) if count > 1 else np.zeros(len(p))  # half and half where two links meet
    joints, weights = _rows(len(p), 0), np.zeros((len(p), 4), np.float32)
    joints[:, 0], joints[:, 1] = first + main, np.where(share > 0, first + beside, 0)
    weights[:, 0], weights[:, 1] = 1.0 - share, share
    spring = Spring(step.spring.stiffness, step.spring.damping, step.spring.gravity, step.spring.limit)
    still = np.zeros((len(wearer.body.shapes), count, 3), np.float32)
    riders = Riders(places, still, Skin(_rows(count, joint), _ones(count)), np.arange(count) - 1, ends, first, spring)
    return Bound(Skin(joints, weights), riders, report.model_copy(update={"links": count, "length_mm": round(1000 * length, 1)}))


def _top(p: np.ndarray) -> np.ndarray:
    high = p[p[:, 1] >= np.quantile(p[:, 1], 0.98)]
    return np.array([high[:, 0].mean(), p[:, 1].max(), high[:, 2].mean()])


def _rows(count: int, joint: int) -> np.ndarray:
    return np.tile(np.array([joint, 0, 0, 0], np.int32), (count, 1))


def _ones(count: int) -> np.ndarray:
    return np.tile(np.array([1, 0, 0, 0], np.float32), (count, 1))
