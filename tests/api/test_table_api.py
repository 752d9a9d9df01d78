"""The cutting table over HTTP and its live socket."""

from copy import deepcopy

import numpy as np
import pytest
from fastapi.testclient import TestClient

from tests.api.app import drain, frame, standing


@pytest.fixture
def cast(client: TestClient) -> list[dict]:
    return client.get("/api/production").json()["cast"]


def begun(client: TestClient, wearer: dict, block: str = "tabard", **settings: float) -> dict:
    asked = {"name": f"The {block}", "wearer": wearer["id"], "block": block, "settings": settings}
    answer = client.post("/api/table/layouts", json=asked, headers={"X-Artist": "Marrow"})
    assert answer.status_code == 201, answer.text
    return answer.json()


def test_a_layout_is_drafted_changed_undone_and_done_again(client: TestClient, cast: list[dict]):
    assert {b["name"] for b in client.get("/api/table/blocks").json()} >= {"bodice", "tabard", "skirt", "trousers", "cape", "hood"}
    made = begun(client, cast[0], "skirt", length=0.5)
    at = f"/api/table/layouts/{made['id']}"
    assert (made["author"], made["can_undo"], made["layout"]["made"]["length"]) == ("Marrow", False, 0.5)
    assert made["seams"][0]["one"] == pytest.approx(made["edges"]["front"][1])
    dart = client.post(f"{at}/panels", json={"do": "dart", "panel": "back", "edge": 0, "wide": 0.03, "deep": 0.1}).json()
    assert len(dart["layout"]["seams"]) == len(made["layout"]["seams"]) + 1
    layout = deepcopy(dart["layout"])
    layout["panels"][0]["grain"] = 45
    kept = client.put(at, json={"layout": layout, "label": "On the bias", "based_on": dart["edit"]})
    assert kept.json()["label"] == "On the bias"
    stale = client.put(at, json={"layout": layout, "label": "Again", "based_on": dart["edit"]})
    assert (stale.status_code, "another window" in stale.json()["what"]) == (409, True)
    assert client.post(f"{at}/undo").json()["layout"]["panels"][0]["grain"] == 0
    back = client.post(f"{at}/undo").json()
    assert (back["layout"], back["redo_label"]) == (made["layout"], "A dart in back")
    assert client.post(f"{at}/redo").json()["layout"] == dart["layout"]
    graded = client.post(f"{at}/grade", json={"wearer": cast[1]["id"]}).json()
    assert graded["wearer"] == cast[1]["id"]
    assert graded["edges"]["front"] != dart["edges"]["front"]
    assert client.delete(at).status_code == 204
    assert client.get(at).status_code == 404


def test_what_cannot_be_cut_is_told_and_not_kept(client: TestClient, cast: list[dict]):
    made = begun(client, cast[0])
    at, layout = f"/api/table/layouts/{made['id']}", deepcopy(made["layout"])
    layout["panels"][0]["outline"][2]["at"] = [0.01, layout["panels"][0]["outline"][5]["at"][1] - 0.3]
    crossed = client.put(at, json={"layout": layout, "label": "A knot"})
    assert (crossed.status_code, "crosses itself" in crossed.json()["what"]) == (422, True)
    assert client.get(at).json()["layout"] == made["layout"]
    wrong = client.post("/api/table/layouts", json={"name": "x", "wearer": cast[0]["id"], "block": "tabard", "settings": {"length": 9}})
    assert "below the waist" in wrong.json()["what"]
    assert client.post(f"{at}/panels", json={"do": "dart", "panel": "front", "edge": 5}).json()["what"] == "that edge is the fold line"


def test_panels_go_out_and_come_in_as_drawings(client: TestClient, cast: list[dict]):
    made = begun(client, cast[0], "trousers")
    for ending in ("svg", "dxf"):
        file = client.get(f"/api/table/layouts/{made['id']}/panels.{ending}")
        assert "the-trousers" in file.headers["content-disposition"]
        again = client.post(f"/api/table/layouts/read?wearer={cast[0]['id']}", files=[("files", (f"marsh.{ending}", file.content))])
        assert again.status_code == 201, again.text
        assert (again.json()[0]["name"], [p["name"] for p in again.json()[0]["layout"]["panels"]]) == ("marsh", ["front", "back"])
    none = client.post(f"/api/table/layouts/read?wearer={cast[0]['id']}", files=[("files", ("marsh.pdf", b"x"))])
    assert "holds no panels" in none.json()["what"]


