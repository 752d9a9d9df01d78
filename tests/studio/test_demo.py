"""The demo film is loaded from the first page, once, whoever asks for it."""

import json
import os
import subprocess
import sys

import psycopg

from tests.conftest import ROOT, fresh_database

LOAD = """
import json
from wily_heron.core.errors import Conflict
from wily_heron.studio.productions import demo
try:
    print(json.dumps([demo.is_offered(), demo.load(), demo.is_offered()]))
except Conflict as error:
    print(json.dumps(error.todo))
"""


def test_the_demo_film_is_loaded_once_though_two_ask_at_once_and_stock_that_was_there_stays():
    with fresh_database() as url:
        with psycopg.connect(url, autocommit=True) as connection:
            connection.execute("insert into shelf (name) values ('Own things')")
        env = {**os.environ, "WILY_HERON_DATABASE": url}
        asking = [subprocess.Popen([sys.executable, "-c", LOAD], cwd=ROOT, env=env, stdout=subprocess.PIPE, text=True) for _ in range(2)]
        said = [json.loads(one.communicate(timeout=120)[0]) for one in asking]
        with psycopg.connect(url) as connection:
            films = connection.execute("select id, name from production").fetchall()
            shelves = connection.execute("select name from shelf where parent_id is null").fetchall()
            cast, stock = (connection.execute(f"select count(*) from {table}").fetchone() for table in ("wearer", "stock_item"))
        late = subprocess.run([sys.executable, "-c", LOAD], cwd=ROOT, env=env, capture_output=True, text=True, check=True)
    assert [name for _, name in films] == ["The Reedmarsh Night Post"]
    assert all(each == [True, films[0][0], False] or "Open the production" in each for each in said), said
    assert ("Own things",) in shelves
    assert len(shelves) == 4
    assert cast == (3,)
    assert stock
    assert stock[0] > 20
    assert "Open the production" in json.loads(late.stdout)
