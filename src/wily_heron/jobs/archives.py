"""`python -m wily_heron.jobs.archives archive NAME --out FILE | unpack FILE`: what ./heron archive and ./heron unpack run on a studio's
database."""

import argparse
import os
import sys
from pathlib import Path

from ..core.errors import HeronError, InputError
from ..studio.productions import all_productions, archiving
from .queue import ask


def archive(named: str, out: Path) -> str:
    """Write a production to a file, whole or not at all; return one line on what was done. Raises `InputError` where none has that name."""
    production = _named(named)
    part = out.with_name(f"{out.name}.part")
    try:
        with part.open("wb") as file:
            archiving.archive(production, file)
        os.replace(part, out)
    finally:
        part.unlink(missing_ok=True)
    return f"{out}: {out.stat().st_size / 1e6:.1f} MB"


def unpack(path: Path) -> str:
    """Put an archived production in beside all others; return one line on what was done. Raises `InputError` for a file that is none."""
    with path.open("rb") as file:
        made = archiving.unpack(file, path.name, ask)
    name = next(p.name for p in all_productions.productions() if p.id == made)
    return f"{name}: production {made}"


def _named(named: str) -> int:
    standing = [p for p in all_productions.productions() if p.binned_at is None]
    found = [p.id for p in standing if p.name.lower() == named.strip().lower() or str(p.id) == named.strip()]
    if len(found) != 1:
        there = ", ".join(f"{p.name} ({p.id})" for p in standing[:12])
        what = f"{len(found)} productions are called {named}" if found else f"there is no production {named}"
        raise InputError(what=what, where="the studio", todo=f"Name one by its number: {there}." if there else "Begin one first.")
    return found[0]


def main(argv: list[str]) -> int:
    """Do what the words say; return the exit code: 2 with one line on stderr for what the user can mend."""
    parser = argparse.ArgumentParser()
    does = parser.add_subparsers(dest="does", required=True)
    writes = does.add_parser("archive")
    writes.add_argument("production")
    writes.add_argument("--out", type=Path, required=True)
    does.add_parser("unpack").add_argument("file", type=Path)
    options = parser.parse_args(argv)
    try:
        print(archive(options.production, options.out) if options.does == "archive" else unpack(options.file))
    except HeronError as error:
        sys.stderr.write(f"heron: {error}\n")
        return 2
    except OSError as error:
        sys.stderr.write(f"heron: {error.filename or 'the disk'}: {error.strerror}. Check the path and the free space.\n")
        return 2
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
