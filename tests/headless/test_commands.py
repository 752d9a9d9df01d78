"""The headless commands as a user calls them: files in, files out, exit codes."""

import json
import subprocess
import sys
from contextlib import chdir, redirect_stderr, redirect_stdout
from io import StringIO
from pathlib import Path

import numpy as np
import pytest
import trimesh
from pxr import Usd, UsdGeom
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components
from scipy.spatial import KDTree

from demo.coat import FILE
from demo.dressed import FILE as DRESSED
from demo.stock import stock
from tests.formats.gltf_rules import Gltf
from wily_heron.cli import main as cli
from wily_heron.core.clearance.cell import Dressed
from wily_heron.core.clearance.find.shots import Shot
from wily_heron.core.figure.base.body import shape_values, shaped
from wily_heron.core.motion.clips import clip_named
from wily_heron.formats.gltf.shots import write_shots
from wily_heron.formats.pack.read import read_pack
from wily_heron.formats.panels.svg import read_svg

ROOT = Path(__file__).parents[2]


def heron(*words: object, cwd: Path = ROOT) -> subprocess.CompletedProcess[str]:
    """Run a command in this process: starting one takes longer than most of them do."""
    out, told, given = StringIO(), StringIO(), sys.argv
    sys.argv = ["heron", *map(str, words)]
    try:
        with redirect_stdout(out), redirect_stderr(told), chdir(cwd), pytest.raises(SystemExit) as end:
            cli.main()
    finally:
        sys.argv = given
    return subprocess.CompletedProcess(words, int(end.value.code or 0), out.getvalue(), told.getvalue())


def shell(*words: object, cwd: Path = ROOT) -> subprocess.CompletedProcess[str]:
    """Run a command as from a shell."""
    return subprocess.run([sys.executable, str(ROOT / "heron"), *map(str, words)], capture_output=True, text=True, cwd=cwd, check=False)


@pytest.fixture(scope="module")
def folder(tmp_path_factory) -> Path:
    return tmp_path_factory.mktemp("headless")


@pytest.fixture(scope="module")
def pack(folder: Path) -> Path:
    done = shell("fit", FILE, "--on", "ibbet", "--out", folder / "coat.glb", "--json", folder / "fit.json", cwd=folder)
    assert done.returncode == 0, done.stderr
    return folder / "coat.glb"


def test_fit_reports_what_it_found_and_reached(pack: Path):
    report = json.loads(pack.with_name("fit.json").read_text())
    assert (report["receive"]["unit"], report["receive"]["up"]) == ("cm", "z")
    assert report["fit"]["below_ease"] == 0
    assert report["bind"]["most"] == 4
    assert "piece:oilskin-coat" in [n["name"] for n in Gltf(pack.read_bytes()).json["nodes"]]


def test_trial_measures_every_cell_and_exits_by_the_verdict(pack: Path, folder: Path):
    done = heron("trial", pack, "--json", "-", "--sheet", folder / "sheet.png")
    report = json.loads(done.stdout)
    assert len(report["cells"]) == 15
    assert done.returncode == (0 if report["holds"] else 1)
    assert report["holds"] == all(c["area_cm2"] <= 0.1 for c in report["cells"])
    assert (folder / "sheet.png").read_bytes()[:8] == b"\x89PNG\r\n\x1a\n"


def test_shots_tell_what_they_see_and_may_decide(pack: Path, folder: Path):
    def shots(*cameras: Shot) -> Path:
        (folder / "shots.glb").write_bytes(write_shots(cameras))
        return folder / "shots.glb"

    round_ = [Shot(name=f"{d}", eye=(4 * np.sin(d), 1.0, 4 * np.cos(d)), target=(0, 0.9, 0), lens=0.7) for d in range(6)]
    asked = ("trial", pack, "--poses", "kneel", "--json", "-", "--shots")
    seen = json.loads(heron(*asked, shots(*round_)).stdout)["cells"]
    assert all(0 <= c["in_shots_cm2"] <= c["area_cm2"] + 1e-6 and len(c["shots"]) == 6 for c in seen)
    assert sum(c["in_shots_cm2"] for c in seen) > 0
    away = heron(*asked, shots(Shot(name="The moon", eye=(0, 5, 0), target=(9, 9, 0), lens=0.2)), "--in-shots")
    assert away.returncode == 0
    assert json.loads(away.stdout)["holds"]
    assert heron("trial", pack, "--in-shots").returncode == 2
    assert heron("trial", pack, "--shots", pack).returncode == 2  # a pack holds no cameras


