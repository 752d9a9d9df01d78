"""`python -m demo [--reset]`: load the demo production."""

import sys

from wily_heron.store.db import transaction
from wily_heron.store.productions.all_productions import has_productions

from . import THERE


def main(reset: bool) -> str:
    """Load the demo production if there is none, or anew; return one line on what was done."""
    with transaction() as connection:
        there = has_productions(connection)
    if there and not reset:
        return THERE
    from .load import load  # most of the product, which a start that has nothing to load need not wait for

    return load(reset)


print(main("--reset" in sys.argv[1:]))
