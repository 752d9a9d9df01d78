"""Work is never lost: what waits without a job is asked for again, and a job that ends its workers is set aside."""

import asyncio
from collections.abc import Awaitable, Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from typing import TypeVar

import procrastinate
import pytest
from fastapi.testclient import TestClient

from tests.api.app import drain, standing
from wily_heron.jobs.lost import Lost, end_noted, rescue
from wily_heron.jobs.queue import app as queue
from wily_heron.jobs.queue import ask
from wily_heron.store.db import database_url, transaction
from wily_heron.studio import job_watch
from wily_heron.studio.rail import evaluating
from wily_heron.studio.work import Work

T = TypeVar("T")


def on_the_queue(work: Callable[[procrastinate.App], Awaitable[T]]) -> T:
    """Do what a worker does beside its jobs."""
    async def done() -> T:
        with queue.replace_connector(procrastinate.PsycopgConnector(conninfo=database_url())) as app:
            async with app.open_async():
                return await work(app)

    with ThreadPoolExecutor(1) as apart:
        return apart.submit(asyncio.run, done()).result()


@pytest.fixture
def asked(client: TestClient) -> Iterator[dict]:
    """A piece whose job stands in the queue."""
    drain()
    made = client.post("/api/pieces/practice").json()
    yield made
    drain()
    client.delete(f"/api/pieces/{made['id']}")


def in_the_queue(statement: str) -> int:
    with transaction() as connection:
        return connection.execute(statement).rowcount


def test_an_edit_whose_job_was_lost_is_asked_for_at_the_second_look(client: TestClient, asked: dict):
    assert in_the_queue("DELETE FROM procrastinate_jobs WHERE status = 'todo'") == 1
    lost = Lost()
    assert on_the_queue(lost.ask_again) == []  # its job may be about to be asked for
    assert [work.task for work in on_the_queue(lost.ask_again)] == ["evaluate_edit"]
    assert on_the_queue(lost.ask_again) == []
    drain()
    assert standing(client, asked["id"])["status"] == "done"


def test_two_workers_that_find_the_same_work_ask_for_it_once(client: TestClient, asked: dict):
    in_the_queue("DELETE FROM procrastinate_jobs WHERE status = 'todo'")
    one, two = Lost(), Lost()
    found = [{work.task for work in on_the_queue(lost.ask_again)} for lost in (one, two, one, two)]
    assert found[:2] == [set(), set()]
    assert found[2] == {"evaluate_edit"}
    assert in_the_queue("SELECT FROM procrastinate_jobs WHERE status = 'todo'") == 1


def test_an_edit_in_the_hands_of_a_job_that_dresses_is_left_to_it(client: TestClient, asked: dict):
    in_the_queue("UPDATE procrastinate_jobs SET task_name = 'dress_pieces', status = 'doing' WHERE status = 'todo'")
    lost = Lost()
    assert [on_the_queue(lost.ask_again) for _ in range(3)] == [[], [], []]
    assert in_the_queue("UPDATE procrastinate_jobs SET status = 'succeeded' WHERE task_name = 'dress_pieces' AND status = 'doing'") == 1
    assert [[work.task for work in on_the_queue(lost.ask_again)] for _ in range(2)] == [[], ["evaluate_edit"]]


def test_a_piece_whose_dressing_was_lost_is_put_on_all_the_same(client: TestClient, asked: dict):
    drain()
    client.post(f"/api/pieces/{asked['id']}/dress")
    assert standing(client, asked["id"])["dressing"]
    assert in_the_queue("DELETE FROM procrastinate_jobs WHERE task_name = 'dress_pieces' AND status = 'todo'") == 1
    lost = Lost()
    assert on_the_queue(lost.ask_again) == []
    assert [work.task for work in on_the_queue(lost.ask_again)] == ["dress_pieces"]
    drain()
    worn = standing(client, asked["id"])
    assert not worn["dressing"]
    assert {"fit", "bind", "follow"} <= {step["kind"] for step in worn["recipe"]["steps"]}
    assert [on_the_queue(lost.ask_again) for _ in range(2)] == [[], []]


def test_dressing_that_ends_three_workers_is_set_aside_and_waits_for_nobody(client: TestClient, asked: dict):
    drain()
    client.post(f"/api/pieces/{asked['id']}/dress")
    in_the_queue("UPDATE procrastinate_jobs SET status = 'doing', attempts = 2 WHERE status = 'todo'")
    on_the_queue(rescue)
    assert not standing(client, asked["id"])["dressing"]
    lost = Lost()
    assert [on_the_queue(lost.ask_again) for _ in range(3)] == [[], [], []]
    assert in_the_queue("DELETE FROM procrastinate_jobs WHERE status = 'failed'") == 1


def test_work_with_a_job_is_left_to_it(client: TestClient, asked: dict):
    lost = Lost()
    assert [on_the_queue(lost.ask_again) for _ in range(3)] == [[], [], []]
    assert in_the_queue("UPDATE procrastinate_jobs SET status = 'doing' WHERE status = 'todo'") == 1
    assert [on_the_queue(lost.ask_again) for _ in range(2)] == [[], []]
    on_the_queue(rescue)
    assert in_the_queue("SELECT FROM procrastinate_jobs WHERE status = 'todo' AND attempts = 1") == 1
    drain()
    assert standing(client, asked["id"])["status"] == "done"


