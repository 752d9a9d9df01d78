"""./heron start: everything from a fresh clone to one URL."""

import argparse
import json
import os
import shutil
import signal
import socket
import subprocess
import sys
import time
import urllib.request
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from . import debian, venv, web
from .cluster import Cluster
from .kernels import AT_START, Kernels
from .place import PYTHON, ROOT, LaunchError, ends_with_parent, environment, run, stage

_LOOPBACK = ("127.0.0.1", "localhost", "::1")
_WORKERS = min(len(os.sched_getaffinity(0)), 4)
"""One for each core; more than four are for other machines, and half a gigabyte each."""


def arguments(argv: list[str]) -> argparse.Namespace:
    """Parse the options of start."""
    parser = argparse.ArgumentParser(prog="heron start", description="Start Wily Heron and print its URL. Ctrl-C stops all it started.")
    parser.add_argument("--port", type=int, default=8137)
    parser.add_argument("--host", default="127.0.0.1", help="a loopback address")
    parser.add_argument("--data", type=Path, default=ROOT / ".data", help="where the database lives")
    parser.add_argument("--workers", type=int, default=_WORKERS,
                        help=f"how many jobs are done at once, {_WORKERS} if not told; each takes a core and half a gigabyte")
    parser.add_argument("--no-demo", action="store_true", help="start without the demo production")
    parser.add_argument("--reset-demo", action="store_true", help="load the demo production anew; what was in it is lost")
    return parser.parse_args(argv)


def start(argv: list[str]) -> None:
    """Run the application until a signal stops it."""
    options = arguments(argv)
    if options.host not in _LOOPBACK:
        raise LaunchError(f"--host {options.host} is refused: until there is access control, only 127.0.0.1 is served")
    if options.workers < 1:
        raise LaunchError(f"--workers {options.workers} would do no jobs; at least one is needed")
    data = options.data.resolve()
    url = f"http://{'127.0.0.1' if options.host == 'localhost' else options.host.replace('::1', '[::1]')}:{options.port}/"
    if _already_running(data, url):
        print(f"Wily Heron is running already:  {url}")
        return
    _check_port(options.host, options.port)
    print("Wily Heron")
    with stage("Debian packages") as note:
        note.append(debian.ensure())
    beside = ThreadPoolExecutor(1)
    packages, built = beside.submit(web.ensure_packages), beside.submit(web.ensure_built)  # one after the other, beside what follows
    with stage("Python packages") as note:
        note.append(venv.ensure())
    kernels = Kernels()
    cluster = Cluster(data)
    children: dict[str, subprocess.Popen] = {}
    signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))
    signal.signal(signal.SIGINT, signal.default_int_handler)  # a shell may have started us in the background with it ignored
    try:
        with stage("web packages") as note:
            note.append(packages.result())
        with stage("web part") as note:
            note.append(built.result())
        with stage("database cluster") as note:
            note.append(cluster.ensure())
        with stage("database server") as note:
            note.append(cluster.start())
        database = {"WILY_HERON_DATABASE": cluster.url("wily_heron")}
        with stage("kernels") as note:
            note.append(kernels.wait(*AT_START))
        setup = [PYTHON, "-m", "wily_heron.store.setup", cluster.url("postgres")]
        schema = beside.submit(run, setup, "schema", more=database)  # while the server is read in; it waits for the schema
        demo = [PYTHON, "-m", "demo", *(["--reset"] if options.reset_demo else [])]
        loading = None if options.no_demo else beside.submit(run, demo, "demo production", more=database)
        names = ["worker", *(f"worker {k}" for k in range(2, options.workers + 1))]
        commands = {
            "server": [PYTHON, "-m", "uvicorn", "wily_heron.api.app:app", "--host", options.host, "--port", str(options.port),
                       "--log-level", "warning", "--timeout-graceful-shutdown", "2"],
            **{name: [PYTHON, "-m", "wily_heron.jobs.worker"] for name in names},
        }
        logs = data / "logs"
        logs.mkdir(parents=True, exist_ok=True)
        with stage("server"):  # alone: the artist waits for it, and workers share its cores
            children["server"] = _child(commands["server"], logs / "server.log", database)
            schema.result()
            _await(url, children, logs)
        with stage("schema") as note:
            note.append(schema.result().strip().splitlines()[-1])
        for name in names:
            children[name] = _child(commands[name], logs / f"{name}.log", database)
        if loading:
            with stage("demo production") as note:
                note.append(loading.result().strip().splitlines()[-1])
        (data / "running.json").write_text(json.dumps({"pid": os.getpid(), "url": url}))
        print(f"\n  {url}\n\n  Ctrl-C stops it.", flush=True)
        if not kernels.compiled:
            print("  Clearing and the cloth solver are still being compiled; the first of each may be slow to begin.", flush=True)
        _watch(children, commands, logs, database, kernels)
    except KeyboardInterrupt:
        pass
    finally:
        for each in (signal.SIGINT, signal.SIGTERM):  # who asks twice must not leave the database running
            signal.signal(each, signal.SIG_IGN)
        kernels.stop()
        for child in children.values():
            child.terminate()
        for child in children.values():
            try:
                child.wait(8)
            except subprocess.TimeoutExpired:
                child.kill()
        cluster.stop()
        (data / "running.json").unlink(missing_ok=True)


