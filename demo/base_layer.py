"""The base layer every wearer of the night mail starts from: a plain linen suit to the middle of the thigh, cut by code."""

from pathlib import Path

import numpy as np
from scipy import sparse

from wily_heron.core.figure.figure import figure
from wily_heron.core.figure.regions import face_regions
from wily_heron.core.mesh.edges import adjacency
from wily_heron.core.mesh.normals import vertex_normals

from .quads import Quads, write_obj

FILE = Path(__file__).parent / "files" / "base-layer.obj"
_COVERED = {"chest", "belly", "lap", "seat", "lower_back", "upper_back", "l_thigh", "r_thigh"}
_HEM, _EASE, _ROUNDS = 0.665, 0.002, 8


def base_layer() -> Quads:
    """Return the suit standing in metres: the figure's own faces, laid off the skin and smoothed over its hollows."""
    body = figure(2)
    names, of = face_regions(2)
    quads = np.concatenate([body.triangles[0::2], body.triangles[1::2, 2:]], axis=1)
    covered = np.isin(of[0::2], [i for i, n in enumerate(names) if n in _COVERED])
    covered &= body.base[quads, 1].mean(axis=1) > _HEM
    used, quads = np.unique(quads[covered], return_inverse=True)
    quads = quads.reshape(-1, 4)
    normals = vertex_normals(body.base, body.triangles)[used].astype(np.float64)
    skin = body.base[used].astype(np.float64)
    near = adjacency(quads, len(used))
    mean = sparse.diags(1.0 / np.asarray(near.sum(axis=1)).ravel()) @ near
    inner = _inside(quads, len(used))
    points = skin + _EASE * normals
    for _ in range(_ROUNDS):
        points = np.where(inner[:, None], 0.5 * points + 0.5 * (mean @ points), points)
        short = np.maximum(_EASE - np.sum((points - skin) * normals, axis=1), 0.0)
        points = points + short[:, None] * normals  # never nearer than its ease
    uv = np.stack([0.5 + np.arctan2(points[:, 0], points[:, 2]) / (2 * np.pi), (points[:, 1] - 0.6) / 0.9], axis=1)
    corners = uv[quads]
    wraps = corners[..., 0].max(axis=1) - corners[..., 0].min(axis=1) > 0.5
    corners[wraps, :, 0] = np.where(corners[wraps, :, 0] < 0.5, corners[wraps, :, 0] + 1.0, corners[wraps, :, 0])
    return Quads(points, quads, corners, np.zeros(len(quads), int))


def _inside(quads: np.ndarray, count: int) -> np.ndarray:
    """Return which vertices do not lie on the suit's borders."""
    ends = np.sort(np.stack([quads, np.roll(quads, -1, axis=1)], axis=2).reshape(-1, 2), axis=1)
    edges, times = np.unique(ends, axis=0, return_counts=True)
    inside = np.ones(count, bool)
    inside[edges[times == 1].ravel()] = False
    return inside


def write(path: Path = FILE) -> None:
    """Write the suit as OBJ + MTL in millimetres, standing."""
    write_obj(path, base_layer(), "base layer of the night mail", {"linen": "Kd 0.780 0.760 0.700\nPr 0.85\nPm 0.0"}, scale=1000.0)


if __name__ == "__main__":
    write()
