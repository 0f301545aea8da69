"""The one family of errors that computation raises; facts are attributes, words are for people."""

from __future__ import annotations


class NonnaError(ValueError):
    """Something a person can put right.

    Parameters: code, a word from the published list of error codes; message, one plain sentence;
    where, a path into the input such as ``readings[3].value_mm`` ("" for the whole input).
    """

    def __init__(self, code: str, message: str, where: str = "") -> None:
        super().__init__(message)
        self.code = code
        self.message = message
        self.where = where

    def to_document(self) -> dict[str, dict[str, str]]:
        """Return the error object of the published format."""
        return {"error": {"code": self.code, "message": self.message, "where": self.where}}


class TooFewReadingsError(NonnaError):
    """There are fewer readings than the method needs."""

    def __init__(self, message: str, where: str = "readings") -> None:
        super().__init__("too-few-readings", message, where)


class NoRepeatabilityError(NonnaError):
    """Nothing tells how much one touch scatters, so no uncertainty can be stated."""

    def __init__(self, message: str | None = None, where: str = "readings") -> None:
        super().__init__(
            "no-repeatability",
            message
            or "Nothing here tells how much one touch scatters: take more touches, or give repeatability_mm "
            "from an earlier repeatability check.",
            where,
        )


class DegenerateGeometryError(NonnaError):
    """The places touched cannot tell what is asked, however good the touches are."""

    def __init__(self, message: str, where: str = "readings") -> None:
        super().__init__("degenerate-geometry", message, where)
