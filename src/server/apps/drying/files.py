"""Weights as tables, in and out, and what is to come as a calendar."""

import csv
import io
import json
from collections.abc import Callable
from dataclasses import asdict, dataclass
from datetime import datetime, timedelta
from typing import Any
from uuid import UUID, uuid5

from django.db import transaction
from icalendar import Calendar, Event

from kilncore.errors import CoreError, Impossible, Unknown, fill, require_range
from kilncore.units import GRAMS_PER_OUNCE, GRAMS_PER_POUND
from server.api.tables import Cell, Column, Row, number, read_rows, read_table, unmatched, when
from server.apps.drying.models import DryingRun, PlanStep, WeighIn
from server.apps.drying.queries import FloorRow, floor
from server.apps.drying.services import question_of
from server.apps.pieces.services import not_future
from server.apps.shop.models import Membership, Workshop

__all__ = ["MASS_UNITS", "WEIGHT_COLUMNS", "Preview", "calendar_of", "import_weights", "weights_csv"]

MASS_UNITS = {"g": 1.0, "kg": 1000.0, "oz": GRAMS_PER_OUNCE, "lb": GRAMS_PER_POUND}
STATES = tuple(key for key, _ in WeighIn.STATES)
# Rows without a key of their own get one from what they say, so that a file sent twice is kept once.
KEYS = UUID("6f2c1c56-6a0b-4b9e-9d0f-2f1f6a3f7c11")


def _state(text: str) -> str:
    if text.lower() not in STATES:
        raise ValueError(f"It is one of {', '.join(STATES)}.")
    return text.lower()


def _key(text: str) -> UUID:
    try:
        return UUID(text)
    except ValueError:
        raise ValueError("A key is a UUID, as the export writes it.") from None


def _question(text: str) -> dict[str, Any]:
    try:
        found = json.loads(text)
        fill(found["sentence"]["template"], found["sentence"]["params"])
    except (ValueError, KeyError, TypeError, AttributeError, IndexError):
        raise ValueError("A question is what the export writes; leave the column out instead.") from None
    return found


WEIGHT_COLUMNS = (
    Column("tag", "Tag", ("tag", "piece", "number", "nr", "no"), lambda t: t.strip().upper()),
    Column("at", "When", ("at", "when", "date", "time", "datetime", "datum"), when),
    Column("mass", "Weight", ("massg", "mass", "weight", "grams", "gramm", "gewicht"), number),
    Column("key", "Key", ("key",), _key, required=False),
    Column("typed", "As typed", ("typed",), lambda t: t[:40], required=False),
    Column("state", "State", ("state",), _state, required=False),
    Column("corrects", "Corrects", ("corrects",), _key, required=False),
    Column("question", "Question", ("question",), _question, required=False),
    Column("by", "By", ("by",), lambda t: t, required=False),
)
HEADER = ("tag", "at", "mass_g", "key", "typed", "state", "corrects", "question", "by")


def _guarded(text: str) -> str:
    """A cell no spreadsheet takes for a formula."""
    return f"'{text}" if text[:1] in ("=", "+", "-", "@", "\t", "'") else text


def weights_csv(workshop: Workshop) -> str:
    """Return every weight of the workshop, corrected ones included, as CSV."""
    out = io.StringIO()
    out.write("# weights in g; at is the moment of weighing; corrects is the key of the weight it replaces\n")
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(HEADER)
    rows = (
        WeighIn.objects.filter(workshop=workshop)
        .select_related("run__piece", "corrects", "by")
        .order_by("at", "id")
    )
    for row in rows:
        corrects = row.corrects.key if row.corrects else ""
        asked = json.dumps(row.question) if row.question else ""
        who = row.by.get_username() if row.by else ""
        writer.writerow(
            [
                row.run.piece.tag, row.at.isoformat(), repr(row.mass_g), row.key, _guarded(row.typed), row.state,
                corrects, asked, _guarded(who),
            ]
        )  # fmt: skip
    return out.getvalue()


@dataclass(frozen=True, slots=True)
class Preview:
    """What an import would do, or did: rows by what becomes of them."""

    header: list[str]
    mapping: dict[str, str]
    rows: list[dict[str, Any]]
    new: int
    known: int
    questioned: int
    wrong: int
    kept: bool


