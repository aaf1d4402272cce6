"""A place's air as tables, and from its logger."""

import csv
import io
from dataclasses import asdict, dataclass
from datetime import datetime
from typing import Any

from django.db import transaction

from kilncore.drying.climate import Air
from kilncore.errors import CoreError, Impossible, Unknown
from kilndevices.logger import LoggerLost, read_logger
from server.api.tables import Cell, Column, Row, number, read_rows, read_table, unmatched, when
from server.apps.shop.models import Place
from server.apps.shop.reach import require_reach
from server.apps.shop.services import add_readings

__all__ = ["AIR_COLUMNS", "AirPreview", "climate_csv", "import_air", "read_place"]

AIR_COLUMNS = (
    Column("at", "When", ("at", "when", "datetime", "date", "time", "timestamp", "datum"), when),
    Column("temperature", "Temperature", ("airc", "temperature", "temp", "celsius", "fahrenheit"), number),
    Column("humidity", "Humidity", ("rhpct", "relativehumidity", "humidity", "rh", "feuchte"), number),
)


@dataclass(frozen=True, slots=True)
class AirPreview:
    """What an import of air would do, or did."""

    header: list[str]
    mapping: dict[str, str]
    rows: list[dict[str, Any]]
    new: int
    known: int
    wrong: int
    kept: bool


def climate_csv(place: Place) -> str:
    """Return every reading of a place as CSV."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["at", "air_c", "rh_pct"])
    for at, air_c, rh_pct in place.readings.values_list("at", "air_c", "rh_pct"):
        writer.writerow([at.isoformat(), repr(air_c), repr(rh_pct)])
    return out.getvalue()


def import_air(
    place: Place, *, text: str, mapping: dict[str, str] | None, unit: str, keep: bool, now: datetime
) -> AirPreview:
    """Read a logger's table; kept only all together, and only when nothing is wrong."""
    if unit not in ("c", "f"):
        raise Unknown("unit", unit, ["c", "f"])
    table = read_table(text)
    mapping = {key: col for key, col in {**table.guess(AIR_COLUMNS), **(mapping or {})}.items() if col}
    if not keep and unmatched(AIR_COLUMNS, mapping):
        return AirPreview(table.header, mapping, [], 0, 0, 0, False)
    rows = read_rows(table, AIR_COLUMNS, mapping)
    there = set(place.readings.values_list("at", flat=True))
    told = [_look(row, unit=unit, there=there, now=now) for row in rows]
    good = [
        (r.values["at"], r.values["air_c"], r.values["humidity"])
        for r, t in zip(rows, told, strict=True)
        if t["fate"] == "new"
    ]
    wrong = sum(bool(row.wrong) for row in rows)
    if keep:
        if wrong:
            text = "{wrong} rows are wrong; nothing was kept. Mend the file, or leave those rows out."
            raise Impossible("rows-wrong", "text", text, {"wrong": str(wrong)})
        with transaction.atomic():
            add_readings(place, good)
    known = sum(t["fate"] == "known" for t in told)
    return AirPreview(table.header, mapping, told, len(good), known, wrong, keep)


def _look(row: Row, *, unit: str, there: set[datetime], now: datetime) -> dict[str, Any]:
    """Say what becomes of a row; what is wrong with it is added to it, a new moment to ``there``."""
    values = row.values
    if not row.wrong:
        shown = values["temperature"]
        values["air_c"] = shown if unit == "c" else round((shown - 32.0) / 1.8, 2)
        try:
            Air(values["air_c"], values["humidity"])
        except CoreError as error:
            row.wrong.append(Cell("humidity" if error.field == "rh_pct" else "temperature", error.message))
        if values["at"] > now:
            row.wrong.append(Cell("at", "That moment is still to come."))
    fate = "wrong" if row.wrong else "known" if values["at"] in there else "new"
    if fate == "new":
        there.add(values["at"])
    return {
        "line": row.line, "fate": fate, "at": values["at"].isoformat() if values.get("at") else None,
        "air_c": values.get("temperature"), "rh_pct": values.get("humidity"),
        "wrong": [asdict(cell) for cell in row.wrong],
    }  # fmt: skip


def read_place(place: Place) -> int:
    """Read a place's logger and keep what is new; return how many readings that were."""
    if not place.logger_url:
        raise Impossible("no-logger", "logger_url", "No logger is set up for this place.")
    require_reach(place.logger_url, "logger_url")
    try:
        found = read_logger(place.logger_url)
    except LoggerLost as lost:
        raise Impossible("logger-lost", "logger_url", str(lost)) from None
    try:
        return add_readings(place, [(r.at, r.air_c, r.rh_pct) for r in found])
    except CoreError as error:
        text = "The logger shows air that cannot be ({value}): check it."
        raise Impossible("odd-air", "logger_url", text, {"value": error.message}) from None
