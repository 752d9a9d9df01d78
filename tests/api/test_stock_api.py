"""The stockroom through the API: batches, search, shelves, colourways, bundles, versions, and what is no piece."""

import io
import json
import zipfile

import numpy as np
import pytest
import trimesh
from fastapi.testclient import TestClient
from PIL import Image

from tests.api.app import drain, standing
from wily_heron.core.figure.figure import figure
from wily_heron.core.motion.clips import clip_named
from wily_heron.formats.bvh import write_bvh

BALL = trimesh.creation.icosphere(subdivisions=2, radius=0.3)


def picture(colour: tuple[int, int, int] = (200, 60, 30)) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (16, 16), colour).save(out, "PNG")
    return out.getvalue()


def taken_in(client: TestClient, *files: tuple[str, bytes], shelf: int | None = None) -> list[dict]:
    query = {} if shelf is None else {"shelf": shelf}
    answer = client.post("/api/stock", files=[("files", f) for f in files], params=query)
    assert answer.status_code == 201, answer.text
    assert {r["state"] for r in answer.json()["rows"]} == {"waiting"}
    drain()
    return client.get("/api/batches/latest").json()["rows"]


def found(client: TestClient, **asked) -> list[dict]:
    answer = client.get("/api/stock", params=asked)
    assert answer.status_code == 200, answer.text
    return answer.json()["items"]


def coloured_ball(client: TestClient, name: str) -> int:
    obj = BALL.export(file_type="obj", include_normals=False).replace("\nf ", "\nusemtl felt\nf ", 1)
    return taken_in(client, (name, obj.encode()))[0]["item_id"]


def test_a_batch_is_a_job_with_a_row_a_file_and_a_bad_one_spoils_none(client: TestClient):
    rows = taken_in(client, ("moor-ball.ply", BALL.export(file_type="ply")), ("letter.stl", b"dear sir"),
                    ("torn-ball.stl", BALL.export(file_type="stl")),
                    ("half.glb", trimesh.creation.box((.3, .3, .3)).export(file_type="glb")))
    assert [(r["file_name"], r["state"]) for r in rows] == [("moor-ball.ply", "needs you"), ("letter.stl", "refused"),
                                                             ("torn-ball.stl", "needs you"), ("half.glb", "needs you")]
    assert "does not look like an STL" in rows[1]["why"]
    held = {i["name"]: i for i in found(client)}
    assert {"Moor ball", "Torn ball", "Half"} <= set(held)
    strip = client.get(f"/api/pictures/{held['Moor ball']['strip']}.png")
    assert Image.open(io.BytesIO(strip.content)).size == (8 * 150, 150)


def test_a_batch_that_is_cancelled_takes_no_more_in(client: TestClient):
    batch = client.post("/api/stock", files=[("files", (f"late-{k}.ply", BALL.export(file_type="ply"))) for k in range(3)]).json()
    assert {r["state"] for r in client.post(f"/api/batches/{batch['id']}/cancel").json()["rows"]} == {"cancelled"}
    drain()
    assert not [i for i in found(client) if i["name"].startswith("Late")]


def test_stock_is_found_by_any_word_on_its_card_as_it_is_typed(client: TestClient):
    item = taken_in(client, ("lamp-glass.ply", BALL.export(file_type="ply")))[0]["item_id"]
    card = {"tags": ["Brass", " marsh light "], "note": "For the ferry steps", "licence": "ours", "origin": "Harl & daughters"}
    assert client.patch(f"/api/stock/{item}", json=card).status_code == 204
    for typed in ("lam", "gla", "brass", "marsh li", "ferry st", "amp gl", "lamp brass", "harl"):
        assert [i["name"] for i in found(client, q=typed)] == ["Lamp glass"], typed
    assert not found(client, q="lamp heron")
    assert client.get("/api/stock", params={"q": "100%_'; drop table"}).status_code == 200
    assert len(found(client, tag="marsh light")) == 1
    assert found(client, q="lamp glass")[0]["licence"] == "ours"


def test_a_retired_piece_stays_on_the_rail_and_comes_back(client: TestClient):
    item = taken_in(client, ("post-horn.ply", BALL.export(file_type="ply")))[0]["item_id"]
    piece = client.post(f"/api/stock/{item}/dress").json()
    drain()
    assert standing(client, piece["id"])["status"] == "done"
    assert found(client, q="post horn")[0]["used_by"] == ["Post horn"]
    assert client.post(f"/api/stock/{item}/retire").status_code == 204
    assert not found(client, q="post horn")
    assert standing(client, piece["id"])["name"] == "Post horn"
    assert found(client, q="post horn", retired=True)[0]["retired"]
    assert client.post(f"/api/stock/{item}/restore").status_code == 204
    assert found(client, q="post horn")
    assert client.post("/api/stock/99999/dress").status_code == 404
    client.delete(f"/api/pieces/{piece['id']}")


