"""OBJ in and out."""

import contextlib
import io

import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st

from demo.coat import FILE, coat, write
from wily_heron.core.errors import InputError
from wily_heron.core.mesh.mesh import Mesh
from wily_heron.formats.obj.obj import read_obj, write_obj

_NUMBER = st.floats(-100, 100, width=32)


@settings(max_examples=60, deadline=None)
@given(st.lists(st.tuples(_NUMBER, _NUMBER, _NUMBER), min_size=3, max_size=20), st.data())
def test_geometry_survives_writing_and_reading(points, data):
    corner = st.integers(0, len(points) - 1)
    triangles = data.draw(st.lists(st.tuples(corner, corner, corner), min_size=1, max_size=30))
    mesh = Mesh(np.array(points, np.float32), np.array(triangles, np.int32), np.full((len(triangles), 3, 2), 0.25, np.float32))
    back = read_obj(write_obj(mesh), "x.obj").mesh
    assert np.array_equal(back.triangles, mesh.triangles)
    assert np.allclose(back.points, mesh.points, rtol=1e-6, atol=1e-6)
    assert np.allclose(back.corner_uv, 0.25)


@settings(max_examples=80, deadline=None)
@given(st.binary(max_size=300))
def test_any_bytes_give_a_mesh_or_a_clear_error(data: bytes):
    with contextlib.suppress(InputError):
        mesh = read_obj(data, "any.obj").mesh
        assert len(mesh.triangles) > 0
        assert mesh.triangles.max() < len(mesh.points)


def test_another_library_reads_the_demo_coat_alike():
    mine = read_obj(FILE.read_bytes(), FILE.name, {FILE.with_suffix(".mtl").name: FILE.with_suffix(".mtl").read_bytes()}).mesh
    other = trimesh.load(io.BytesIO(FILE.read_bytes()), file_type="obj", process=False, force="mesh", maintain_order=True)
    assert mine.triangles.shape == (len(other.faces), 3)
    assert np.isclose(trimesh.Trimesh(mine.points, mine.triangles, process=False).area, other.area, rtol=1e-5)
    assert [m.name for m in mine.materials] == ["oilskin", "brass"]
    assert mine.materials[1].metal == 1.0


def test_the_demo_coat_is_what_its_code_makes(tmp_path):
    made = coat()
    write(tmp_path / FILE.name)
    assert 8000 <= len(made.points) <= 12000
    assert (tmp_path / FILE.name).read_text() == FILE.read_text()


def test_polygons_and_negative_indices_are_read():
    mesh = read_obj(b"v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nf -4 -3 -2 -1\n", "quad.obj").mesh
    assert mesh.triangles.tolist() == [[0, 1, 2], [0, 2, 3]]
    assert mesh.polygon.tolist() == [0, 0]


@pytest.mark.parametrize(("text", "says"), [
    (b"", "empty"),
    (b"Dear wardrobe, the coat is in the post.\n", "does not look like an OBJ"),
    (b"v 0 0 0\nv 1 0 nan\nv 0 1 0\nf 1 2 3\n", "not a finite number"),
    (b"v 0 0 0\nv 1 0 inf\nv 0 1 0\nf 1 2 3\n", "not a finite number"),
    (b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 9\n", "vertex 9 of 3"),
    (b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 -7\n", "of 3"),
    (b"v 0 0 0\nv 1 0 0\nf 1 2\n", "2 corners"),
    (b"v 0 zero 0\nf 1 1 1\n", "does not hold 3 numbers"),
    (b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 two 3\n", "not a face corner"),
])
def test_bad_files_are_named_with_what_where_and_what_to_do(text: bytes, says: str):
    with pytest.raises(InputError) as error:
        read_obj(text, "coat.obj")
    assert says in error.value.what
    assert error.value.where.startswith("coat.obj")
    assert error.value.todo
