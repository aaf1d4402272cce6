/** Reading typed rows of a traced card or a measured bowl, in the reader's own units. */
type Read = (word: string) => number

function rows(text: string, read: Read, size: number): number[][] | null {
  const lines = text.split(/[;\n]+/).map((l) => l.trim()).filter(Boolean)
  const out = lines.map((l) => l.split(/[\s,\t]+/).map(read))
  return out.length && out.every((r) => r.length === size && r.every(Number.isFinite)) ? out : null
}

/** "40 0" a line: radius and height; null where a line is neither. */
export function pairsOf(text: string, read: Read): [number, number][] | null {
  return rows(text, read, 2)?.map(([r = 0, z = 0]) => [r, z]) ?? null
}

/** "20 180 7" a line: height, diameter, wall. */
export function rowsOf(text: string, read: Read): { z_mm: number; diameter_mm: number; wall_mm: number }[] | null {
  return rows(text, read, 3)?.map(([z = 0, d = 0, w = 0]) => ({ z_mm: z, diameter_mm: d, wall_mm: w })) ?? null
}
