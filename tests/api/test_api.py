"""The API on a real PostgreSQL, jobs run in this process."""

import json
import subprocess
from pathlib import Path

import pytest
import trimesh
from fastapi.testclient import TestClient

from demo.coat import FILE
from tests.api.app import drain, standing
from wily_heron.store.db import transaction
from wily_heron.store.productions.production import new_figure
from wily_heron.store.rail.pieces import evaluate_all_anew

CELLS = 4


def change(client: TestClient, piece: dict, *steps: dict, label: str = "Change") -> dict:
    recipe = {"made_on": piece["recipe"]["made_on"], "steps": list(steps)}
    answer = client.put(f"/api/pieces/{piece['id']}/recipe", json={"recipe": recipe, "label": label, "based_on": piece["edit"]})
    assert answer.status_code == 200, answer.text
    return answer.json()


@pytest.fixture(scope="module")
def worn(client: TestClient) -> dict:
    """The coat brought in as a file, fitted, bound and following."""
    files = [("files", (FILE.name, FILE.read_bytes())), ("files", (FILE.with_suffix(".mtl").name, FILE.with_suffix(".mtl").read_bytes()))]
    answer = client.post("/api/pieces", files=files, headers={"X-Artist": "Wrenna"})
    assert answer.status_code == 201
    piece = answer.json()
    assert (piece["status"], piece["author"], piece["name"]) == ("waiting", "Wrenna", "Oilskin coat")
    steps = [{"kind": k} for k in ("receive", "fit", "bind", "follow")]
    change(client, piece, *steps, label="Fit, bind and follow")
    drain()
    return standing(client, piece["id"])


def test_a_brought_in_coat_is_evaluated_and_reported(worn: dict):
    assert worn["status"] == "done"
    assert worn["report"]["receive"]["unit"] == "cm"
    assert worn["report"]["fit"]["below_ease"] == 0
    assert worn["report"]["bind"]["most"] == 4
    assert worn["geometry"]


def test_a_file_is_received_for_the_wearer_it_is_brought_in_for(client: TestClient):
    cast = client.get("/api/production").json()["cast"]
    files = [("files", (FILE.name, FILE.read_bytes()))]
    for who in cast:
        made = client.post("/api/pieces", params={"wearer": who["id"]}, files=files).json()
        assert made["recipe"]["made_on"] == who["shape"]
        client.delete(f"/api/pieces/{made['id']}")
    assert cast[0]["shape"] != cast[1]["shape"]
    before = client.get("/api/production").json()["pieces"]
    refused = client.post("/api/pieces", params={"wearer": 10**6}, files=files)
    assert refused.status_code == 404
    assert refused.json()["todo"] == "Choose one of the cast."
    assert client.get("/api/production").json()["pieces"] == before


def test_each_part_of_the_production_is_what_the_whole_says_of_it(client: TestClient, worn: dict):
    whole = client.get("/api/production").json()
    pieces, cast, axis = (client.get(f"/api/production/{part}").json() for part in ("pieces", "cast", "axis"))
    shots, outfits = client.get("/api/shots").json(), client.get("/api/outfits").json()
    settings = client.get("/api/production/settings").json()
    told = {key: whole[key] for key in ("id", "name", "shapes")}
    assert whole == {**told, "pieces": pieces, "shots": shots, "outfits": outfits, "settings": settings, **cast, **axis}
    assert client.get(f"/api/pieces/{worn['id']}").json() == standing(client, worn["id"])


def test_geometry_and_figure_come_as_frames(client: TestClient, worn: dict):
    for path in (f"/api/pieces/geometry/{worn['geometry']}", "/api/figure"):
        data = client.get(path).content
        head = json.loads(data[4:4 + int.from_bytes(data[:4], "little")])
        names = {a["name"] for a in head["arrays"]}
        assert {"points", "triangles", "skin_joints", "skin_weights", "delta_counts", "delta_rows", "delta_steps"} <= names


def test_measures_are_taken_with_tapes_that_lie_on_the_body(client: TestClient, worn: dict):
    taken = {m["name"]: m for m in client.post("/api/measures", json={"shape": {"stature": 0.5}, "pose": "sit"}).json()}
    assert len(taken) >= 25
    waist = taken["waist_girth"]
    assert waist["closed"]
    assert 0.5 < waist["value"] < 1.2
    assert 0.4 < waist["line"][0][1] < 0.8  # the tape sits with the wearer


def test_measures_asked_for_are_solved(client: TestClient, worn: dict):
    answer = client.post("/api/measures/solve", json={"asked": {"stature": 1.75, "hip_girth": 1.02}}).json()
    assert answer["met"] == {"stature": True, "hip_girth": True}
    assert answer["reached"]["hip_girth"] == pytest.approx(1.02, abs=0.005)
    refused = client.post("/api/measures/solve", json={"asked": {"wingspan": 2}})
    assert refused.status_code == 422
    assert "wingspan" in refused.json()["what"]


