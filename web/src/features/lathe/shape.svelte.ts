/** The shape bench: a form held by its handles, judged by the server while it is moved. */
import { api, ask, refusalOf, type Refusal, type Shapes } from '$lib/api/client'
import { Newest } from '$lib/newest'

export type Design = Shapes['DesignIn']
export type Handle = Shapes['HandleIn']
export type Shape = Shapes['ShapeOut']
export type Judge = Shapes['ShapeIn']
export type Curve = 'outer' | 'inner'
export type Handles = Shapes['HandlesOut']
export type Trace = Partial<Shapes['TraceIn']> & { kind: Shapes['TraceIn']['kind'] }
export type Setting = Partial<Omit<Judge, 'design' | 'full'>>

export interface Doors {
  judge: (body: Setting & { design: Design; full: boolean }) => Promise<Shape>
  family: (body: Shapes['FamilyIn']) => Promise<Handles>
  free: (design: Design) => Promise<Handles>
  trace: (body: Trace) => Promise<Handles>
}

export const DOORS: Doors = {
  judge: (body) => ask(api.POST('/api/lathe/shape', { body: body as Judge })) as Promise<Shape>,
  family: (body) => ask(api.POST('/api/lathe/family', { body })),
  free: (body) => ask(api.POST('/api/lathe/free', { body })),
  trace: (body) => ask(api.POST('/api/lathe/trace', { body: body as Shapes['TraceIn'] })),
}

export const EMPTY: Design = { outer: [], inner: [], wall: 'even', wall_mm: 6, bottom_mm: 10, half_mm: null, foot: 'none', foot_mm: 60, foot_length_mm: 6 }
const INCH = 25.4
const MOST_UNDONE = 60

/** A length laid on the rule's own marks: millimetres, or sixteenths of an inch. */
export function snapped(mm: number, length: string): number {
  const step = length === 'in' ? INCH / 16 : 1
  return Math.round((Math.round(mm / step) * step) * 100) / 100
}

/** Where a new handle goes: half way to the next, or to the one before at the end. */
export function between(handles: readonly Handle[], i: number): { at: number; handle: Handle } {
  const at = i + 1 < handles.length ? i : i - 1
  const [a, b] = [handles[at]!, handles[at + 1]!]
  return { at: at + 1, handle: { r_mm: (a.r_mm + b.r_mm) / 2, z_mm: (a.z_mm + b.z_mm) / 2, corner: false } }
}

export class ShapeState {
  design = $state.raw<Design>(EMPTY)
  shown = $state.raw<Shape | undefined>()
  refusal = $state.raw<Refusal | undefined>()
  picked = $state<{ curve: Curve; i: number } | null>(null)
  snap = $state(true)
  length = $state('mm')
  family = $state('hemisphere')
  sizes = $state({ width_mm: 260, height_mm: 105, foot_mm: null as number | null })
  sliders = $state<Record<string, number>>({})
  setting = $state.raw<Setting>({ species: 'ash-european', mc_pct: 10, tool_mm: 16 })
  kept = $state(true)
  #past: Design[] = []
  #future: Design[] = []
  #steps = $state(0)
  #full = true
  readonly #newest = new Newest()

  constructor(private readonly doors: Doors = DOORS) {}

  get canUndo(): boolean {
    return this.#steps >= 0 && this.#past.length > 0
  }
  get canRedo(): boolean {
    return this.#steps >= 0 && this.#future.length > 0
  }
  get free(): boolean {
    return (this.design.inner ?? []).length > 0
  }

  /** Take a form as it is, without a step to undo. */
  async open(design: Design): Promise<void> {
    this.design = design
    this.#past = []
    this.#future = []
    this.#steps += 1
    this.kept = true
    await this.#judge(true)
  }

  /** A change that can be undone; several of one drag are one. */
  async change(change: Partial<Design>, { step = true, full = true } = {}): Promise<void> {
    if (step) this.#remember()
    this.design = { ...this.design, ...change }
    this.kept = false
    await this.#judge(full)
  }

