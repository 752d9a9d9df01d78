"""What the tests of the API do with it: see how pieces stand, change them, and do the jobs that this asks for."""

import asyncio
import zlib
from concurrent.futures import ThreadPoolExecutor

import numpy as np
from fastapi.testclient import TestClient

from wily_heron.formats.array_frame import unpack


def drain() -> None:
    """Do every job in the queue."""
    import procrastinate

    from wily_heron.jobs.queue import app as queue
    from wily_heron.store.db import database_url

    async def work() -> None:
        with queue.replace_connector(procrastinate.PsycopgConnector(conninfo=database_url())) as app:
            async with app.open_async():
                await app.run_worker_async(wait=False, install_signal_handlers=False, listen_notify=False, delete_jobs="successful")

    with ThreadPoolExecutor(1) as apart:  # another test's browser may hold this thread's event loop
        apart.submit(asyncio.run, work()).result()


def standing(client: TestClient, piece: int) -> dict:
    return next(p for p in client.get("/api/production").json()["pieces"] if p["id"] == piece)


def change(client: TestClient, piece: int, steps: list[dict], code: int = 200) -> dict:
    made_on = standing(client, piece)["recipe"]["made_on"]
    answer = client.put(f"/api/pieces/{piece}/recipe", json={"recipe": {"made_on": made_on, "steps": steps}, "label": "Work"})
    assert answer.status_code == code, answer.text
    drain()
    return standing(client, piece)


def frame(data: bytes) -> tuple[dict[str, np.ndarray], dict]:
    """The arrays and notes of a frame as it comes over the wire."""
    return unpack(zlib.compress(data))


def points_of(client: TestClient, piece: dict) -> np.ndarray:
    return frame(client.get(f"/api/pieces/geometry/{piece['geometry']}").content)[0]["points"]


def measured(client: TestClient) -> dict:
    client.post("/api/trials")
    drain()
    return client.get("/api/trials/latest").json()