def test_a_measure_sheet_that_cannot_be_read_names_the_line(client: TestClient, worn: dict):
    assert client.post("/api/measures/sheet", content="Waist girth,74\n").json() == {"asked": {"waist_girth": 0.74}}
    bad = client.post("/api/measures/sheet", content="Waist girth,74\nHip girth,wide\n")
    assert "line 2" in bad.json()["where"]


def test_another_figure_has_every_piece_evaluated_anew_from_its_recipe(client: TestClient, worn: dict):
    from wily_heron.core.figure.figure import figure_version

    with transaction() as c:
        assert not new_figure(c, figure_version())  # the server saw to it when it started
        assert c.execute("select count(*) as n from edit where status = 'waiting'").fetchone()["n"] == 0
        assert new_figure(c, "another figure")
        evaluate_all_anew(c)
        assert c.execute("select count(*) as n from edit where status <> 'waiting'").fetchone()["n"] == 0
        c.rollback()


def test_a_wearers_shape_is_undone_and_done_again(client: TestClient, worn: dict):
    def cast() -> dict:
        return client.get("/api/production").json()["cast"][0]

    first = cast()
    assert not first["can_undo"]
    for value in (0.2, 0.4):
        client.put(f"/api/wearers/{first['id']}/shape", json={"shape": {"girth": value}})
    assert client.post(f"/api/wearers/{first['id']}/undo").json()["shape"] == {"girth": 0.2}
    assert (cast()["shape"], cast()["can_undo"], cast()["can_redo"]) == ({"girth": 0.2}, True, True)
    assert client.post(f"/api/wearers/{first['id']}/redo").json()["shape"] == {"girth": 0.4}
    for _ in range(2):
        client.post(f"/api/wearers/{first['id']}/undo")
    assert cast()["shape"] == first["shape"]
    assert client.post(f"/api/wearers/{first['id']}/undo").status_code == 422


def test_poses_join_and_leave_the_axis_but_never_the_last(client: TestClient, worn: dict):
    assert len(client.get("/api/poses").json()) >= 30
    assert client.post("/api/poses", json={"name": "knock"}).status_code == 201
    names = [p["name"] for p in client.get("/api/production").json()["poses"]]
    assert names[-1] == "knock"
    assert client.delete("/api/poses/knock").status_code == 204
    assert client.delete("/api/poses/knock").status_code == 404
    assert client.post("/api/poses", json={"name": "levitate"}).status_code == 422


def test_a_pose_made_by_hand_is_kept_measured_and_packed_like_any_other(client: TestClient, worn: dict):
    stand = next(p for p in client.get("/api/production").json()["poses"] if p["name"] == "stand")["rotations"]
    ask = {"rotations": stand, "shape": {}, "joint": "l_radiocarpal", "target": [0.35, 1.45, 0.30]}
    dragged = client.post("/api/poses/drag", json=ask).json()
    assert dragged["short"] < 0.01
    read = client.post("/api/poses/turn", json={"rotations": dragged["rotations"], "joint": "l_elbow"}).json()
    assert 0 <= read["degrees"][0] <= 145
    kept = client.post("/api/poses/own", json={"label": "Hailing the ferry", "rotations": dragged["rotations"]}).json()
    there = {p["name"]: p for p in client.get("/api/production").json()["poses"]}
    assert there[kept["name"]]["label"] == "Hailing the ferry"
    cell = {"shape": {}, "pose": kept["name"], "rotations": there[kept["name"]]["rotations"]}
    assert client.post("/api/cell", json=cell).status_code == 200
    assert client.get("/api/pictures/wearer/{}.png".format(client.get("/api/production").json()["cast"][0]["id"]),
                      params={"pose": kept["name"]}).status_code == 200
    refused = client.delete(f"/api/poses/own/{kept['name']}")
    assert refused.status_code == 422
    assert "axis" in refused.text
    assert client.delete(f"/api/poses/{kept['name']}").status_code == 204
    assert client.delete(f"/api/poses/own/{kept['name']}").status_code == 204
    assert kept["name"] not in {p["name"] for p in client.get("/api/poses").json()}


def test_a_pose_that_is_none_is_explained(client: TestClient, worn: dict):
    bad = client.post("/api/poses/own", json={"label": "Wings", "rotations": {"l_wing": [0, 0, 0, 1]}})
    assert bad.status_code == 422
    assert "l_wing" in bad.text
    assert client.post("/api/poses/drag", json={"rotations": {}, "shape": {}, "joint": "l_ear", "target": [0, 1, 0]}).status_code == 422