@pytest.mark.slow("core/clearance", "core/motion", "cli")
def test_a_motion_is_measured_in_its_worst_frame(pack: Path):
    report = json.loads(heron("trial", pack, "--motions", "haul,row", "--bodies", "old-moss", "--json", "-").stdout)
    assert [c["pose"] for c in report["cells"]] == ["haul", "row"]
    packed = read_pack(pack.read_bytes(), "pack")
    dressed = Dressed(shaped(packed.body, shape_values(packed.body, packed.cast["Old Moss"])), packed.dressed())
    for told in report["cells"]:
        motion = clip_named(told["pose"], dressed.wearer.skeleton)
        assert told["of_frames"] == len(motion.rotations)
        assert dressed.measure(motion.pose(told["frame"])).figures.area_cm2 == pytest.approx(told["area_cm2"], abs=1e-3)
        every = [dressed.measure(motion.pose(k)).figures for k in range(0, len(motion.rotations), 5)]  # at other frames than it looked at
        assert told["area_cm2"] >= max(f.area_cm2 for f in every) - 0.05
    assert heron("trial", pack, "--motions", "gallop").returncode == 2


@pytest.mark.slow("core/clearance", "core/clear")
def test_clear_leaves_less_showing_through(folder: Path):
    tight = folder / "tight.glb"
    assert heron("fit", FILE, "--on", "ibbet", "--ease", "1", "--out", tight).returncode in (0, 1)
    before = sum(c["area_cm2"] for c in json.loads(heron("trial", tight, "--json", "-").stdout)["cells"])
    assert before > 20  # a coat a millimetre off the skin shows it wherever a face spans a curve
    for keep in ("shape", "bulk"):
        done = heron("clear", tight, "--keep", keep, "--out", folder / "cleared.glb")
        assert done.returncode in (0, 1), done.stderr
        after = sum(c["area_cm2"] for c in json.loads(heron("trial", folder / "cleared.glb", "--json", "-").stdout)["cells"])
        assert after < 0.1 * before, keep


@pytest.mark.slow("core/fit", "cli", "formats/pack")
def test_a_piece_is_fitted_over_what_a_pack_holds(pack: Path, folder: Path):
    done = heron("fit", FILE, "--under", pack, "--ease", "4", "--out", folder / "two.glb")
    assert done.returncode == 0, done.stderr
    nodes = [n["name"] for n in Gltf((folder / "two.glb").read_bytes()).json["nodes"] if n["name"].startswith("piece:")]
    assert len(nodes) == len(set(nodes)) == 2
    assert heron("fit", FILE, "--under", FILE, "--out", folder / "no.glb").returncode == 2
    # and the two fall together
    inner, outer = (n.removeprefix("piece:") for n in nodes)
    fall = heron("drape", folder / "two.glb", "--piece", outer, "--with", f"{inner}=silk-habotai", "--settle", "2", "--frames", "2",
                 "--substeps", "4", "--out", folder / "both.usdc", "--json", "-")
    assert fall.returncode == 0, fall.stderr
    stage = Usd.Stage.Open(str(folder / "both.usdc"))
    moved = [np.ptp([np.array(UsdGeom.Mesh(p).GetPointsAttr().Get(f)) for f in (0, 1)], axis=0).max()
             for p in stage.Traverse() if p.IsA(UsdGeom.Mesh) and p.GetName() != "body"]
    assert min(moved) > 0.0001
    refused = heron("drape", folder / "two.glb", "--piece", outer, "--with", outer, "--out", folder / "no.usdc")
    assert (refused.returncode, "--with" in refused.stderr) == (2, True)