def import_weights(
    workshop: Workshop,
    *,
    text: str,
    mapping: dict[str, str] | None,
    unit: str,
    keep: bool,
    now: datetime,
    by: Any,
) -> Preview:
    """Read weights from a table; kept only all together, and only when nothing is wrong.

    A row known already (by its key, or by saying the same) is not kept twice.
    """
    if unit not in MASS_UNITS:
        raise Unknown("unit", unit, list(MASS_UNITS))
    table = read_table(text)
    mapping = {**table.guess(WEIGHT_COLUMNS), **(mapping or {})}
    mapping = {key: column for key, column in mapping.items() if column}
    if not keep and unmatched(WEIGHT_COLUMNS, mapping):  # first say which column is which
        return Preview(table.header, mapping, [], 0, 0, 0, 0, False)
    rows = read_rows(table, WEIGHT_COLUMNS, mapping)
    loader = _Loader(workshop, MASS_UNITS[unit], now, "typed" in mapping)
    told = [loader.look(row) for row in rows]
    wrong = sum(bool(row.wrong) for row in rows)
    if keep:
        if wrong:
            text = "{wrong} rows are wrong; nothing was kept. Mend the file, or leave those rows out."
            raise Impossible("rows-wrong", "text", text, {"wrong": str(wrong)})
        loader.keep(rows, by)
    return Preview(
        header=table.header,
        mapping=mapping,
        rows=told,
        new=sum(t["fate"] in ("new", "questioned") for t in told),
        known=sum(t["fate"] == "known" for t in told),
        questioned=sum(t["fate"] == "questioned" for t in told),
        wrong=wrong,
        kept=keep,
    )


class _Loader:
    """Rows of a table looked at against what is there, then kept in one go."""

    def __init__(self, workshop: Workshop, factor: float, now: datetime, has_typed: bool) -> None:
        self.workshop, self.factor, self.now = workshop, factor, now
        self.runs: dict[str, list[DryingRun]] = {}
        for run in DryingRun.objects.filter(piece__workshop=workshop).select_related("piece", "forecast"):
            self.runs.setdefault(run.piece.tag, []).append(run)
        self.known = set(WeighIn.objects.filter(workshop=workshop).values_list("key", flat=True))
        self.seen: set[UUID] = set()
        members = Membership.objects.filter(workshop=workshop).select_related("user")
        self.people = {m.user.get_username(): m.user for m in members}
        self.has_typed = has_typed

    def look(self, row: Row) -> dict[str, Any]:
        """Say what becomes of a row; what is wrong with it is added to it."""
        values = row.values
        fate = "wrong"
        if not row.wrong:
            self._check(row)
        if not row.wrong:
            values["key"] = values["key"] or self._own_key(values)
            fate = "known" if values["key"] in self.known or values["key"] in self.seen else "new"
            self.seen.add(values["key"])
            if fate == "new" and values["state"] is None:
                asked = question_of(values["run"], self.workshop, values["mass_g"], values["at"])
                values["question"] = asdict(asked) if asked else {}
                fate = "questioned" if asked else "new"
        at = values.get("at")
        return {
            "line": row.line,
            "fate": "wrong" if row.wrong else fate,
            "tag": values.get("tag") or "",
            "at": at.isoformat() if at else None,
            "mass_g": values.get("mass_g"),
            "wrong": [asdict(cell) for cell in row.wrong],
            "question": fill(
                values["question"]["sentence"]["template"], values["question"]["sentence"]["params"]
            )
            if values.get("question")
            else "",
        }

    def _check(self, row: Row) -> None:
        values = row.values
        values["mass_g"] = values["mass"] * self.factor
        checks: list[tuple[str, Callable[[], None]]] = [
            (
                "mass",
                lambda: require_range(
                    "mass_g", values["mass_g"], 0.1, 200_000.0, "A weight is a positive number."
                ),
            ),
            ("at", lambda: not_future(values["at"], now=self.now, field="at")),
        ]
        for column, check in checks:
            try:
                check()
            except CoreError as error:
                row.wrong.append(Cell(column, error.message))
        runs = self.runs.get(values["tag"], [])
        if not runs:
            row.wrong.append(Cell("tag", "No piece of that tag is or was drying here."))
            return
        fitting = [
            r
            for r in runs
            if r.started_at <= values["at"] and (r.ended_at is None or values["at"] <= r.ended_at)
        ]
        if not fitting:
            row.wrong.append(Cell("at", "That piece was not drying then."))
            return
        values["run"] = fitting[-1]

    def _typed(self, text: str | None) -> str:
        """As it was typed, the guard against formulas taken off; a plain table says where it came from."""
        return (text or "").removeprefix("'") if self.has_typed else "from a table"

    def _own_key(self, values: dict[str, Any]) -> UUID:
        return uuid5(
            KEYS, f"{self.workshop.pk}|{values['tag']}|{values['at'].isoformat()}|{values['mass_g']:.3f}"
        )

    @transaction.atomic
    def keep(self, rows: list[Row], by: Any) -> None:
        """Keep every new row, those that correct another after it."""
        made: dict[UUID, WeighIn] = {}
        new = [row.values for row in rows if row.values["key"] not in self.known]
        for values in sorted(new, key=lambda v: v["corrects"] is not None):
            if values["key"] in made:
                continue
            replaced = None
            if values["corrects"] is not None:
                replaced = (
                    made.get(values["corrects"])
                    or WeighIn.objects.filter(workshop=self.workshop, key=values["corrects"]).first()
                )
            made[values["key"]] = WeighIn.objects.create(
                workshop=self.workshop, run=values["run"], key=values["key"], at=values["at"],
                mass_g=values["mass_g"], typed=self._typed(values["typed"]),
                state=values["state"] or ("questioned" if values.get("question") else "accepted"),
                question=values.get("question") or {}, corrects=replaced, by=self.people.get(values["by"] or "", by),
            )  # fmt: skip


