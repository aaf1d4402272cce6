/** Odd-shaped blanks: an outline drawn by points, and where it balances. */
export type Corner = [number, number]

/** "0 0; 200 0; 200, 120" or one corner a line; commas or spaces between the two. */
export function cornersOf(text: string): Corner[] | null {
  const rows = text.split(/[;\n]+/).map((r) => r.trim()).filter(Boolean)
  const corners: Corner[] = []
  for (const row of rows) {
    const found = row.split(/[\s,]+/).map(Number)
    if (found.length !== 2 || found.some((v) => !Number.isFinite(v))) return null
    corners.push([found[0]!, found[1]!])
  }
  return corners
}

export const textOf = (corners: readonly (readonly number[])[]): string => corners.map(([x, y]) => `${Math.round((x ?? 0) * 10) / 10} ${Math.round((y ?? 0) * 10) / 10}`).join('\n')
