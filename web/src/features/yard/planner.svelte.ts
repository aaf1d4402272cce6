/** The cutting planner: layouts side by side, and one being dragged about. */
import { api, ask, refusalOf, type Refusal, type Shapes } from '$lib/api/client'
import { Newest } from '$lib/newest'

export type Layout = Shapes['LayoutOut']
export type Laid = Shapes['LaidOut']
export type Spot = Shapes['SpotIn']
export type Want = Shapes['WantIn']
export type Saw = Shapes['SawIn']

export interface Doors {
  layouts: (body: { saw: Saw; wants: Want[] }) => Promise<Shapes['LayoutsOut']>
  trial: (body: { saw: Saw; spots: Spot[]; wants: Want[] }) => Promise<Layout>
  keep: (body: { saw: Saw; spots: Spot[]; wants: Want[] }) => Promise<Layout>
}

export const SAW: Saw = { kerf_mm: 8, trim_mm: 10, depth_share: 0.42, bit_mm: 32 }
const ROUND = ['end-grain', 'bored-branch']

/** What the rules say of a blank's place when it is pushed by so much at the log's end. */
export function pushed(spot: Spot, dx: number, dy: number, shift: number): Partial<Spot> {
  if (ROUND.includes(spot.cut)) return {}
  const turn = ((spot.angle_deg ?? 90) * Math.PI) / 180
  const [c, s] = [Math.cos(turn), Math.sin(turn)]
  return { face_mm: round((spot.face_mm ?? 0) + dx * c + dy * s), shift_mm: round((spot.shift_mm ?? shift) - dx * s + dy * c) }
}

export function turned(spot: Spot, by: number): Partial<Spot> {
  return { angle_deg: (((spot.angle_deg ?? 90) + by) % 360 + 360) % 360, shift_mm: null }
}

const round = (v: number) => Math.round(v * 10) / 10

export function doorsOf(id: number): Doors {
  const params = { path: { log_id: id } }
  return {
    layouts: (body) => ask(api.POST('/api/yard/logs/{log_id}/layouts', { params, body })),
    trial: (body) => ask(api.POST('/api/yard/logs/{log_id}/trial', { params, body })),
    keep: (body) => ask(api.PUT('/api/yard/logs/{log_id}/plan', { params, body })),
  }
}

export class Planner {
  found = $state.raw<Layout[]>([])
  span = $state.raw<{ start: number; end: number }>({ start: 0, end: 0 })
  shown = $state.raw<Layout | undefined>()
  spots = $state.raw<Spot[]>([])
  picked = $state<string | null>(null)
  own = $state(false)
  kept = $state(false)
  wants = $state<Want[]>([])
  saw = $state<Saw>({ ...SAW })
  refusal = $state.raw<Refusal | undefined>()
  working = $state(false)
  #doors: Doors
  readonly #newest = new Newest()

  constructor(doors: Doors, wants: Want[] = []) {
    this.#doors = doors
    this.wants = wants
  }

  get blank(): Laid | undefined {
    return this.shown?.blanks.find((b) => b.spot.id === this.picked)
  }

  async load(): Promise<void> {
    this.working = true
    try {
      const answer = await this.#doors.layouts({ saw: this.saw, wants: this.wants.filter((w) => w.diameter_mm > 0) })
      this.found = answer.layouts
      this.span = { start: answer.start_mm, end: answer.end_mm }
      this.refusal = undefined
      const kept = this.shown ? undefined : this.found.find((l) => l.key === 'own')
      const next = kept ?? this.found.find((l) => l.key === (this.wants.length ? 'wanted' : this.shown?.key)) ?? this.found[0]
      if (next) this.pick(next)
    } catch (error) {
      this.refusal = refusalOf(error)
    }
    this.working = false
  }

  pick(layout: Layout): void {
    this.shown = layout
    this.spots = layout.blanks.map((b) => ({ ...b.spot }))
    this.picked = layout.blanks[0]?.spot.id ?? null
    this.own = layout.key === 'own'
    this.kept = layout.key === 'own'
  }

  /** Change one blank's place; a locked one stays. The answer follows, the last one asked for wins. */
  change(id: string, change: Partial<Spot>): void {
    const spot = this.spots.find((s) => s.id === id)
    if (!spot || (spot.locked && !('locked' in change)) || !Object.keys(change).length) return
    this.spots = this.spots.map((s) => (s.id === id ? { ...s, ...change } : s))
    this.own = true
    this.kept = false
    void this.#try()
  }

  push(id: string, dx: number, dy: number): void {
    const spot = this.spots.find((s) => s.id === id)
    const laid = this.shown?.blanks.find((b) => b.spot.id === id)
    if (spot) this.change(id, pushed(spot, dx, dy, laid?.spot.shift_mm ?? 0))
  }

  slide(id: string, by: number): void {
    const spot = this.spots.find((s) => s.id === id)
    if (!spot) return
    const start = Math.min(Math.max(spot.start_mm + by, this.span.start), this.span.end - spot.length_mm)
    this.change(id, { start_mm: round(start) })
  }

  turn(id: string, by: number): void {
    const spot = this.spots.find((s) => s.id === id)
    if (spot) this.change(id, turned(spot, by))
  }

  remove(id: string): void {
    this.spots = this.spots.filter((s) => s.id !== id)
    if (this.picked === id) this.picked = this.spots[0]?.id ?? null
    this.own = true
    this.kept = false
    void this.#try()
  }

  #try(): Promise<void> {
    return this.#newest.ask(
      () => this.#doors.trial({ saw: this.saw, spots: this.spots, wants: [] }),
      (answer) => {
        this.shown = answer
        this.refusal = undefined
      },
      (error) => (this.refusal = refusalOf(error)),
    )
  }

  async keep(): Promise<void> {
    try {
      const layout = await this.#doors.keep({ saw: this.saw, spots: this.spots, wants: this.wants.filter((w) => w.diameter_mm > 0) })
      this.found = [...this.found.filter((l) => l.key !== 'own'), layout]
      this.shown = layout
      this.own = this.kept = true
      this.refusal = undefined
    } catch (error) {
      this.refusal = refusalOf(error)
    }
  }
}