def test_shelves_stand_in_shelves_and_never_in_themselves(client: TestClient):
    outer = client.post("/api/shelves", json={"name": "Foul weather"}).json()["id"]
    inner = client.post("/api/shelves", json={"name": "Hats", "parent": outer}).json()["id"]
    item = taken_in(client, ("storm-ball.ply", BALL.export(file_type="ply")), shelf=inner)[0]["item_id"]
    assert [i["id"] for i in found(client, shelf=inner)] == [item]
    assert [i["id"] for i in found(client, shelf=outer)] == [item]
    assert client.patch(f"/api/shelves/{outer}", json={"parent": inner}).status_code == 422
    assert client.post("/api/shelves", json={"name": "Hats", "parent": outer}).status_code == 422
    assert client.post("/api/stock/many", json={"items": [item], "off_shelf": True, "tag": "Round"}).status_code == 204
    assert not found(client, shelf=outer)
    assert [i["id"] for i in found(client, tag="round")] == [item]
    assert client.delete(f"/api/shelves/{outer}").status_code == 204
    assert found(client, q="storm ball")  # the shelf is gone, what stood on it is not


def test_a_colourway_dresses_a_piece_in_other_materials_and_it_can_be_changed_on_the_rail(client: TestClient):
    texture = taken_in(client, ("madder.png", picture()))[0]["item_id"]
    assert found(client, kind="texture")[0]["id"] == texture
    item = coloured_ball(client, "marsh-cap.obj")
    red = {"materials": {"felt": {"colour": [0.5, 0.1, 0.1], "roughness": 0.9}}}
    assert client.put(f"/api/stock/{item}/colourways/Madder", json=red).status_code == 204
    assert client.put(f"/api/stock/{item}/colourways/Odd", json={"materials": {"velvet": {"colour": [1, 1, 1]}}}).status_code == 422
    ways = client.get(f"/api/stock/{item}/colourways").json()
    assert list(ways["own"]) == ["felt"]
    assert [w["name"] for w in ways["colourways"]] == ["Madder"]
    piece = client.post(f"/api/stock/{item}/dress", json={"colourway": "Madder"}).json()
    drain()

    def colour() -> list[float]:
        frame = client.get(f"/api/pieces/geometry/{standing(client, piece['id'])['geometry']}").content
        head = json.loads(frame[4:4 + int.from_bytes(frame[:4], "little")])
        return head["notes"]["materials"][0]["colour"]

    assert np.allclose(colour(), [0.5, 0.1, 0.1])
    assert client.delete(f"/api/stock/{item}/colourways/Madder").status_code == 422  # worn
    client.put(f"/api/stock/{item}/colourways/Madder", json={"materials": {"felt": {"colour": [0.1, 0.4, 0.1]}}})
    drain()
    assert np.allclose(colour(), [0.1, 0.4, 0.1])
    client.post(f"/api/pieces/{piece['id']}/colourway", json={"name": None})
    drain()
    assert np.allclose(colour(), [0.6, 0.6, 0.6])
    assert client.delete(f"/api/stock/{item}/colourways/Madder").status_code == 204
    client.delete(f"/api/pieces/{piece['id']}")


def test_a_bundle_is_dressed_in_one_act_from_the_skin_outwards(client: TestClient):
    items = [r["item_id"] for r in taken_in(client, *((f"layer-{n}.ply", BALL.export(file_type="ply")) for n in "abc"))]
    bundle = client.post("/api/bundles", json={"name": "Three coats", "items": items}).json()["id"]
    pieces = client.post(f"/api/bundles/{bundle}/dress").json()
    assert [p["name"] for p in pieces] == ["Layer a", "Layer b", "Layer c"]
    rails = [p["rail"] for p in pieces]
    assert rails == sorted(rails)
    for p in pieces:
        client.delete(f"/api/pieces/{p['id']}")
    assert client.delete(f"/api/bundles/{bundle}").status_code == 204
    assert all(found(client, q=f"layer {n}") for n in "abc")


