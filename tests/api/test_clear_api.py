"""Explaining, waiving, planning and exporting through the API."""

import csv
import io
import json

import pytest
from fastapi.testclient import TestClient
from PIL import Image

from tests.api.app import change, drain, measured, standing


def shown(trial: dict, over: str) -> dict[tuple[int, str], float]:
    return {(c["wearer"], c["pose"]): next(p["area_cm2"] for p in c["figures"]["pairs"] if p["over"] == over) for c in trial["cells"]}


@pytest.mark.slow("core/clearance", "core/clear", "studio")
def test_a_cell_is_explained_line_by_line_and_a_remedy_does_what_it_says(client: TestClient, tight: dict):
    wearer = client.get("/api/production").json()["cast"][0]
    cell = {"shape": wearer["shape"], "pose": "stride"}
    answer = client.post("/api/explain", json={"cell": cell, "over": tight["name"], "wearer": wearer["id"]})
    lines = [json.loads(line) for line in answer.text.splitlines()]
    assert lines[-1]["done"]
    assert {x["cause"]["kind"] for x in lines if x["cause"]} >= {"pose", "shape", "rest fit"}
    remedies = [x["remedy"] for x in lines if x["remedy"]]
    best = min((r for r in remedies if r["do"].get("keep")), key=lambda r: r["cost"])
    step = {"kind": "clear", "cells": [cell], "ease": 0.004, "keep": best["do"]["keep"], "way": best["do"]["way"]}
    change(client, tight["id"], [*tight["recipe"]["steps"], step])
    report = standing(client, tight["id"])["report"]["clear"][-1]["cells"][0]
    assert report["after"]["area_cm2"] == pytest.approx(best["area_cm2"], abs=0.05)
    assert client.post("/api/explain", json={"cell": cell, "over": "No such cloak"}).json()["todo"]


@pytest.mark.slow("core/clearance", "core/clear", "studio")
def test_a_doubtful_made_for_body_is_undone_and_measured(client: TestClient, tight: dict):
    cast = client.get("/api/production").json()["cast"]
    told = {"name": "The miller", "body": "", "shape": {"stature": 1.0}}  # a head taller: much of the coat would lie under his skin
    steps = [{**s, "made_for": told} if s["kind"] == "receive" else s for s in tight["recipe"]["steps"]]
    change(client, tight["id"], steps)
    piece = standing(client, tight["id"])
    assert next(c for c in client.get(f"/api/pieces/{tight['id']}/made-for").json() if c["name"] == "The miller")["warning"]
    cell = {"shape": cast[0]["shape"], "pose": "kneel"}
    answer = client.post("/api/explain", json={"cell": cell, "over": piece["name"], "wearer": cast[0]["id"]})
    causes = {x["cause"]["kind"]: x["cause"] for x in map(json.loads, answer.text.splitlines()) if x["cause"]}
    assert "taken as made for" in causes["made for"]["words"]
    likeliest = client.get(f"/api/pieces/{tight['id']}/made-for").json()[0]["name"]
    assert likeliest in causes["made for"]["words"]


def test_the_sheet_is_planned_carried_out_and_taken_back_in_one_step(
    client: TestClient, tight: dict, monkeypatch: pytest.MonkeyPatch
):
    before = measured(client)
    failing = {k for k, a in shown(before, tight["name"]).items() if a > 0.1}
    assert failing
    left = min(failing)
    client.post("/api/waivers", json={"wearer": left[0], "pose": left[1], "over": tight["name"], "reason": "Behind the mail cart"})
    done = killed_once(client.post("/api/plans").json()["id"], monkeypatch)
    drain()
    assert len(done["steps"]) == len(set(done["steps"]))  # what was tried before the worker died is not tried again
    assert len(done["cells"]) == len(set(done["cells"]))  # no cell is measured twice, nor what the trial has measured
    plan = client.get("/api/plans/latest").json()
    assert plan["state"] == "ready", plan["why"]
    assert plan["lines"], plan["why"]
    assert standing(client, tight["id"])["edit"] == tight["edit"]  # nothing is changed by planning
    assert client.post(f"/api/plans/{plan['id']}/undo").status_code == 422
    client.post(f"/api/plans/{plan['id']}/carry-out")
    then = standing(client, tight["id"])
    assert then["edit"] != tight["edit"]
    assert then["geometry"] != tight["geometry"]
    assert then["status"] == "done"
    after = measured(client)
    expected = {(c["wearer"], c["pose"]): c["after_cm2"] for c in plan["cells"]}
    for c in after["cells"]:
        assert c["figures"]["area_cm2"] == pytest.approx(expected[c["wearer"], c["pose"]], abs=0.02)
    was, now = shown(before, tight["name"]), shown(after, tight["name"])
    assert sum(now.values()) < 0.2 * sum(was.values())
    assert all(now[k] <= was[k] + 0.1 for k in was)  # no cell gets worse
    clears = [s for s in then["recipe"]["steps"] if s["kind"] == "clear"]
    wearers = {w["id"]: w["shape"] for w in client.get("/api/production").json()["cast"]}
    assert not any(c["shape"] == wearers[left[0]] and c["pose"] == left[1] for s in clears for c in s["cells"])  # what is left is left
    client.post(f"/api/plans/{plan['id']}/undo")
    assert standing(client, tight["id"])["geometry"] == tight["geometry"]
    for waiver in client.get("/api/waivers").json():
        client.delete(f"/api/waivers/{waiver['id']}")
    runs = client.get("/api/trials").json()
    assert runs[0]["id"] == after["id"]
    assert runs[0]["holding"] >= runs[1]["holding"]


