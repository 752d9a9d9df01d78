"""Texture coordinates of a refined mesh."""

import numpy as np


def refined_uv(uv: np.ndarray, levels: int) -> np.ndarray:
    """Return the texture coordinates of the quads `levels` finer, in the order Catmull-Clark gives them."""
    for _ in range(levels):
        middle, after = uv.mean(axis=1), 0.5 * (uv + np.roll(uv, -1, axis=1))
        before = np.roll(after, 1, axis=1)
        uv = np.stack([np.stack([uv[:, k], after[:, k], middle, before[:, k]], axis=1) for k in range(4)], axis=1).reshape(-1, 4, 2)
    return uv
