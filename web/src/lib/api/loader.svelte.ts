/** Holds the newest answer to a question that is asked again and again. */
import { Refusal, refusalOf } from './client'

export class Loader<T> {
  data = $state.raw<T | undefined>()
  refusal = $state.raw<Refusal | undefined>()
  loading = $state(false)
  #turn = 0

  constructor(private readonly fetcher: () => Promise<T>) {}

  /** Ask; an older answer that comes late is dropped. Resolves to whether this turn won. */
  async load(fetcher: () => Promise<T> = this.fetcher): Promise<boolean> {
    const turn = ++this.#turn
    this.loading = true
    try {
      const data = await fetcher()
      if (turn !== this.#turn) return false
      this.data = data
      this.refusal = undefined
      return true
    } catch (error) {
      if (turn === this.#turn) this.refusal = refusalOf(error)
      return false
    } finally {
      if (turn === this.#turn) this.loading = false
    }
  }

  /** Put in an answer that came another way; anything still on its way is dropped. */
  set(data: T): void {
    this.#turn += 1
    this.loading = false
    this.refusal = undefined
    this.data = data
  }
}