  #remember(): void {
    this.#past = [...this.#past, this.design].slice(-MOST_UNDONE)
    this.#future = []
    this.#steps += 1
  }

  async undo(): Promise<void> {
    await this.#step('back')
  }
  async redo(): Promise<void> {
    await this.#step('on')
  }
  async #step(way: 'back' | 'on'): Promise<void> {
    const [from, to] = way === 'back' ? [this.#past, this.#future] : [this.#future, this.#past]
    const next = from.pop()
    if (!next) return
    to.push(this.design)
    this.design = next
    this.#steps += 1
    this.kept = false
    await this.#judge(true)
  }

  handles(curve: Curve): Handle[] {
    return (curve === 'outer' ? this.design.outer : this.design.inner) ?? []
  }

  /** Move a handle; the first of a drag is the step that is undone. */
  async move(curve: Curve, i: number, r: number, z: number, { first = true, last = true } = {}): Promise<void> {
    const rows = this.handles(curve)
    if (!rows[i]) return
    const put = (v: number) => (this.snap ? snapped(v, this.length) : Math.round(v * 100) / 100)
    const moved = { ...rows[i], r_mm: Math.max(0, put(r)), z_mm: put(z) }
    await this.change({ [curve]: rows.map((h, k) => (k === i ? moved : h)) }, { step: first, full: last })
  }

  /** One nudge by key: the rule's mark, five of them, or a fifth. */
  async nudge(curve: Curve, i: number, dr: number, dz: number, size: 'one' | 'far' | 'fine' = 'one'): Promise<void> {
    const h = this.handles(curve)[i]
    if (!h) return
    const mark = (this.length === 'in' ? INCH / 16 : 1) * (size === 'far' ? 5 : size === 'fine' ? 0.2 : 1)
    const snap = this.snap
    if (size === 'fine') this.snap = false
    await this.move(curve, i, h.r_mm + dr * mark, h.z_mm + dz * mark)
    this.snap = snap
  }

  async corner(curve: Curve, i: number): Promise<void> {
    await this.change({ [curve]: this.handles(curve).map((h, k) => (k === i ? { ...h, corner: !h.corner } : h)) })
  }
  async add(curve: Curve, i: number): Promise<void> {
    const rows = this.handles(curve)
    if (rows.length < 2) return
    const { at, handle } = between(rows, i)
    this.picked = { curve, i: at }
    await this.change({ [curve]: [...rows.slice(0, at), handle, ...rows.slice(at)] })
  }
  async remove(curve: Curve, i: number): Promise<void> {
    const rows = this.handles(curve)
    if (rows.length <= 3) return
    this.picked = { curve, i: Math.max(0, i - 1) }
    await this.change({ [curve]: rows.filter((_, k) => k !== i) })
  }

  /** Lay the curve of the chosen family; sliders of another family do not count. */
  async layFamily(change: { family?: string; sliders?: Record<string, number> } = {}): Promise<void> {
    if (change.family && change.family !== this.family) this.sliders = {}
    if (change.family) this.family = change.family
    if (change.sliders) this.sliders = { ...this.sliders, ...change.sliders }
    await this.#taken(() => this.doors.family({ family: this.family, sliders: { ...this.sliders }, ...this.sizes }), (found) => ({ outer: found.outer, inner: [], half_mm: found.half_mm ?? null }))
  }
  async freeInside(): Promise<void> {
    await this.#taken(() => this.doors.free(this.design), (found) => ({ inner: found.inner ?? [] }))
  }
  async trace(body: Trace): Promise<void> {
    await this.#taken(() => this.doors.trace(body), (found) => ({ outer: found.outer, inner: found.inner ?? [], half_mm: null }))
  }
  async #taken(get: () => Promise<Handles>, put: (found: Handles) => Partial<Design>): Promise<void> {
    try {
      const found = await get()
      this.picked = null
      await this.change(put(found))
    } catch (error) {
      this.refusal = refusalOf(error)
    }
  }

  judgeAgain(): Promise<void> {
    return this.#judge(true)
  }

  /** While a handle is on its way the quick answer is asked for; what only the slow one holds stays from before. */
  #judge(full: boolean): Promise<void> {
    this.#full = full
    return this.#newest.ask(
      () => this.doors.judge({ ...this.setting, design: this.design, full: this.#full }),
      (answer) => {
        this.shown = this.#full ? answer : { ...answer, figures: merged(answer.figures, this.shown?.figures ?? []), readings: this.shown?.readings ?? [] }
        this.refusal = undefined
      },
      (error) => (this.refusal = refusalOf(error)),
    )
  }
}

type Figures = Shape['figures']
/** New figures in their places, and those of before that the quick answer leaves out. */
export function merged(now: Figures, before: Figures): Figures {
  const names = now.map((f) => f.name)
  return [...now, ...before.filter((f) => !names.includes(f.name))]
}
