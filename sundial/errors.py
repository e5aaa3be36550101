"""The one exception of the core for a wrong input."""

from __future__ import annotations


class BriefError(ValueError):
    """A value in a brief (or in a file it names) that cannot be used.

    ``path`` names the place (``array.rows``, ``sky.file row 812, column DNI``); ``message`` says, in
    words a builder understands, what is wrong and what to give instead.
    """

    def __init__(self, path: str, message: str) -> None:
        super().__init__(f"{path}: {message}" if path else message)
        self.path = path
        self.message = message