def test_a_cell_is_measured_on_request(client: TestClient, worn: dict):
    data = client.post("/api/cell", json={"shape": {"girth": 0.3}, "pose": "kneel"}).content
    figures = json.loads(data[4:4 + int.from_bytes(data[:4], "little")])["notes"]["figures"]
    assert [p["over"] for p in figures["pairs"]] == [worn["name"]]
    assert figures["holds"] == (figures["area_cm2"] <= 0.1)


def test_undo_and_redo_stand_on_what_was_evaluated(client: TestClient, worn: dict):
    before = client.post(f"/api/pieces/{worn['id']}/undo").json()
    assert [s["kind"] for s in before["recipe"]["steps"]] == ["receive"]
    again = client.post(f"/api/pieces/{worn['id']}/redo").json()
    assert (again["geometry"], again["status"]) == (worn["geometry"], "done")


def test_a_change_on_an_old_view_is_refused_and_nothing_is_lost(client: TestClient, worn: dict):
    body = {"recipe": {"steps": [{"kind": "receive"}]}, "label": "Late", "based_on": worn["edit"] - 1}
    answer = client.put(f"/api/pieces/{worn['id']}/recipe", json=body)
    assert answer.status_code == 409
    assert answer.headers["content-type"] == "application/problem+json"
    assert "another window" in answer.json()["what"]
    assert standing(client, worn["id"])["geometry"] == worn["geometry"]


def test_a_step_that_fails_says_why_and_can_be_undone(client: TestClient, worn: dict):
    far = {"kind": "place", "move": [6, 0, 0], "turn": [0, 0, 0], "scale": 1}
    change(client, worn, {"kind": "receive"}, far, {"kind": "fit"}, label="Too far")
    drain()
    failed = standing(client, worn["id"])
    assert failed["status"] == "failed"
    assert "near the body" in failed["error"]["what"]
    assert client.post(f"/api/pieces/{worn['id']}/undo").json()["geometry"] == worn["geometry"]


def test_whatever_goes_wrong_is_told_and_no_piece_is_left_waiting(client: TestClient):
    sliver = b"v 0 1 0\nv 1e-7 1 0\nv 2e-7 1 0\nf 1 2 3\n"
    piece = client.post("/api/pieces", files=[("files", ("sliver.obj", sliver))]).json()
    change(client, piece, *({"kind": k} for k in ("receive", "fit", "bind", "follow")))
    drain()
    assert standing(client, piece["id"])["status"] == "failed"
    assert standing(client, piece["id"])["error"]["todo"]
    assert client.delete(f"/api/pieces/{piece['id']}").status_code == 204


def test_a_trial_measures_every_cell_once_and_knows_them_again(client: TestClient, worn: dict):
    trial = client.post("/api/trials").json()
    assert (trial["total"], trial["state"]) == (CELLS, "running")
    drain()
    trial = client.get(f"/api/trials/{trial['id']}").json()
    assert (trial["done"], trial["state"], trial["stale"]) == (CELLS, "done", False)
    assert all(client.get(f"/api/pictures/{c['picture']}.png").content[:4] == b"\x89PNG" for c in trial["cells"])
    again = client.post("/api/trials").json()
    assert (again["done"], again["state"]) == (CELLS, "done")


def test_cells_that_are_named_come_as_the_sheet_has_them(client: TestClient, worn: dict):
    trial = client.get("/api/trials/latest").json()
    one, other = trial["cells"][0], trial["cells"][-1]
    named = [f"{c['wearer']}:{c['pose']}" for c in (one, other)]
    some = client.get(f"/api/trials/{trial['id']}/cells", params={"of": [*named, "99999:stand"]}).json()
    assert sorted(some["cells"], key=lambda c: c["wearer"]) == [one, other]
    assert (some["state"], some["done"]) == ("done", CELLS)
    assert client.get(f"/api/trials/{trial['id']}/cells", params={"of": "kneel"}).status_code == 422


def test_a_cancelled_trial_stops(client: TestClient, worn: dict):
    wearer = client.get("/api/production").json()["cast"][0]
    assert client.put(f"/api/wearers/{wearer['id']}/shape", json={"shape": {"hip": 0.25}}).status_code == 200
    trial = client.post("/api/trials").json()
    assert trial["done"] == CELLS // 2  # only the changed wearer is measured again
    assert client.delete(f"/api/trials/{trial['id']}").json()["state"] == "cancelled"
    drain()
    assert client.get(f"/api/trials/{trial['id']}").json()["done"] == CELLS // 2


