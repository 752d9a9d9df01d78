"""A worker ends the process that does its jobs, whatever holds that: too long, too much, stopped, or about nothing."""

import sys
import time
from collections.abc import Iterator

import pytest

from wily_heron.jobs.worker import Watched

SAY = "import json, os, sys\n" \
      "def say(**at): os.write(int(os.environ['WILY_HERON_WORKER_PIPE']), (json.dumps(at or None) + chr(10)).encode())\n"
BUSY = "import re\nre.match('(a+)+b', 'a' * 60)\n"  # holds the interpreter for years: no thread of its own could end it


class Doing:
    """A watched process that runs a few lines."""

    def __init__(self, lines: str, wanted: str = "yes") -> None:
        self.asked: list[int] = []
        self.watched = Watched([sys.executable, "-c", SAY + lines], lambda job: self.asked.append(job) or wanted)

    def verdict(self, within: float) -> tuple[int, str, bool] | None:
        until = time.monotonic() + within
        while time.monotonic() < until:
            found = self.watched.verdict()
            if found:
                return found
            time.sleep(0.02)
        return None


@pytest.fixture
def doing() -> Iterator[type[Doing]]:
    made: list[Doing] = []

    class Kept(Doing):
        def __init__(self, lines: str, wanted: str = "yes") -> None:
            super().__init__(lines, wanted)
            made.append(self)

    yield Kept
    for each in made:
        each.watched.process.kill()
        each.watched.process.wait()


def test_a_job_that_holds_the_interpreter_is_ended_after_its_time(doing: type[Doing]):
    assert doing("say(job=7, seconds=0.5, megabytes=4000)\n" + BUSY).verdict(10) == (7, "it took longer than 0.00833 min", True)


def test_a_job_that_fills_the_memory_is_ended_with_that_reason(doing: type[Doing]):
    found = doing("say(job=8, seconds=60, megabytes=200)\nheld = [bytes(10**7) + b'x' for _ in range(40)]\nimport time; time.sleep(60)")
    assert found.verdict(20) == (8, "it took more than 0.2 GB of memory", True)


@pytest.mark.parametrize(("wanted", "least", "why"), [("stop", 2.5, "it was stopped"), ("gone", 12, "what it was about is gone")])
def test_a_job_that_nobody_wants_may_end_by_itself_for_a_moment_and_is_ended_then(doing: type[Doing], wanted: str, least: float, why: str):
    at = doing("say(job=9, seconds=60, megabytes=4000)\n" + BUSY, wanted)
    begun = time.monotonic()
    assert at.verdict(30) == (9, why, False)
    assert time.monotonic() - begun > least
    assert set(at.asked) == {9}


def test_a_process_between_two_jobs_is_left_alone(doing: type[Doing]):
    at = doing("say(job=1, seconds=0.3, megabytes=10)\nsay()\nimport time; time.sleep(60)", "stop")
    time.sleep(0.5)
    assert at.verdict(1.5) is None
