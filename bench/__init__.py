"""The speed suite: each figure beside its peer's, measured in the same run on one pinned core."""
