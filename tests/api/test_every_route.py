"""Every route of the API, found in its own description: what is not there is 404, what cannot be used is 422, and nothing is ever 500."""

from collections.abc import Iterator
from typing import Any

import pytest
from fastapi.testclient import TestClient

NOWHERE = 10**6 + 7
OBJ = b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n"
DRAWING = (b'<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="100mm" viewBox="0 0 100 100">'
           b'<path id="front" d="M0 0H90V90H0Z"/></svg>')
FILES = {"/api/shots/cameras": ("cameras.gltf", b"{}"), "/api/table/layouts/read": ("front.svg", DRAWING)}
NUMBERED = {"piece", "wearer", "item", "number", "trial", "hunt", "plan", "shot", "apart", "batch", "fall", "run_id", "waiver", "job"}
"""Path parameters that stand for a row."""
MAY_BE_GONE = {("delete", "/api/waivers/{waiver}"), ("get", "/api/pieces/{piece}/bake")}
"""What answers for a row that is not there as for one that is: it is gone, or has nothing, either way."""


def described() -> dict[str, Any]:
    import os

    os.environ.setdefault("WILY_HERON_DATABASE", "none")
    from wily_heron.api.app import make_app

    return make_app().openapi()


SCHEMA = described()
ROUTES = [(method, path) for path, methods in sorted(SCHEMA["paths"].items()) for method in methods]


def parameters(method: str, path: str, where: str) -> Iterator[dict[str, Any]]:
    return (p for p in SCHEMA["paths"][path][method].get("parameters", []) if p["in"] == where)


def sample(schema: dict[str, Any], depth: int = 0) -> Any:
    """Return the least value that a schema allows."""
    if schema.get("$ref", "").endswith("/Shot"):
        return {"name": "Jetty", "eye": [0, 1, 4], "target": [0, 1, 0], "lens": 0.6}  # a camera that looks somewhere
    if "$ref" in schema:
        return sample(SCHEMA["components"]["schemas"][schema["$ref"].rsplit("/", 1)[1]], depth + 1)
    if "const" in schema:
        return schema["const"]
    if "enum" in schema:
        return schema["enum"][0]
    for way in ("anyOf", "oneOf"):
        if way in schema:
            return sample(next(s for s in schema[way] if s.get("type") != "null"), depth + 1)
    match schema.get("type"):
        case "object":
            return {name: sample(schema["properties"][name], depth + 1) for name in schema.get("required", [])}
        case "array":
            items = schema.get("prefixItems") or [schema.get("items", {})] * schema.get("minItems", 0)
            return [sample(item, depth + 1) for item in items]
        case "integer" | "number":
            return schema.get("minimum", schema.get("exclusiveMinimum", 0) + 1 if "exclusiveMinimum" in schema else 1)
        case "boolean":
            return False
    return "a" * max(1, schema.get("minLength", 1))


def ask(client: TestClient, method: str, path: str, body: Any = None) -> Any:
    """Ask a route for what is not there, with the least that it takes."""
    at = path
    for p in parameters(method, path, "path"):
        text = str(NOWHERE) if p["schema"].get("type") == "integer" else str(sample(p["schema"]))
        at = at.replace("{" + p["name"] + "}", "a" * 64 if p["name"] == "sha" else text)
    query = {p["name"]: NOWHERE if p["name"] in NUMBERED else sample(p["schema"]) for p in parameters(method, path, "query")
             if p.get("required")}
    content = SCHEMA["paths"][path][method].get("requestBody", {}).get("content", {})
    more: dict[str, Any] = {}
    if "multipart/form-data" in content:
        name, data = FILES.get(path, ("band.obj", OBJ))
        more = {"files": [("files", (name, data))]}
    elif "application/json" in content:
        more = {"json": sample(content["application/json"]["schema"]) if body is None else body}
    return client.request(method, at, params=query, **more)


def told(answer: Any) -> dict[str, Any]:
    """Return the problem an answer tells of, which is whole."""
    assert answer.headers["content-type"] == "application/problem+json", answer.text
    problem = answer.json()
    assert problem["status"] == answer.status_code
    assert all(problem[key] for key in ("title", "detail", "what", "where", "todo")), problem
    return problem


@pytest.mark.parametrize(("method", "path"), [(m, p) for m, p in ROUTES if NUMBERED & {q["name"] for q in parameters(m, p, "path")}])
def test_a_row_that_is_not_there_is_404_and_says_what_to_do(client: TestClient, method: str, path: str):
    answer = ask(client, method, path)
    if (method, path) in MAY_BE_GONE:
        assert answer.status_code == 200
        return
    assert answer.status_code == 404, answer.text
    told(answer)


@pytest.mark.parametrize(("method", "path"), [(m, p) for m, p in ROUTES if {q["name"] for q in parameters(m, p, "path")} & {"sha", "name"}])
def test_a_name_or_an_address_that_is_not_there_is_404(client: TestClient, method: str, path: str):
    answer = ask(client, method, path)
    if (method, path) == ("put", "/api/stock/{item}/colourways/{name}"):
        assert answer.status_code in (404, 422)
    else:
        assert answer.status_code == 404, answer.text
    told(answer)


def needs_json(method: str, path: str) -> bool:
    body = SCHEMA["paths"][path][method].get("requestBody", {})
    return body.get("required", False) and "application/json" in body["content"]


@pytest.mark.parametrize(("method", "path"), [(m, p) for m, p in ROUTES if needs_json(m, p)])
def test_a_body_that_is_none_is_422_and_names_the_field(client: TestClient, method: str, path: str):
    for body in ([], "a letter", {"nothing of the kind": [None]}):
        answer = ask(client, method, path, body)
        assert answer.status_code < 500, answer.text
        if answer.status_code >= 400:
            told(answer)
        if body != {"nothing of the kind": [None]}:
            assert answer.status_code == 422, answer.text


def test_every_answer_with_a_body_is_described():
    open_ = [(m, p) for m, p in ROUTES
             for code, answer in SCHEMA["paths"][p][m]["responses"].items()
             if code.startswith("2") and code != "204" and not answer.get("content") and p not in ("/api/health", "/api/memory")]
    assert open_ == []


def test_nothing_is_asked_of_another_sites_page(client: TestClient):
    for method, path in ROUTES:
        if method != "get":
            answer = client.request(method, path.replace("{", "").replace("}", ""), headers={"origin": "http://elsewhere.example"})
            assert answer.status_code == 403, (method, path)