def test_body_writes_a_wearer(folder: Path):
    assert heron("body", "--shape", "stature=1", "--shape", "girth=-0.5", "--out", folder / "body.glb").returncode == 0
    tall = Gltf((folder / "body.glb").read_bytes()).skinned("body")
    assert 1.78 < tall[:, 1].max() < 1.88


def test_a_rigid_piece_is_carried_by_its_joint(folder: Path):
    assert heron("fit", FILE, "--joint", "skullbase", "--category", "rigid", "--out", folder / "rigid.glb").returncode == 0
    file = Gltf((folder / "rigid.glb").read_bytes())
    joint, piece = file.node("skullbase"), file.node("piece:oilskin-coat")
    assert piece in file.json["nodes"][joint]["children"]  # a rigid piece hangs as a child of its joint
    assert "skin" not in file.json["nodes"][piece]


@pytest.mark.parametrize(("words", "says"), [
    (("fit", "nowhere.obj", "--out", "x.glb"), "no such file"),
    (("fit", FILE, "--on", "nobody", "--out", "x.glb"), "no body called 'nobody'"),
    (("fit", FILE, "--joint", "tail", "--out", "x.glb"), "no joint called 'tail'"),
    (("fit", FILE, "--category", "spaceship", "--out", "x.glb"), "no category 'spaceship'"),
    (("fit", FILE, "--out", "missing/folder/x.glb"), "no such folder"),
    (("body", "--shape", "wings=1", "--out", "x.glb"), "no shape called 'wings'"),
    (("trial", FILE), "not a binary glTF"),
])
def test_bad_input_is_one_clear_line_exit_2_and_no_file(words, says: str, tmp_path: Path):
    done = (shell if "nowhere.obj" in words else heron)(*words, cwd=tmp_path)
    assert done.returncode == 2
    assert says in done.stderr
    assert done.stderr.count("\n") == 1
    assert "Traceback" not in done.stderr
    assert list(tmp_path.iterdir()) == []


def test_body_is_solved_to_measures_and_says_what_is_out_of_reach(folder: Path):
    done = heron("body", "--measure", "stature=1.82m", "--measure", "waist_girth=92cm", "--json", "-", "--out", folder / "solved.glb")
    assert done.returncode == 0, done.stderr
    report = json.loads(done.stdout[: done.stdout.rindex("}") + 1])
    assert abs(report["measures"]["waist_girth"] - 0.92) < 0.005
    assert abs(Gltf((folder / "solved.glb").read_bytes()).skinned("body")[:, 1].max() - 1.82) < 0.005
    assert heron("body", "--measure", "stature=2.9m", "--out", folder / "giant.glb").returncode == 1
    assert heron("body", "--measure", "stature=tall", "--out", folder / "tall.glb").returncode == 2


def test_a_clip_goes_out_as_bvh_and_comes_back_on_another_wearer(folder: Path):
    assert heron("motion", "walk", "--out", folder / "walk.bvh").returncode == 0
    done = heron("motion", folder / "walk.bvh", "--on", "old-moss", "--lead-in", "6", "--out", folder / "walk.glb")
    assert done.returncode == 0, done.stderr
    file = Gltf((folder / "walk.glb").read_bytes())
    clip = file.json["animations"][0]
    assert file.accessor(clip["samplers"][0]["input"]).shape == (34, 1)
    assert heron("motion", "waltz", "--out", folder / "w.glb").returncode == 2


