"""Types are checked where something has changed, near or far, and nowhere else."""

import json
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

from tests.slow_suites import ROOT

# stands for pyright: writes down what it is given, and finds an error in every file that says "wrong"
CHECKER = """#!{python}
import json, pathlib, sys
files = [pathlib.Path(a) for a in sys.argv[1:] if a.endswith(".py")]
pathlib.Path("given.txt").write_text("\\n".join(sorted({{f.parent.name for f in files}})))
if any("crash" in f.read_text() for f in files):
    sys.exit(3 if print('{{"generalDiagnostics": []}}') is None else 0)
found = [dict(file=str(f), severity="error", message="no", range=dict(start=dict(line=0))) for f in files if "wrong" in f.read_text()]
print(json.dumps(dict(generalDiagnostics=found)))
sys.exit(bool(found))
"""
FILES = {
    "src/wily_heron/__init__.py": "", "src/wily_heron/mesh/__init__.py": "", "src/wily_heron/mesh/arrays.py": "size = 3\n",
    "src/wily_heron/fit/__init__.py": "", "src/wily_heron/fit/rest.py": "from ..mesh.arrays import size\n",
    "src/wily_heron/hair/__init__.py": "", "src/wily_heron/hair/lock.py": "",
    "demo/__init__.py": "", "demo/coat.py": "from wily_heron.fit import rest\n", "launch/__init__.py": "",
    "pyproject.toml": "", "lock/app.txt": "", "lock/dev.txt": "", "web/package-lock.json": "", "tests/__init__.py": "",
}


@pytest.fixture
def tree(tmp_path: Path) -> Path:
    for name, text in FILES.items():
        (tmp_path / name).parent.mkdir(parents=True, exist_ok=True)
        (tmp_path / name).write_text(text)
    shutil.copy(ROOT / "tests" / "checked_types.py", tmp_path / "tests")
    checker = tmp_path / "checker"
    checker.write_text(CHECKER.format(python=sys.executable))
    checker.chmod(0o755)
    return tmp_path


def check(tree: Path, *more: str) -> tuple[int, list[str]]:
    """The exit code, and the folders that were given to the checker."""
    (tree / "given.txt").write_text("")
    environment = {"PATH": "/usr/bin:/bin", "PYTHONPATH": f"{tree}/src:{tree}"}
    done = subprocess.run([sys.executable, "-P", "-m", "tests.checked_types", str(tree / "checker"), *more], cwd=tree, env=environment,
                          text=True, capture_output=True)
    assert "Traceback" not in done.stderr, done.stderr
    return done.returncode, (tree / "given.txt").read_text().split()


def test_only_what_rests_on_a_change_is_checked_again(tree: Path):
    assert check(tree) == (0, ["demo", "fit", "hair", "launch", "mesh", "wily_heron"])
    assert check(tree) == (0, [])
    (tree / "src/wily_heron/mesh/arrays.py").write_text("size = 4\n")
    assert check(tree) == (0, ["demo", "fit", "mesh"])  # demo imports it through fit
    (tree / "src/wily_heron/hair/wave.py").write_text("")
    assert check(tree) == (0, ["hair"])
    assert check(tree, "--all") == (0, ["demo", "fit", "hair", "launch", "mesh", "wily_heron"])


@pytest.mark.parametrize("setting", ["pyproject.toml", "lock/app.txt", "lock/dev.txt", "web/package-lock.json"])
def test_other_settings_or_packages_check_all_again(tree: Path, setting: str):
    check(tree)
    (tree / setting).write_text("# another version\n")
    assert len(check(tree)[1]) == 6


def test_what_failed_stays_due_and_what_passed_beside_it_does_not(tree: Path):
    (tree / "src/wily_heron/hair/lock.py").write_text("wrong = 1\n")
    assert check(tree) == (1, ["demo", "fit", "hair", "launch", "mesh", "wily_heron"])
    assert check(tree) == (1, ["hair"])
    (tree / "src/wily_heron/hair/lock.py").write_text("right = 1\n")
    assert check(tree) == (0, ["hair"])
    assert check(tree) == (0, [])


def test_a_checker_that_stops_before_it_judges_lets_nothing_pass(tree: Path):
    (tree / "src/wily_heron/hair/lock.py").write_text("crash = 1\n")
    assert check(tree)[0] == 3
    assert len(check(tree)[1]) == 6
    assert "src/wily_heron/mesh" not in json.loads((tree / "tests/types.json").read_text())
