"""Work is never lost: what waits without a job is asked for again, and a job that ends its workers is set aside."""

import asyncio
from collections.abc import Awaitable, Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from typing import TypeVar

import procrastinate
import pytest
from fastapi.testclient import TestClient

from tests.api.app import drain, standing
from wily_heron.jobs.lost import Lost, rescue
from wily_heron.jobs.queue import app as queue
from wily_heron.store.db import database_url, transaction

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