def test_receive_mends_what_it_is_told_to(folder: Path):
    box = trimesh.creation.box((0.4, 0.4, 0.4))
    torn = folder / "torn.ply"
    torn.write_bytes(trimesh.Trimesh(box.vertices[box.faces.ravel()], [[3 * i, 3 * i + 1, 3 * i + 2] for i in range(12)], process=False)
                     .export(file_type="ply"))
    whole = heron("receive", torn, "--mend", "all", "--units", "m", "--json", "-", "--out", folder / "whole.glb")
    left = heron("receive", torn, "--mend", "none", "--units", "m", "--json", "-", "--out", folder / "left.glb")
    assert [json.loads(r.stdout[: r.stdout.rindex("}") + 1])["vertices"] for r in (whole, left)] == [8, 36]
    assert "join them (not done)" in left.stdout
    refused = heron("receive", torn, "--mend", "darn", "--out", folder / "no.glb")
    assert refused.returncode == 2
    assert "'darn' is no mend" in refused.stderr


def test_a_body_with_horns_and_a_tail_is_packed_with_their_joints(folder: Path):
    out = folder / "horned.glb"
    assert heron("body", "--shape", "horns=0.8", "--shape", "tail=1", "--level", "1", "--out", out).returncode == 0
    names = [n["name"] for n in Gltf(out.read_bytes()).json["nodes"]]
    assert {"tail_1", "tail_5", "body"} <= set(names)
    issues = subprocess.run(["node", str(ROOT / "tests/formats/validate.mjs"), str(out)], capture_output=True, text=True, check=True)
    assert [json.loads(issues.stdout)[k] for k in ("numErrors", "numWarnings")] == [0, 0]
    rest = Gltf(out.read_bytes()).skinned("body", "figure/stand")
    assert rest[:, 1].max() > 1.72  # the horns stand over the crown
    assert rest[:, 2].min() < -0.45  # and the tail behind


@pytest.fixture(scope="module")
def ferryman(folder: Path) -> Path:
    (folder / "parts").mkdir()
    done = heron("apart", DRESSED, "--out", folder / "parts", "--json", folder / "apart.json")
    assert done.returncode == 0, done.stderr
    return folder / "parts"


def test_a_dressed_body_is_taken_apart_into_files(ferryman: Path):
    parts = json.loads((ferryman.parent / "apart.json").read_text())["parts"]
    assert [(p["file"], p["category"]) for p in parts] == [
        ("body.glb", ""), ("linen-top.glb", "top"), ("canvas-bottom.glb", "bottom"), ("wool-felt-footwear.glb", "footwear")]
    body = Gltf((ferryman / "body.glb").read_bytes()).json
    assert len(body["skins"][0]["joints"]) == 24
    assert body["meshes"][0]["extras"]["targetNames"] == ["stout", "lean"]


@pytest.mark.slow("core/fit", "core/bodies", "cli")
def test_a_piece_is_fitted_on_a_body_of_ones_own_and_moves_on_its_joints(ferryman: Path, folder: Path):
    done = heron("fit", FILE, "--on", ferryman / "body.glb", "--made-for", "ibbet", "--out", folder / "over.glb", "--json", "-")
    assert done.returncode in (0, 1), done.stderr
    report = json.loads(done.stdout)
    assert report["fit"]["made_for"] == "Ibbet"
    assert report["fit"]["below_ease"] < 0.02 * report["fit"]["judged"]
    packed = Gltf((folder / "over.glb").read_bytes()).json
    assert packed["meshes"][0]["extras"]["targetNames"] == ["stout", "lean"]
    assert "body/kneel" in [a["name"] for a in packed["animations"]]
    trial = heron("trial", folder / "over.glb", "--poses", "stand", "--json", "-")
    assert trial.returncode in (0, 1), trial.stderr


