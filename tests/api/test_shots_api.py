"""The production's shots through the API: kept, told apart on the sheet, and what none of them sees left as it is."""

import json
import math

import pytest
from fastapi.testclient import TestClient

from tests.api.app import drain, frame, measured
from wily_heron.formats.gltf.shots import read_shots


def camera(name: str, degrees: float) -> dict:
    turn = math.radians(degrees)
    return {"name": name, "eye": [4 * math.sin(turn), 1.0, 4 * math.cos(turn)], "target": [0, 0.9, 0], "lens": 0.6, "frame": 1.5}


ROUND = [camera(f"Round {d}", d) for d in range(0, 360, 45)]


@pytest.fixture
def shots(client: TestClient):
    """Adds shots; they are dropped afterwards."""
    yield lambda *asked: [client.post("/api/shots", json=a).json()[-1]["id"] for a in asked]
    for s in client.get("/api/shots").json():
        client.delete(f"/api/shots/{s['id']}")


def test_shots_are_kept_changed_dropped_taken_back_and_carried_as_cameras(client: TestClient, coat: dict, shots):
    wearer = client.get("/api/production").json()["cast"][0]["id"]
    jetty, stern = shots({"shot": camera("Jetty", 0)}, {"shot": camera("Stern", 180), "wearer": wearer, "pose": "stride"})
    assert client.put(f"/api/shots/{jetty}", json={"shot": camera("Jetty, close", 10)}).json()[0]["shot"]["name"] == "Jetty, close"
    client.delete(f"/api/shots/{stern}")
    assert [s["id"] for s in client.get("/api/production").json()["shots"]] == [jetty]
    assert [s["id"] for s in client.post(f"/api/shots/{stern}/back").json()] == [jetty, stern]
    glb = client.get("/api/shots/cameras.glb").content
    assert [s.name for s in read_shots(glb, "shots.glb")] == ["Jetty, close", "Stern"]
    again = client.post("/api/shots/cameras", files=[("files", ("shots.glb", glb))]).json()
    assert [s["shot"]["name"] for s in again] == ["Jetty, close", "Stern", "Jetty, close 2", "Stern 2"]
    assert client.put(f"/api/shots/{jetty}", json={"shot": camera("Stern 2", 0)}).status_code == 422
    assert "nowhere" in client.post("/api/shots", json={"shot": camera("Blind", 0) | {"target": [0, 1, 4]}}).text
    assert client.post("/api/shots", json={"shot": camera("Lost", 0), "wearer": 999_999}).status_code == 422
    assert client.post("/api/shots/cameras", files=[("files", ("coat.glb", b"glTF"))]).status_code == 422


def test_the_sheet_tells_what_shots_see_and_measures_only_the_cells_they_show_anew(client: TestClient, tight: dict, shots):
    plain = measured(client)
    assert all(c["figures"]["in_shots_cm2"] is None for c in plain["cells"])
    shots(*({"shot": s} for s in ROUND))
    assert client.get("/api/trials/latest").json()["stale"]
    seen = measured(client)
    before = {(c["wearer"], c["pose"]): c["figures"] for c in plain["cells"]}
    for c in seen["cells"]:
        f = c["figures"]
        assert f["area_cm2"] == before[c["wearer"], c["pose"]]["area_cm2"]
        assert f["in_shots_cm2"] <= f["area_cm2"] + 1e-6
    failing = [c["figures"] for c in seen["cells"] if c["figures"]["area_cm2"] > 2.0]
    assert failing
    assert sum(f["in_shots_cm2"] for f in failing) > 0.3 * sum(f["area_cm2"] for f in failing)  # eight sides see much of it
    who, pose = seen["cells"][0]["wearer"], seen["cells"][0]["pose"]
    shots({"shot": camera("One cell", 33), "wearer": who, "pose": pose})
    client.post("/api/trials")
    waiting = [(c["wearer"], c["pose"]) for c in client.get("/api/trials/latest").json()["cells"] if c["stale"]]
    assert waiting == [(who, pose)]
    drain()
    table = client.get(f"/api/trials/{client.get('/api/trials/latest').json()['id']}.csv").text
    assert "place_in_shots_cm2" in table.splitlines()[0]


@pytest.mark.slow("core/clearance", "core/clear", "studio")
def test_what_no_shot_sees_may_be_left_until_one_sees_it(client: TestClient, tight: dict, shots):
    wearer = client.get("/api/production").json()["cast"][0]
    cell = {"shape": wearer["shape"], "pose": "stride"}
    asked = {"cell": cell, "over": tight["name"], "wearer": wearer["id"]}

    def remedies() -> list[dict]:
        with client.stream("POST", "/api/explain", json=asked) as answer:
            lines = [json.loads(line) for line in answer.iter_lines()]
        return [x["remedy"] for x in lines if x["remedy"]]

    shots({"shot": camera("The moon", 0) | {"target": [8, 9, 0]}})
    leave = min(remedies(), key=lambda r: r["cost"])
    assert (leave["kind"], leave["do"]) == ("leave", {"reason": "no shot sees it", "by_shots": True})
    waiver = {"wearer": wearer["id"], "pose": "stride", "over": tight["name"], **leave["do"]}
    kept = client.post("/api/waivers", json=waiver).json()[-1]
    assert kept["by_shots"]
    client.delete(f"/api/waivers/{kept['id']}")
    shots(*({"shot": s} for s in ROUND))
    told = frame(client.post("/api/cell", json={**cell, "wearer": wearer["id"]}).content)[1]["figures"]
    assert told["in_shots_cm2"] > 0.1
    assert not any(r["kind"] == "leave" for r in remedies())
