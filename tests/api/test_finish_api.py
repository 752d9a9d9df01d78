"""Finishing through the API: what is measured and packed is finished, what the steps work on is not, and taking it back leaves no trace."""

import numpy as np
import pygltflib
import pytest
from fastapi.testclient import TestClient

from tests.api.app import drain, frame, standing


def _finish(client: TestClient, piece: dict, finish: dict | None, code: int = 200) -> dict:
    asked = {"recipe": {**piece["recipe"], "finish": finish}, "label": "Finish"}
    answer = client.put(f"/api/pieces/{piece['id']}/recipe", json=asked)
    assert answer.status_code == code, answer.text
    drain()
    return standing(client, piece["id"])


@pytest.mark.slow("core/finish", "core/model", "formats")
def test_the_pack_is_finished_the_steps_work_on_the_cloth_as_it_was(client: TestClient, coat: dict):
    plain = frame(client.get(f"/api/pieces/geometry/{coat['geometry']}").content)[0]
    piece = _finish(client, coat, {"finer": 1, "thick": 0.002, "hem": 0.02})
    assert piece["geometry"] == coat["geometry"]
    shown = frame(client.get(f"/api/pieces/geometry/{piece['finished']}").content)[0]
    assert len(shown["points"]) > 8 * len(plain["points"]) * 0.9
    assert piece["report"]["finish"]["triangles"] == len(shown["triangles"]) > 8 * len(plain["triangles"])
    assert piece["report"]["fit"] == coat["report"]["fit"]
    production = client.get("/api/production").json()
    wearer = production["cast"][0]
    cell = {"shape": wearer["shape"], "pose": "stand"}
    for unfinished, mesh in ((False, shown), (True, plain)):
        arrays, _ = frame(client.post("/api/cell", json={**cell, "unfinished": unfinished}).content)
        assert len(arrays[f"clearance:{piece['name']}"]) == len(mesh["points"])
    pack = client.get(f"/api/packs/{wearer['id']}.glb").content
    read = pygltflib.GLTF2.load_from_bytes(pack)
    node = next(n for n in read.nodes if n.name.startswith("piece:"))
    drawn = sum(read.accessors[p.indices].count for p in read.meshes[node.mesh].primitives)
    assert drawn == 3 * len(shown["triangles"])
    assert np.isfinite(shown["points"]).all()
    switched = _finish(client, piece, {"finer": 1, "thick": 0.002, "off": ["finer", "thick"]})
    assert switched["finished"] is None
    assert switched["report"].get("finish") is None
    assert switched["geometry"] == coat["geometry"]


def test_a_finish_that_is_too_fine_says_so_and_the_piece_stands(client: TestClient, coat: dict):
    _finish(client, coat, {"thick": 1.0}, code=422)
    _finish(client, coat, {"polish": 1}, code=422)
    assert standing(client, coat["id"])["geometry"] == coat["geometry"]
