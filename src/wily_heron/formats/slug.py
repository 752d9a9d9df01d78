"""Names as files use them."""


def slug(name: str) -> str:
    """Return a name as used in node names: lower case, words joined by hyphens."""
    return "-".join("".join(c if c.isalnum() else " " for c in name.lower()).split()) or "piece"
