/** The piece in hand: its route, the card of one stage, figures tried, kept and marked done. */
import { api, ask, refusalOf, type Refusal, type Shapes } from '$lib/api/client'
import { Loader } from '$lib/api/loader.svelte'

type Figures = Record<string, number | string>
type NoteField = Shapes['NoteField']
type CardOut = Shapes['CardOut']

/** The client widens the card's point pairs to plain lists; the schema knows better. */
const cardOf = (call: Parameters<typeof ask>[0]): Promise<CardOut> => ask(call) as Promise<CardOut>

export class BenchState {
  piece = new Loader<Shapes['PieceOut']>(() => ask(api.GET('/api/pieces/{tag}', this.#tag())))
  card = new Loader<CardOut>(() => cardOf(api.GET('/api/bench/{tag}/card/{kind}', this.#at())))
  kind = $state('')
  /** Figures being tried on the card, not kept yet. */
  trial = $state.raw<Figures>({})
  /** What is being noted at the end of the stage. */
  notes = $state<Record<string, number | string | null>>({})
  at = $state<string | null>(null)
  refusal = $state.raw<Refusal | undefined>()
  busy = $state(false)
  #keeping: Promise<void> = Promise.resolve()
  #refused: { piece: Figures; stage: Figures } = { piece: {}, stage: {} }
  /** Notes the person wrote; the plan no longer fills these. */
  readonly #written: Record<string, true> = {}

  constructor(readonly tag: string) {}

  #tag() {
    return { params: { path: { tag: this.tag } } }
  }
  #at() {
    return { params: { path: { tag: this.tag, kind: this.kind } } }
  }

  get stage(): Shapes['StageOut'] | undefined {
    return this.piece.data?.stages.find((s) => s.kind === this.kind)
  }
  /** The stage whose taking back is possible: the last one done. */
  get lastDone(): string | undefined {
    return this.piece.data?.stages.filter((s) => s.state === 'done').at(-1)?.kind
  }

  async open(kind: string | undefined): Promise<void> {
    if (!(await this.piece.load())) return
    const stages = this.piece.data?.stages ?? []
    this.kind = kind ?? stages.find((s) => s.state === 'active')?.kind ?? stages.at(-1)?.kind ?? ''
    await this.card.load()
    this.#startNotes()
  }

  /** Fill in what was noted, else the plan's own figures; what the person wrote stays. */
  #startNotes(): void {
    const kept = this.stage?.notes ?? {}
    const planned = (f: NoteField) => (kept[f.name] as number | string | undefined) ?? f.value ?? null
    this.notes = Object.fromEntries(
      (this.card.data?.card.notes ?? []).map((f) => [f.name, this.#written[f.name] ? (this.notes[f.name] ?? null) : planned(f)]),
    )
  }

  write(name: string, value: number | string | null): void {
    this.#written[name] = true
    this.notes[name] = value
  }

  valueOf(field: NoteField): number | string | null {
    return this.trial[field.name] ?? field.value ?? null
  }

  /** Show the card as it would be; the newest figure wins. */
  attempt(field: NoteField, value: number | string | null): void {
    if (value === null) return
    this.trial = { ...this.trial, [field.name]: value }
    void this.#show()
  }

  /** The card as kept, or as it would be with what is still being tried. */
  #show(): Promise<boolean> {
    const figures = this.trial
    if (Object.keys(figures).length === 0) return this.card.load()
    return this.card.load(() => cardOf(api.POST('/api/bench/{tag}/card/{kind}/try', { ...this.#at(), body: { figures } })))
  }

  /** Keep a figure: on the piece where it is the piece's own, else with the stage. One after the other. */
  keep(field: NoteField, value: number | string | null): Promise<void> {
    this.#keeping = this.#keeping.then(() => this.#keep(field, value))
    return this.#keeping
  }

  async #keep(field: NoteField, value: number | string | null): Promise<void> {
    if (value === null) return
    const box = field.on_piece ? this.#refused.piece : this.#refused.stage
    box[field.name] = value // with what was refused before: one mended figure may free another
    const sent = { ...box }
    try {
      if (field.on_piece) {
        this.piece.set(await ask(api.PATCH('/api/pieces/{tag}', { ...this.#tag(), body: sent })))
      } else {
        await ask(api.PUT('/api/bench/{tag}/card/{kind}/notes', { ...this.#at(), body: { figures: sent } }))
      }
      for (const name of Object.keys(sent)) delete box[name]
      this.trial = Object.fromEntries(Object.entries(this.trial).filter(([name, tried]) => sent[name] !== tried))
      this.refusal = undefined
      await this.#show()
      this.#startNotes()
    } catch (error) {
      this.refusal = refusalOf(error) // the figure stays in its field, the sentence stands beside it
    }
  }

  error(name: string) {
    return this.refusal?.of(name) ?? this.card.refusal?.of(name)
  }

  /** Mark the stage done; the kind of the next stage, '' at the end, undefined when refused. */
  async done(): Promise<string | undefined> {
    const notes = Object.fromEntries(Object.entries(this.notes).filter((e): e is [string, number | string] => e[1] !== null && e[1] !== ''))
    return this.#act(async () => {
      const piece = await ask(api.POST('/api/bench/{tag}/done/{kind}', { ...this.#at(), body: { notes, at: this.at } }))
      this.piece.set(piece)
      return piece.stages.find((s) => s.state === 'active')?.kind ?? ''
    })
  }

  async takeBack(): Promise<string | undefined> {
    return this.#act(async () => {
      const piece = await ask(api.POST('/api/bench/{tag}/take-back', this.#tag()))
      this.piece.set(piece)
      return piece.stages.find((s) => s.state === 'active')?.kind ?? ''
    })
  }

  async coat(back = false): Promise<void> {
    await this.#act(async () => {
      const piece = back ? await ask(api.DELETE('/api/pieces/{tag}/coats/last', this.#tag())) : await ask(api.POST('/api/pieces/{tag}/coats', { ...this.#tag(), body: {} }))
      this.piece.set(piece)
      await this.card.load()
      return this.kind
    })
  }

  async #act(call: () => Promise<string>): Promise<string | undefined> {
    this.busy = true
    try {
      const next = await call()
      this.refusal = undefined
      return next
    } catch (error) {
      this.refusal = refusalOf(error)
      return undefined
    } finally {
      this.busy = false
    }
  }
}
