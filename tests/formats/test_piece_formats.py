"""Files of other programs are read right, ours are read right by another library, and hostile files get one clear line."""

import io
import zipfile

import numpy as np
import pytest
import trimesh

from wily_heron.core.mesh.mesh import Mesh
from wily_heron.formats.piece_read import read_model
from wily_heron.formats.ply import write_ply
from wily_heron.formats.stl import write_stl

HAT = trimesh.creation.annulus(0.09, 0.16, 0.02, sections=40)


@pytest.mark.parametrize(("ending", "kind"), [("ply", {"encoding": "ascii"}), ("ply", {"encoding": "binary"}), ("stl", {}),
                                              ("stl_ascii", {}), ("glb", {}), ("obj", {})])
def test_what_another_library_wrote_is_read_alike(ending: str, kind: dict):
    data = HAT.export(file_type=ending, **kind)
    mesh = read_model(data if isinstance(data, bytes) else data.encode(), f"hat.{ending.split('_')[0]}").mesh
    mine = trimesh.Trimesh(mesh.points, mesh.triangles, process=False)
    assert mine.is_watertight
    assert (len(mesh.points), len(mesh.triangles)) == (len(HAT.vertices), len(HAT.faces))
    assert mine.volume == pytest.approx(HAT.volume, rel=1e-5)
    assert np.allclose(mine.bounds, HAT.bounds, atol=1e-6)


@pytest.mark.parametrize(("write", "ending"), [(write_ply, "ply"), (write_stl, "stl")])
def test_another_library_reads_ours_alike(write, ending: str):
    mesh = Mesh(HAT.vertices.astype(np.float32), HAT.faces.astype(np.int32))
    other = trimesh.load(io.BytesIO(write(mesh)), file_type=ending)
    assert other.is_watertight
    assert other.volume == pytest.approx(HAT.volume, rel=1e-5)


def test_a_gltf_scene_stands_where_its_nodes_put_it_with_its_materials():
    turn = trimesh.transformations.rotation_matrix(0.7, [0, 1, 0])
    scene = trimesh.Scene()
    red = trimesh.visual.TextureVisuals(material=trimesh.visual.material.PBRMaterial("felt", baseColorFactor=[255, 0, 0, 255]))
    box = trimesh.creation.box((0.1, 0.2, 0.3))
    box.visual = red
    scene.add_geometry(box, transform=turn @ trimesh.transformations.translation_matrix([1, 2, 3]))
    scene.add_geometry(HAT, transform=trimesh.transformations.translation_matrix([0, 1.6, 0]))
    mesh = read_model(scene.export(file_type="glb"), "two.glb").mesh
    mine = trimesh.Trimesh(mesh.points, mesh.triangles, process=False)
    assert np.allclose(mine.bounds, scene.bounds, atol=1e-5)
    assert mine.is_watertight
    assert "felt" in [m.name for m in mesh.materials]
    felt = mesh.triangle_material == [m.name for m in mesh.materials].index("felt")
    assert felt.sum() == 12


def test_seams_split_for_texture_are_joined_and_their_coordinates_kept():
    box = trimesh.creation.box()
    split = trimesh.Trimesh(box.vertices[box.faces.ravel()], np.arange(36).reshape(-1, 3), process=False)
    split.visual = trimesh.visual.TextureVisuals(uv=np.random.default_rng(0).random((36, 2)))
    mesh = read_model(split.export(file_type="glb"), "box.glb").mesh
    assert len(mesh.points) == 8
    assert mesh.corner_uv is not None
    assert np.allclose(np.sort(mesh.corner_uv.reshape(-1, 2), axis=0), np.sort(split.visual.uv, axis=0), atol=1e-5)


def test_polygons_of_a_ply_keep_their_polygon():
    text = ("ply\nformat ascii 1.0\nelement vertex 5\nproperty float x\nproperty float y\nproperty float z\nelement face 2\n"
            "property list uchar int vertex_indices\nend_header\n0 0 0\n1 0 0\n1 1 0\n0 1 0\n0 2 0\n4 0 1 2 3\n3 3 2 4\n")
    mesh = read_model(text.encode(), "quad.ply").mesh
    assert mesh.triangles.tolist() == [[0, 1, 2], [0, 2, 3], [3, 2, 4]]
    assert mesh.polygon.tolist() == [0, 0, 1]


def test_a_zip_is_read_with_its_materials():
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as z:
        z.writestr("../../hat.obj", "v 0 0 0\nv 1 0 0\nv 0 1 0\nusemtl felt\nf 1 2 3\n")
        z.writestr("maps/hat.mtl", "newmtl felt\nKd 0.2 0.4 0.6\n")
    mesh = read_model(out.getvalue(), "hat.zip").mesh
    assert mesh.materials[0].colour == (0.2, 0.4, 0.6)
