"""The trial sheet at scale: motions by their worst frame, hunts for failures, causes of every cell, and workers that die."""

import os
import signal
import subprocess
import sys
import time

import pytest
from fastapi.testclient import TestClient

from tests.api.app import drain, frame, measured
from wily_heron.core.figure.base.body import shape_values, shaped
from wily_heron.core.figure.figure import figure
from wily_heron.core.motion.clips import clip_named

KILLED = -signal.SIGKILL


@pytest.fixture
def walking(client: TestClient):
    client.put("/api/motions/sheet", json={"motion": "walk"})
    yield
    client.put("/api/motions/sheet", json={"motion": "walk", "there": False})


def cell_in(client: TestClient, shape: dict, rotations: dict) -> dict:
    asked = {"shape": shape, "pose": "by-hand", "rotations": rotations}
    return frame(client.post("/api/cell", json=asked).content)[1]["figures"]


@pytest.mark.slow("core/clearance", "core/clear", "studio")
def test_a_motion_stands_for_its_worst_frame(client: TestClient, tight: dict, walking: None):
    from wily_heron.core.clearance.cell import Dressed
    from wily_heron.store.rail.pieces import piece_at

    assert client.put("/api/motions/sheet", json={"motion": "gallop"}).status_code == 404
    production = client.get("/api/production").json()
    assert [m["name"] for m in production["motions"]] == ["walk"]
    trial = measured(client)
    assert trial["total"] == len(production["cast"]) * (len(production["poses"]) + 1)
    walk = clip_named("walk", figure(1).skeleton)
    for wearer in production["cast"]:
        own = next(c for c in trial["cells"] if c["wearer"] == wearer["id"] and c["pose"] == "motion:walk")["figures"]
        dressed = Dressed(shaped(figure(), shape_values(figure(), wearer["shape"])), {tight["name"]: piece_at(tight["geometry"])})
        every = [dressed.measure(walk.pose(f)).figures.area_cm2 for f in range(0, len(walk.rotations), 2)]
        assert own["area_cm2"] >= max(every) - 0.1
        assert own["area_cm2"] == pytest.approx(dressed.measure(walk.pose(own["frame"])).figures.area_cm2, abs=0.01)
        assert cell_in(client, wearer["shape"], own["rotations"])["area_cm2"] == pytest.approx(own["area_cm2"], abs=0.05)
    assert b"Walk" in client.get(f"/api/trials/{trial['id']}.csv").content
    assert client.get(f"/api/trials/{trial['id']}.png").status_code == 200


def test_a_hunt_finds_what_fails_worst_first_on_the_cast_and_on_mixes(client: TestClient, tight: dict):
    started = client.post("/api/hunts", json={"poses": 5, "share": 0.8, "mixes": 2}).json()
    assert (started["state"], started["done"], started["total"]) == ("running", 0, 5 * 4)
    drain()
    hunt = client.get("/api/hunts/latest").json()
    assert (hunt["state"], hunt["done"]) == ("done", hunt["total"])
    assert sum(f["fails_on"] for f in hunt["worst"]) == hunt["failed"] > 0
    assert hunt["wearers"] == 4
    areas = [f["figures"]["area_cm2"] for f in hunt["worst"]]
    assert areas == sorted(areas, reverse=True)
    for found in (hunt["worst"][0], hunt["worst"][-1]):
        assert not found["figures"]["holds"]
        assert cell_in(client, found["shape"], found["rotations"])["area_cm2"] == pytest.approx(found["figures"]["area_cm2"], abs=0.001)
        assert client.get(f"/api/pictures/{found['picture']}.png").status_code == 200
    pose = client.post("/api/poses/own", json={"label": "Found", "rotations": hunt["worst"][0]["rotations"]}).json()
    assert pose["name"] in [p["name"] for p in client.get("/api/production").json()["poses"]]
    client.delete(f"/api/poses/{pose['name']}")
    again = client.post("/api/hunts", json={"poses": 2, "mixes": 0}).json()
    assert again["seed"] != hunt["seed"]
    assert client.delete(f"/api/hunts/{again['id']}").json()["state"] == "cancelled"
    drain()
    assert client.get("/api/hunts/latest").json()["done"] == 0
    assert client.post("/api/hunts", json={"poses": 0}).status_code == 422


