"""What is known of a species, and how sure it is."""

import csv
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

from kilncore.errors import Unknown

__all__ = ["Known", "Species", "all_species", "read_table", "species"]

_FIELDS = ("gb", "shrink_radial_pct", "shrink_tangential_pct")


@dataclass(frozen=True, slots=True)
class Known:
    """A wood property with its honest spread.

    ``from_class`` is True where the species has no figure of its own and the
    range of its class stands in.
    """

    low: float
    typical: float
    high: float
    from_class: bool
    source: str

    def __post_init__(self) -> None:
        if not self.low <= self.typical <= self.high:
            raise ValueError(f"low <= typical <= high must hold. Got {self}.")


@dataclass(frozen=True, slots=True)
class Species:
    """A wood as the planner sees it; every figure has a spread."""

    key: str
    common: str
    botanical: str
    kind: str
    gb: Known
    green_mc_pct: Known
    shrink_radial_pct: Known
    shrink_tangential_pct: Known
    hazards: tuple[str, ...]
    traits: tuple[str, ...]
    source: str

    @property
    def is_wild(self) -> bool:
        """Whether the wood is known to move and check badly."""
        ratio = self.shrink_tangential_pct.typical
        return "wild" in self.traits or ratio >= 11.0

    @property
    def has_gaps(self) -> bool:
        """Whether any figure comes from the class and not from the species."""
        return any(
            known.from_class
            for known in (
                self.gb,
                self.green_mc_pct,
                self.shrink_radial_pct,
                self.shrink_tangential_pct,
            )
        )


def read_table(name: str) -> list[dict[str, str]]:
    """Return the rows of a CSV table of the core, header comments left out."""
    text = (files("kilncore") / "data" / name).read_text(encoding="utf-8")
    lines = [line for line in text.splitlines() if line and not line.startswith("#")]
    return list(csv.DictReader(lines))


@cache
def _classes() -> dict[tuple[str, str], Known]:
    return {
        (row["class"], row["field"]): Known(
            float(row["low"]), float(row["typical"]), float(row["high"]), True, "class-range"
        )
        for row in read_table("species_classes.csv")
    }


def _class_of(key: str, kind: str, traits: tuple[str, ...]) -> str:
    if kind == "conifer" or key == "unknown-softwood":
        return "softwood"
    return "fruitwood" if key == "unknown-fruitwood" or "wild" in traits else "hardwood"


def _own(text: str, spread: float, source: str) -> Known | None:
    if not text:
        return None
    value = float(text)
    return Known(value * (1 - spread), value, value * (1 + spread), False, source)


def _green(row: dict[str, str], source: str) -> Known | None:
    given = [float(row[name]) for name in ("mc_heart_pct", "mc_sap_pct") if row[name]]
    if not given:
        return None
    middle = sum(given) / len(given)
    return Known(min(given) * 0.85, middle, max(given) * 1.15, False, source)


def _from_row(row: dict[str, str]) -> Species:
    traits = tuple(word for word in row["traits"].split(";") if word)
    klass = _class_of(row["key"], row["kind"], traits)
    own = {name: _own(row[name], 0.1, row["source"]) for name in _FIELDS}
    known = {name: own[name] or _classes()[klass, name] for name in _FIELDS}
    return Species(
        key=row["key"],
        common=row["common"],
        botanical=row["botanical"],
        kind=row["kind"],
        green_mc_pct=_green(row, row["source"]) or _classes()[klass, "mc_pct"],
        hazards=tuple(word for word in row["hazards"].split(";") if word),
        traits=traits,
        source=row["source"],
        **known,
    )


@cache
def all_species() -> dict[str, Species]:
    """Return every species by key, in table order."""
    return {row["key"]: _from_row(row) for row in read_table("species.csv")}


def species(key: str) -> Species:
    """Return one species.

    Parameters
    ----------
    key : str
        A key of the species table.

    Returns
    -------
    species : Species
        Its figures with their spread.

    Raises
    ------
    Unknown
        If the table has no such key.
    """
    try:
        return all_species()[key]
    except KeyError:
        raise Unknown("species", key, list(all_species())) from None
