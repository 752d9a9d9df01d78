"""Type-check the folders in which something has changed since they last passed: a file's types rest on what it imports, near and far.

    python -m tests.checked_types PYRIGHT [--all]

Pyright keeps nothing from one run to the next, and takes minutes for the whole. When a folder passes, a digest of its files, of all
that they import and of what sets pyright up is kept in tests/types.json, which is committed like tests/slow.json.
"""

import hashlib
import json
import subprocess
import sys
from collections import defaultdict
from collections.abc import Iterable
from pathlib import Path

import grimp

ROOT = Path(__file__).parents[1]
_PASSED = ROOT / "tests" / "types.json"
_ROOTS = {"wily_heron": "src", "demo": ".", "launch": "."}
_SETTINGS = ("pyproject.toml", "lock/app.txt", "lock/dev.txt", "web/package-lock.json")  # and all versions


def main(pyright: str, every: bool) -> int:
    """Check what is due, keep what passed, and return pyright's exit code."""
    now = digests()
    known = json.loads(_PASSED.read_text()) if _PASSED.exists() and not every else {}
    due = [folder for folder in now if known.get(folder) != now[folder]]
    print(f"{len(now) - len(due)} of {len(now)} folders are as they were when they passed")
    if not due:
        return 0
    files = [str(file) for folder in due for file in sorted((ROOT / folder).glob("*.py"))]
    done = subprocess.run([pyright, "--pythonpath", sys.executable, "--outputjson", *files], cwd=ROOT, text=True, stdout=subprocess.PIPE)
    found = [each for each in json.loads(done.stdout)["generalDiagnostics"] if each["severity"] == "error"]
    for each in found:
        print(f"{each['file']}:{each['range']['start']['line'] + 1}: {each['message']}")
    failed = {str(Path(each["file"]).parent.relative_to(ROOT)) for each in found}
    if done.returncode and not found:
        failed = set(due)  # it did not get as far as to judge
    passed = {folder: digest for folder, digest in now.items() if folder not in failed}
    _PASSED.write_text(json.dumps(dict(sorted(passed.items())), indent=0) + "\n")
    return done.returncode


def digests() -> dict[str, str]:
    """A digest for each folder with Python files in it, by its path from the root of the repository."""
    graph = grimp.build_graph(*_ROOTS, cache_dir=None)
    bytes_of = {module: hashlib.sha256(_file(module).read_bytes()).digest() for module in graph.modules}
    setup = [(ROOT / name).read_bytes() for name in _SETTINGS]
    folders = defaultdict(set)
    for module in graph.modules:
        folders[str(_file(module).parent.relative_to(ROOT))] |= {module, *graph.find_upstream_modules(module)}
    return {folder: _digest([*setup, *(module.encode() + bytes_of[module] for module in sorted(modules))])
            for folder, modules in sorted(folders.items())}


def _file(module: str) -> Path:
    path = ROOT / _ROOTS[module.split(".")[0]] / Path(*module.split("."))
    return path / "__init__.py" if path.is_dir() else path.with_suffix(".py")


def _digest(parts: Iterable[bytes]) -> str:
    told = hashlib.sha256()
    for part in parts:
        told.update(part)
    return told.hexdigest()[:16]


if __name__ == "__main__":
    sys.exit(main(sys.argv[1], "--all" in sys.argv[2:]))
