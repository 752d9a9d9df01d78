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
from tests.slow_suites import ROOT, SlowSuites, digest
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
def fresh_database(demo: bool = False) -> Iterator[str]:
    """An empty, migrated database, or one that holds the demo production with all its pieces evaluated, that is gone afterwards."""
    server = os.environ.get("WILY_HERON_TEST_SERVER")
    if not server:
        pytest.skip("run through ./heron test, which starts a database server")
    name = f"test_{uuid.uuid4().hex[:10]}"
    with psycopg.connect(server, autocommit=True) as connection:
        connection.execute("select pg_advisory_lock(1)")  # a template can be copied by one at a time
        connection.execute(f'create database "{name}" template "{_template(connection, server, demo)}"')
    yield database_address(server, name)
    with psycopg.connect(server, autocommit=True) as connection:
        connection.execute(f'drop database if exists "{name}" with (force)')


def _template(connection: psycopg.Connection, server: str, demo: bool) -> str:
    """The name of a database to copy, made now if its sources have changed since it was."""
    kind = "demo" if demo else "schema"
    places = ("core", "formats", "studio", "demo", "store", "jobs") if demo else ("store/migrations", "store/setup.py")
    name = f"template_{kind}_{digest(places)}"
    known = [row[0] for row in connection.execute("select datname from pg_database where datname like %s", [f"template_{kind}_%"])]
    if name in known:
        return name
    for old in known:
        connection.execute(f'drop database "{old}" with (force)')
    in_work = {**os.environ, "WILY_HERON_DATABASE": database_address(server, f"making_{kind}")}
    connection.execute(f'drop database if exists "making_{kind}" with (force)')
    subprocess.run([sys.executable, "-m", "wily_heron.store.setup", server], env=in_work, check=True)
    if demo:
        for words in (["-m", "demo", "--reset"], ["-c", "from tests.api.app import drain; drain()"]):
            subprocess.run([sys.executable, *words], cwd=ROOT, env=in_work, check=True, capture_output=True)
    connection.execute(f'alter database "making_{kind}" rename to "{name}"')
    return name


def database_address(server: str, name: str) -> str:
    """The address of a database of the server."""
    return server.rsplit("/", 1)[0] + "/" + name


def rotation_about_y(degrees: float) -> np.ndarray:
    c, s = np.cos(np.deg2rad(degrees)), np.sin(np.deg2rad(degrees))
    return np.array([[c, 0, s], [0, 1, 0], [-s, 0, c]])
