"""The launcher's own promises: clear refusals, and a cluster that is its own."""

import os
import signal
import socket
import subprocess
import sys
import time
import urllib.request
from pathlib import Path

import pytest

from launch import place
from launch.cluster import Cluster
from launch.debian import postgres_bin

ROOT = Path(__file__).parents[2]


def heron(*words: object) -> subprocess.CompletedProcess[str]:
    """The launcher as a user calls it: what another test of this process set for its database is not there."""
    own = {name: value for name, value in os.environ.items() if name != "WILY_HERON_DATABASE"}
    return subprocess.run([sys.executable, str(ROOT / "heron"), *map(str, words)], capture_output=True, text=True, check=False,
                          timeout=60, env=own)


def refused(done: subprocess.CompletedProcess[str], says: str) -> bool:
    return done.returncode == 2 and says in done.stderr and done.stderr.count("\n") == 1 and "Traceback" not in done.stderr


def test_only_loopback_is_served():
    assert refused(heron("start", "--host", "0.0.0.0"), "--host 0.0.0.0 is refused")


def test_a_port_in_use_is_named():
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = taken.getsockname()[1]
        assert refused(heron("start", "--port", port), f"port {port} is in use")


def test_a_number_that_is_no_port_is_refused():
    assert refused(heron("start", "--port", 99999), "not a port")


def test_no_worker_at_all_is_refused():
    assert refused(heron("start", "--workers", 0), "at least one is needed")


def test_an_unknown_command_points_to_help():
    assert refused(heron("tailor"), "no command 'tailor'")
    assert "./heron start" in heron("help").stdout


@pytest.mark.parametrize("words", [("archive", "The Salt Road", "--out", "road.heron.zip"), ("unpack", "road.heron.zip")])
def test_an_archive_where_there_is_no_studio_says_so_and_leaves_none(tmp_path: Path, words: tuple[str, ...]):
    assert refused(heron(*words, "--data", tmp_path / "nowhere"), "there is no studio in")
    assert list(tmp_path.iterdir()) == []


def test_a_worker_without_a_running_house_says_so(tmp_path: Path):
    assert refused(heron("worker", "--data", tmp_path), "no Wily Heron is running")


@pytest.mark.parametrize(("output", "says"), [
    ("OSError: [Errno 28] No space left on device", "disk is full"),
    ("npm error code ENOTFOUND\nnpm error network request failed", "cannot be reached"),
    ("Temporary failure in name resolution", "cannot be reached"),
    ("ERROR: No matching distribution found for annotated-doc==0.0.7", "cannot be reached"),  # what pip says with no network
    ("something else entirely\nthe last line", "the last line"),
])
def test_known_failures_are_put_plainly(output: str, says: str):
    assert says in place.explain(output, output.splitlines()[-1])


@pytest.fixture
def reachable(tmp_path: Path) -> Path:
    """A data directory that the server's own user can reach, wherever pytest keeps its folders."""
    for folder in [tmp_path, *tmp_path.parents][:3]:
        if folder.owner() == Path(tmp_path).owner() and str(folder).startswith("/tmp/"):
            folder.chmod(0o755)
    return tmp_path / "data"


@pytest.mark.skipif(postgres_bin() is None, reason="needs the PostgreSQL server")
def test_a_cluster_is_made_started_stopped_and_kept(reachable: Path):
    cluster = Cluster(reachable)
    assert cluster.ensure() == "created"
    try:
        cluster.start()
        port = cluster.port
        with socket.create_connection(("127.0.0.1", port), timeout=5):
            pass
        second = Cluster(reachable)
        assert second.start() == f"running on port {port}"
        second.stop()  # did not start it, so leaves it alone
        with socket.create_connection(("127.0.0.1", port), timeout=5):
            pass
    finally:
        cluster.stop()
    assert Cluster(reachable).ensure() == "present"
    with pytest.raises(OSError, match="refused"):
        socket.create_connection(("127.0.0.1", port), timeout=5)


@pytest.mark.slow("launch")
def test_a_start_answers_and_when_stopped_twice_leaves_nothing_running(reachable: Path, tmp_path: Path):
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    said = tmp_path / "said"
    words = [sys.executable, str(ROOT / "heron"), "start", "--no-demo", "--workers", "1", "--port", str(port), "--data", str(reachable)]
    with said.open("w") as out:
        running = subprocess.Popen(words, stdout=out, stderr=out)
    try:
        until = time.monotonic() + 300
        while "Ctrl-C stops it" not in said.read_text():
            assert running.poll() is None, said.read_text()
            assert time.monotonic() < until, said.read_text()
            time.sleep(0.1)
        with urllib.request.urlopen(f"http://127.0.0.1:{port}/api/health", timeout=5) as answer:
            assert answer.status == 200
        database = Cluster(reachable).port
        running.send_signal(signal.SIGINT)
        time.sleep(0.1)
        running.send_signal(signal.SIGTERM)
        running.wait(60)
    finally:
        running.kill()
    for left in (port, database):
        with pytest.raises(OSError, match="refused"):
            socket.create_connection(("127.0.0.1", left), timeout=5)
    assert not (reachable / "running.json").exists()


def test_a_damaged_data_directory_is_said_and_left_alone(reachable: Path):
    home = Cluster(reachable).home
    home.mkdir(parents=True)
    (home / "stray-file").write_text("x")
    with pytest.raises(place.LaunchError, match="damaged"):
        Cluster(reachable).ensure()
    assert (home / "stray-file").read_text() == "x"
