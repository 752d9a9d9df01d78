"""`python -m demo [--reset]`: load the demo production."""

import sys

from .load import load

print(load(reset="--reset" in sys.argv[1:]))
