"""Taking a dressed body apart through the API: from the file to a wearer of its own kind wearing its own clothes."""

import numpy as np
import pytest
from fastapi.testclient import TestClient

from demo.dressed import FILE
from tests.api.test_api import client, drain, standing  # noqa: F401
from wily_heron.store.arrays import unpack
from wily_heron.store.db import get_blob, transaction


@pytest.fixture(scope="module")
def brought(client: TestClient) -> dict:  # noqa: F811
    answer = client.post("/api/apart", files=[("files", (FILE.name, FILE.read_bytes()))])
    assert answer.status_code == 201, answer.text
    return answer.json()


def test_the_parts_of_the_ferryman_are_proposed(brought: dict):
    assert [(p["name"], p["is_body"], p["category"]) for p in brought["parts"]] == [
        ("Body", True, ""), ("Linen top", False, "top"), ("Canvas bottom", False, "bottom"), ("Wool felt footwear", False, "footwear")]
    assert {r["role"]: r["joint"] for r in brought["roles"]}["l_elbow"] == "ForeArm.L"
    assert brought["morphs"] == ["stout", "lean"]
    assert 1.7 < brought["height"] < 1.8


def test_parts_are_split_merged_renamed_and_undone(client: TestClient, brought: dict):  # noqa: F811
    page = f"/api/apart/{brought['id']}"
    boots = client.post(f"{page}/choose", json={"way": "part", "part": 3}).json()["faces"]
    run = client.post(f"{page}/choose", json={"way": "run", "face": boots[0]}).json()["faces"]
    assert 0 < len(run) < len(boots)  # one boot of the two, or a sole
    more = client.post(f"{page}/choose", json={"way": "grow", "chosen": run[:1]}).json()["faces"]
    assert len(more) > 3
    assert client.post(f"{page}/choose", json={"way": "shrink", "chosen": more}).json()["faces"] == run[:1]
    split = client.post(f"{page}/assign", json={"faces": run, "name": "Left boot"}).json()
    assert split["parts"][-1]["name"] == "Left boot"
    assert split["parts"][-1]["faces"] == len(run)
    named = client.patch(f"{page}/parts/4", json={"name": "Felt boot", "category": "footwear", "colour": 7}).json()
    assert (named["parts"][4]["name"], named["parts"][4]["colour"]) == ("Felt boot", 7)
    merged = client.post(f"{page}/merge", json={"part": 4, "into": 3}).json()
    assert len(merged["parts"]) == 4
    for _ in range(3):
        back = client.post(f"{page}/undo").json()
    assert [p["name"] for p in back["parts"]] == [p["name"] for p in brought["parts"]]
    assert not back["can_undo"]
    assert client.post(f"{page}/undo").status_code == 422
    assert client.post(f"{page}/choose", json={"way": "run", "face": 10**7}).status_code == 422


def test_a_lasso_takes_what_is_seen_and_through_takes_what_lies_behind(client: TestClient, brought: dict):  # noqa: F811
    """Looked at from the front, orthographic: x and y are what they are on the stage."""
    page = f"/api/apart/{brought['id']}"
    flat = [1, 0, 0, 0, 0, 1, 0, -1, 0, 0, -0.1, 0, 0, 0, 0, 1]
    head = [[-0.15, 0.5], [0.15, 0.5], [0.15, 0.9], [-0.15, 0.9]]
    ask = {"way": "lasso", "outline": head, "matrix": flat, "eye": [0, 1.6, 20]}
    seen = client.post(f"{page}/choose", json=ask).json()["faces"]
    through = client.post(f"{page}/choose", json={**ask, "through": True}).json()["faces"]
    assert 100 < len(seen) < 0.7 * len(through)
    assert set(seen) <= set(through)


def test_out_come_a_wearer_of_its_own_kind_and_pieces_made_for_it(client: TestClient, brought: dict):  # noqa: F811
    page = f"/api/apart/{brought['id']}"
    client.patch(f"{page}/parts/0", json={"name": "Sexton Pike"})
    assert client.post(f"{page}/take").json()["state"] == "taking"
    drain()
    done = client.get(page).json()
    assert (done["state"], done["outcome"]) == ("taken", "one body, 3 pieces")
    production = client.get("/api/production").json()
    pike = next(w for w in production["cast"] if w["name"] == "Sexton Pike")
    body = next(b for b in production["bodies"] if b["body"] == pike["body"])
    assert [s["name"] for s in body["shapes"]] == ["stout", "lean"]
    assert body["own_skeleton"]
    kneel = next(p for p in body["poses"] if p["name"] == "kneel")
    assert "l_knee" in kneel["rotations"]
    pieces = [p for p in production["pieces"] if p["recipe"]["body"] == pike["body"]]
    assert {p["name"] for p in pieces} == {"Linen top", "Canvas bottom", "Wool felt footwear"}
    assert [p["name"] for p in pieces] == ["Linen top", "Wool felt footwear", "Canvas bottom"]  # outermost first
    assert all(p["status"] == "done" for p in pieces), [p["error"] for p in pieces]
    assert all(p["report"]["bind"]["own"] and p["report"]["follow"]["own"] == 2 for p in pieces)
    frame = client.get(f"/api/figure?body={pike['body']}")
    assert frame.status_code == 200
    cell = client.post("/api/cell", json={"shape": {"stout": 1.0}, "pose": "stand", "body": pike["body"]})
    assert cell.status_code == 200, cell.text
    assert client.get(f"/api/packs/{pike['id']}.glb").status_code == 200
    assert client.get(f"/api/pictures/wearer/{pike['id']}.png").status_code == 200


def test_a_morph_moves_body_and_clothes_as_the_file_says(client: TestClient, brought: dict):  # noqa: F811
    pieces = [p for p in client.get("/api/production").json()["pieces"] if p["name"] == "Linen top"]
    with transaction() as connection:
        arrays, _ = unpack(get_blob(connection, pieces[0]["geometry"]))
    assert np.abs(arrays["deltas"][0]).max() > 0.01  # stout


def test_a_trial_tries_each_wearer_in_its_own_clothes(client: TestClient, brought: dict):  # noqa: F811
    trial = client.post("/api/trials").json()
    cast = {w["id"]: w for w in client.get("/api/production").json()["cast"]}
    drain()
    cells = client.get(f"/api/trials/{trial['id']}").json()["cells"]
    own = [c for c in cells if cast[c["wearer"]]["body"]]
    assert len(own) == 2
    worn = {"Linen top", "Canvas bottom", "Wool felt footwear"}
    assert all(c["figures"] and {p["over"] for p in c["figures"]["pairs"]} == worn for c in own)
    assert not client.get(f"/api/trials/{trial['id']}").json()["stale"]
    assert standing(client, client.get("/api/production").json()["pieces"][0]["id"])
