"""Relief made real: a height map on the body's texture coordinates becomes geometry, so that cloth drapes over it."""

from dataclasses import replace

import numpy as np

from ..errors import InputError
from ..mesh.normals import vertex_normals
from .base.body import Body


def with_relief(body: Body, heights: np.ndarray, amplitude: float) -> Body:
    """Return `body` with its base raised along its normals by `amplitude` (metres) times `heights` (h, w), 0..1, row 0 on top.

    A map all of one grey changes nothing: heights count from their mean over the vertices' own. A vertex on a seam takes the mean
    of its corners, so the surface stays closed. Shapes and joints are unchanged. Raises `InputError` without texture coordinates.
    """
    if body.corner_uv is None:
        raise InputError(what="the body has no texture coordinates", where="the relief", todo="Use the house's figure, or a pack of it.")
    h, w = heights.shape
    x = np.clip(body.corner_uv[..., 0].ravel() * w - 0.5, 0, w - 1)
    y = np.clip((1.0 - body.corner_uv[..., 1].ravel()) * h - 0.5, 0, h - 1)
    x0, y0 = np.minimum(x.astype(int), w - 2), np.minimum(y.astype(int), h - 2)
    fx, fy = x - x0, y - y0
    sample = ((heights[y0, x0] * (1 - fx) + heights[y0, x0 + 1] * fx) * (1 - fy)
              + (heights[y0 + 1, x0] * (1 - fx) + heights[y0 + 1, x0 + 1] * fx) * fy)
    rows = body.triangles.ravel()
    count = np.bincount(rows, minlength=len(body.base))
    height = np.bincount(rows, sample, minlength=len(body.base)) / np.maximum(count, 1)
    height -= height.mean()
    normal = vertex_normals(body.base, body.triangles)
    return replace(body, base=(body.base + amplitude * height[:, None] * normal).astype(np.float32))


def heights_of_normals(normals: np.ndarray) -> np.ndarray:
    """Return the heights `(h, w)`, 0..1, whose slopes are those of a tangent-space normal map (h, w, 3) of unit vectors, Y up.

    Follows: Frankot & Chellappa, A method for enforcing integrability in shape from shading, 1988.
    """
    z = np.maximum(normals[..., 2], 0.05)
    p, q = -normals[..., 0] / z, normals[..., 1] / z  # dh/dx to the right, dh/dy downwards
    h, w = z.shape
    u, v = np.meshgrid(2 * np.pi * np.fft.fftfreq(w), 2 * np.pi * np.fft.fftfreq(h))
    square = u * u + v * v
    square[0, 0] = 1.0
    spectrum = (-1j * u * np.fft.fft2(p) - 1j * v * np.fft.fft2(q)) / square
    spectrum[0, 0] = 0.0
    out = np.real(np.fft.ifft2(spectrum))
    return (out - out.min()) / max(float(np.ptp(out)), 1e-12)
