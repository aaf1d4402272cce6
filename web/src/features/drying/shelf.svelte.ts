/** What lies on the shelves, kept on the device so that a round goes on without the server. */
import type { Shapes } from '$lib/api/client'

export interface OnShelf {
  tag: string
  name: string
  species_name: string
  place: string
  low_g: number | null
  high_g: number | null
  last_g: number | null
  last_at: string | null
}
interface Keeper {
  getItem(name: string): string | null
  setItem(name: string, value: string): void
}

export function shelfOf(rows: readonly Shapes['FloorOut'][]): OnShelf[] {
  return rows
    .map((r) => ({
      tag: r.tag, name: r.name, species_name: r.species_name, place: r.place,
      low_g: r.now ? Math.max(0, r.now.mass_g - 2 * r.now.mass_sd_g) : null, high_g: r.now ? r.now.mass_g + 2 * r.now.mass_sd_g : null,
      last_g: r.last_g, last_at: r.last_at,
    }))
    .sort((a, b) => a.place.localeCompare(b.place) || a.tag.localeCompare(b.tag, undefined, { numeric: true }))
}

export class Shelf {
  rows = $state.raw<OnShelf[]>([])
  #keeper: Keeper
  #slot: string

  constructor(keeper: Keeper, owner: string) {
    this.#keeper = keeper
    this.#slot = `kiln-shelf-${owner}`
    try {
      const kept: unknown = JSON.parse(keeper.getItem(this.#slot) ?? '[]')
      if (Array.isArray(kept)) this.rows = kept as OnShelf[]
    } catch {
      /* nothing kept: the shelf is learnt from the server */
    }
  }

  /** Learn the shelves from the server; what was known stays when it cannot be reached. */
  async learn(fetcher: () => Promise<readonly Shapes['FloorOut'][]>): Promise<void> {
    try {
      this.rows = shelfOf(await fetcher())
      this.#keeper.setItem(this.#slot, JSON.stringify(this.rows))
    } catch {
      /* the kept shelf serves */
    }
  }

  find(tag: string): OnShelf | undefined {
    const wanted = tag.trim().toUpperCase()
    return this.rows.find((r) => r.tag === wanted)
  }

  /** The next piece not weighed in this round, walking on from the last tag shelf by shelf. */
  next(done: ReadonlySet<string>, after: string | null): OnShelf | undefined {
    const from = this.rows.findIndex((r) => r.tag === after) + 1
    return [...this.rows.slice(from), ...this.rows.slice(0, from)].find((r) => !done.has(r.tag))
  }
}

/** A scanned code is a tag, or an address that ends in one. */
export function tagOfCode(code: string): string | null {
  const last = code.trim().split(/[/#?]/).filter(Boolean).at(-1)?.toUpperCase() ?? ''
  return /^[A-Z0-9-]{1,12}$/.test(last) ? last : null
}