def test_an_edit_that_ends_three_workers_says_so_and_is_not_begun_again(client: TestClient, asked: dict):
    in_the_queue("UPDATE procrastinate_jobs SET status = 'doing', attempts = 2 WHERE status = 'todo'")
    on_the_queue(rescue)
    told = standing(client, asked["id"])
    assert told["status"] == "failed"
    assert "three times" in told["error"]["what"]
    lost = Lost()
    assert [on_the_queue(lost.ask_again) for _ in range(3)] == [[], [], []]
    assert in_the_queue("DELETE FROM procrastinate_jobs WHERE status = 'failed'") == 1


def listed(client: TestClient, task: str) -> list[dict]:
    return [line for line in client.get("/api/jobs").json() if line["task"] == task]


def test_the_list_tells_what_is_done_to_what_and_for_whom(client: TestClient, asked: dict):
    [line] = listed(client, "evaluate_edit")
    assert (line["subject"], line["author"], line["state"], line["count"]) == (asked["name"], "Artist", "waiting", 1)
    assert line["asked_at"]
    assert line["begun_at"] is None
    drain()
    assert client.get("/api/jobs").json() == []


def test_jobs_of_one_sheet_are_one_line_and_stop_together(client: TestClient, asked: dict):
    drain()
    bound = client.post(f"/api/pieces/{asked['id']}/dress").json()
    drain()
    client.post("/api/trials")
    waiting = client.get("/api/trials/latest").json()
    [line] = listed(client, "measure_wearer")
    assert line["count"] > 1
    assert (line["done"], line["total"]) == (0, waiting["total"])
    assert client.post(f"/api/jobs/{line['job']}/stop").status_code == 204
    assert client.get("/api/jobs").json() == []
    assert client.get("/api/trials/latest").json()["state"] == "cancelled"
    assert bound["id"] == asked["id"]


def test_a_step_that_is_stopped_says_so_is_not_begun_again_and_can_be(client: TestClient, asked: dict):
    [line] = listed(client, "evaluate_edit")
    client.post(f"/api/jobs/{line['job']}/stop")
    told = standing(client, asked["id"])
    assert told["status"] == "failed"
    assert "stopped" in told["error"]["what"]
    lost = Lost()
    assert [on_the_queue(lost.ask_again) for _ in range(3)] == [[], [], []]
    client.post(f"/api/pieces/{asked['id']}/again")
    drain()
    assert standing(client, asked["id"])["status"] == "done"


def test_a_job_that_its_worker_ended_is_told_with_its_reason_and_tried_again_on_request(client: TestClient, asked: dict):
    in_the_queue("UPDATE procrastinate_jobs SET status = 'doing' WHERE status = 'todo'")
    [line] = listed(client, "evaluate_edit")
    assert line["state"] == "doing"
    job_watch.note(line["job"], "it took longer than 5 min", failed=True)
    on_the_queue(end_noted)
    [line] = listed(client, "evaluate_edit")
    assert (line["state"], line["why"]) == ("failed", "it took longer than 5 min")
    assert "longer than 5 min" in standing(client, asked["id"])["error"]["what"]
    assert client.post(f"/api/jobs/{line['job']}/again").status_code == 204
    drain()
    assert standing(client, asked["id"])["status"] == "done"
    assert client.get("/api/jobs").json() == []


def test_only_a_job_that_failed_is_dismissed_or_tried_again(client: TestClient, asked: dict):
    [line] = listed(client, "evaluate_edit")
    for refused in (client.post(f"/api/jobs/{line['job']}/again"), client.delete(f"/api/jobs/{line['job']}")):
        assert refused.status_code == 422
        assert "not failed" in refused.json()["what"]


def test_a_worker_hears_that_its_job_is_to_stop_or_is_about_nothing(client: TestClient, asked: dict):
    [line] = listed(client, "evaluate_edit")
    in_the_queue("UPDATE procrastinate_jobs SET status = 'doing' WHERE status = 'todo'")
    assert job_watch.is_wanted(line["job"]) == "yes"
    client.post(f"/api/jobs/{line['job']}/stop")
    assert job_watch.is_wanted(line["job"]) == "stop"
    assert listed(client, "evaluate_edit")[0]["state"] == "stopping"
    in_the_queue("UPDATE procrastinate_jobs SET abort_requested = false WHERE status = 'doing'")
    client.delete(f"/api/pieces/{asked['id']}")
    assert job_watch.is_wanted(line["job"]) == "gone"
    job_watch.note(line["job"], "what it was about is gone", failed=False)
    on_the_queue(end_noted)
    assert client.get("/api/jobs").json() == []


def test_a_job_about_something_that_was_deleted_ends_without_a_word(client: TestClient, asked: dict):
    drain()
    ask(Work("draw_strip", 1, {"item": 10**6}))
    drain()
    assert client.get("/api/jobs").json() == []


def test_a_job_that_fails_three_times_leaves_nothing_waiting(client: TestClient, asked: dict, monkeypatch: pytest.MonkeyPatch):
    monkeypatch.setattr(evaluating, "evaluate_edit", lambda edit: 1 / 0)
    monkeypatch.setattr("wily_heron.jobs.queue._AGAIN.wait", 0)
    for _ in range(4):
        drain()
    [line] = listed(client, "evaluate_edit")
    assert (line["state"], line["why"]) == ("failed", "division by zero")
    assert standing(client, asked["id"])["status"] == "failed"
    assert client.delete(f"/api/jobs/{line['job']}").status_code == 204
    assert client.get("/api/jobs").json() == []
