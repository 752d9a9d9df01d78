"""How wearers, pieces and trial cells are pictured: one view, one palette."""

from collections.abc import Sequence

import numpy as np

from ..clearance.cell import CellResult, Dressed
from ..figure.base.body import Wearer
from ..mesh.mesh import Mesh
from ..model.state import Piece
from ..model.worn import at_rest
from .picture import Sitter, View, picture

SKIN = (0.90, 0.85, 0.765)
CORAL = (0.831, 0.318, 0.184)


def piece_colours(mesh: Mesh) -> np.ndarray:
    """Return `(n, 3)` the display colour of each vertex: its material's, lifted from linear to display."""
    colours = np.clip([m.colour for m in mesh.materials], 0, 1) ** (1 / 1.6)
    material = np.zeros(len(mesh.points), np.int64)
    material[mesh.triangles] = mesh.triangle_material[:, None]
    return colours[material]


def body_portrait(points: np.ndarray, triangles: np.ndarray, size: tuple[int, int], alpha: bool = True) -> np.ndarray:
    """Return a picture of a standing or posed body, three-quarter view, filling the height.

    >>> from ..figure.figure import figure
    >>> body = figure(1)
    >>> body_portrait(body.base, body.triangles, (16, 24)).shape
    (24, 16, 4)
    """
    return picture([Sitter(points, triangles, SKIN)], _view(points, size), size, alpha=alpha)


def dressed_portrait(wearer: Wearer, pieces: Sequence[Piece], size: tuple[int, int]) -> np.ndarray:
    """Return a picture of a wearer at rest with pieces on, on clear ground.

    Args:
        wearer: Who wears them.
        pieces: Innermost first.
        size: Width and height, pixels.
    """
    gone = [piece.hidden for piece in pieces if piece.hidden is not None]
    skin = np.delete(wearer.body.triangles, np.unique(np.concatenate(gone)), axis=0) if gone else wearer.body.triangles
    worn = [Sitter(at_rest(piece, wearer), piece.shown, piece_colours(piece.mesh)) for piece in pieces]
    return picture([Sitter(wearer.points, skin, SKIN), *worn], _view(wearer.points, size), size, alpha=True)


def piece_portrait(mesh: Mesh, size: tuple[int, int]) -> np.ndarray:
    """Return a picture of a piece on its own.

    Args:
        mesh: The mesh, in metres.
        size: Width and height, pixels.

    >>> import trimesh
    >>> from ..mesh.mesh import Mesh
    >>> ball = trimesh.creation.icosphere(subdivisions=2, radius=0.1)
    >>> piece_portrait(Mesh(ball.vertices.astype(np.float32), ball.faces.astype(np.int32), None), (40, 60)).shape
    (60, 40, 4)
    """
    return picture([Sitter(mesh.points, mesh.triangles, piece_colours(mesh))], _view(mesh.points, size), size, alpha=True)


def piece_strip(mesh: Mesh, size: tuple[int, int], views: int = 8) -> np.ndarray:
    """Return pictures of a piece turned once round, side by side `(h, views * w, 4)`; the first is the three-quarter view."""
    sitter = Sitter(mesh.points, mesh.triangles, piece_colours(mesh))
    turns = 0.42 + 2 * np.pi * np.arange(views) / views
    return np.concatenate([picture([sitter], _round_view(mesh.points, size, yaw), size, alpha=True) for yaw in turns], axis=1)


def cell_portrait(dressed: Dressed, cell: CellResult, size: tuple[int, int], alpha: bool = False) -> np.ndarray:
    """Return a picture of a measured cell with what shows through in coral, drawn through the cloth as well."""
    sitters = [Sitter(cell.body_points, dressed.skin_faces, SKIN)]
    for layer, piece in zip(cell.layers, dressed.pieces, strict=True):
        sitters.append(Sitter(layer.points, piece.shown, piece_colours(piece.mesh)))
    shown = [pair.found for pair in cell.pairs if pair.shows]
    worst = max(shown, key=lambda found: found.area).seen.best_view(0) if shown else None
    view = _view(cell.body_points, size, *_towards(worst))
    image = picture(sitters, view, size, alpha=alpha)
    for found in shown:
        for place in found.places:
            _ring(image, view, place.centre, size)
    return image


def _towards(way: np.ndarray | None) -> tuple[float, float]:
    """The turn and tilt that look at the worst place along the way it is seen, else three-quarters from the front."""
    if way is None:
        return 0.42, 0.08
    yaw = float(np.arctan2(way[0], way[2])) if np.hypot(way[0], way[2]) > 0.2 else 0.42
    return yaw, float(np.clip(np.arcsin(np.clip(way[1], -1.0, 1.0)), -0.25, 0.6))


