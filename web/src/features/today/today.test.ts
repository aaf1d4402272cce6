import { afterEach, describe, expect, it, vi } from 'vitest'
import type { Shapes } from '$lib/api/client'
import { ACTIONS, GROUPS, TodayState, grouped } from './today.svelte'

const need = (group: string, tag: string, stale = false) => ({ group, piece: { tag }, stale }) as unknown as Shapes['NeedOut']

describe('the day’s list', () => {
  it('stands in order of need, empty groups left out', () => {
    const rows = [need('soon', '5'), need('look', '1'), need('turn', '3'), need('look', '2')]
    expect(grouped(rows).map((g) => [g.key, g.rows.map((r) => r.piece.tag)])).toEqual([['look', ['1', '2']], ['turn', ['3']], ['soon', ['5']]])
    expect(grouped([])).toEqual([])
  })
  it('has a title for every group and an address for every action', () => {
    expect(Object.keys(GROUPS)).toEqual(['look', 'weigh', 'turn', 'coat', 'soon'])
    for (const action of Object.values(ACTIONS)) expect(action.to('B-7')).toMatch(/^#\/\w+\/B-7$/)
  })
})

describe('today', () => {
  afterEach(() => vi.unstubAllGlobals())
  it('shows what it has at once and catches up behind it', async () => {
    let stale = true
    const seen: string[] = []
    vi.stubGlobal('fetch', (request: Request) => {
      seen.push(`${request.method} ${new URL(request.url).pathname}`)
      if (request.method === 'POST') stale = false
      const body = request.method === 'GET' ? { rows: [need('weigh', '1', stale)], strip: [] } : { computed: 1, waiting: 0 }
      return Promise.resolve(new Response(JSON.stringify(body), { headers: { 'Content-Type': 'application/json' } }))
    })
    const state = new TodayState()
    await state.open()
    expect(seen).toEqual(['GET /api/today', 'POST /api/drying/refresh', 'GET /api/today'])
    expect([state.catchingUp, state.list.data?.rows[0]?.stale]).toEqual([false, false])
  })
})