def test_dressing_is_refused_where_it_cannot_be_done(client: TestClient):
    assert client.post("/api/pieces/99999/dress").status_code == 404
    item = taken_in(client, ("buoy.ply", BALL.export(file_type="ply")))[0]["item_id"]
    piece = client.post(f"/api/stock/{item}/dress", json={"at_once": True}).json()["id"]
    client.patch(f"/api/pieces/{piece}", json={"category": "rigid"})
    drain()
    client.patch(f"/api/pieces/{piece}", json={"category": "rigid"})
    kinds = [s["kind"] for s in standing(client, piece)["recipe"]["steps"]]
    refused = client.post(f"/api/pieces/{piece}/dress")
    assert (refused.status_code, refused.json()["what"]) == (422, "Buoy is rigid")
    drain()
    assert [s["kind"] for s in standing(client, piece)["recipe"]["steps"]] == kinds
    client.delete(f"/api/pieces/{piece}")
    assert client.post(f"/api/pieces/{piece}/dress").status_code == 404


def test_a_newer_version_runs_the_recipes_of_what_wears_it_again(client: TestClient):
    item = coloured_ball(client, "growing-ball.obj")
    piece = client.post(f"/api/stock/{item}/dress").json()
    copy = client.post(f"/api/stock/{item}/duplicate").json()["id"]
    drain()
    before = standing(client, piece["id"])["report"]["receive"]["vertices"]
    finer = trimesh.creation.icosphere(subdivisions=3, radius=0.3).export(file_type="ply")
    done = client.post(f"/api/stock/{item}/replace", files=[("files", ("ball-2.ply", finer))]).json()
    assert done == {"version": 2, "pieces": [piece["id"]]}
    drain()
    now = standing(client, piece["id"])
    assert now["report"]["receive"]["vertices"] > 3 * before
    assert now["label"] == "Newer version of Growing ball"
    held = {i["id"]: i for i in found(client, q="growing ball")}
    assert (held[item]["version"], held[copy]["version"]) == (2, 1)
    assert held[copy]["vertices"] == before
    client.delete(f"/api/pieces/{piece['id']}")


def test_a_piece_in_stock_is_written_in_every_format(client: TestClient):
    item = coloured_ball(client, "travelling-ball.obj")
    for ending in (".glb", ".ply", ".stl", ".usdz"):
        data = client.get(f"/api/stock/{item}/file", params={"ending": ending})
        assert data.status_code == 200
        assert data.headers["content-disposition"].endswith(f'{ending}"')
    with zipfile.ZipFile(io.BytesIO(client.get(f"/api/stock/{item}/file", params={"ending": ".obj"}).content)) as archive:
        assert archive.namelist() == ["travelling-ball.obj", "travelling-ball.mtl"]


def test_motions_poses_and_bodies_are_kept_and_used_by_their_kind(client: TestClient):
    walk = write_bvh(clip_named("walk", figure(1).skeleton))
    item = taken_in(client, ("night-round.bvh", walk), ("bad.bvh", b"HIERARCHY nothing"))[0]["item_id"]
    assert [r["state"] for r in client.get("/api/batches/latest").json()["rows"]] == ["done", "refused"]
    used = client.post(f"/api/stock/{item}/use").json()
    assert used["motion"] == f"stock-{item}"
    frame = client.get(f"/api/motions/{used['motion']}")
    assert frame.status_code == 200
    assert f"stock-{item}" in [m["name"] for m in client.get("/api/motions").json()]
    assert client.post(f"/api/stock/{item}/dress").status_code == 422


def test_pieces_that_fit_a_wearer_are_of_its_body_and_size(client: TestClient):
    wearer = client.get("/api/production").json()["cast"][0]["id"]
    band = trimesh.creation.annulus(0.16, 0.18, 0.2, transform=trimesh.transformations.translation_matrix([0, 0, 1.0]))
    band.apply_transform(trimesh.transformations.rotation_matrix(-np.pi / 2, [1, 0, 0]))
    tower = trimesh.creation.cylinder(0.2, 2.6, transform=trimesh.transformations.translation_matrix([0, 0, 1.3]))
    tower.apply_transform(trimesh.transformations.rotation_matrix(-np.pi / 2, [1, 0, 0]))
    taken_in(client, ("waist-band.ply", band.export(file_type="ply")), ("tall-tower.ply", tower.export(file_type="ply")))
    names = [i["name"] for i in found(client, fits=wearer)]
    assert "Waist band" in names
    assert "Tall tower" not in names


@pytest.mark.parametrize(("path", "body", "status"), [
    ("/api/stock/many", {"items": [99999], "retired": True}, 404), ("/api/shelves", {"name": None}, 422),
    ("/api/bundles", {"name": "None", "items": [99999]}, 404)])
def test_what_is_not_there_is_named(client: TestClient, path: str, body: dict, status: int):
    answer = client.post(path, json=body)
    assert answer.status_code == status
    assert answer.json()["todo"]


