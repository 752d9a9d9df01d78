"""Sewing: laid panels are drawn together at their seams on a standing wearer, fall, and become one mesh."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components

from ..drape.cloth import Cloth, Worn
from ..drape.collider import Collider
from ..drape.proxy import proxy_of
from ..drape.sheet import sheet, touch_of
from ..errors import ComputeError
from ..figure.base.body import Wearer
from ..mesh.mesh import Material, Mesh
from ..model.steps.fabric import Fabric
from .layout import Layout
from .panel_mesh import flat_panels
from .panel_placement import laid_round

_CLOSE, _CALM = 30, 400.0
"""Frames in which the seams close, and the damping (1/s) meanwhile."""
_SUBSTEPS = 20


@dataclass(frozen=True)
class SewingFigures:
    """Frames done `of` all, vertices, the widest open seam (metres), and the strain of the most strained hundredth and on average."""

    frames: int
    of: int
    vertices: int
    seam_open: float
    strain_99: float
    strain_mean: float


class Sewing:
    """The panels of a layout on a wearer, frame by frame; `points` (n, 3) are their vertices now, `triangles` (m, 3) theirs.

    Every panel keeps its cut form as its rest form, so that what it comes to is the panels' doing. Seams close without weight, then the
    cloth falls for `settle` frames. It is worn over `under`: points (k, 3) and triangles (m, 3) of each piece at rest.
    Limits: seams do not bend stiffer than the cloth.
    """

    def __init__(self, layout: Layout, wearer: Wearer, fabric: Fabric, size: float = 0.02, settle: int = 48,
                 under: Sequence[tuple[np.ndarray, np.ndarray]] = ()) -> None:
        self.layout, self.flat = layout, flat_panels(layout, size)
        self.frames, self.done = _CLOSE + settle, 0
        worn = np.concatenate([p for p, _ in under]) if under else None
        self.points, self.triangles = laid_round(self.flat, wearer, worn)
        flat3, self._warp = self._cut_out()
        self._fabric = fabric
        body = proxy_of(wearer.body)
        collider = Collider(*_together([(body.at(wearer), body.triangles), *under]))
        calm = fabric.model_copy(update={"damping": _CALM})
        cloth = sheet(flat3, self.triangles, calm, warp=self._warp, flat=True, sewn=self.flat.pairs)
        self.cloth = Cloth(cloth, collider, substeps=_SUBSTEPS, crowd=False, at=self.points)
        ends = cloth.sewn.rows
        self._open = np.linalg.norm(self.cloth.x[ends[:, 0]] - self.cloth.x[ends[:, 1]], axis=1)
        self.cloth.weather.gravity = 0.0

    def frame(self) -> np.ndarray:
        """Advance one frame and return the points (n, 3); raises `ComputeError` if the cloth has flown apart."""
        self.done += 1
        if self.done <= _CLOSE:
            self.cloth.sheet.stitch[:] = self._open * (1.0 - self.done / _CLOSE) ** 2
        elif self.done == _CLOSE + 1:
            self._let_fall()
        assert self.cloth.collider is not None
        self.cloth.collider.go_to(self.cloth.collider.stop)
        self.points = self.cloth.frame()
        if not np.isfinite(self.points).all():
            raise ComputeError("the cloth flew apart while it was sewn: the panels do not meet, or lie inside the body")
        return self.points

    def run(self) -> Mesh:
        """Sew and let fall to the end; return the garment."""
        while self.done < self.frames:
            self.frame()
        return self.mesh()

    @property
    def closes(self) -> int:
        """The frame in which the seams are closed."""
        return _CLOSE

    def gap(self) -> np.ndarray:
        """Return how far (s,) the sewn vertices are from each other, in metres."""
        a, b = self.points[self.flat.pairs.T]
        return np.linalg.norm(a - b, axis=1)

    def report(self) -> SewingFigures:
        """Return what came of it so far."""
        strain = np.abs(self.cloth.strain())
        return SewingFigures(self.done, self.frames, len(self.points), float(self.gap().max(initial=0.0)),
                             float(np.percentile(strain, 99)), float(strain.mean()))

    def mesh(self) -> Mesh:
        """Return the garment as one mesh: sewn vertices are one, texture places are the layout of the panels."""
        n = len(self.points)
        onto = joined_rows(self.flat.pairs, n)
        points = np.stack([np.bincount(onto, self.points[:, k]) for k in range(3)], axis=1) / np.bincount(onto)[:, None]
        faces = onto[self.triangles]
        whole = (faces[:, 0] != faces[:, 1]) & (faces[:, 1] != faces[:, 2]) & (faces[:, 2] != faces[:, 0])
        uv = self._on_table()
        uv = (uv - uv.min(axis=0)) / np.ptp(uv, axis=0).max()
        cloth = Material(self._fabric.name, (0.34, 0.38, 0.36), roughness=0.9)
        return Mesh(points.astype(np.float32), faces[whole].astype(np.int32), uv[self.triangles[whole]].astype(np.float32),
                    materials=(cloth,))

    def _let_fall(self) -> None:
        """Give the closed cloth its weight back; what is fast stays where it lies."""
        fast = self.flat.fast
        before = self.cloth.sheet
        loose = replace(before, **touch_of(self._fabric, before.rest, len(before.points)), stitch=np.zeros(len(self._open)))
        self.cloth = Cloth(loose, self.cloth.collider, Worn(fast, np.ones(len(fast))), substeps=_SUBSTEPS, at=self.points)
        self.cloth.beside = joined_rows(self.flat.pairs, len(self.points))[loose.order].astype(np.int64)

    def _cut_out(self) -> tuple[np.ndarray, np.ndarray]:
        """Return the vertices as they are cut, on a plane (n, 3), and each face's warp (m, 3)."""
        at = self._on_table()
        turn = np.radians([panel.grain * (-1 if mirrored else 1) for panel, mirrored in self.flat.cut])
        warp = np.stack([np.sin(turn), np.cos(turn), np.zeros(len(turn))], axis=1)
        return np.column_stack([at, np.zeros(len(at))]), warp[self.flat.of[self.triangles[:, 0]]]

    def _on_table(self) -> np.ndarray:
        """Return where each vertex (n, 2) lies on the table; the mirrored one of a pair lies beside the drawn one."""
        at = self.flat.points.copy()
        low, high = at.min(axis=0), at.max(axis=0)
        for k, (panel, mirrored) in enumerate(self.flat.cut):
            mine = self.flat.of == k
            at[mine] += np.array(panel.spot) + ([0.0, -1.05 * (high[1] - low[1]) - 2.0] if mirrored else [0.0, 0.0])
        return at


def _together(meshes: Sequence[tuple[np.ndarray, np.ndarray]]) -> tuple[np.ndarray, np.ndarray]:
    start = np.cumsum([0, *(len(p) for p, _ in meshes)])
    return np.concatenate([p for p, _ in meshes]), np.concatenate([t + s for (_, t), s in zip(meshes, start[:-1], strict=True)])


def joined_rows(pairs: np.ndarray, n: int) -> np.ndarray:
    """Return for each of n vertices (n,) which point of the garment it is: sewn `pairs` (s, 2) and what they are sewn to are the same.

    >>> joined_rows(np.array([[0, 3], [3, 4]]), 5).tolist()  # 0, 3 and 4 are one point
    [0, 1, 2, 0, 0]
    """
    links = coo_matrix((np.ones(len(pairs)), (pairs[:, 0], pairs[:, 1])), (n, n))
    return connected_components(links, directed=False)[1]
