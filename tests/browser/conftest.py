"""The whole application on a port of its own: server, worker, database, built web part, headless Chromium."""

import os
import shutil
import signal
import socket
import subprocess
import sys
import time
import urllib.request
from collections.abc import Iterator
from pathlib import Path

import pytest
from _pytest.runner import runtestprotocol
from playwright.sync_api import expect

from tests.conftest import fresh_database

ROOT = Path(__file__).parents[2]
expect.set_options(timeout=20_000)  # a software renderer on two cores takes its time


class House:
    """The running application; `kill_server` is the power going."""

    def __init__(self, database: str, folder: Path) -> None:
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = probe.getsockname()[1]
        self.database, self.url = database, f"http://127.0.0.1:{self.port}/"
        self._folder, self._env = folder, {**os.environ, "WILY_HERON_DATABASE": database}
        self.worker = self._start("worker", "-m", "wily_heron.jobs.worker")
        self.start_server()

    def reset(self) -> None:
        """Begin the demo anew."""
        subprocess.run([sys.executable, "-m", "demo", "--reset"], cwd=ROOT, env=self._env, check=True, capture_output=True)

    def _start(self, name: str, *words: str) -> subprocess.Popen:
        with (self._folder / f"{name}.log").open("a") as log:
            return subprocess.Popen([sys.executable, *words], cwd=ROOT, env=self._env, stdout=log, stderr=log)

    def start_server(self) -> None:
        self.server = self._start("server", "-m", "uvicorn", "wily_heron.api.app:app", "--port", str(self.port), "--log-level", "warning",
                                  "--timeout-graceful-shutdown", "2")
        until = time.monotonic() + 60
        while time.monotonic() < until:
            try:
                with urllib.request.urlopen(f"{self.url}api/health", timeout=2):
                    return
            except OSError:
                time.sleep(0.1)
        raise RuntimeError("the server did not start; see its log")

    def kill_server(self) -> None:
        self.server.send_signal(signal.SIGKILL)
        self.server.wait()

    def stop(self) -> None:
        for process in (self.server, self.worker):
            process.terminate()
        for process in (self.server, self.worker):
            try:
                process.wait(10)
            except subprocess.TimeoutExpired:
                process.kill()


@pytest.fixture(scope="session")
def house(tmp_path_factory) -> Iterator[House]:
    with fresh_database(demo=True) as own:  # what runs in this process must not find its jobs done by the house's worker
        running = House(own, tmp_path_factory.mktemp("house"))
        _HOUSES.append(running)
        yield running
        _HOUSES.remove(running)
        running.stop()


_HOUSES: list[House] = []


@pytest.hookimpl(tryfirst=True)
def pytest_runtest_protocol(item: pytest.Item, nextitem: pytest.Item | None) -> bool | None:
    """A walk that fails on a busy machine is walked once more, on the demo begun anew; a second failure counts."""
    if "browser" not in item.path.parts:
        return None
    item.ihook.pytest_runtest_logstart(nodeid=item.nodeid, location=item.location)
    reports = runtestprotocol(item, nextitem=nextitem, log=False)
    if any(r.failed for r in reports):
        why = "\n".join(str(r.longrepr) for r in reports if r.failed)
        print(f"{item.nodeid} failed and is walked once more:\n{why[-1500:]}")
        for running in _HOUSES:
            running.reset()
        reports = runtestprotocol(item, nextitem=nextitem, log=False)
    for report in reports:
        item.ihook.pytest_runtest_logreport(report=report)
    item.ihook.pytest_runtest_logfinish(nodeid=item.nodeid, location=item.location)
    return True


@pytest.fixture(scope="session")
def browser_type_launch_args(browser_type_launch_args):
    return {**browser_type_launch_args, "executable_path": shutil.which("chromium"), "args": [
        "--no-sandbox", "--disable-background-networking", "--disable-component-update", "--disable-sync", "--no-first-run",
        "--disable-quic", "--use-gl=angle", "--use-angle=swiftshader", "--enable-unsafe-swiftshader", "--ignore-gpu-blocklist",
    ]}


@pytest.fixture(scope="session")
def browser_context_args(browser_context_args):
    return {**browser_context_args, "viewport": {"width": 1280, "height": 800}, "reduced_motion": "reduce"}