def test_textures_that_were_missing_are_found_again_by_name(client: TestClient):
    obj = b"mtllib cap.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nvt 0 0\nvt 1 0\nvt 0 1\nusemtl felt\nf 1/1 2/2 3/3\n"
    mtl = b"newmtl felt\nmap_Kd C:\\old\\maps\\Felt.PNG\n"
    piece = client.post("/api/pieces", files=[("files", ("cap.obj", obj)), ("files", ("cap.mtl", mtl))]).json()
    drain()
    assert standing(client, piece["id"])["report"]["receive"]["missing_textures"] == ["felt.png"]
    wrong = client.post(f"/api/pieces/{piece['id']}/textures", files=[("files", ("a.png", picture())), ("files", ("b.png", picture()))])
    assert wrong.status_code == 422
    linked = client.post(f"/api/pieces/{piece['id']}/textures", files=[("files", ("felt.webp", picture()))]).json()
    assert linked == {"linked": ["felt.png"], "missing": []}
    drain()
    stood = standing(client, piece["id"])
    assert stood["report"]["receive"]["textures"] == ["felt.png"]
    frame = client.get(f"/api/pieces/geometry/{stood['geometry']}").content
    address = json.loads(frame[4:4 + int.from_bytes(frame[:4], "little")])["notes"]["materials"][0]["colour_map"]
    assert Image.open(io.BytesIO(client.get(f"/api/pictures/texture/{address}.png").content)).size == (16, 16)
    client.delete(f"/api/pieces/{piece['id']}")


@pytest.mark.slow("core/bodies", "studio")
def test_a_piece_is_brought_over_from_one_body_to_another(client: TestClient):
    cast = client.get("/api/production").json()["cast"]
    made = client.post("/api/pieces/practice").json()
    recipe = {"made_on": made["recipe"]["made_on"], "steps": [{"kind": "receive"}, {"kind": "fit"}, {"kind": "bind"}, {"kind": "follow"}]}
    client.put(f"/api/pieces/{made['id']}/recipe", json={"recipe": recipe, "label": "Fit", "based_on": made["edit"]})
    drain()
    nearest = client.get(f"/api/pieces/{made['id']}/made-for").json()
    assert {c["name"] for c in nearest} == {w["name"] for w in cast} | {"The house's figure"}
    over = client.post(f"/api/pieces/{made['id']}/over", json={"wearer": cast[1]["id"]}).json()
    drain()
    there = standing(client, over["id"])
    assert there["status"] == "done", there["error"]
    assert there["report"]["fit"]["made_for"]
    assert there["report"]["fit"]["below_ease"] == 0
    for piece in (made, over):
        client.delete(f"/api/pieces/{piece['id']}")


def test_a_texture_becomes_a_fabric_and_a_piece_of_the_rail_goes_into_stock(client: TestClient):
    texture = taken_in(client, ("twill.png", picture((30, 60, 120))))[0]["item_id"]
    fabric = client.post("/api/stock/fabrics", json={"name": "River twill", "texture": texture}).json()["id"]
    drain()
    card = next(i for i in found(client, kind="fabric") if i["id"] == fabric)
    assert card["content"]["texture"]
    assert card["strip"]
    assert client.post("/api/stock/fabrics", json={"name": "No cloth", "texture": fabric}).status_code == 422
    piece = client.post("/api/pieces", files=[("files", ("rail-ball.ply", BALL.export(file_type="ply")))]).json()
    drain()
    item = client.post(f"/api/stock/from-rail/{piece['id']}").json()["id"]
    assert standing(client, piece["id"])["stock"] == item
    assert found(client, q="rail ball")[0]["used_by"] == ["Rail ball"]
    assert client.post(f"/api/stock/from-rail/{piece['id']}").status_code == 422
    client.delete(f"/api/pieces/{piece['id']}")


def test_a_pose_made_by_hand_is_kept_in_stock_once_and_a_wearer_leaves_the_cast(client: TestClient):
    pose = {"label": "Bell rope", "rotations": {"l_elbow": [0.38, 0, 0, 0.92]}}
    for _ in range(2):
        assert client.post("/api/poses/own", json=pose).status_code == 201
    drain()
    kept = found(client, kind="pose", q="bell rope")
    assert len(kept) == 1
    assert client.post(f"/api/stock/{kept[0]['id']}/use").json()["pose"].startswith("own-bell-rope")
    made = client.post("/api/wearers", json={"name": "Passing Tam", "shape": {}}).json()
    assert client.delete(f"/api/wearers/{made['id']}").status_code == 204
    cast = [w["id"] for w in client.get("/api/production").json()["cast"]]
    assert made["id"] not in cast
    for wearer in cast[1:]:
        client.delete(f"/api/wearers/{wearer}")
    assert client.delete(f"/api/wearers/{cast[0]}").status_code == 422
