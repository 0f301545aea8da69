"""The one family of errors that computation raises: codes and facts; words are for people."""

from __future__ import annotations


class NonnaError(ValueError):
    """Something a person can put right: a code, a template that stands where it is refused, and the facts that go into
    it.

    Parameters: code, a word from the published list of error codes; template, one plain sentence with a ``{name}`` for
    each fact, a plain one without any; where, a path into the input such as ``readings[3].value_mm`` ("" for the whole
    input); facts, by name.
    """

    def __init__(self, code: str, template: str, where: str = "", **facts: object) -> None:
        self.code = code
        self.template = template
        self.where = where
        self.facts = facts
        super().__init__(self.message)

    @property
    def message(self) -> str:
        """The sentence: the one place where a refusal is put into words."""
        return self.template.format_map(self.facts) if self.facts else self.template

    def to_document(self) -> dict[str, dict[str, str]]:
        """Return the error object of the published format."""
        return {"error": {"code": self.code, "message": self.message, "where": self.where}}


class TooFewReadingsError(NonnaError):
    """There are fewer readings than the method needs."""

    def __init__(self, template: str, where: str = "readings", **facts: object) -> None:
        super().__init__("too-few-readings", template, where, **facts)


class NoRepeatabilityError(NonnaError):
    """Nothing tells how much one touch scatters, so no uncertainty can be stated."""

    def __init__(self, template: str = "", where: str = "readings", **facts: object) -> None:
        super().__init__(
            "no-repeatability",
            template
            or "Nothing here tells how much one touch scatters: take more touches, or give repeatability_mm "
            "from an earlier repeatability check.",
            where,
            **facts,
        )


class DegenerateGeometryError(NonnaError):
    """The places touched cannot tell what is asked, however good the touches are."""

    def __init__(self, template: str, where: str = "readings", **facts: object) -> None:
        super().__init__("degenerate-geometry", template, where, **facts)