@pytest.mark.slow("core/clearance", "core/clear", "studio")
def test_every_failing_cell_is_told_its_cause_and_a_new_run_knows_it(client: TestClient, tight: dict):
    trial = measured(client)
    failing = [c for c in trial["cells"] if not c["figures"]["holds"]]
    assert failing
    assert all(c["causes"] is None for c in trial["cells"])
    client.post(f"/api/trials/{trial['id']}/causes")
    drain()
    for c in client.get(f"/api/trials/{trial['id']}").json()["cells"]:
        assert (c["causes"] is None) == c["figures"]["holds"]
        assert all(cause["over"] == tight["name"] and cause["words"] for cause in c["causes"] or [])
    assert any(c["causes"] for c in measured(client)["cells"])  # taken over with the cell


@pytest.mark.slow("core/clearance", "core/clear", "studio")
def test_four_workers_lose_nothing_when_one_is_killed(client: TestClient, tight: dict):
    production = client.get("/api/production").json()
    more = [client.post("/api/poses", json={"name": n}).json()["name"] for n in ("sit", "stride", "crouch", "run", "squat")]
    start = lambda: subprocess.Popen([sys.executable, "-m", "wily_heron.jobs.worker"], env=dict(os.environ))  # noqa: E731
    workers, until = [start()], time.monotonic() + 240
    try:
        trial = client.post("/api/trials").json()["id"]
        total = len(production["cast"]) * (len(production["poses"]) + len(more))
        state = client.get(f"/api/trials/{trial}").json()
        while state["state"] == "running" and time.monotonic() < until:
            if len(workers) == 1 and state["done"]:  # it is in the middle of a wearer now
                workers[0].send_signal(signal.SIGKILL)
                workers += [start() for _ in range(3)]
            time.sleep(0.05)
            state = client.get(f"/api/trials/{trial}").json()
        assert workers[0].wait(10) == KILLED
        assert (state["state"], state["done"]) == ("done", total)
        assert not [c for c in state["cells"] if c["error"]]
    finally:
        for w in workers:
            w.terminate()
            w.wait(20)
        for name in more:
            client.delete(f"/api/poses/{name}")


@pytest.mark.slow("core/clearance", "core/clear", "studio")
def test_a_plan_clears_motions_in_their_worst_frames_too(client: TestClient, tight: dict, walking: None):
    before = {c["wearer"]: c["figures"] for c in measured(client)["cells"] if c["pose"] == "motion:walk"}
    assert any(f["area_cm2"] > 0.5 for f in before.values())
    client.post("/api/plans")
    drain()
    plan = client.get("/api/plans/latest").json()
    assert plan["state"] == "ready", plan["why"]
    planned = {c["wearer"]: c for c in plan["cells"] if c["pose"] == "motion:walk"}
    assert {w: c["before_cm2"] for w, c in planned.items()} == {w: pytest.approx(f["area_cm2"], abs=0.05) for w, f in before.items()}
    assert sum(c["after_cm2"] for c in planned.values()) < 0.5 * sum(f["area_cm2"] for f in before.values())
    client.post(f"/api/plans/{plan['id']}/carry-out")
    after = {c["wearer"]: c["figures"] for c in measured(client)["cells"] if c["pose"] == "motion:walk"}
    assert {w: f["area_cm2"] for w, f in after.items()} == {w: pytest.approx(c["after_cm2"], abs=0.1) for w, c in planned.items()}
    client.post(f"/api/plans/{plan['id']}/undo")
