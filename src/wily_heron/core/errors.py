"""What can go wrong, in three kinds; the doors turn them into exit codes and problem details."""


class HeronError(Exception):
    """Base of all errors that are told to the user."""


class InputError(HeronError):
    """The user's input cannot be used: says what is wrong, where, and what to do about it."""

    def __init__(self, what: str, where: str, todo: str) -> None:
        super().__init__(f"{where}: {what}. {todo}")
        self.what, self.where, self.todo = what, where, todo


class NotFound(InputError):
    """What was asked for by its number or name is not there, or no longer."""


class Conflict(InputError):
    """Someone else has changed what the change was made from; it is to be made again on what stands now."""


class ComputeError(HeronError):
    """A computation could not be carried out on input that was accepted."""


class StorageError(HeronError):
    """The database or a file could not be read or written."""
