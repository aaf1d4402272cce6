"""Reading what belongs to the lathe side of a piece."""

from kilncore.bench import Bench
from kilncore.rules.hold import FORMS
from kilncore.solids.design import DRY_PCT, Setting, Stock
from kilncore.wood.species import species
from server.apps.pieces.models import Piece

__all__ = ["hole_of", "is_dry", "orientation_of", "setting_of", "stock_of"]


def is_dry(piece: Piece) -> bool:
    """Return whether a piece was dry wood from the start, or has dried since."""
    return piece.state == "dry" or any(s.kind == "dry" and s.state == "done" for s in piece.stages.all())


def orientation_of(piece: Piece) -> str:
    """Return how a piece lay in its log."""
    if FORMS[piece.form].grain == "end-grain":
        return "end-grain"
    return "rim-to-bark" if piece.form == "natural-edge-bowl" else "rim-to-pith"


def stock_of(piece: Piece) -> Stock:
    """Return a piece's blank, with the log round it where it is known."""
    log = piece.log
    radius = None
    if log is not None:
        wide = log.diameter_mm or (
            log.large_wide_mm - 2.0 * (log.bark_mm or 0.0) if log.large_wide_mm else None
        )
        radius = wide / 2.0 if wide and wide > 40.0 else None
    return Stock(
        diameter_mm=piece.diameter_mm,
        height_mm=piece.height_mm,
        orientation=orientation_of(piece),
        pith_mm=piece.pith_mm,
        log_radius_mm=radius,
        bark_mm=(log.bark_mm or 0.0) if log is not None else 0.0,
    )


def setting_of(piece: Piece, bench: Bench) -> Setting:
    """Return what a piece's form is judged with; its mouth must let the shop's thinnest bar in."""
    wet = piece.state == "green" and not is_dry(piece)
    return Setting(
        wood=species(piece.species),
        mc_pct=species(piece.species).green_mc_pct.typical if wet else DRY_PCT,
        stock=stock_of(piece),
        hole_mm=hole_of(piece, bench),
        tool_mm=min((b.diameter_mm for b in bench.bars), default=16.0),
    )


def hole_of(piece: Piece, bench: Bench) -> float | None:
    """Return how deep the worm screw's hole goes from the rim, where that was its first hold."""
    if bench.worm is None or piece.form not in ("side-grain-bowl", "platter"):
        return None
    noted = [s.notes.get("hole_depth_mm") for s in piece.stages.all()]
    return next((float(v) for v in noted if isinstance(v, int | float)), bench.worm.length_mm)
