"""The application in this process, on a database of its own, and the coat in the states that several tests begin with."""

from collections.abc import Iterator

import pytest
from fastapi.testclient import TestClient

from tests.api.app import change, drain, standing
from wily_heron.store.db import transaction
from wily_heron.store.productions.all_productions import begin_anew
from wily_heron.store.productions.production import put_on_axis
from wily_heron.store.productions.wearers import add_wearer


@pytest.fixture(scope="module")
def client(database: str) -> Iterator[TestClient]:
    from wily_heron.api.app import make_app

    with transaction() as c:
        production = begin_anew(c, "The Reedmarsh Night Post")
        for name, shape in (("Ibbet", {"hip": 0.2}), ("Old Moss", {"girth": 0.6, "belly": 0.7})):
            add_wearer(c, production, name, shape, "tests")
        for pose in ("stand", "kneel"):
            put_on_axis(c, production, pose)
    with TestClient(make_app()) as client:
        yield client


@pytest.fixture
def coat(client: TestClient) -> dict:
    made = client.post("/api/pieces/practice").json()
    drain()
    steps = [{"kind": "receive"}, {"kind": "place"}, {"kind": "fit", "ease": 0.009}, {"kind": "bind"}, {"kind": "follow"}]
    change(client, made["id"], steps)
    yield standing(client, made["id"])
    client.delete(f"/api/pieces/{made['id']}")


@pytest.fixture
def tight(client: TestClient, coat: dict) -> dict:
    """The coat at hardly any ease: it shows in many cells."""
    steps = [{**s, "ease": 0.001} if s["kind"] == "fit" else s for s in coat["recipe"]["steps"]]
    change(client, coat["id"], steps)
    return standing(client, coat["id"])
