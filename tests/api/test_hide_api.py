"""Hiding by hand through the API: what a line would take, the holes that would open, and the skin that is then missed."""

import numpy as np
from fastapi.testclient import TestClient

from tests.api.app import change, frame, standing

FLAT = [0.5, 0, 0, 0, 0, 0.5, 0, -0.5, 0, 0, -0.1, 0, 0, 0, 0, 1.0]
"""A camera far off in front: x and y halved, the floor at the lower edge."""


def square(x: float, y: float, half: float) -> list[list[float]]:
    return [[0.5 * (x + a * half), 0.5 * (y + b * half) - 0.5] for a, b in [(-1, -1), (1, -1), (1, 1), (-1, 1)]]


def test_what_is_safe_to_hide_is_missed_in_no_cell_and_a_line_on_the_shin_opens_a_hole_in_each(client: TestClient, coat: dict):
    production = client.get("/api/production").json()
    wearer = production["cast"][0]
    cell = {"shape": wearer["shape"], "pose": "stand"}
    ask = lambda line, **more: client.post(  # noqa: E731
        f"/api/pieces/{coat['id']}/lasso", json={"cell": cell, "clip": FLAT, "outline": line, **more}).json()
    flank, shin = ask(square(0.08, 0.98, 0.04)), ask(square(0.1, 0.25, 0.05))
    assert flank["added"] == len(flank["faces"]) > 20
    assert flank["cells"] == len(production["cast"]) * len(production["poses"])
    change(client, coat["id"], [*coat["recipe"]["steps"], {"kind": "hide", "faces": flank["safe"]}])
    assert standing(client, coat["id"])["report"]["hide"]["faces"] == len(flank["safe"]) > 20
    for w in production["cast"]:
        for pose in production["poses"]:
            asked = {"shape": w["shape"], "pose": pose["name"]}
            assert frame(client.post("/api/cell", json=asked).content)[1]["figures"]["holes_cm2"] == 0.0
    assert len(shin["open"]) == shin["cells"]
    assert shin["safe"] == []
    change(client, coat["id"], [*coat["recipe"]["steps"], {"kind": "hide", "faces": shin["faces"]}])
    piece = standing(client, coat["id"])
    assert piece["report"]["hide"] == {"faces": len(shin["faces"]), "of": piece["report"]["hide"]["of"], "cells": 0, "by_hand": True}
    arrays, notes = frame(client.post("/api/cell", json=cell).content)
    assert notes["figures"]["holes"][0]["of"] == "Skin"
    worst = max(shin["open"], key=lambda c: c["area_cm2"])["area_cm2"]
    assert 0.3 * worst < notes["figures"]["holes_cm2"] < 1.2 * worst
    assert set(np.asarray(arrays["hole_faces"]).ravel()) <= set(shin["faces"])
    back = ask(square(0.1, 0.25, 0.3), how="show")
    assert (back["faces"], back["added"], back["open"]) == ([], -len(shin["faces"]), [])
    change(client, coat["id"], [*coat["recipe"]["steps"], {"kind": "hide", "faces": [], "by_hand": True}])
    assert standing(client, coat["id"])["report"]["hide"]["faces"] == 0  # all brought back by hand, not hidden anew


def test_a_line_that_is_none_is_refused(client: TestClient, coat: dict):
    asked = {"cell": {"shape": {}, "pose": "stand"}, "clip": FLAT, "outline": [[0, 0], [1, 0]]}
    assert client.post(f"/api/pieces/{coat['id']}/lasso", json=asked).status_code == 422
    assert client.post(f"/api/pieces/{coat['id']}/lasso", json=asked | {"outline": [[0, 0], [1, 0], [9, 9]]}).status_code == 422
