"""Tables that come in as text: which column is which, what each cell means, what is wrong where."""

import csv
import io
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from datetime import UTC, datetime
from typing import Any

from kilncore.errors import CoreError, Impossible

__all__ = ["Cell", "Column", "Row", "Table", "number", "read_rows", "read_table", "unmatched", "when"]

MOST_CHARS = 6_000_000
MOST_ROWS = 60_000


@dataclass(frozen=True, slots=True)
class Column:
    """A column wanted: its key, what it is called in files, and how its cells are read."""

    key: str
    label: str
    names: tuple[str, ...]
    read: Callable[[str], Any]
    required: bool = True


@dataclass(frozen=True, slots=True)
class Table:
    """A file as it came: its header and its rows of text."""

    header: list[str]
    rows: list[list[str]]

    def guess(self, columns: Sequence[Column]) -> dict[str, str]:
        """Return, by column key, the header that most likely holds it."""
        plain = {h: "".join(c for c in h.lower() if c.isalnum()) for h in self.header}
        found: dict[str, str] = {}
        for column in columns:
            for exact in (True, False):
                hit = next(
                    (
                        h
                        for h, p in plain.items()
                        if h not in found.values() and any(p == n if exact else n in p for n in column.names)
                    ),
                    None,
                )
                if hit is not None:
                    found[column.key] = hit
                    break
        return found


@dataclass(frozen=True, slots=True)
class Cell:
    """What is wrong with one cell."""

    column: str
    message: str


@dataclass(slots=True)
class Row:
    """A row read: its line in the file, its values, and what is wrong with it."""

    line: int
    values: dict[str, Any] = field(default_factory=dict)
    wrong: list[Cell] = field(default_factory=list)


def read_table(text: str) -> Table:
    """Return a file's header and rows; comma, semicolon or tab between cells.

    Lines that begin with # are notes and left out.
    """
    if len(text) > MOST_CHARS:
        raise Impossible("file-too-large", "text", "That file is too large: six megabytes at most in one go.")
    lines = [line for line in text.lstrip("\ufeff").splitlines() if line.strip() and not line.startswith("#")]
    if len(lines) < 2:
        raise Impossible("empty-file", "text", "The file wants a line of column names and a row below it.")
    first = lines[0]
    between = max(";\t,", key=first.count)
    try:
        found = [
            [cell.strip() for cell in row]
            for row in csv.reader(io.StringIO("\n".join(lines)), delimiter=between)
        ]
    except csv.Error:
        raise Impossible("not-a-table", "text", "That is not a table of text with a separator.") from None
    if len(found) - 1 > MOST_ROWS:
        raise Impossible("too-many-rows", "text", "That is more than 60 000 rows; send it in parts.")
    if len(set(found[0])) != len(found[0]):
        raise Impossible("twin-columns", "text", "Two columns have the same name; rename one.")
    return Table(found[0], found[1:])


def read_rows(table: Table, columns: Sequence[Column], mapping: dict[str, str]) -> list[Row]:
    """Return every row with its values read and each wrong cell named."""
    for column in columns:
        if column.required and not mapping.get(column.key):
            raise Impossible("no-column", f"mapping.{column.key}", "Say which column holds this.")
        if mapping.get(column.key) and mapping[column.key] not in table.header:
            raise Impossible(
                "no-such-column", f"mapping.{column.key}", "There is no such column in the file."
            )
    where = {c.key: table.header.index(mapping[c.key]) for c in columns if mapping.get(c.key)}
    rows = []
    for i, cells in enumerate(table.rows):
        row = Row(line=i + 2)
        for column in columns:
            text = cells[where[column.key]] if column.key in where and where[column.key] < len(cells) else ""
            if not text:
                row.values[column.key] = None
                if column.required:
                    row.wrong.append(Cell(column.key, "This is empty."))
                continue
            try:
                row.values[column.key] = column.read(text)
            except CoreError as error:
                row.wrong.append(Cell(column.key, error.message))
            except ValueError as error:
                row.wrong.append(Cell(column.key, str(error)))
        rows.append(row)
    return rows


def unmatched(columns: Sequence[Column], mapping: dict[str, str]) -> list[str]:
    """Return the keys of columns that are wanted and not found yet."""
    return [c.key for c in columns if c.required and not mapping.get(c.key)]


def number(text: str) -> float:
    """Read a number: point or comma for the decimals, spaces in thousands."""
    plain = text.replace("\u00a0", "").replace("\u202f", "").replace(" ", "").replace("'", "")
    if "," in plain and "." in plain:
        plain = (
            plain.replace(",", "")
            if plain.rfind(".") > plain.rfind(",")
            else plain.replace(".", "").replace(",", ".")
        )
    else:
        plain = plain.replace(",", ".")
    try:
        value = float(plain)
    except ValueError:
        raise ValueError(f"“{text[:40]}” is not a number.") from None
    if not abs(value) < 1e12:
        raise ValueError(f"“{text[:40]}” is not an ordinary number.")
    return value


_FORMS = (
    "%Y-%m-%d %H:%M:%S", "%Y-%m-%d %H:%M", "%Y/%m/%d %H:%M:%S", "%Y/%m/%d %H:%M", "%d.%m.%Y %H:%M:%S",
    "%d.%m.%Y %H:%M", "%d.%m.%Y", "%d/%m/%Y %H:%M", "%d/%m/%Y %H:%M:%S", "%d/%m/%Y",
)  # fmt: skip


def when(text: str) -> datetime:
    """Read a moment: ISO first, then day.month.year forms; without a zone it is UTC."""
    plain = text.strip().replace("Z", "+00:00") if text.strip().endswith("Z") else text.strip()
    found = None
    try:
        found = datetime.fromisoformat(plain)
    except ValueError:
        for form in _FORMS:
            try:
                found = datetime.strptime(plain, form)
                break
            except ValueError:
                continue
    if found is None or not 1990 <= found.year <= 2200:
        raise ValueError(f"“{text[:40]}” is not a date and time such as 2026-03-14 09:30.")
    return found if found.tzinfo else found.replace(tzinfo=UTC)