def test_the_outfit_packs_and_passes_the_validator(client: TestClient, worn: dict, tmp_path: Path):
    wearer = client.get("/api/production").json()["cast"][1]["id"]
    answer = client.get(f"/api/packs/{wearer}.glb")
    assert answer.status_code == 200
    file = tmp_path / "pack.glb"
    file.write_bytes(answer.content)
    script = Path(__file__).parents[1] / "formats" / "validate.mjs"
    issues = json.loads(subprocess.run(["node", str(script), str(file)], capture_output=True, text=True, check=True).stdout)
    assert (issues["numErrors"], issues["numWarnings"]) == (0, 0)


@pytest.mark.parametrize(("name", "data", "says"), [
    ("coat.obj", b"", "empty"),
    ("coat.obj", b"a letter, not a coat", "does not look like an OBJ"),
    ("coat.obj", b"v 0 0 nan\nv 0 1 0\nv 1 0 0\nf 1 2 3\n", "not a finite number"),
    ("coat.obj", b"v 0 0 0\nf 1 2 3\n", "vertex 2 of 1"),
    ("coat.exe", b"MZ", "cannot be read"),
])
def test_bad_files_are_refused_and_nothing_is_stored(client: TestClient, name: str, data: bytes, says: str):
    def counts() -> list[int]:
        with transaction() as c:
            return [c.execute(f"select count(*) as n from {t}").fetchone()["n"] for t in ("piece", "edit", "blob")]  # type: ignore[index]

    before = counts()
    answer = client.post("/api/pieces", files=[("files", (name, data))])
    assert answer.status_code == 422
    assert says in answer.json()["what"]
    assert name in answer.json()["where"]
    assert answer.json()["todo"]
    assert counts() == before


def test_a_declared_size_of_2_gb_is_refused_before_it_is_sent(client: TestClient):
    headers = {"Content-Length": str(2 * 2**30), "Content-Type": "multipart/form-data; boundary=x"}
    answer = client.post("/api/pieces", content=b"", headers=headers)
    assert answer.status_code == 413
    assert "2048 MB" in answer.json()["what"]


def test_wrong_values_are_named(client: TestClient, worn: dict):
    body = {"recipe": {"steps": [{"kind": "fit", "ease": 99}]}, "label": "x"}
    answer = client.put(f"/api/pieces/{worn['id']}/recipe", json=body)
    assert answer.status_code == 422
    assert "ease" in answer.json()["where"]
    wearer = client.get("/api/production").json()["cast"][0]["id"]
    assert client.put(f"/api/wearers/{wearer}/shape", json={"shape": {"wings": 1}}).json()["what"] == "there is no shape called 'wings'"


def test_another_sites_page_may_not_change_anything(client: TestClient):
    assert client.post("/api/trials", headers={"Origin": "https://elsewhere.example"}).status_code == 403


def test_refused_mends_are_left_and_a_category_can_be_set(client: TestClient):
    box = trimesh.creation.box((0.3, 0.3, 0.3))
    open_box = trimesh.Trimesh(box.vertices[box.faces[:10].ravel()], [[3 * i, 3 * i + 1, 3 * i + 2] for i in range(10)], process=False)
    answer = client.post("/api/pieces", files=[("files", ("box.ply", open_box.export(file_type="ply")))])
    piece = answer.json()
    drain()
    report = standing(client, piece["id"])["report"]["receive"]
    assert {f["kind"]: f["mended"] for f in report["findings"] if f["kind"] == "split"} == {"split": True}
    assert report["vertices"] == 8
    change(client, standing(client, piece["id"]), {"kind": "receive", "mends": []})
    drain()
    assert standing(client, piece["id"])["report"]["receive"]["vertices"] == 30
    assert client.patch(f"/api/pieces/{piece['id']}", json={"category": "headwear"}).json()["category"] == "headwear"
    client.delete(f"/api/pieces/{piece['id']}")


def test_pieces_change_places_on_the_rail(client: TestClient):
    ball = trimesh.creation.icosphere(subdivisions=1, radius=0.3).export(file_type="ply")
    made = client.post("/api/pieces", files=[("files", ("buoy.ply", ball))]).json()
    names = lambda: [p["name"] for p in client.get("/api/production").json()["pieces"]]  # noqa: E731
    before = names()
    assert before[0] == "Buoy"  # new pieces hang outermost
    assert client.post(f"/api/pieces/{made['id']}/move", json={"outwards": True}).status_code == 422
    if len(before) > 1:
        assert client.post(f"/api/pieces/{made['id']}/move", json={"outwards": False}).status_code == 200
        assert names() == [before[1], "Buoy", *before[2:]]
        client.post(f"/api/pieces/{made['id']}/move", json={"outwards": True})
        assert names() == before
    client.delete(f"/api/pieces/{made['id']}")