@pytest.mark.slow("core/clearance", "core/clear", "studio")
def test_one_cell_is_planned_alone_and_its_step_comes_to_what_was_measured(client: TestClient, tight: dict):
    from wily_heron.core.bench import evaluate
    from wily_heron.core.clear.outfit import together

    before = measured(client)
    worst = max(before["cells"], key=lambda c: c["figures"]["area_cm2"])
    asked = {"wearer": worst["wearer"], "pose": worst["pose"]}
    assert client.post("/api/plans", json=asked).json()["cell"] == asked
    drain()
    plan = client.get("/api/plans/latest").json()
    assert plan["state"] == "ready", plan["why"]
    assert {c["pose"] for c in plan["cells"]} == {worst["pose"]}
    mine = next(c for c in plan["cells"] if c["wearer"] == worst["wearer"])
    assert mine["after_cm2"] < 0.1 * mine["before_cm2"]
    assert mine["before_cm2"] == worst["figures"]["area_cm2"]
    client.post(f"/api/plans/{plan['id']}/carry-out")
    then = standing(client, tight["id"])
    (step,) = [s for s in then["recipe"]["steps"] if s["kind"] == "clear"]
    assert (step["way"], [c["pose"] for c in step["cells"]]) == ("outfit", [worst["pose"]])
    # run anew, as after any change before it, the step comes to the same
    client.post(f"/api/plans/{plan['id']}/undo")
    evaluate._MEMO.clear()
    together._KNOWN.clear()
    client.put(f"/api/pieces/{tight['id']}/recipe", json={"recipe": then["recipe"], "label": "Again", "based_on": tight["edit"]})
    drain()
    assert standing(client, tight["id"])["geometry"] == then["geometry"]
    client.post(f"/api/pieces/{tight['id']}/undo")
    gone = client.post("/api/plans", json={"wearer": 10**6, "pose": worst["pose"]}).json()
    drain()
    assert "not on the sheet" in client.get("/api/plans/latest").json()["why"]
    assert gone["state"] == "planning"


def test_a_plan_that_is_cancelled_stops_amid_a_cell(client: TestClient, tight: dict, monkeypatch: pytest.MonkeyPatch):
    from wily_heron.core.clear.outfit import together
    from wily_heron.studio.plan import planning
    from wily_heron.studio.plan import together as plan_together
    from wily_heron.studio.plan.rail import Stopped

    together._KNOWN.clear()
    measured(client)
    plan, stopped = client.post("/api/plans").json()["id"], []
    clear = plan_together.outfit_cleared

    def cancelled(*asked: object) -> object:
        client.delete(f"/api/plans/{plan}")
        with pytest.raises(Stopped) as why:
            clear(*asked)
        stopped.append(why)
        raise why.value

    monkeypatch.setattr(plan_together, "outfit_cleared", cancelled)
    planning.make_plan(plan)
    assert len(stopped) == 1
    assert client.get("/api/plans/latest").json()["state"] == "cancelled"
    drain()
    assert standing(client, tight["id"])["edit"] == tight["edit"]