def _entry(uid: str, words: str, at: datetime, *, note: str, now: datetime, hours: float = 0.5) -> Event:
    entry = Event()
    entry.add("uid", f"{uid}@yard-kiln")
    entry.add("summary", words)
    entry.add("dtstart", at.replace(microsecond=0))
    entry.add("dtend", (at + timedelta(hours=hours)).replace(microsecond=0))
    entry.add("dtstamp", now.replace(microsecond=0))
    if note:
        entry.add("description", note)
    return entry


def calendar_of(workshop: Workshop, *, now: datetime) -> bytes:
    """Return weighings, steps of chosen ways and likely ready dates as an iCalendar file."""
    calendar = Calendar()
    calendar.add("prodid", "-//Yard Kiln//drying//EN")
    calendar.add("version", "2.0")
    calendar.add("name", f"{workshop.name}: drying")
    for row in floor(workshop, now=now):
        _add_row(calendar, row, now)
    steps = PlanStep.objects.filter(
        run__piece__workshop=workshop, run__ended_at__isnull=True, done_at__isnull=True
    )
    for step in steps.select_related("run__piece"):
        words = fill(step.words["template"], step.words["params"])
        tag = step.run.piece.tag
        calendar.add_component(_entry(f"step-{step.pk}", f"{tag}: {words}", step.due_at, note="", now=now))
    return bytes(calendar.to_ical())


def _add_row(calendar: Calendar, row: FloorRow, now: datetime) -> None:
    piece = row.run.piece
    name = f"{piece.tag} {piece.name}".strip()
    if row.weigh_at is not None:
        calendar.add_component(
            _entry(
                f"weigh-{row.run.id}",
                f"Weigh {name}",
                max(row.weigh_at, now),
                note=row.place,
                now=now,
                hours=0.1,
            )
        )
    ready = row.moment("ready", "middle")
    if ready is not None and not row.ready:
        low, high = row.moment("ready", "low"), row.moment("ready", "high")
        span = f"Eight chances in ten: {low:%d %b %Y}" if low else ""
        note = f"{span} to {high:%d %b %Y}" if high else f"{span} or later"
        calendar.add_component(
            _entry(f"ready-{row.run.id}", f"Likely ready: {name}", max(ready, now), note=note, now=now)
        )