def _box(points: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Return the least and the greatest (3,) of points (n, 3); quicker by rows than along an axis of three."""
    rows = np.ascontiguousarray(points.T)
    return rows.min(axis=1), rows.max(axis=1)


def _view(points: np.ndarray, size: tuple[int, int], yaw: float = 0.42, pitch: float = 0.08) -> View:
    low, high = _box(points)
    centre = (low + high) / 2
    width = max(np.hypot(*(high - low)[[0, 2]]) * 0.92, 0.1)
    height = max((high[1] - low[1]) * 1.10, width * size[1] / size[0])
    return View((float(centre[0]), float(centre[1]), float(centre[2])), float(height), yaw, pitch)


def _round_view(points: np.ndarray, size: tuple[int, int], yaw: float) -> View:
    """A view that holds the piece whichever way it is turned."""
    low, high = _box(points)
    centre = (low + high) / 2
    reach = float(np.hypot(points[:, 0] - centre[0], points[:, 2] - centre[2]).max())
    height = max((high[1] - low[1]) * 1.06, 2.08 * reach * size[1] / size[0], 0.05)
    return View((float(centre[0]), float(centre[1]), float(centre[2])), float(height), yaw, 0.08)


def _ring(image: np.ndarray, view: View, centre: np.ndarray, size: tuple[int, int]) -> None:
    local = (centre - np.asarray(view.centre)) @ view.axes().T
    scale = size[1] / view.height
    x, y = size[0] / 2 + local[0] * scale, size[1] / 2 - local[1] * scale
    wide, reach = 0.035 * size[1], int(0.035 * size[1]) + 3
    top, left = max(int(y) - reach, 0), max(int(x) - reach, 0)
    part = image[top : max(int(y) + reach, 0), left : max(int(x) + reach, 0)]
    yy, xx = np.ogrid[top : top + part.shape[0], left : left + part.shape[1]]
    cover = np.clip(1.6 - np.abs(np.hypot(xx - x, yy - y) - wide), 0, 1)[:, :, None]
    colour = np.array([*CORAL, 1.0][: image.shape[2]]) * 255
    part[:] = (part * (1 - cover) + colour * cover).astype(np.uint8)


def body_strip(points: np.ndarray, triangles: np.ndarray, size: tuple[int, int], views: int = 8,
               moments: list[np.ndarray] | None = None) -> np.ndarray:
    """Return pictures of a body turned once round, or of its `moments` (each (n, 3)) from one side, `(h, views * w, 4)`."""
    stills = moments or [points] * views
    turns = [0.42 + (0.0 if moments else 2 * np.pi * k / views) for k in range(views)]
    shots = [picture([Sitter(p, triangles, SKIN)], _round_view(points, size, yaw), size, alpha=True)
             for p, yaw in zip(stills, turns, strict=True)]
    return np.concatenate(shots, axis=1)


def fabric_strip(colour: Sequence[float], texture: np.ndarray | None, size: tuple[int, int], views: int = 8) -> np.ndarray:
    """Return a swatch hung from a rod and turned by degrees `(h, views * w, 4)`: its linear `colour`, times a texture (h, w, 3) uint8."""
    across, down = np.meshgrid(np.linspace(-1, 1, 60), np.linspace(-1, 1, 60))
    index = np.arange(3600).reshape(60, 60)
    quad = np.stack([index[1:, :-1], index[1:, 1:], index[:-1, 1:], index[:-1, :-1]], axis=-1).reshape(-1, 4)
    triangles = np.concatenate([quad[:, [0, 1, 2]], quad[:, [0, 2, 3]]]).astype(np.int32)
    tint = np.tile(np.clip(np.asarray(colour, float), 0, 1) ** (1 / 1.6), (3600, 1))
    if texture is not None:
        rows, columns = ((np.stack([down, across]) + 1) / 2 * (np.array(texture.shape[:2]) - 1)[:, None, None]).astype(int)
        tint = tint * (texture[rows, columns].reshape(-1, 3) / 255.0)
    shots = []
    for k in range(views):
        fold = 0.10 * np.sin(7.0 * across + 2 * np.pi * k / views) * (down + 1) / 2
        points = np.stack([across * (1 - 0.06 * (down + 1)), -down, fold], axis=-1).reshape(-1, 3) * 0.3
        shots.append(picture([Sitter(points, triangles, tint)], View((0.0, 0.0, 0.0), 0.72, 0.3, 0.05), size, alpha=True))
    return np.concatenate(shots, axis=1)


def swatch_portrait(points: np.ndarray, triangles: np.ndarray, size: tuple[int, int]) -> np.ndarray:
    """Return a picture of a round of cloth (n, 3) as it hangs over its stand, whose top's middle is the origin.

    Args:
        points: (n, 3) float, metres.
        triangles: (m, 3) int32.
        size: Width and height, pixels.
    """
    turn = np.linspace(0, 2 * np.pi, 49)[:-1]
    ring = 0.088 * np.stack([np.cos(turn), np.zeros(48), np.sin(turn)], axis=1)
    stand = np.concatenate([ring - [0, 0.004, 0], ring - [0, 0.16, 0]])
    k, n = np.arange(48), np.roll(np.arange(48), -1)
    wall = np.concatenate([np.stack([k, n, k + 48], axis=1), np.stack([n, n + 48, k + 48], axis=1)]).astype(np.int32)
    view = View((0.0, -0.05, 0.0), 0.26, 0.4, 0.5)
    return picture([Sitter(stand, wall, (0.72, 0.66, 0.55)), Sitter(points, triangles, (0.36, 0.48, 0.55))], view, size)
