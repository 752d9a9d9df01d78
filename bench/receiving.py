"""The suite of receiving: large files read, bodies registered, pieces carried over."""

import io
from collections.abc import Iterator

import numpy as np
import trimesh

from bench.measure import Figure, median_ms
from wily_heron.core.bodies.register import register
from wily_heron.core.figure.base.body import shaped
from wily_heron.core.figure.figure import figure
from wily_heron.core.fit.ride import ride
from wily_heron.core.mesh.edges import edge_use
from wily_heron.core.space.tree import TriangleTree
from wily_heron.formats.obj.obj import read_obj
from wily_heron.formats.piece_read import read_model


def receiving() -> Iterator[Figure]:
    """Reading beside trimesh; registration and riding alone."""
    side = 708
    x, y = np.meshgrid(np.linspace(0, 1, side), np.linspace(0, 1, side))
    i = np.arange(side * side).reshape(side, side)[:-1, :-1].ravel()
    faces = np.concatenate([np.stack([i, i + 1, i + side + 1], axis=1), np.stack([i, i + side + 1, i + side], axis=1)])
    sheet = trimesh.Trimesh(np.stack([x, y, 0.1 * np.sin(9 * x)], axis=-1).reshape(-1, 3), faces, process=False)
    obj = sheet.export(file_type="obj", include_normals=False).encode()
    yield Figure(
        f"read an OBJ of {len(faces):,} triangles",
        median_ms(lambda: read_obj(obj, "sheet.obj"), runs=3),
        "trimesh",
        median_ms(lambda: trimesh.load(io.BytesIO(obj), file_type="obj", process=False), runs=3),
    )
    glb = sheet.export(file_type="glb")
    yield Figure(
        "read the same as .glb, points welded",
        median_ms(lambda: read_model(glb, "sheet.glb"), runs=3),
        "trimesh, not welded",
        median_ms(lambda: trimesh.load(io.BytesIO(glb), file_type="glb", process=False), runs=3),
    )
    body = figure(1)
    heavy = shaped(body, {"girth": 0.8, "stature": -0.5})
    places = dict(zip(heavy.skeleton.names, heavy.skeleton.positions, strict=True))
    yield Figure("register our figure to a body, 10k vertices", median_ms(lambda: register(heavy.points, body.triangles, places), runs=3))
    yield Figure("a 10k suit rides from body to body",
                 median_ms(lambda: ride(body.base, body.triangles, body.base, heavy.points, body.triangles), runs=5))
    edges, _ = edge_use(body.triangles)
    yield Figure("faces pierced by others, 20k faces", median_ms(lambda: TriangleTree(body.base, body.triangles).pierced(edges), runs=5))
