"""Unit quaternions (x, y, z, w), as arrays (4,)."""

import numpy as np

IDENTITY = np.array([0.0, 0.0, 0.0, 1.0])


def turn(axis, degrees: float) -> np.ndarray:
    """Return the rotation by `degrees` about `axis`."""
    a = np.asarray(axis, float)
    half = np.deg2rad(degrees) / 2
    return np.append(np.sin(half) * a / np.linalg.norm(a), np.cos(half))


def product(p: np.ndarray, q: np.ndarray) -> np.ndarray:
    """Return the rotation that does `q` first, then `p`."""
    x, y, z, w = p
    a, b, c, d = q
    return np.array([w * a + x * d + y * c - z * b, w * b - x * c + y * d + z * a,
                     w * c + x * b - y * a + z * d, w * d - x * a - y * b - z * c])


def inverse(q: np.ndarray) -> np.ndarray:
    """Return the opposite rotation."""
    return q * np.array([-1.0, -1.0, -1.0, 1.0])


def between(a, b) -> np.ndarray:
    """Return the smallest rotation that takes direction `a` to direction `b`."""
    a, b = np.asarray(a, float), np.asarray(b, float)
    a, b = a / np.linalg.norm(a), b / np.linalg.norm(b)
    q = np.append(np.cross(a, b), 1.0 + a @ b)
    return q / np.linalg.norm(q)


def mirrored(q: np.ndarray) -> np.ndarray:
    """Return the rotation as seen in a mirror across x = 0."""
    return q * np.array([1.0, -1.0, -1.0, 1.0])
