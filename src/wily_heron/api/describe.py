"""Print what the API offers, as OpenAPI, or with `--steps` the catalogue of the bench's steps as a module of the browser's part.

Its client is generated from both (npm run client)."""

import json
import os
import sys

from ..core.bench.recipe import catalogue


def main() -> None:
    """Print the description; no database is asked."""
    if "--steps" in sys.argv[1:]:
        print("/** The steps of the bench: generated from the server's list (npm run client). */")
        print(f"export const STEPS = {json.dumps(catalogue(), indent=2)} as const;")
        return
    os.environ.setdefault("WILY_HERON_DATABASE", "none")
    from .app import app

    print(json.dumps(app.openapi()))


if __name__ == "__main__":
    main()
