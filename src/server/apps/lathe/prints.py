"""Files of a drawn form: full-size templates to print or cut by, and meshes."""

import io
from typing import Any
from xml.sax.saxutils import escape

import ezdxf
import trimesh
from reportlab.lib.pagesizes import A4, LETTER
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from kilncore.solids.curve import Path
from kilncore.solids.mesh import Mesh

__all__ = ["mesh_file", "template_dxf", "template_pdf", "template_svg"]

MARGIN_MM, OVERLAP_MM, BAR_MM = 12.0, 10.0, 100.0
PAPERS = {"A4": A4, "Letter": LETTER}


def _box(outer: Path, inner: Path) -> tuple[float, float, float]:
    """Width and both heights of the drawing round the profile."""
    low = min(z for _, z in (*outer, *inner))
    return max(r for r, _ in outer), low, max(z for _, z in (*outer, *inner))


def template_svg(outer: Path, inner: Path, *, title: str) -> str:
    """Return a full-size half section with its centre line and a bar to check the print by."""
    wide, low, top = _box(outer, inner)
    w, h = wide + 2 * MARGIN_MM, top - low + 2 * MARGIN_MM + 18.0

    def line(path: Path) -> str:
        return "M" + "L".join(f"{r + MARGIN_MM:.2f} {MARGIN_MM + top - z:.2f}" for r, z in path)

    bar = h - 9.0
    words = escape(f"{title}: this bar is 100 mm; print at full size and check it")
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{max(w, BAR_MM + 2 * MARGIN_MM):.2f}mm" height="{h:.2f}mm" '
        f'viewBox="0 0 {max(w, BAR_MM + 2 * MARGIN_MM):.2f} {h:.2f}" font-family="sans-serif" font-size="4">'
        f'<g fill="none" stroke="#000" stroke-width="0.3"><path id="outside" d="{line(outer)}"/>'
        f'<path id="inside" d="{line(inner)}"/>'
        f'<path id="axis" stroke-dasharray="6 2 1 2" d="M{MARGIN_MM} 4V{MARGIN_MM + top - low + 6:.2f}"/>'
        f'<path id="bar" d="M{MARGIN_MM} {bar:.2f}h{BAR_MM:.0f}m0 -3v6M{MARGIN_MM} {bar - 3:.2f}v6"/></g>'
        f'<text x="{MARGIN_MM + 2}" y="{bar - 4:.2f}">{words}</text></svg>'
    )


def template_dxf(outer: Path, inner: Path, *, title: str) -> str:
    """Return the same as DXF in millimetres, a layer for each line."""
    drawing = ezdxf.new("R2010", setup=False)
    drawing.header["$INSUNITS"] = 4
    space = drawing.modelspace()
    _, low, top = _box(outer, inner)
    for layer, path in (("OUTSIDE", outer), ("INSIDE", inner)):
        drawing.layers.add(layer)
        space.add_lwpolyline([(round(r, 3), round(z, 3)) for r, z in path], dxfattribs={"layer": layer})
    for layer, ends in (
        ("AXIS", ((0.0, low - 5.0), (0.0, top + 5.0))),
        ("BAR", ((0.0, low - 15.0), (BAR_MM, low - 15.0))),
    ):
        drawing.layers.add(layer)
        space.add_line(*ends, dxfattribs={"layer": layer})
    text = space.add_text(f"{title}: bar 100 mm", height=4.0, dxfattribs={"layer": "BAR"})
    text.set_placement((0.0, low - 12.0))
    out = io.StringIO()
    drawing.write(out)
    return out.getvalue()


def template_pdf(outer: Path, inner: Path, *, title: str, paper: str) -> bytes:
    """Return the same as PDF at full size, tiled over sheets with crosses where they meet."""
    page_w, page_h = PAPERS[paper]
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(page_w, page_h), invariant=1)
    canvas.setTitle(title)
    wide, low, top = _box(outer, inner)
    tile_w, tile_h = page_w / mm - 2 * MARGIN_MM, page_h / mm - 2 * MARGIN_MM - 16.0
    columns = _tiles(wide, tile_w)
    rows = _tiles(top - low, tile_h)
    for i, y0 in enumerate(rows):
        for j, x0 in enumerate(columns):
            _sheet(canvas, (outer, inner), (x0, low + y0), (tile_w, tile_h))
            sheet = f"sheet {i * len(columns) + j + 1} of {len(rows) * len(columns)}"
            _bar(canvas, f"{title}, {sheet}: this bar is 100 mm; print at 100 % and check it")
            canvas.showPage()
    canvas.save()
    return out.getvalue()


def _tiles(length: float, room: float) -> list[float]:
    starts, at = [0.0], 0.0
    while at + room < length:
        at += room - OVERLAP_MM
        starts.append(at)
    return starts


def _sheet(
    canvas: Canvas, paths: tuple[Path, Path], origin: tuple[float, float], size: tuple[float, float]
) -> None:
    canvas.saveState()
    canvas.translate(MARGIN_MM * mm, (MARGIN_MM + 16.0) * mm)
    frame = canvas.beginPath()
    frame.rect(-1, -1, size[0] * mm + 2, size[1] * mm + 2)
    canvas.clipPath(frame, stroke=0, fill=0)
    canvas.setLineWidth(0.3 * mm)
    for path in paths:
        line = canvas.beginPath()
        for k, (r, z) in enumerate(path):
            (line.lineTo if k else line.moveTo)((r - origin[0]) * mm, (z - origin[1]) * mm)
        canvas.drawPath(line)
    canvas.setDash([6 * mm, 2 * mm, 1 * mm, 2 * mm])
    canvas.line(-origin[0] * mm, 0, -origin[0] * mm, size[1] * mm)
    canvas.setDash()
    for x in (0.0, size[0]):
        for y in (0.0, size[1]):
            canvas.line((x - 4) * mm, y * mm, (x + 4) * mm, y * mm)
            canvas.line(x * mm, (y - 4) * mm, x * mm, (y + 4) * mm)
    canvas.restoreState()


def _bar(canvas: Canvas, words: str) -> None:
    x, y = MARGIN_MM * mm, MARGIN_MM * mm
    canvas.setLineWidth(0.3 * mm)
    canvas.line(x, y, x + BAR_MM * mm, y)
    for k in (0.0, BAR_MM / 2.0, BAR_MM):
        canvas.line(x + k * mm, y - 2 * mm, x + k * mm, y + 2 * mm)
    canvas.setFont("Helvetica", 8)
    canvas.drawString(x, y + 4 * mm, words)


def mesh_file(mesh: Mesh, kind: str) -> bytes:
    """Return a mesh as STL or GLB; a GLB stands upright in metres, as its form asks for."""
    body: Any = trimesh.Trimesh(mesh.vertices, mesh.triangles, process=False)
    if kind == "glb":
        body.apply_scale(0.001)
        body.apply_transform(trimesh.transformations.rotation_matrix(-1.5707963267948966, (1, 0, 0)))
    data = body.export(file_type=kind)
    return data if isinstance(data, bytes) else bytes(data, "utf-8")