@pytest.mark.parametrize("ending", ["usdz", "obj", "ply"])
def test_a_file_is_converted_with_what_it_holds(folder: Path, ending: str):
    out = folder / f"ferryman.{ending}"
    done = heron("convert", DRESSED, "--out", out, "--json", "-")
    assert done.returncode == 0, done.stderr
    kept = json.loads(done.stdout)
    assert kept["joints"] == 24
    assert sorted(kept["textures"]) == ["canvas.png", "linen.png", "wool felt.png"]
    again = heron("receive", out, "--out", folder / "again.glb", "--json", "-")
    found = json.loads(again.stdout.split("\n}")[0] + "\n}")
    assert found["size"][1] == pytest.approx(1.748, abs=0.01)
    assert found["joints"] == (24 if ending == "usdz" else 0)
    assert not found["missing_textures"]


def test_what_cannot_be_converted_is_said_and_nothing_is_written(folder: Path):
    done = heron("convert", DRESSED, "--out", folder / "ferryman.txt")
    assert (done.returncode, (folder / "ferryman.txt").exists()) == (2, False)
    assert "cannot be written" in done.stderr


@pytest.mark.slow("core/drape", "cli")
def test_drape_writes_every_frame_or_keeps_the_last(pack: Path, folder: Path):
    done = heron("drape", pack, "--piece", "Oilskin coat", "--fabric", "oilskin", "--pose", "stride", "--settle", "3", "--frames", "9",
                 "--substeps", "6", "--out", folder / "fall.usdc", "--json", "-")
    assert done.returncode == 0, done.stderr
    assert json.loads(done.stdout)["frames"] == 9
    stage = Usd.Stage.Open(str(folder / "fall.usdc"))
    assert (stage.GetEndTimeCode(), stage.GetFramesPerSecond()) == (8, 24)
    meshes = {p.GetName(): UsdGeom.Mesh(p) for p in stage.Traverse() if p.IsA(UsdGeom.Mesh)}
    assert set(meshes) == {"body", "oilskin_coat"}
    first, last = (np.array(meshes["oilskin_coat"].GetPointsAttr().Get(f)) for f in (0, 8))
    assert np.linalg.norm(last - first, axis=1).max() > 0.05
    kept = heron("drape", pack, "--settle", "2", "--frames", "3", "--substeps", "6", "--out", folder / "fallen.glb")
    assert kept.returncode == 0, kept.stderr
    nodes = [n["name"] for n in Gltf((folder / "fallen.glb").read_bytes()).json["nodes"]]
    assert "piece:oilskin-coat" in nodes
    for wrong, said in (("--fabric", "tinfoil"), ("--wind", "north"), ("--piece", "boots"), ("--pose", "levitate"), ("--substeps", "1")):
        refused = heron("drape", pack, wrong, said, "--out", folder / "never.glb")
        assert refused.returncode == 2, refused.stdout
        assert said in refused.stderr
        assert refused.stderr.count("\n") == 1
    assert not (folder / "never.glb").exists()


def test_finish_makes_a_piece_thick_and_its_shapes_go_along(pack: Path, folder: Path):
    out = folder / "thick.glb"
    done = heron("finish", pack, "--piece", "Oilskin coat", "--thick", "2", "--out", out, "--json", "-")
    assert done.returncode == 0, done.stderr
    thin, thick = (Gltf(path.read_bytes()).skinned("piece:oilskin-coat") for path in (pack, out))
    far = KDTree(thin).query(thick)[0]
    assert 0.4 < (far < 1e-5).mean() < 0.6  # one side is the cloth as it was
    assert np.median(far[far > 1e-5]) == pytest.approx(0.002, abs=3e-4)
    shapes = [{m["name"]: m["extras"]["targetNames"] for m in Gltf(path.read_bytes()).json["meshes"]} for path in (pack, out)]
    assert shapes[0] == shapes[1]
    for words in (("--thick", "0"), ("--thick", "2", "--piece", "boots")):
        refused = heron("finish", pack, *words, "--out", folder / "never.glb")
        assert (refused.returncode, refused.stderr.count("\n")) == (2, 1)
    assert not (folder / "never.glb").exists()


