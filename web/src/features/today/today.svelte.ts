/** What the yard asks for now; brings stale forecasts up to date behind it. */
import { api, ask, type Shapes } from '$lib/api/client'
import { Loader } from '$lib/api/loader.svelte'

type Today = Shapes['TodayOut']
type Need = Shapes['NeedOut']

export const GROUPS: Record<string, { title: string; empty: string }> = {
  look: { title: 'Look at now', empty: '' },
  weigh: { title: 'Weigh', empty: '' },
  turn: { title: 'Turn', empty: '' },
  coat: { title: 'Coat', empty: '' },
  soon: { title: 'Soon', empty: '' },
}

export const ACTIONS: Record<string, { label: string; to: (tag: string) => string }> = {
  weigh: { label: 'Weigh', to: (tag) => `#/round/${tag}` },
  drying: { label: 'See its drying', to: (tag) => `#/drying/${tag}` },
  bench: { label: 'To the bench', to: (tag) => `#/bench/${tag}` },
}

/** Rows in their groups, groups in order of need, empty ones left out. */
export function grouped(rows: readonly Need[]): { key: string; rows: Need[] }[] {
  return Object.keys(GROUPS)
    .map((key) => ({ key, rows: rows.filter((r) => r.group === key) }))
    .filter((g) => g.rows.length > 0)
}

export class TodayState {
  list = new Loader<Today>(() => ask(api.GET('/api/today')))
  catchingUp = $state(false)
  #left = false

  async open(): Promise<void> {
    await this.list.load()
    await this.#catchUp()
  }

  leave(): void {
    this.#left = true
  }

  async #catchUp(): Promise<void> {
    if (!this.list.data?.rows.some((r) => r.stale)) return
    this.catchingUp = true
    try {
      for (let round = 0; round < 200 && !this.#left; round += 1) {
        const done = await ask(api.POST('/api/drying/refresh', { body: { tags: [], most: 4 } }))
        if (done.computed) await this.list.load()
        if (!done.waiting) break
      }
    } catch {
      /* the list stands as it was; the next opening tries again */
    }
    this.catchingUp = false
  }
}
