"""Pieces of cloth with known answers: sheets of even triangles, a ball; and the shadow of one."""

import numpy as np
from PIL import Image, ImageDraw

from wily_heron.core.drape.swatch import even_faces


def sheet_of(width: float, length: float, side: float, hanging: bool = False) -> tuple[np.ndarray, np.ndarray]:
    """Return points (n, 3) and triangles of a sheet of even triangles: width along X, length along Z, or down along Y if `hanging`."""
    rows = max(2, round(length / (side * 0.866)) + 1)
    columns = round(width / side) + 1
    even = np.linspace(0.0, width, columns)
    odd = np.concatenate([[0.0], (even[:-1] + even[1:]) / 2, [width]])
    across = [odd if r % 2 else even for r in range(rows)]
    flat = np.concatenate([np.stack([x, np.full(len(x), length * r / (rows - 1))], axis=1) for r, x in enumerate(across)])
    return _laid(flat, hanging), even_faces(flat)


def shadow(points: np.ndarray, triangles: np.ndarray, dots: int = 4000) -> float:
    """Return the area (m2) of the shadow cast straight down, counted in `dots` a metre."""
    low = points[:, [0, 2]].min(axis=0)
    size = np.ceil(np.ptp(points[:, [0, 2]], axis=0) * dots).astype(int) + 2
    image = Image.new("1", (int(size[0]), int(size[1])))
    draw = ImageDraw.Draw(image)
    for face in (points[:, [0, 2]] - low)[triangles] * dots:
        draw.polygon([(float(x), float(y)) for x, y in face], fill=1)
    return float(np.asarray(image).sum()) / dots**2


def ball(radius: float, rings: int = 24) -> tuple[np.ndarray, np.ndarray]:
    """Return points and triangles of a ball about the origin, faces outwards."""
    turn, fall = np.meshgrid(np.linspace(0, 2 * np.pi, 2 * rings, endpoint=False), np.linspace(0, np.pi, rings + 1)[1:-1])
    body = np.stack([np.sin(fall) * np.sin(turn), np.cos(fall), np.sin(fall) * np.cos(turn)], axis=-1).reshape(-1, 3)
    points = radius * np.concatenate([body, [[0, 1, 0], [0, -1, 0]]])
    across, down, faces = 2 * rings, rings - 1, []
    for c in range(across):
        last = (down - 1) * across
        faces += [(len(points) - 2, c, (c + 1) % across), (len(points) - 1, last + (c + 1) % across, last + c)]
        for r in range(down - 1):
            a, b = r * across + c, r * across + (c + 1) % across
            faces += [(a, a + across, b), (b, a + across, b + across)]
    return points, np.array(faces, np.int32)


def _laid(flat: np.ndarray, hanging: bool) -> np.ndarray:
    nothing = np.zeros(len(flat))
    return np.stack([flat[:, 0], -flat[:, 1], nothing] if hanging else [flat[:, 0], nothing, flat[:, 1]], axis=1)
