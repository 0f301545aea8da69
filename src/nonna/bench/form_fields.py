"""What a form asks for: fields made from a model's titles and units, and how what was typed is read."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from enum import StrEnum
from typing import Any, Literal, get_args, get_origin

from pydantic import BaseModel, WithJsonSchema
from pydantic.fields import FieldInfo

from nonna.errors import NonnaError
from nonna.procedures.entry import parse_length, parse_number
from nonna.procedures.wording import choice_words
from nonna.shop.texts.given import Plain
from nonna.wording.fields import field_help
from nonna.wording.lengths import Units


class Sort(StrEnum):
    """What kind of thing a field takes."""

    TEXT = "text"
    LENGTH = "length"
    NUMBER = "number"
    WHOLE = "whole"
    NUMBERS = "numbers"
    CHOICE = "choice"
    YES = "yes"
    SHOWN = "shown"  #: parts of the file that are counted, not typed


A_LINE = 100  #: letters of a text that is a whole line


@dataclass(frozen=True, slots=True)
class Asked:
    """One field of a form."""

    name: str
    title: str
    value: str = ""  #: the text it starts with
    choices: tuple[tuple[str, str], ...] = ()  #: (value, words); where there are any it is a choice
    unit: str = ""
    sort: Sort = Sort.TEXT
    help: str = ""
    hint: str = ""  #: shown where nothing stands yet
    needed: bool = False
    usual: Any = None  #: what the model has where nothing is said
    long: bool = False  #: whether it is a whole line, that wants the whole width

    def read(self, text: str, units: Units) -> Any:
        """Return what was typed, as the file has it; None for nothing where that will do.

        Raises: NonnaError naming the field, in words that begin with its title.
        """
        text = text.strip()
        if self.sort is Sort.NUMBERS:
            return [parse_number(part, self.title, self.name) for part in text.replace(";", " ").split()]
        if self.sort in (Sort.TEXT, Sort.CHOICE):
            return text
        if self.sort is Sort.YES:
            return text == "yes"
        if not text:
            return None
        if self.sort is not Sort.LENGTH:
            number = parse_number(text, self.title, self.name)
            if self.sort is not Sort.WHOLE:
                return number
            if number != int(number):
                raise NonnaError("not-a-number", "{title}: a whole number is wanted.", self.name, title=self.title)
            return int(number)
        try:
            return parse_length(text, units)
        except NonnaError as error:
            raise NonnaError(
                error.code, "{title}: {words}", self.name, title=self.title, words=error.message
            ) from error

    def text(self, value: Any) -> str:
        """Return a value of the file as the field shows it before it is changed, lengths in mm."""
        if value is None:
            return ""
        if isinstance(value, bool):
            return "yes" if value else "no"
        if self.sort is Sort.NUMBERS:
            return "; ".join(f"{v:g}" for v in value)
        if self.sort is Sort.SHOWN:
            count = len(value) if isinstance(value, list) else 1 if value else 0
            return f"{count}, kept in gear.json" if count else "none"
        return f"{value:.10g}" if isinstance(value, float) else str(value)


def asked_in(model: type[BaseModel]) -> Iterator[Asked]:
    """Yield a field for each one of a model, in its order."""
    for name, info in model.model_fields.items():
        yield asked_of(name, info)


def asked_of(name: str, info: FieldInfo) -> Asked:
    """Return the field that asks for one of a model."""
    extra = info.json_schema_extra if isinstance(info.json_schema_extra, dict) else {}
    usual = None if info.is_required() else info.get_default(call_default_factory=True)
    words = _words_of(info)
    return Asked(
        name, info.title or name, choices=tuple((word, choice_words(word)) for word in words),
        unit=str(extra.get("unit", "")), sort=_sort_of(name, info, usual, words), help=_help_of(name, info),
        hint=str(info.examples[0]) if info.examples else "", needed=info.is_required(), usual=usual,
        long=any(getattr(each, "max_length", 0) >= A_LINE for each in info.metadata),
    )  # fmt: skip


def _help_of(name: str, info: FieldInfo) -> str:
    """Return what a field is good for: its own words, else those that all forms share; never its bare title again."""
    own = info.description or ""
    return own if own and own != info.title else field_help(name) or own


def _sort_of(name: str, info: FieldInfo, usual: Plain, words: tuple[str, ...]) -> Sort:
    if isinstance(usual, bool):
        return Sort.YES
    if words:
        return Sort.CHOICE
    kind = info.annotation
    if isinstance(usual, list):
        return Sort.NUMBERS if get_args(kind)[:1] == (float,) or name.endswith("_deg") else Sort.SHOWN
    if any(isinstance(part, type) and issubclass(part, BaseModel) for part in (kind, *get_args(kind))):
        return Sort.SHOWN
    if kind is str or str in get_args(kind):
        return Sort.TEXT
    if kind is int:
        return Sort.WHOLE
    return Sort.LENGTH if name.endswith("_mm") else Sort.NUMBER


def _words_of(info: FieldInfo) -> tuple[str, ...]:
    """Return the words a field may hold, none where it holds something else."""
    if get_origin(info.annotation) is Literal:
        return tuple(str(word) for word in get_args(info.annotation))
    schema = next((m.json_schema for m in info.metadata if isinstance(m, WithJsonSchema)), None)
    return tuple(str(word) for word in (schema or {}).get("enum", ()))
