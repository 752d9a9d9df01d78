"""The names for pipeline scripts: the examples of the page run as they stand, and bad input is told."""

import re
import shutil
from pathlib import Path

import numpy as np
import pytest
import trimesh
from PIL import Image
from shapely import MultiPoint

import wily_heron as wh
from demo.coat import FILE

PAGE = Path(__file__).parents[2] / "docs" / "python.md"
EXAMPLES = re.findall(r"^## (.+?)\n\n```python\n(.*?)```", PAGE.read_text(), re.M | re.S)


@pytest.fixture(autouse=True)
def folder(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    shutil.copy(FILE, tmp_path / "coat.obj")
    monkeypatch.chdir(tmp_path)
    return tmp_path


@pytest.mark.slow("core", "formats", "facade.py", "docs/python.md")
@pytest.mark.parametrize(("title", "code"), EXAMPLES, ids=[title for title, _ in EXAMPLES])
def test_an_example_of_the_page_runs(title: str, code: str, capsys: pytest.CaptureFixture, folder: Path):
    exec(compile(code, title, "exec"), {})
    said = capsys.readouterr().out
    assert said or (folder / "sit.png").exists()
    for made in folder.glob("*.glb"):
        scene = trimesh.load(made)
        assert sum(len(g.vertices) for g in scene.geometry.values()) > 30_000
    if (folder / "trial.csv").exists():
        assert len((folder / "trial.csv").read_text().splitlines()) == 1 + 2 * len(wh.cast())
        assert np.asarray(Image.open(folder / "sit.png")).shape == (320, 240, 4)


def test_every_name_of_the_page_is_there_and_every_name_is_on_the_page():
    assert len(EXAMPLES) == 5
    told = set(re.findall(r"`(\w+)[(`]", PAGE.read_text()))
    verbs = {name for name in wh.__all__ if name[0].islower()}
    assert all(callable(getattr(wh, name)) for name in wh.__all__)
    assert verbs <= told
    with pytest.raises(AttributeError, match="no attribute"):
        wh.nothing  # noqa: B018


def test_a_body_to_measures_has_them():
    """Its stature by its highest and lowest vertex, its waist by the hull of the torso's slice where that is narrowest."""
    actor = wh.wearer(measures={"waist_girth": 0.86, "stature": 1.78})
    assert np.ptp(actor.points[:, 1]) == pytest.approx(1.78, abs=0.008)
    torso = trimesh.Trimesh(actor.points, actor.body.triangles, process=False)
    girths = []
    for high in np.linspace(0.60, 0.68, 17) * 1.78:
        cut = trimesh.intersections.mesh_plane(torso, [0, 1, 0], [0, high, 0]).reshape(-1, 3)
        middle = cut[np.abs(cut[:, 0]) < 0.2]  # not the arms
        girths.append(MultiPoint(middle[:, [0, 2]]).convex_hull.length)
    assert min(girths) == pytest.approx(0.86, abs=0.02)


@pytest.mark.parametrize(("wrong", "what"), [
    (lambda: wh.wearer("Nobody"), "no wearer called 'Nobody'"),
    (lambda: wh.wearer(measures={"bust_girth": 3.0}), "cannot be reached"),
    (lambda: wh.pose("flying"), "flying"),
    (lambda: wh.open_model("missing.obj"), "missing.obj"),
    (lambda: wh.dress("coat.obj", wh.wearer(), category="boat"), "no category 'boat'"),
    (lambda: wh.drape(wh.dress("coat.obj", wh.wearer()), wh.wearer(), fabric="lead"), "no fabric called 'lead'"),
    (lambda: list(wh.trial({}, ["Nobody"])), "no wearer called 'Nobody'"),
])
def test_what_cannot_be_used_is_told(wrong, what: str):
    with pytest.raises(wh.InputError, match=what):
        wrong()
