"""./heron archive and ./heron unpack: a production to one file, and from one, on a studio that runs or rests."""

import argparse
import os
import subprocess
from pathlib import Path

from . import debian, venv
from .cluster import Cluster
from .place import PYTHON, ROOT, LaunchError, environment, run


def archive(argv: list[str]) -> None:
    """Write a production to a file."""
    parser = _parser("archive", "Write a production to one file: a zip of its rows as JSON, its arrays and pictures, its outfit as glTF.")
    parser.add_argument("production", help="its name or its number")
    parser.add_argument("--out", type=Path, required=True, help="where to write it, .heron.zip")
    options = parser.parse_args(argv)
    _on_studio(options.data, "archive", options.production, "--out", str(options.out.absolute()))


def unpack(argv: list[str]) -> None:
    """Put an archived production in beside those of a studio."""
    parser = _parser("unpack", "Put an archived production in beside those of a studio; what is there already stays as it is.")
    parser.add_argument("file", type=Path, help="what ./heron archive, or Archive on the first page, has written")
    options = parser.parse_args(argv)
    _on_studio(options.data, "unpack", str(options.file.absolute()))


def _parser(word: str, does: str) -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog=f"heron {word}", description=does)
    parser.add_argument("--data", type=Path, default=ROOT / ".data", help="where the studio's database lies")
    return parser


def _on_studio(data: Path, *words: str) -> None:
    """Do it on the database of a data directory, started for as long if nobody has; leave with the command's exit code."""
    given = os.environ.get("WILY_HERON_DATABASE")
    if not given and not data.is_dir():
        raise LaunchError(f"there is no studio in {data}; name its folder with --data, or start one: ./heron start")
    debian.ensure()
    venv.ensure()
    cluster = None if given else Cluster(data.resolve())
    try:
        if cluster:
            cluster.ensure()
            cluster.start()
        database = {"WILY_HERON_DATABASE": given or (cluster.url("wily_heron") if cluster else "")}
        if cluster:
            run([PYTHON, "-m", "wily_heron.store.setup", cluster.url("postgres")], "schema", more=database)
        done = subprocess.run([str(PYTHON), "-m", "wily_heron.jobs.archives", *words], cwd=ROOT, env=environment(**database), check=False)
    finally:
        if cluster:
            cluster.stop()
    if done.returncode:
        raise SystemExit(done.returncode)
