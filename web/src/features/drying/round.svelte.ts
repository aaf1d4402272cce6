/** A weigh-in round: every weight is kept on this device until the server has it, and is sent once. */
import { refusalOf, type Refusal, type Shapes } from '$lib/api/client'

export type Weight = Shapes['WeighInOut']
export interface Waiting {
  key: string
  tag: string
  mass_g: number
  typed: string
  at: string
}
export interface Entry extends Waiting {
  state: 'waiting' | 'kept' | 'questioned' | 'refused'
  weight?: Weight
  refusal?: Refusal
  ready?: string
}
interface Keeper {
  getItem(name: string): string | null
  setItem(name: string, value: string): void
}
export interface Doors {
  send: (waiting: Waiting) => Promise<Weight>
  keeper: Keeper
  now: () => Date
  key: () => string
  /** Whose round it is: one person's weights never go out under another's name. */
  owner: string
}

export class Round {
  entries = $state.raw<Entry[]>([])
  #busy = false
  #doors: Doors

  constructor(doors: Doors) {
    this.#doors = doors
    this.entries = this.#kept().map((w) => ({ ...w, state: 'waiting' as const }))
  }

  get waiting(): number {
    return this.entries.filter((e) => e.state === 'waiting').length
  }

  get #slot(): string {
    return `kiln-round-${this.#doors.owner}`
  }

  #kept(): Waiting[] {
    try {
      const list: unknown = JSON.parse(this.#doors.keeper.getItem(this.#slot) ?? '[]')
      return Array.isArray(list) ? (list as Waiting[]) : []
    } catch {
      return []
    }
  }

  #keep(): void {
    const open = this.entries
      .filter((e) => e.state === 'waiting')
      .map(({ key, tag, mass_g, typed, at }) => ({ key, tag, mass_g, typed, at }))
    try {
      this.#doors.keeper.setItem(this.#slot, JSON.stringify(open))
    } catch {
      /* a full or closed store: the weights stay on the screen */
    }
  }

  #change(key: string, change: Partial<Entry>): void {
    this.entries = this.entries.map((e) => (e.key === key ? { ...e, ...change } : e))
    this.#keep()
  }

  /** Note a weight: on the device at once, then to the server. Resolves with the entry as it stands. */
  async add(tag: string, mass_g: number, typed: string, at: string | null = null): Promise<Entry | undefined> {
    const key = this.#doors.key()
    const when = at ?? this.#doors.now().toISOString()
    this.entries = [...this.entries, { key, tag: tag.trim().toUpperCase(), mass_g, typed, at: when, state: 'waiting' }]
    this.#keep()
    await this.flush()
    return this.entries.find((e) => e.key === key)
  }

  /** Send what waits, in order; stop at the first that cannot reach the server. */
  async flush(): Promise<void> {
    if (this.#busy) return
    this.#busy = true
    try {
      for (let next = this.#next(); next; next = this.#next()) {
        if (!(await this.#sent(next))) break
      }
    } finally {
      this.#busy = false
    }
  }

  #next(): Entry | undefined {
    return this.entries.find((e) => e.state === 'waiting')
  }

  async #sent({ key, tag, mass_g, typed, at }: Entry): Promise<boolean> {
    try {
      const weight = await this.#doors.send({ key, tag, mass_g, typed, at })
      this.#change(key, { state: weight.state === 'questioned' ? 'questioned' : 'kept', weight })
      return true
    } catch (error) {
      const refusal = refusalOf(error)
      // Only what can mend itself waits: no server, its trouble, or a session that ended.
      if (refusal.status === 0 || refusal.status >= 500 || refusal.status === 401) return false
      this.#change(key, { state: 'refused', refusal })
      return true
    }
  }

  answered(key: string, weight: Weight): void {
    this.#change(key, { state: 'kept', weight })
  }

  told(key: string, ready: string): void {
    this.#change(key, { ready })
  }
}

/** Split "14 2390 g" into tag and weight; a bare word is a tag alone. */
export function tagAndWeight(text: string): { tag: string; weight: string } {
  const found = /^(\S+)\s+(\S.*)$/.exec(text.trim())
  return found ? { tag: found[1] ?? '', weight: found[2] ?? '' } : { tag: text.trim(), weight: '' }
}
