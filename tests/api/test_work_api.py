"""Placing, fitting, working and growing through the API and the live socket."""

import time

import numpy as np
import pytest
from fastapi.testclient import TestClient

from tests.api.app import change, drain, frame, points_of, standing


@pytest.fixture
def coat(client: TestClient) -> dict:
    made = client.post("/api/pieces/practice").json()
    drain()
    change(client, made["id"], [{"kind": "receive"}, {"kind": "place"}, {"kind": "fit", "ease": 0.009}])
    yield standing(client, made["id"])
    client.delete(f"/api/pieces/{made['id']}")


def test_a_stroke_over_the_socket_is_fast_and_is_what_the_recipe_makes_of_it(client: TestClient, coat: dict):
    before = points_of(client, coat)
    vertex = int(np.argmin(np.linalg.norm(before - [0.08, 0.95, 0.16], axis=1)))
    took = []
    with client.websocket_connect(f"/api/pieces/{coat['id']}/hand") as socket:
        assert frame(socket.receive_bytes())[1]["ready"]
        socket.send_json({"do": "begin", "vertex": vertex, "stroke": {"tool": "pull", "radius": 0.08, "mirror": False}})
        frame(socket.receive_bytes())
        for k in range(20):
            socket.send_json({"do": "dab", "vertex": vertex, "move": [0.0, 0.0, 0.003 * k]})
            arrays, notes = frame(socket.receive_bytes())
            took.append(notes["ms"])
        assert np.abs(arrays["points"][np.flatnonzero(arrays["rows"] == vertex)[0]] - before[vertex] - [0, 0, 0.057]).max() < 1e-5
        socket.send_json({"do": "end"})
        stroke = frame(socket.receive_bytes())[1]["stroke"]
        socket.send_json({"do": "begin", "vertex": vertex, "stroke": {"tool": "hammer"}})
        assert "tool" in frame(socket.receive_bytes())[1]["problem"]
    assert np.median(took) < 100  # the figure itself stands in the bench
    after = change(client, coat["id"], [*coat["recipe"]["steps"], stroke])
    move = points_of(client, after) - before
    assert np.abs(move[vertex] - [0, 0, 0.057]).max() < 1e-5
    assert (np.abs(move).max(axis=1) > 1e-6).sum() < 0.2 * len(move)
    undone = client.post(f"/api/pieces/{coat['id']}/undo").json()
    assert np.array_equal(points_of(client, undone), before)


def test_adjusters_openings_and_parts_of_the_coat(client: TestClient, coat: dict):
    arrays, notes = frame(client.get(f"/api/pieces/{coat['id']}/adjusters").content)
    names = [a["name"] for a in notes["adjusters"]]
    assert {"out chest", "raise hem", "raise left cuff", "flare hem", "lift", "sit"} <= set(names)
    assert len(arrays["delta_counts"]) == len(names)
    assert {o["name"] for o in notes["openings"]} >= {"hem", "neck", "left cuff", "right cuff"}
    parts = client.get(f"/api/pieces/{coat['id']}/parts").json()
    assert [p["stiff"] for p in parts] == [False] * (len(parts) - 6) + [True] * 6
    button = parts[-1]["row"]
    off = change(client, coat["id"], [*coat["recipe"]["steps"], {"kind": "drop", "parts": [button]}])
    assert len(client.get(f"/api/pieces/{coat['id']}/parts").json()) == len(parts) - 1
    assert off["report"]["work"][0]["kind"] == "drop"


def test_a_failing_cut_is_told_and_undone_without_loss(client: TestClient, coat: dict):
    miss = {"kind": "trim", "cut": {"by": "plane", "point": [5, 0, 0], "normal": [1, 0, 0]}, "off": [6, 0, 0]}
    failed = change(client, coat["id"], [*coat["recipe"]["steps"], miss])
    assert failed["status"] == "failed"
    assert "does not meet" in failed["error"]["what"]
    back = client.post(f"/api/pieces/{coat['id']}/undo").json()
    assert (back["status"], back["geometry"]) == ("done", coat["geometry"])


def test_placements_are_proposed_dropped_and_snapped(client: TestClient, coat: dict):
    ask = lambda **asked: client.post(f"/api/pieces/{coat['id']}/place", json=asked)  # noqa: E731
    assert ask(how="propose").json()["why"]
    step = ask(how="snap", row=10, landmark="left shoulder").json()["step"]
    shoulder = next(m["at"] for m in client.get("/api/landmarks", params={"wearer": client.get(
        "/api/production").json()["cast"][0]["id"]}).json() if m["name"] == "left shoulder")
    snapped = change(client, coat["id"], [{"kind": "receive"}, step])
    assert np.linalg.norm(points_of(client, snapped)[10] - shoulder) == pytest.approx(0.006, abs=1e-4)
    assert ask(how="snap", row=10**7, landmark="left shoulder").status_code == 422
    assert ask(how="snap", row=1, landmark="left wing").status_code == 422
    lifted = change(client, coat["id"], [{"kind": "receive"}, {"kind": "place", "move": [0, 1.5, 0]}])
    assert lifted["status"] == "done"
    fall = ask(how="drop").json()["step"]["move"][1] - 1.5
    assert -1.5 < fall < -0.2


def test_a_preview_shows_about_what_the_fit_will_be(client: TestClient, coat: dict):
    asked = {"step": {"kind": "fit", "ease": 0.02}}
    shown, _ = frame(client.post(f"/api/pieces/{coat['id']}/fit-preview", json=asked).content)
    began = time.perf_counter()
    client.post(f"/api/pieces/{coat['id']}/fit-preview", json={"step": {"kind": "fit", "ease": 0.021}})
    assert time.perf_counter() - began < 20
    kept = change(client, coat["id"], [{"kind": "receive"}, {"kind": "place"}, asked["step"]])
    assert np.median(np.linalg.norm(points_of(client, kept) - shown["points"], axis=1)) < 0.004


@pytest.mark.slow("core/fit", "core/receive", "studio/rail")
def test_a_glove_is_grown_and_an_outfit_fitted_by_rail_order(client: TestClient, coat: dict):
    production = client.get("/api/production").json()
    choices = client.get("/api/grow").json()
    asked = {"wearer": production["cast"][0]["id"], "name": "Moor gloves", "regions": choices["gloves"], "ease": 0.002}
    made = client.post("/api/pieces/grow", json=asked)
    assert made.status_code == 201, made.text
    drain()
    gloves = standing(client, made.json()["id"])
    assert gloves["status"] == "done", gloves["error"]
    assert gloves["report"]["bind"]["joints"] > 20
    assert client.post("/api/pieces/grow", json={**asked, "regions": ["fin"]}).status_code == 422
    assert client.post("/api/outfit/fit", json={"outfit": client.get("/api/outfits").json()[0]["id"], "ease": 0.004}).status_code == 202
    drain()
    rail = [p for p in client.get("/api/production").json()["pieces"] if not p["recipe"].get("body")]
    over = {p["name"]: len(next((s["over"] for s in p["recipe"]["steps"] if s["kind"] == "fit"), [])) for p in rail}
    assert over["Moor gloves"] == max(over.values()) > 0  # the outermost rests on all the others
    assert all(p["status"] == "done" for p in rail)
    for p in rail:
        client.post(f"/api/pieces/{p['id']}/undo")
    client.delete(f"/api/pieces/{gloves['id']}")
