"""Shapes shared by every room: strict input, clean text, bounded numbers, one page."""

import unicodedata
from datetime import datetime
from typing import Annotated

from ninja import Schema
from pydantic import AfterValidator, AwareDatetime, ConfigDict, Field

__all__ = ["Grams", "Input", "Length", "Line", "Tag", "When"]


def _clean(text: str) -> str:
    text = text.strip()
    bad = [c for c in text if unicodedata.category(c) in ("Cs", "Cc") and c not in "\n\t"]
    if bad:
        raise ValueError("There are characters in it that cannot be kept; please retype it.")
    return text


def _tag(text: str) -> str:
    text = _clean(text).upper()
    if not text or len(text) > 12 or not all(c.isascii() and (c.isalnum() or c == "-") for c in text):
        raise ValueError("A tag is up to 12 letters, digits or dashes, such as 41 or B-7.")
    return text


def _sane(when: datetime) -> datetime:
    if not 1990 <= when.year <= 2200:
        raise ValueError("That date lies outside any workshop's years.")
    return when


class Input(Schema):
    """Base of everything sent in: unknown fields and NaN are refused."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


Line = Annotated[str, AfterValidator(_clean), Field(max_length=400)]
Tag = Annotated[str, AfterValidator(_tag), Field(max_length=40)]
When = Annotated[AwareDatetime, AfterValidator(_sane)]
Length = Annotated[float, Field(gt=-1e7, lt=1e7)]
Grams = Annotated[float, Field(gt=-1e9, lt=1e9)]
