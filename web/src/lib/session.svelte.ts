/** Who is signed in and how they read figures. */
import { api, ask, type Shapes } from './api/client'
import type { Prefs } from './units/units'

export type Me = Shapes['Me']

const STRANGER: Me = {
  signed_in: false, name: '', workshop: '', is_demo: false, length: 'mm', mass: 'g',
  temperature: 'c', theme: 'light', demo_door: false, has_accounts: false,
}

class Session {
  me = $state<Me>(STRANGER)
  known = $state(false)
  unreachable = $state(false)
  sources = $state.raw<Record<string, Shapes['Source']>>({})
  /** Outline of each family, foot to rim, as shares of radius and height. */
  silhouettes = $state.raw<Record<string, [number, number][]>>({})

  get prefs(): Prefs {
    return { length: this.me.length, mass: this.me.mass, temperature: this.me.temperature }
  }

  async start(): Promise<void> {
    try {
      this.take(await ask(api.GET('/api/account/me')))
      this.unreachable = false
    } catch {
      this.unreachable = true
    }
    this.known = true
  }

  take(me: Me): void {
    this.me = me
    document.documentElement.dataset.theme = me.theme === 'dim' ? 'dusk' : 'paper'
    if (me.signed_in && Object.keys(this.sources).length === 0) void this.#learnTables()
  }

  /** Change at once on the screen; the server hears of it after. */
  async prefer(change: Shapes['PreferenceIn']): Promise<void> {
    this.take({ ...this.me, ...(change as Partial<Me>) })
    try {
      this.take(await ask(api.PATCH('/api/account/me', { body: change })))
    } catch {
      /* the screen keeps the choice; it is asked again at the next change */
    }
  }

  async signOut(): Promise<void> {
    await ask(api.POST('/api/account/sign-out'))
    if ('caches' in window) await caches.delete('kiln-api')
    await this.start()
  }

  async #learnTables(): Promise<void> {
    try {
      const [list, options] = await Promise.all([ask(api.GET('/api/bench/sources')), ask(api.GET('/api/pieces/options'))])
      this.sources = Object.fromEntries(list.map((s) => [s.key, s]))
      this.silhouettes = options.silhouettes as Record<string, [number, number][]>
    } catch {
      /* a why then shows the source's key, and pieces stand without their picture */
    }
  }
}

export const session = new Session()
