"""Cloth: fabrics in physical units, a sheet of them, and what it does on a moving body."""
