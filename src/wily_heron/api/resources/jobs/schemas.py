"""The list of jobs on the wire."""

from datetime import datetime
from typing import Literal

from ...wire import Out


class JobLineOut(Out):
    """Jobs that do one thing together, or one alone: `job` is one of them, `count` how many are left of it.

    `task` is the kind of the work, `subject` what it is done to; `done` of `total` is how far that is, 0 of 0 where it has no parts.
    """

    job: int
    task: str
    subject: str
    production: int | None
    author: str
    state: Literal["doing", "waiting", "stopping", "failed"]
    asked_at: datetime | None
    begun_at: datetime | None
    done: int
    total: int
    count: int
    why: str | None
    can_stop: bool