@pytest.mark.slow("core/table", "core/drape", "studio/table", "api/resources/table")
def test_a_tabard_is_sewn_on_a_socket_and_hung_on_the_rail(client: TestClient, cast: list[dict]):
    made = begun(client, cast[0])
    with client.websocket_connect(f"/api/table/layouts/{made['id']}/sew") as socket:
        assert frame(socket.receive_bytes())[1]["ready"]

        def ask(**message) -> tuple[dict, dict]:
            socket.send_json(message)
            return frame(socket.receive_bytes())

        assert "nothing has been begun" in ask(do="next")[1]["problem"]
        assert "faces of 1 mm" in ask(do="begin", wearer=cast[0]["id"], size=0.001)[1]["problem"]
        arrays, notes = ask(do="begin", wearer=cast[0]["id"], size=0.03)
        assert (notes["frames"], len(arrays["points"])) == (0, notes["vertices"])
        assert notes["seam_open"] > 0.1
        ask(do="next")
        assert "not closed yet" in ask(do="keep", author="Marrow")[1]["problem"]
        while notes["frames"] < 40:
            arrays, notes = ask(do="next")
        assert notes["seam_open"] < 0.006
        piece = ask(do="keep", author="Marrow")[1]["kept"]
        drain()
    rail = [p for p in client.get("/api/production").json()["pieces"] if p["id"] != piece and p["geometry"]]
    with client.websocket_connect(f"/api/table/layouts/{made['id']}/sew") as socket:
        frame(socket.receive_bytes())
        socket.send_json({"do": "begin", "wearer": cast[0]["id"], "size": 0.04, "over": True})
        dressed, _ = frame(socket.receive_bytes())
        assert ("under" in dressed) == bool(rail)
    worn = standing(client, piece)
    assert (worn["status"], worn["name"], worn["category"]) == ("done", "The tabard", "top")
    assert worn["recipe"]["steps"][0]["made_for"]["name"] == cast[0]["name"]
    geometry, _told = frame(client.get(f"/api/pieces/geometry/{worn['geometry']}").content)
    assert np.ptp(geometry["points"][:, 1]) == pytest.approx(np.ptp(arrays["points"][:, 1]), abs=0.01)
    # the panels are changed, and the piece is hung anew from them; undone, it is what it was
    longer = deepcopy(made["layout"])
    for panel in longer["panels"]:
        hem = min(corner["at"][1] for corner in panel["outline"])
        for corner in panel["outline"]:
            corner["at"][1] -= 0.1 * (corner["at"][1] < hem + 0.02)
    put = client.put(f"/api/table/layouts/{made['id']}", json={"layout": longer, "label": "Longer", "based_on": made["edit"]})
    assert put.status_code == 200, put.text
    with client.websocket_connect(f"/api/table/layouts/{made['id']}/sew") as socket:
        frame(socket.receive_bytes())
        message, notes = {"do": "begin", "wearer": cast[0]["id"], "size": 0.03}, {"frames": 0}
        while notes["frames"] < 40:
            socket.send_json(message)
            _, notes = frame(socket.receive_bytes())
            message = {"do": "next"}
        assert notes["hangs"] == "The tabard"
        socket.send_json({"do": "keep", "author": "Marrow", "anew": True})
        assert frame(socket.receive_bytes())[1]["kept"] == piece
        drain()
    tall = lambda: np.ptp(frame(client.get(f"/api/pieces/geometry/{standing(client, piece)['geometry']}").content)[0]["points"][:, 1])  # noqa: E731
    assert tall() == pytest.approx(np.ptp(geometry["points"][:, 1]) + 0.1, abs=0.02)
    assert standing(client, piece)["undo_label"] == "Cut The tabard anew"
    client.post(f"/api/pieces/{piece}/undo")
    assert standing(client, piece)["geometry"] == worn["geometry"]
    assert client.delete(f"/api/pieces/{piece}").status_code in (200, 204)
