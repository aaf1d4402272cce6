/** A new piece: a few answers, and its route while one answers. */
import { api, ask, refusalOf, type Refusal, type Shapes } from '$lib/api/client'
import { Loader } from '$lib/api/loader.svelte'

type Condition = 'barky' | 'cracked' | 'punky'
type PieceIn = Shapes['PieceIn']

export const FIELDS = [
  'species', 'form', 'state', 'diameter_mm', 'height_mm', 'finish_diameter_mm', 'finish_wall_mm', 'way', 'purpose',
  'name', 'tag', 'pith_mm', 'log_id',
] as const

export class NewPiece {
  species = $state('unknown-hardwood')
  form = $state('side-grain-bowl')
  state = $state('green')
  diameter_mm = $state<number | null>(null)
  height_mm = $state<number | null>(null)
  finish_diameter_mm = $state<number | null>(null)

  way = $state('')
  purpose = $state('food')
  finish_wall_mm = $state<number | null>(null)
  pith_mm = $state<number | null>(null)
  name = $state('')
  tag = $state('')
  log_id = $state<number | null>(null)
  conditions = $state<Condition[]>([])

  busy = $state(false)
  refusal = $state.raw<Refusal | undefined>()
  plan = new Loader<Shapes['Suggestion']>(() => Promise.reject(new Error('not asked')))

  get sized(): boolean {
    return this.diameter_mm !== null && this.height_mm !== null
  }

  body(): PieceIn {
    return {
      species: this.species, form: this.form, state: this.state, diameter_mm: this.diameter_mm ?? 0, height_mm: this.height_mm ?? 0,
      finish_diameter_mm: this.finish_diameter_mm, finish_wall_mm: this.finish_wall_mm ?? 6, way: this.way || null,
      purpose: this.purpose, conditions: this.conditions, pith_mm: this.pith_mm, name: this.name,
      tag: this.tag.trim() || null, log_id: this.log_id,
    }
  }

  /** Ask what route this would take; nothing is kept. */
  suggest(): Promise<boolean> {
    const body = { ...this.body(), tag: null }
    return this.plan.load(() => ask(api.POST('/api/pieces/suggest', { body })))
  }

  /** Begin it; what was typed stays when it is refused. */
  async begin(): Promise<string | undefined> {
    this.busy = true
    try {
      const piece = await ask(api.POST('/api/pieces', { body: this.body() }))
      return piece.tag
    } catch (error) {
      this.refusal = refusalOf(error)
      return undefined
    } finally {
      this.busy = false
    }
  }

  /** What stands next to a field: the answer to the last try, or to the figures as they are. */
  error(field: string) {
    return this.refusal?.of(field) ?? (this.sized ? this.plan.refusal?.of(field) : undefined)
  }
}
