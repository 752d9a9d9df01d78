"""Unit quaternions (x, y, z, w), as arrays (4,)."""

import numpy as np

IDENTITY = np.array([0.0, 0.0, 0.0, 1.0])


def turn(axis, degrees: float) -> np.ndarray:
    """Return the rotation by `degrees` about `axis`.

    Args:
        axis: (3,) float, of any length.
        degrees: Degrees, counter-clockwise seen against the axis.

    >>> turn((0, 0, 1), 180.0).round(6).tolist()  # x, y, z, w
    [0.0, 0.0, 1.0, 0.0]
    """
    a = np.asarray(axis, float)
    half = np.deg2rad(degrees) / 2
    return np.append(np.sin(half) * a / np.linalg.norm(a), np.cos(half))


def product(p: np.ndarray, q: np.ndarray) -> np.ndarray:
    """Return the rotation that does `q` first, then `p`.

    Args:
        p: (4,) float, done last.
        q: (4,) float, done first.

    >>> bool(np.allclose(product(turn((0, 0, 1), 30.0), turn((0, 0, 1), 60.0)), turn((0, 0, 1), 90.0)))
    True
    """
    x, y, z, w = p
    a, b, c, d = q
    return np.array([w * a + x * d + y * c - z * b, w * b - x * c + y * d + z * a,
                     w * c + x * b - y * a + z * d, w * d - x * a - y * b - z * c])


def inverse(q: np.ndarray) -> np.ndarray:
    """Return the opposite rotation.

    >>> bool(np.allclose(product(turn((1, 2, 3), 40.0), inverse(turn((1, 2, 3), 40.0))), IDENTITY))
    True
    """
    return q * np.array([-1.0, -1.0, -1.0, 1.0])


def between(a, b) -> np.ndarray:
    """Return the smallest rotation that takes direction `a` to direction `b`.

    Args:
        a: (3,) float.
        b: (3,) float.

    >>> bool(np.allclose(between((1, 0, 0), (0, 1, 0)), turn((0, 0, 1), 90.0)))
    True
    """
    a, b = np.asarray(a, float), np.asarray(b, float)
    a, b = a / np.linalg.norm(a), b / np.linalg.norm(b)
    q = np.append(np.cross(a, b), 1.0 + a @ b)
    return q / np.linalg.norm(q)


def mirrored(q: np.ndarray) -> np.ndarray:
    """Return the rotation as seen in a mirror across x = 0.

    >>> bool(np.allclose(mirrored(turn((0, 0, 1), 30.0)), turn((0, 0, 1), -30.0)))
    True
    >>> bool(np.allclose(mirrored(turn((1, 0, 0), 30.0)), turn((1, 0, 0), 30.0)))
    True
    """
    return q * np.array([1.0, -1.0, -1.0, 1.0])
