"""Many rotations at once: quaternions (..., 4) as x, y, z, w, and matrices (..., 3, 3)."""

import numpy as np


def turn_matrices(q: np.ndarray) -> np.ndarray:
    """Return rotation matrices `(..., 3, 3)` of quaternions `(..., 4)` of any length above 0.

    >>> turn_matrices(np.array([0.0, 0.0, 1.0, 1.0])).round(9).tolist()  # a quarter about z
    [[0.0, -1.0, 0.0], [1.0, 0.0, 0.0], [0.0, 0.0, 1.0]]
    """
    x, y, z, w = np.moveaxis(q / np.maximum(np.linalg.norm(q, axis=-1, keepdims=True), 1e-12), -1, 0)
    rows = [1 - 2 * (y * y + z * z), 2 * (x * y - z * w), 2 * (x * z + y * w),
            2 * (x * y + z * w), 1 - 2 * (x * x + z * z), 2 * (y * z - x * w),
            2 * (x * z - y * w), 2 * (y * z + x * w), 1 - 2 * (x * x + y * y)]
    return np.stack(rows, axis=-1).reshape(*q.shape[:-1], 3, 3)


def matrix_turns(m: np.ndarray) -> np.ndarray:
    """Return unit quaternions `(..., 4)` of rotation matrices `(..., 3, 3)`, w not negative. Follows: Shepperd 1978.

    >>> matrix_turns(np.eye(3)).tolist()
    [0.0, 0.0, 0.0, 1.0]
    """
    flat = m.reshape(-1, 3, 3)
    d = np.stack([flat[:, 0, 0], flat[:, 1, 1], flat[:, 2, 2]], axis=1)
    trace = d.sum(axis=1)
    best = np.argmax(np.concatenate([d, trace[:, None]], axis=1), axis=1)
    off = np.stack([flat[:, 2, 1] - flat[:, 1, 2], flat[:, 0, 2] - flat[:, 2, 0], flat[:, 1, 0] - flat[:, 0, 1]], axis=1)
    out = np.concatenate([off, 1 + trace[:, None]], axis=1)
    for i in range(3):
        rows = best == i
        k, n = (i + 1) % 3, (i + 2) % 3
        out[rows, i] = 1 + 2 * d[rows, i] - trace[rows]
        out[rows, k] = flat[rows, k, i] + flat[rows, i, k]
        out[rows, n] = flat[rows, n, i] + flat[rows, i, n]
        out[rows, 3] = off[rows, i]
    out /= np.maximum(np.linalg.norm(out, axis=1, keepdims=True), 1e-12)
    return np.where(out[:, 3:] < 0, -out, out).reshape(*m.shape[:-2], 4)
