"""./heron bench [SUITE ...] [--json OUT.json]: run the suites and print each figure beside its peer's."""

import argparse
import json
import os
import sys
from dataclasses import asdict
from pathlib import Path

from bench.suites import SUITES


def main() -> None:
    """Run the named suites, or all, on one pinned core."""
    os.sched_setaffinity(0, {min(os.sched_getaffinity(0))})
    parser = argparse.ArgumentParser(prog="heron bench", description="Measure speed on one core, beside a peer in the same run.")
    parser.add_argument("suite", nargs="*", help=f"of {', '.join(SUITES)}; all if left out")
    parser.add_argument("--json", type=Path)
    options = parser.parse_args()
    unknown = [s for s in options.suite if s not in SUITES]
    if unknown:
        sys.stderr.write(f"heron: there is no suite '{unknown[0]}'; the suites are {', '.join(SUITES)}\n")
        sys.exit(2)
    rows = []
    for name in options.suite or SUITES:
        for row in SUITES[name]():
            rows.append({"suite": name, **asdict(row)})
            beside = f"{row.peer_ms:9.1f} ms  {row.peer_ms / row.ms:5.1f}x  {row.peer}" if row.peer_ms else ""
            print(f"{row.name:40s}{row.ms:9.1f} ms{beside}", flush=True)
    if options.json:
        options.json.write_text(json.dumps(rows, indent=2) + "\n")


if __name__ == "__main__":
    main()
