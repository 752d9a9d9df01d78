"""Make the database if it is missing, bring its schema up to date. Run by the launcher: `python -m wily_heron.store.setup ADMIN_URL`."""

import sys

import psycopg
from psycopg import sql

from .db import database_url, migrate


def ensure_database(admin_url: str, name: str) -> None:
    """Create the database `name` on the server of `admin_url` if it is not there."""
    with psycopg.connect(admin_url, autocommit=True) as connection:
        if not connection.execute("select 1 from pg_database where datname = %s", [name]).fetchone():
            connection.execute(sql.SQL("create database {}").format(sql.Identifier(name)))


def ensure_queue() -> None:
    """Apply the job queue's own schema once."""
    import procrastinate

    app = procrastinate.App(connector=procrastinate.SyncPsycopgConnector(conninfo=database_url()))
    with psycopg.connect(database_url()) as connection:
        known = connection.execute("select to_regclass('procrastinate_jobs')").fetchone()
    if known is None or known[0] is None:
        with app.open():
            app.schema_manager.apply_schema()


def main() -> None:
    """Create, migrate, and say what was done."""
    ensure_database(sys.argv[1], database_url().rsplit("/", 1)[1])
    applied = migrate()
    ensure_queue()
    print(f"applied {len(applied)}" if applied else "up to date")


if __name__ == "__main__":
    main()