def _already_running(data: Path, url: str) -> bool:
    try:
        known = json.loads((data / "running.json").read_text())
        return known["url"] == url and _healthy(url)
    except (OSError, ValueError, KeyError):
        return False


def _healthy(url: str) -> bool:
    try:
        with urllib.request.urlopen(f"{url}api/health", timeout=2) as answer:
            return answer.status == 200
    except OSError:
        return False


def _check_port(host: str, port: int) -> None:
    family = socket.AF_INET6 if host == "::1" else socket.AF_INET
    with socket.socket(family) as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((host, port))
        except OverflowError:
            raise LaunchError(f"--port {port} is not a port; use 1024 to 65535") from None
        except OSError:
            raise LaunchError(f"port {port} is in use by another program; start with --port and another number") from None


def _child(command: list, log: Path, more: dict[str, str]) -> subprocess.Popen:
    with log.open("a") as out:
        return subprocess.Popen([str(c) for c in command], cwd=ROOT, env=environment(**more), stdout=out, stderr=out,
                                preexec_fn=ends_with_parent)


def _await(url: str, children: dict[str, subprocess.Popen], logs: Path) -> None:
    until = time.monotonic() + 60
    while not _healthy(url):
        for name, child in children.items():
            if child.poll() is not None:
                raise LaunchError(f"the {name} stopped at once; its last words are in {logs / name}.log")
        if time.monotonic() > until:
            raise LaunchError(f"the server did not answer within a minute; see {logs / 'server.log'}")
        time.sleep(0.1)


def _watch(children: dict[str, subprocess.Popen], commands: dict[str, list], logs: Path, database: dict[str, str],
           kernels: Kernels) -> None:
    """Wait; a server or worker that dies is started again. What kernels are left are compiled meanwhile."""
    restarts, compiling = 0, not kernels.compiled
    while True:
        time.sleep(0.5)
        if compiling and kernels.poll():
            compiling = False
            print("  Clearing and the cloth solver are compiled.", flush=True)
        for name, child in list(children.items()):
            if child.poll() is None:
                continue
            restarts += 1
            if restarts > 20:
                raise LaunchError(f"the {name} keeps stopping; its last words are in {logs / name}.log")
            print(f"  the {name} stopped; starting it again", flush=True)
            time.sleep(min(restarts * 0.2, 3))
            children[name] = _child(commands[name], logs / f"{name}.log", database)


def worker(argv: list[str]) -> None:
    """./heron worker: one more worker on the database of --data, or of WILY_HERON_DATABASE."""
    parser = argparse.ArgumentParser(prog="heron worker", description="Run one more worker on a running Wily Heron.")
    parser.add_argument("--data", type=Path, default=ROOT / ".data")
    options = parser.parse_args(argv)
    venv.ensure()
    url = os.environ.get("WILY_HERON_DATABASE")
    if not url:
        try:
            url = Cluster(options.data.resolve()).url("wily_heron")
        except (OSError, IndexError):
            raise LaunchError("no Wily Heron is running on this data directory; start it first, or set WILY_HERON_DATABASE") from None
    if not shutil.which(str(PYTHON)):
        raise LaunchError("the virtual environment is missing; run ./heron start once")
    os.execve(PYTHON, [str(PYTHON), "-m", "wily_heron.jobs.worker"], environment(WILY_HERON_DATABASE=url))
