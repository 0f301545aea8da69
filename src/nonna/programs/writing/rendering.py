"""Fill program templates with plain data: sandboxed, from nothing but the texts handed in."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

LONGEST_TEXT = 20_000_000


class RefusedError(Exception):
    """A template cannot be used: which, where in it, and why."""

    def __init__(self, file: str, line: int, words: str) -> None:
        super().__init__(words)
        self.file, self.line, self.words = file, line, words


def render(sources: Mapping[str, str], name: str, contexts: Sequence[Mapping[str, object]]) -> list[str]:
    """Fill one template for each context.

    Parameters: sources, every template there is by name: nothing else is loaded; contexts, plain data only.
    Raises: RefusedError (a template is wrong, or asks for what is not given: attributes, methods that change things).
    """
    from jinja2 import DictLoader, StrictUndefined, TemplateError, TemplateNotFound
    from jinja2.exceptions import SecurityError
    from jinja2.sandbox import ImmutableSandboxedEnvironment

    environment = ImmutableSandboxedEnvironment(
        loader=DictLoader(dict(sources)), undefined=StrictUndefined, autoescape=False
    )
    texts = []
    try:
        template = environment.get_template(name)
        for context in contexts:
            text = template.render(context)
            if len(text) > LONGEST_TEXT:
                raise RefusedError(name, 0, "it makes more text than any control takes")
            texts.append(text)
    except SecurityError as error:
        raise RefusedError(name, 0, f"it reaches for what a template may not have: {error}") from error
    except TemplateNotFound as error:
        raise RefusedError(name, 0, f"it asks for {str(error.name)[:60]!r}, which is not in its folder") from error
    except TemplateError as error:
        file = str(getattr(error, "name", "") or name)
        raise RefusedError(file, int(getattr(error, "lineno", 0) or 0), str(error)) from error
    except (ArithmeticError, ValueError, TypeError, LookupError, AttributeError, RecursionError, MemoryError) as error:
        raise RefusedError(name, 0, f"{type(error).__name__}: {error}") from error
    return texts
