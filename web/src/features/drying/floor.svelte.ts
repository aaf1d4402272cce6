/** The drying floor: sorted, filtered, and brought up to date behind it. */
import { api, ask, type Shapes } from '$lib/api/client'
import { Loader } from '$lib/api/loader.svelte'
import { day, sooner } from '$lib/units/units'

export type Row = Shapes['FloorOut']

/** What a row's bar shows: ready for its home, or else as dry as this place makes it. */
export function spanOf(row: Row): { kind: 'none' | 'ready' | 'settled'; low: string | null; middle: string | null; high: string | null } {
  if (!row.now || row.ready) return { kind: 'none', low: null, middle: null, high: null }
  if (row.ready_middle !== null) return { kind: 'ready', low: row.ready_low, middle: row.ready_middle, high: row.ready_high }
  return { kind: 'settled', low: row.settled_low, middle: row.settled_middle, high: row.settled_high }
}

/** When it will be ready, in a few words. */
export function readyWords(row: Row): string {
  if (!row.now) return 'being worked out'
  if (row.ready) return 'ready now'
  if (row.ready_middle === null) return `as dry as it gets there (${row.settles_at_pct?.toFixed(1)} %) by ${day(row.settled_middle)}; then drier air`
  return row.ready_high ? `${sooner(row.ready_low)} to ${day(row.ready_high)}` : `from ${sooner(row.ready_low)}, likely ${day(row.ready_middle)}`
}

const LAST = Number.MAX_SAFE_INTEGER
const time = (iso: string | null) => (iso === null ? LAST : new Date(iso).getTime())

export const ORDERS: Record<string, { label: string; by: (row: Row) => number | string }> = {
  ready: { label: 'ready first', by: (r) => time(r.ready_middle) },
  risk: { label: 'fastest drying first', by: (r) => -(r.now?.risk_peak ?? 0) },
  weigh: { label: 'weighing due first', by: (r) => time(r.weigh_at) },
  tag: { label: 'by tag', by: (r) => r.tag.padStart(12, '0') },
}

export function arranged(rows: readonly Row[], order: string, wanted: string): Row[] {
  const by = ORDERS[order]?.by ?? ((r: Row) => r.tag)
  const words = wanted.trim().toLowerCase()
  return rows
    .filter((r) => `${r.tag} ${r.name} ${r.species_name} ${r.place} ${r.wrap.replace(/-/g, ' ')}`.toLowerCase().includes(words))
    .sort((a, b) => (by(a) < by(b) ? -1 : by(a) > by(b) ? 1 : a.tag.localeCompare(b.tag)))
}

export class FloorState {
  list = new Loader<Row[]>(() => ask(api.GET('/api/drying')))
  waiting = $state(0)
  #left = false

  async open(): Promise<void> {
    await this.list.load()
    try {
      while (!this.#left && this.list.data?.some((r) => r.stale)) {
        const done = await ask(api.POST('/api/drying/refresh', { body: { tags: [], most: 6 } }))
        this.waiting = done.waiting
        await this.list.load()
        if (!done.computed) break
      }
    } catch {
      this.waiting = 0 // the rows stand; the next opening tries again
    }
  }

  leave(): void {
    this.#left = true
  }
}

/** Which pieces are chosen on the floor; with shift, all between the last and this one. */
export class Chosen {
  tags = $state.raw<readonly string[]>([])
  #last: string | null = null

  get size(): number {
    return this.tags.length
  }
  has(tag: string): boolean {
    return this.tags.includes(tag)
  }
  all(tags: readonly string[]): boolean {
    return tags.every((t) => this.tags.includes(t))
  }
  set(tags: readonly string[], on: boolean): void {
    const rest = this.tags.filter((t) => !tags.includes(t))
    this.tags = on ? [...rest, ...tags] : rest
  }
  toggle(tag: string, order: readonly string[] = [], range = false): void {
    const on = !this.tags.includes(tag)
    const [a, b] = [order.indexOf(this.#last ?? ''), order.indexOf(tag)]
    this.set(range && a >= 0 && b >= 0 ? order.slice(Math.min(a, b), Math.max(a, b) + 1) : [tag], on)
    this.#last = tag
  }
  clear(): void {
    this.tags = []
    this.#last = null
  }
}
