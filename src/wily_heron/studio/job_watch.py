"""What a worker asks of the job that its process is at, and notes of one that it ended. Kept apart from all that computes: it is loaded
beside every process that does."""

from ..store import jobs as store
from ..store.db import transaction
from ..store.jobs import EndedRow, Wanted

STOPPED = "it was stopped"
"""Why a job is at an end that an artist has stopped."""


def is_wanted(job: int) -> Wanted:
    """Return whether a job at work is to go on: an artist may have stopped it, or what it is about may be gone."""
    with transaction() as connection:
        return store.is_wanted(connection, job)


def note(job: int, why: str, failed: bool) -> None:
    """Note why a job is at an end."""
    with transaction() as connection:
        store.note(connection, job, why, failed)


def ended() -> list[EndedRow]:
    """Return the jobs whose process was ended and which the queue still takes to be at work."""
    with transaction() as connection:
        store.forget_notes(connection)
        return store.ended(connection)