@pytest.mark.slow("core/table", "core/drape", "cli")
def test_a_garment_is_cut_sewn_and_graded(folder: Path):
    out = folder / "tabard.glb"
    done = heron("cut", "tabard", "--on", "corvane", "--set", "length=30cm", "--size", "30", "--settle", "8", "--out", out, "--json", "-")
    assert done.returncode == 0, done.stderr
    told = json.loads(done.stdout)
    assert told["seam_open"] < 0.006
    mesh = trimesh.load(out, force="mesh")
    assert len(mesh.faces) == told["triangles"]
    mesh.merge_vertices(merge_tex=True, merge_norm=True)
    links = coo_matrix((np.ones(len(mesh.edges)), mesh.edges.T), (len(mesh.vertices), len(mesh.vertices)))
    assert connected_components(links, directed=False)[0] == 1  # front and back are one piece of cloth
    wide = {}
    for who in ("ibbet", "old-moss"):
        drawn = folder / f"{who}.svg"
        assert heron("cut", "skirt", "--made-for", "ibbet", "--on", who, "--out", drawn).returncode == 0
        wide[who] = max(np.ptp([c.at[0] for c in p.outline]) for p in read_svg(drawn.read_bytes(), "skirt").panels)
    assert wide["old-moss"] != pytest.approx(wide["ibbet"], abs=0.005)
    for words, says in ((("cut", "toga"), "there is no block 'toga'"), (("cut", "skirt", "--set", "length=9m"), "length=9m"),
                        (("cut", "skirt", "--fabric", "fog"), "no fabric called 'fog'")):
        bad = heron(*words, "--out", folder / "never.glb")
        assert (bad.returncode, says in bad.stderr, (folder / "never.glb").exists()) == (2, True, False), bad.stderr


@pytest.fixture(scope="module")
def trousers(folder: Path) -> trimesh.Trimesh:
    """The demo's trousers as they were made on the figure."""
    mesh = next(p.mesh for p in stock() if p.name == "Marsh trousers")
    return trimesh.Trimesh(mesh.points, mesh.triangles, process=False)


@pytest.mark.slow("core/receive", "core/fit", "core/bind", "core/follow", "core/clear", "cli")
@pytest.mark.parametrize(("unit", "metres"), [("in", 0.0254), ("ft", 0.3048), ("mm", 0.001)])
def test_a_file_in_any_unit_is_dressed_where_it_was_made(folder: Path, trousers: trimesh.Trimesh, unit: str, metres: float):
    file = folder / f"trousers-{unit}.ply"
    trimesh.Trimesh(trousers.vertices @ [[1, 0, 0], [0, 0, 1], [0, -1, 0]] / metres, trousers.faces, process=False).export(file)  # Z up
    done = heron("dress", file, "--out", folder / f"{unit}.glb", "--json", folder / f"{unit}.json")
    assert done.returncode == 0, done.stderr
    assert "nothing shows through it at rest" in done.stdout
    told = json.loads((folder / f"{unit}.json").read_text())
    assert (told["receive"]["unit"], told["receive"]["up"], told["fit"]["elsewhere"]) == (unit, "z", None)
    worn = read_pack((folder / f"{unit}.glb").read_bytes(), "the pack").pieces[-1].piece.mesh.points
    gap, _ = KDTree(trousers.vertices).query(worn)
    assert gap.mean() < 0.012
    assert np.quantile(gap, 0.95) < 0.025


@pytest.mark.slow("core/receive", "core/fit", "core/bind", "core/follow", "cli")
def test_a_piece_that_is_fitted_where_it_is_not_worn_exits_1_and_says_so(folder: Path, trousers: trimesh.Trimesh):
    file = folder / "trousers-wrong.ply"
    trimesh.Trimesh(trousers.vertices / 0.0254, trousers.faces, process=False).export(file)
    done = heron("fit", file, "--units", "cm", "--category", "bottom", "--out", folder / "wrong.glb")
    assert done.returncode == 1
    assert "A bottom is worn over the lap, seat or thigh; most of this piece lies over the lower leg" in done.stderr
