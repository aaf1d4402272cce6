"""How the core speaks: figures with their reasons, sentences with numbers left open.

A sentence is a template whose placeholders end in a unit suffix; the screen fills
them in the reader's units. The core never formats a length for a reader.
"""

from dataclasses import dataclass, field

from kilncore.errors import fill

__all__ = ["Caution", "Figure", "Limit", "Sentence", "say"]

Params = dict[str, float | str]


@dataclass(frozen=True, slots=True)
class Sentence:
    """A sentence with a stable code and its numbers."""

    code: str
    template: str
    params: Params = field(default_factory=dict)

    def __str__(self) -> str:
        return fill(self.template, self.params)


def say(code: str, template: str, **params: float | str) -> Sentence:
    """Return a sentence; every placeholder of the template must be given."""
    plain = {key: value if isinstance(value, str) else float(value) for key, value in params.items()}
    sentence = Sentence(code, template, plain)
    str(sentence)  # a missing placeholder fails here, in the core's tests, not on a screen
    return sentence


@dataclass(frozen=True, slots=True)
class Limit:
    """One rule or bound that could have governed a figure.

    ``value`` is in the unit of the figure it belongs to; None where the limit
    could not be computed (the sentence says why).
    """

    key: str
    label: str
    value: float | None
    why: Sentence
    source: str
    governs: bool = False


@dataclass(frozen=True, slots=True)
class Caution:
    """A short warning beside the figure it concerns. level: note, care or stop."""

    level: str
    text: Sentence


@dataclass(frozen=True, slots=True)
class Figure:
    """A computed figure a person will read: one value or a from-to band, and why.

    ``name`` ends in the unit suffix of ``value``, ``low`` and ``high``.
    """

    name: str
    label: str
    value: float | None = None
    low: float | None = None
    high: float | None = None
    why: Sentence | None = None
    limits: tuple[Limit, ...] = ()
    inputs: Params = field(default_factory=dict)
    source: str = ""
    group: str = ""
    big: bool = False
