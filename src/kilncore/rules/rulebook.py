"""How a question with several schools is asked: one function a school, a verdict each."""

from collections.abc import Callable
from dataclasses import dataclass

from kilncore.errors import CoreError
from kilncore.said import Sentence
from kilncore.sources import source

__all__ = ["Rule", "School", "Verdict"]


@dataclass(frozen=True, slots=True)
class Verdict:
    """What one school answers: a value, or why it has none."""

    school: str
    label: str
    value: float | None
    why: Sentence
    source: str


@dataclass(frozen=True, slots=True)
class School:
    """One way of answering a rule's question."""

    key: str
    label: str
    source: str
    answer: Callable[..., tuple[float, Sentence]]


class Rule:
    """A question of the trade and the schools that answer it.

    Schools are declared below the rule in its own file; nothing registers from afar.
    """

    def __init__(self, key: str, question: str) -> None:
        self.key = key
        self.question = question
        self.schools: dict[str, School] = {}

    def school(
        self, key: str, *, label: str, source_key: str
    ) -> Callable[[Callable[..., tuple[float, Sentence]]], Callable[..., tuple[float, Sentence]]]:
        """Declare a school; its source must be known."""
        source(source_key)

        def declare(
            answer: Callable[..., tuple[float, Sentence]],
        ) -> Callable[..., tuple[float, Sentence]]:
            self.schools[key] = School(key, label, source_key, answer)
            return answer

        return declare

    def ask(self, *, first: str | None = None, **inputs: object) -> tuple[Verdict, ...]:
        """Ask every school, the house's own first.

        A school out of its range answers with the reason and no value.
        """
        order = sorted(self.schools.values(), key=lambda s: s.key != first)
        return tuple(_answer(s, inputs) for s in order)


def _answer(school: School, inputs: dict[str, object]) -> Verdict:
    try:
        value, why = school.answer(**inputs)
    except CoreError as error:
        why = Sentence(error.code, error.template, error.params)
        return Verdict(school.key, school.label, None, why, school.source)
    return Verdict(school.key, school.label, value, why, school.source)
