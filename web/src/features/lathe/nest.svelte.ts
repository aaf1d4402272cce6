/** The nest planner: the best set of cores beside the ways without a plan, and kerfs moved by hand. */
import { api, ask, Refusal, refusalOf, type Shapes } from '$lib/api/client'
import { Newest } from '$lib/newest'

export type Nest = Shapes['Nest']
export type NestIn = Partial<Shapes['NestIn']>
export type CutIn = Shapes['KerfIn']
export interface Start { outer: number[][]; wall_mm: number; bottom_mm: number; knives: string[] }
export interface Step { done: number; start: Start; plan: (Record<string, Nest> & { tried: number }) | null }

export interface Doors {
  search: (body: NestIn, on: (step: Step) => void) => Promise<void>
  own: (body: NestIn) => Promise<Shapes['NestOut']>
  take: (tag: string, body: NestIn) => Promise<{ tags: string[] }>
  putBack: (tag: string) => Promise<unknown>
}

/** Lines of JSON as they come, each handed on at once. */
async function lines(response: Response, on: (step: Step) => void): Promise<void> {
  const reader = response.body!.pipeThrough(new TextDecoderStream()).getReader()
  let rest = ''
  for (;;) {
    const { done, value } = await reader.read()
    rest += value ?? ''
    const parts = rest.split('\n')
    rest = parts.pop() ?? ''
    for (const part of parts) if (part.trim()) on(JSON.parse(part) as Step)
    if (done) return
  }
}

export const DOORS: Doors = {
  async search(body, on) {
    const answer = await api.POST('/api/lathe/nest/search', { body: body as Shapes['NestIn'], parseAs: 'stream' })
    if (!answer.response.ok) throw new Refusal(answer.response.status, (answer.error as Shapes['Problem']).errors)
    await lines(new Response(answer.data as unknown as ReadableStream), on)
  },
  own: (body) => ask(api.POST('/api/lathe/nest', { body: body as Shapes['NestIn'] })) as Promise<Shapes['NestOut']>,
  putBack: (tag) => ask(api.DELETE('/api/lathe/{tag}/cores', { params: { path: { tag } } })),
  take: (tag, body) => ask(api.POST('/api/lathe/{tag}/cores', { params: { path: { tag } }, body: body as Shapes['NestIn'] })),
}

export const cutsOf = (nest: Nest): CutIn[] => nest.cores.map((c) => ({ knife: c.cut.knife.key, gap_mm: c.cut.gap_mm, off_mm: c.cut.off_mm ?? 0 }))

export class NestState {
  ask = $state<NestIn>({ least_mm: 100, tenon_mm: 45, value: 'diameter', price_per_cm: 3, offsets: false })
  found = $state.raw<Nest[]>([])
  shown = $state.raw<Nest | undefined>()
  start = $state.raw<Start | undefined>()
  cuts = $state.raw<CutIn[]>([])
  picked = $state<number | null>(null)
  progress = $state<number | null>(null)
  tried = $state(0)
  refusal = $state.raw<Refusal | undefined>()
  tags = $state.raw<string[]>([])
  readonly #newest = new Newest()

  constructor(private readonly doors: Doors = DOORS) {}

  async search(): Promise<void> {
    this.progress = 0
    this.refusal = undefined
    try {
      await this.doors.search(this.ask, (step) => {
        this.progress = step.done
        this.start = step.start
        if (step.plan) {
          this.tried = step.plan.tried
          this.found = ['best', 'largest-first', 'one'].map((k) => step.plan![k]!).filter((n) => n.cores.length)
          if (this.found[0]) this.pick(this.found[0])
          else this.shown = undefined
        }
      })
    } catch (error) {
      this.refusal = refusalOf(error)
    }
    this.progress = null
  }

  pick(nest: Nest): void {
    this.shown = nest
    this.cuts = cutsOf(nest)
    this.picked = null
  }

  /** Push a pivot by hand; what breaks is said by the server. */
  push(i: number, gap: number, off: number): void {
    this.cuts = this.cuts.map((c, k) => (k === i ? { ...c, gap_mm: round(c.gap_mm + gap), off_mm: round((c.off_mm ?? 0) + off) } : c))
    void this.#own()
  }
  knife(i: number, knife: string): void {
    this.cuts = this.cuts.map((c, k) => (k === i ? { ...c, knife } : c))
    void this.#own()
  }
  remove(i: number): void {
    this.cuts = this.cuts.filter((_, k) => k !== i)
    this.picked = null
    void this.#own()
  }
  add(knife: string): void {
    this.cuts = [...this.cuts, { knife, gap_mm: 40, off_mm: 0 }]
    void this.#own()
  }

  #own(): Promise<void> {
    return this.#newest.ask(
      () => this.doors.own({ ...this.ask, cuts: this.cuts }),
      (answer) => {
        this.shown = answer.nest
        // the server puts the smallest first; the hand follows its own kerf
        const held = this.picked === null ? undefined : this.cuts[this.picked]
        this.cuts = cutsOf(answer.nest)
        if (held) this.picked = this.cuts.findIndex((c) => c.knife === held.knife && c.gap_mm === held.gap_mm && (c.off_mm ?? 0) === (held.off_mm ?? 0))
        this.refusal = undefined
      },
      (error) => (this.refusal = refusalOf(error)),
    )
  }

  async take(tag: string): Promise<void> {
    try {
      this.tags = (await this.doors.take(tag, { ...this.ask, cuts: this.cuts })).tags
      this.refusal = undefined
    } catch (error) {
      this.refusal = refusalOf(error)
    }
  }

  /** They did not come out so: the pieces go again while nothing was done to them. */
  async putBack(tag: string): Promise<void> {
    try {
      await this.doors.putBack(tag)
      this.tags = []
      this.refusal = undefined
    } catch (error) {
      this.refusal = refusalOf(error)
    }
  }
}

const round = (v: number) => Math.round(v * 10) / 10
