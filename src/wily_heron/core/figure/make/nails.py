"""Nails, hinted: a slightly flatter, raised plate on the back of each finger's end and each toe's."""

import numpy as np

from ..base.landmarks import landmarks
from .body_field import finger_chains, foot_frame, toe_chains

RAISED, GROOVE = 0.0006, 0.0004
"""How far a nail stands out, and how deep the skin lies about it, in metres."""


def nail_moves(points: np.ndarray, normals: np.ndarray, mirror: np.ndarray) -> np.ndarray:
    """Return `(n, 3)`: how the vertices of the middle body move for nails; the same on both sides."""
    at = landmarks({})
    height = np.zeros(len(points))
    for finger, (chain, radii) in enumerate(finger_chains(at)):
        up = at.palm if finger else -np.cross(np.cross(at.palm, at.arm) + 0.6 * at.arm, chain[3] - chain[2])  # against its curl
        _lay(height, points, normals, chain[2], chain[3], radii[3], up, start=0.42, beyond=0.30)
    _, _, across = foot_frame(at)
    for chain, radii in toe_chains(at):
        _lay(height, points, normals, chain[0], chain[1], radii[1], np.cross(chain[1] - chain[0], across), start=0.40, beyond=0.15)
    other = height[mirror]
    return np.where(points[:, :1] > 0, height[:, None], other[:, None]) * normals


def _lay(height: np.ndarray, points: np.ndarray, normals: np.ndarray, root: np.ndarray, tip: np.ndarray, radius: float,
         up: np.ndarray, start: float, beyond: float) -> None:
    """Add one nail to `height`: from the share `start` of the last bone to `beyond` radii past its end."""
    length = float(np.linalg.norm(tip - root))
    along = (tip - root) / length
    up = up - (up @ along) * along
    up /= np.linalg.norm(up)
    local = points - root
    s = local @ along
    x = local @ np.cross(along, up)
    low, high = start * length, length + beyond * radius
    u = (2 * s - low - high) / (high - low)
    inside = 1.0 - np.maximum(np.abs(u) ** 3, np.abs(x / (0.74 * radius)) ** 3)
    near = (inside > -1.2) & (local @ up > 0) & (np.abs(local @ up) < 2 * radius) & (normals @ up > 0.1)
    plate = np.clip(inside / 0.25, 0.0, 1.0)
    rim = np.exp(-((inside + 0.35) / 0.35) ** 2)
    height[near] += (RAISED * plate * plate * (3 - 2 * plate) - GROOVE * rim)[near]
