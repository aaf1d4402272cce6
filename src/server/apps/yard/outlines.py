"""Outlines from files, and templates to print: SVG paths and DXF polylines in, full-size SVG out."""

import io
import math
from xml.sax.saxutils import escape

import ezdxf
from ezdxf.lldxf.const import DXFError
from svgelements import SVG, Path, Shape

from kilncore.errors import Impossible
from kilncore.logs.outline import Balance, Points

__all__ = ["points_from_dxf", "points_from_svg", "template_svg"]

STEPS = 160
MOST_CHARS = 400_000
# Millimetres in a DXF unit by its header code; unknown counts as millimetres.
DXF_UNITS = {1: 25.4, 2: 304.8, 4: 1.0, 5: 10.0, 6: 1000.0}


def _largest(candidates: list[list[tuple[float, float]]]) -> list[tuple[float, float]]:
    def area(points: list[tuple[float, float]]) -> float:
        pairs = zip(points, points[1:] + points[:1], strict=True)
        return abs(sum(a[0] * b[1] - b[0] * a[1] for a, b in pairs)) / 2.0

    good = [c for c in candidates if len(c) >= 3]
    if not good:
        raise Impossible("no-outline", "file", "There is no closed outline in it.")
    return max(good, key=area)


def points_from_svg(text: str) -> list[tuple[float, float]]:
    """Return the largest outline of an SVG file, or of a bare path, in mm, y upwards."""
    if len(text) > MOST_CHARS:
        raise Impossible("file-too-large", "file", "That file is too large for an outline.")
    try:
        if "<svg" in text:
            # user units are CSS pixels unless the file says millimetres: 96 to the inch
            drawing = SVG.parse(io.StringIO(text), ppi=96.0)
            paths = [Path(e) for e in drawing.elements() if isinstance(e, Shape)]
            scale = 25.4 / 96.0
        else:
            paths, scale = [Path(text)], 1.0
        outlines = [_along(Path(sub), scale) for p in paths for sub in p.as_subpaths()]
    except Exception:  # whatever a stranger's file makes the reader raise
        raise Impossible("not-svg", "file", "That is not an SVG drawing or path this can read.") from None
    return _largest(outlines)


def _along(path: Path, scale: float) -> list[tuple[float, float]]:
    straight = all(type(s).__name__ in ("Move", "Line", "Close") for s in path)
    if straight:
        points = [s.end for s in path if s.end is not None]
    else:
        points = [path.point(i / STEPS) for i in range(STEPS)]
    out = [(round(p.x * scale, 3), round(-p.y * scale, 3)) for p in points]
    if any(not math.isfinite(v) for p in out for v in p):
        raise ValueError("not finite")
    return out[:-1] if len(out) > 1 and out[0] == out[-1] else out


def points_from_dxf(text: str) -> list[tuple[float, float]]:
    """Return the largest closed polyline or circle of a DXF drawing, in mm."""
    if len(text) > 4 * MOST_CHARS:
        raise Impossible("file-too-large", "file", "That file is too large for an outline.")
    try:
        drawing = ezdxf.read(io.StringIO(text))
        unit = DXF_UNITS.get(int(drawing.header.get("$INSUNITS", 4)), 1.0)
        outlines = []
        for entity in drawing.modelspace().query("LWPOLYLINE POLYLINE SPLINE CIRCLE ELLIPSE"):
            flat = ezdxf.path.make_path(entity).flattening(0.2 / unit)
            outlines.append([(round(v.x * unit, 3), round(v.y * unit, 3)) for v in flat])
    except (DXFError, ValueError, TypeError, IndexError, KeyError, AttributeError):
        raise Impossible("not-dxf", "file", "That is not a DXF drawing this can read.") from None
    closed = [o[:-1] if o[0] == o[-1] else o for o in outlines if len(o) > 2]
    return _largest(closed)


def template_svg(points: Points, balance: Balance, *, title: str) -> str:
    """Return a full-size template: the outline, both centres, and a bar to check the print by."""
    xs, ys = [p[0] for p in points], [p[1] for p in points]
    left, top = min(xs) - 12.0, max(ys) + 12.0
    wide, tall = max(xs) - min(xs) + 24.0, max(ys) - min(ys) + 40.0
    path = "M" + "L".join(f"{x - left:.2f} {top - y:.2f}" for x, y in points) + "Z"
    crosses, labels = [], []
    for m in balance.mounts:
        x, y = m.x_mm - left, top - m.y_mm
        crosses.append(f'<path d="M{x - 8:.2f} {y:.2f}h16M{x:.2f} {y - 8:.2f}v16"/>')
        labels.append(f'<text x="{x + 4:.2f}" y="{y - 4:.2f}">{m.label}, swing {m.swing_mm:.0f} mm</text>')
    bar = tall - 10.0
    words = escape(f"{title}: this bar is 100 mm; print at full size and check it")
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide:.2f}mm" height="{tall:.2f}mm" '
        f'viewBox="0 0 {wide:.2f} {tall:.2f}" font-family="sans-serif" font-size="4">'
        f'<g fill="none" stroke="#000" stroke-width="0.3"><path d="{path}"/>{"".join(crosses)}'
        f'<path d="M10 {bar:.2f}h100M10 {bar - 3:.2f}v6M60 {bar - 2:.2f}v4M110 {bar - 3:.2f}v6"/></g>'
        f'<g>{"".join(labels)}<text x="12" y="{bar - 4:.2f}">{words}</text></g></svg>'
    )