def killed_once(plan: int, monkeypatch: pytest.MonkeyPatch) -> dict[str, list]:
    """Begin a plan on a worker that dies in its third cell; return the cells measured and the steps tried, from now on."""
    from wily_heron.store.blobs.arrays import piece_bytes
    from wily_heron.studio.plan import cells as plan_cells
    from wily_heron.studio.plan import planning
    from wily_heron.studio.plan import rail as plan_rail

    done: dict[str, list] = {"cells": [], "steps": []}
    measured_, evaluate_ = plan_cells.measured, plan_rail.evaluate

    def counted(dressed, column, shots=None):
        if len(done["cells"]) == 2 and not done.get("dead"):
            done["dead"] = [True]
            raise SystemExit
        done["cells"].append((column, dressed.wearer.shape.tobytes(), *map(piece_bytes, dressed.pieces)))
        return measured_(dressed, column, shots)

    def told(source, recipe, *more):
        done["steps"].append(recipe.model_dump_json())
        return evaluate_(source, recipe, *more)

    monkeypatch.setattr(plan_cells, "measured", counted)
    monkeypatch.setattr(plan_rail, "evaluate", told)
    with pytest.raises(SystemExit):
        planning.make_plan(plan)
    return done


def test_a_run_is_exported_as_table_data_and_picture(client: TestClient, tight: dict):
    trial = measured(client)
    rows = list(csv.DictReader(io.StringIO(client.get(f"/api/trials/{trial['id']}.csv").text)))
    data = client.get(f"/api/trials/{trial['id']}.json").json()
    places = sum(len(p["places"]) for c in data["cells"] for p in c["pairs"])
    assert len([r for r in rows if r["place"]]) == places > 0
    assert sum(float(r["place_cm2"]) for r in rows if r["place"]) == pytest.approx(sum(c["area_cm2"] for c in data["cells"]), abs=0.05)
    picture = Image.open(io.BytesIO(client.get(f"/api/trials/{trial['id']}.png").content))
    wearers, poses = ({c[k] for c in trial["cells"]} for k in ("wearer", "pose"))
    assert picture.width > len(poses) * 180
    assert picture.height > len(wearers) * 240
    client.put("/api/pins", json={"wearer": trial["cells"][0]["wearer"], "pose": trial["cells"][0]["pose"]})
    assert len(client.get("/api/pins").json()) == 1
    client.put("/api/pins", json={"wearer": trial["cells"][0]["wearer"], "pose": trial["cells"][0]["pose"], "pinned": False})
    assert client.get("/api/pins").json() == []


def test_skin_is_hidden_and_goes_into_the_pack(client: TestClient, coat: dict):
    production = client.get("/api/production").json()
    wearer = production["cast"][0]
    cells = [{"shape": wearer["shape"], "pose": p["name"]} for p in production["poses"]]
    change(client, coat["id"], [*coat["recipe"]["steps"], {"kind": "hide", "cells": cells}])
    report = standing(client, coat["id"])["report"]["hide"]
    assert 500 < report["faces"] < report["of"]
    assert report["cells"] == len(cells)
    pack = client.get(f"/api/packs/{wearer['id']}.glb").content
    size = int.from_bytes(pack[12:16], "little")
    scene = json.loads(pack[20 : 20 + size])["scenes"][0]["extras"]["wily_heron"]
    assert len(scene["hidden_body_faces"]) == report["faces"]


def test_a_plan_finds_cells_that_fail_between_a_piece_and_a_layer_that_is_not_next_to_it(database):
    from wily_heron.core.clearance.figures import Figures, PairFigures
    from wily_heron.core.motion.pose_library import POSES
    from wily_heron.store.productions.wearers import CastRow
    from wily_heron.studio.plan.cells import Measured, failing_under

    pairs = tuple(PairFigures(over=over, under=under, clearance_mm=-area, area_cm2=area, places=())
                  for over, under, area in (("Coat", "Boots", 0.0), ("Coat", "Skin", 2.0), ("Boots", "Skin", 0.0)))
    sheet = {(1, "stride"): Measured(Figures(clearance_mm=-2.0, area_cm2=2.0, places=1, holds=False, pairs=pairs), POSES["stride"])}
    who = [CastRow(id=1, name="Ibbet", shape={}, body=None, outfit=1)]
    assert [(w.id, c) for w, c, _ in failing_under("Coat", who, sheet, {})] == [(1, "stride")]
    assert failing_under("Boots", who, sheet, {}) == []
    assert failing_under("Coat", who, sheet, {}, under="Boots") == []
    assert len(failing_under("Coat", who, sheet, {}, under="Skin")) == 1
    assert failing_under("Coat", who, sheet, {(1, "stride", "Coat"): False}) == []
