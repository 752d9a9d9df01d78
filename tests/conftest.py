"""What all tests share: the dressed demo coat, and a database of its own for each test process."""

import os
import subprocess
import sys
import uuid
from collections.abc import Iterator
from contextlib import contextmanager

import numpy as np
import psycopg
import pytest
from hypothesis import settings

from demo.coat import FILE
from tests.slow_suites import SlowSuites
from wily_heron.core.bench.evaluate import run_step
from wily_heron.core.figure.base.body import Wearer, shaped
from wily_heron.core.figure.cast import CAST
from wily_heron.core.figure.figure import figure
from wily_heron.core.model.state import Piece
from wily_heron.core.model.steps.bind import Bind
from wily_heron.core.model.steps.fit import Fit
from wily_heron.core.model.steps.follow import Follow
from wily_heron.core.model.steps.receive import Receive
from wily_heron.formats.piece_read import read_model_file

settings.register_profile("house", deadline=None)  # a busy machine fails no test
settings.load_profile("house")


def pytest_addoption(parser: pytest.Parser) -> None:
    parser.addoption("--slow", action="store_true", help="run slow tests though nothing they are about has changed since they passed")


def pytest_configure(config: pytest.Config) -> None:
    config.pluginmanager.register(SlowSuites(config.getoption("--slow")))


@pytest.fixture(scope="session")
def ibbet() -> Wearer:
    return shaped(figure(), CAST["Ibbet"])


@pytest.fixture(scope="session")
def received_coat(ibbet: Wearer) -> Piece:
    return run_step(Piece.of(read_model_file(FILE), ibbet.shape), ibbet, Receive())


@pytest.fixture(scope="session")
def fitted_coat(received_coat: Piece, ibbet: Wearer) -> Piece:
    return run_step(received_coat, ibbet, Fit())


@pytest.fixture(scope="session")
def coat(fitted_coat: Piece, ibbet: Wearer) -> Piece:
    """The demo coat fitted on Ibbet, bound and following."""
    return run_step(run_step(fitted_coat, ibbet, Bind()), ibbet, Follow())


@pytest.fixture(scope="session")
def database() -> Iterator[str]:
    """An empty, migrated database on the server the launcher started for the tests, for what runs in this process."""
    with fresh_database() as url:
        os.environ["WILY_HERON_DATABASE"] = url
        from wily_heron.store import db

        yield url
        if db.pool.cache_info().currsize:
            db.pool().close()


@contextmanager
def fresh_database() -> Iterator[str]:
    """An empty, migrated database that is gone afterwards."""
    server = os.environ.get("WILY_HERON_TEST_SERVER")
    if not server:
        pytest.skip("run through ./heron test, which starts a database server")
    name = f"test_{uuid.uuid4().hex[:10]}"
    url = server.rsplit("/", 1)[0] + "/" + name
    subprocess.run([sys.executable, "-m", "wily_heron.store.setup", server], env={**os.environ, "WILY_HERON_DATABASE": url}, check=True)
    yield url
    with psycopg.connect(server, autocommit=True) as connection:
        connection.execute(f'drop database if exists "{name}" with (force)')


def rotation_about_y(degrees: float) -> np.ndarray:
    c, s = np.cos(np.deg2rad(degrees)), np.sin(np.deg2rad(degrees))
    return np.array([[c, 0, s], [0, 1, 0], [-s, 0, c]])
