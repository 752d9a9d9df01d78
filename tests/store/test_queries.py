"""Every query against the real schema: PostgreSQL itself says whether it can run, and what it gives."""

import ast
import re
from collections.abc import Iterator
from pathlib import Path

import pytest

import wily_heron.store as package
from wily_heron.store.db import Row, queries, transaction
from wily_heron.store.jobs import ABOUT

STORE = Path(package.__file__).parent
ASKING = ("run", "one", "row", "rows", "changed", "number", "numbers")
NAMES = re.compile(r"%\((\w+)\)s")


@pytest.fixture(autouse=True)
def _schema(database: str) -> None:
    """All of these ask the database."""


def _calls() -> Iterator[tuple[Path, str, list[ast.expr]]]:
    """Every call of `run`, `one`, `row`, `rows`, `changed`, `number` or `numbers` in the store: its file, the function, its arguments."""
    for path in sorted(STORE.rglob("*.py")):
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id in ASKING:
                yield path, node.func.id, node.args


def _named(args: list[ast.expr]) -> set[str]:
    """The queries a call may name: a literal, or all that an expression chooses from."""
    found: set[str] = set()
    for arg in args:
        for node in ast.walk(arg):
            if isinstance(node, ast.Constant) and isinstance(node.value, str) and node.value in queries():
                found.add(node.value)
    return found


def _typed() -> Iterator[tuple[str, type[Row]]]:
    """Every query that is read as a row, with the row."""
    import importlib

    for path, function, args in _calls():
        if function in ("row", "rows") and len(args) == 3 and isinstance(args[1], ast.Name):
            module = importlib.import_module(".".join(("wily_heron", "store", *path.relative_to(STORE).with_suffix("").parts)))
            for name in _named(args[2:]):
                yield name, getattr(module, args[1].id)


TYPED = sorted(set(_typed()), key=lambda pair: (pair[0], pair[1].__name__))


def test_every_query_says_in_one_line_why_it_is_there():
    for name, text in queries().items():
        first, second = (text.strip().splitlines() + [""])[:2]
        assert first.startswith("-- "), name
        assert first.endswith(".") or second.startswith("-- "), f"{name}: {first}"


def test_every_query_is_asked_by_the_store_and_every_asked_query_is_there():
    asked: set[str] = set()
    for path, function, args in _calls():
        named = _named(args)
        literal = [a for a in args if isinstance(a, ast.Constant) and isinstance(a.value, str)]
        assert named or not literal, f"{path.name}: {function} asks for {literal[0].value if literal else ''}"
        asked |= named
    by_name = {"parent_of", "newest_child_of"} | {query for _, query in ABOUT.values()}  # handed on by name in rail/pieces.py and jobs.py
    assert set(queries()) - asked - by_name == set()


@pytest.mark.parametrize("name", sorted(queries()))
def test_a_query_is_understood_by_the_schema(name: str):
    """Prepared without being run: unknown columns, wrong types and misspelt tables are refused here."""
    text = queries()[name]
    at: dict[str, str] = {}
    plain = NAMES.sub(lambda m: at.setdefault(m.group(1), f"${len(at) + 1}"), text.replace("%%", "%"))
    with transaction() as connection:
        connection.execute(f"prepare checked as {plain}")  # type: ignore[arg-type]
        connection.execute("deallocate checked")


@pytest.mark.parametrize(("name", "kind"), TYPED, ids=[f"{name}-{kind.__name__}" for name, kind in TYPED])
def test_a_typed_query_gives_the_columns_its_row_names(name: str, kind: type[Row]):
    text = queries()[name]
    values = dict.fromkeys(NAMES.findall(text))
    with transaction() as connection:
        if re.search(r"^\s*(insert|update|delete)", text, re.M):
            listed = re.search(r"returning (.+);", text, re.S)
            assert listed is not None, name
            given = {part.split(" as ")[-1].split(".")[-1].strip() for part in listed.group(1).split(",")}
        else:
            cursor = connection.execute(text, values)  # type: ignore[arg-type]
            given = {column.name for column in cursor.description or ()}
    fields = {str(field.validation_alias or key) for key, field in kind.model_fields.items()}
    needed = {str(field.validation_alias or key) for key, field in kind.model_fields.items() if field.is_required()}
    assert needed <= given, f"{name} does not give {needed - given}"
    assert not given - fields - {"place", "part", "area"}, f"{name} gives {given - fields}, which nothing reads"
