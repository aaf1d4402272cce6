import { afterEach, describe, expect, it, vi } from 'vitest'
import { FloorState, ORDERS, arranged, readyWords, spanOf, type Row } from './floor.svelte'

const row = (tag: string, change: Partial<Row> = {}): Row => ({
  tag, name: '', species_name: 'Pear', form: 'side-grain-bowl', family: 'hemisphere', diameter_mm: 200, height_mm: 80,
  started_at: '2026-10-01T00:00:00Z', place: 'Loft', wrap: 'open-shelf', ends_sealed: false, settles_at_pct: 9, target_mc_pct: 10.3,
  now: { mc_low_pct: 14, mc_pct: 16, mc_high_pct: 18, mass_g: 900, mass_sd_g: 9, risk: 0.2, risk_peak: 0.2, risk_level: 'ok', mould: 0, mould_ahead: 0, mould_level: 'ok', loss_per_week_pct: 1 },
  ready: false, ready_low: '2027-01-01T00:00:00Z', ready_middle: '2027-02-01T00:00:00Z', ready_high: '2027-03-01T00:00:00Z',
  settled_low: '2027-01-10T00:00:00Z', settled_middle: '2027-02-10T00:00:00Z', settled_high: '2027-04-01T00:00:00Z',
  never_pct: 0, weigh_at: '2026-12-01T00:00:00Z', last_g: 950, last_at: '2026-11-01T00:00:00Z', weighings: 3, questioned: 0, stale: false, warnings: [], step_at: null, step_words: null,
  ...change,
})
const tags = (rows: Row[]) => rows.map((r) => r.tag)

describe('the floor in order', () => {
  const rows = [
    row('3', { ready_middle: null }),
    row('10', { ready_middle: '2026-12-24T00:00:00Z', weigh_at: null }),
    row('2', { name: 'Lock gate', place: 'Cellar', now: { ...row('x').now!, risk_peak: 1.4 } }),
  ]
  it('puts the soonest ready first and those that never are last', () => expect(tags(arranged(rows, 'ready', ''))).toEqual(['10', '2', '3']))
  it('puts the fastest drying first', () => expect(tags(arranged(rows, 'risk', ''))[0]).toBe('2'))
  it('puts what was never weighed due last', () => expect(tags(arranged(rows, 'weigh', '')).at(-1)).toBe('10'))
  it('counts tags as numbers', () => expect(tags(arranged(rows, 'tag', ''))).toEqual(['2', '3', '10']))
  it.each([['lock', ['2']], ['CELLAR', ['2']], ['pear', ['10', '2', '3']], ['open shelf', ['10', '2', '3']], ['oak', []]])('finds %s', (words, found) =>
    expect(tags(arranged(rows, 'ready', words))).toEqual(found))
  it('leaves the list it was given as it was', () => {
    arranged(rows, 'tag', '')
    expect(tags(rows)).toEqual(['3', '10', '2'])
  })
  it('has a label for every order', () => expect(Object.values(ORDERS).every((o) => o.label)).toBe(true))
})

describe('what the bar of a row shows', () => {
  it('the span to ready', () => expect(spanOf(row('1'))).toMatchObject({ kind: 'ready', middle: '2027-02-01T00:00:00Z' }))
  it('as dry as it gets, where the place is too damp', () =>
    expect(spanOf(row('1', { ready_middle: null }))).toMatchObject({ kind: 'settled', low: '2027-01-10T00:00:00Z' }))
  it('nothing when it is ready or not computed yet', () => {
    expect(spanOf(row('1', { ready: true })).kind).toBe('none')
    expect(spanOf(row('1', { now: null })).kind).toBe('none')
  })
})

describe('when it is ready, in words', () => {
  it.each([
    [{ now: null }, 'being worked out'],
    [{ ready: true }, 'ready now'],
    [{ ready_low: '2027-01-03T00:00:00Z' }, '3 Jan 2027 to 1 Mar 2027'],
    [{ ready_low: '2020-01-03T00:00:00Z' }, 'now to 1 Mar 2027'],
    [{ ready_high: null }, 'from 1 Jan 2027, likely 1 Feb 2027'],
    [{ ready_middle: null }, 'as dry as it gets there (9.0 %) by 10 Feb 2027; then drier air'],
  ])('%o', (change, words) => expect(readyWords(row('1', change as Partial<Row>)).replaceAll(' 2027', '')).toBe(words.replaceAll(' 2027', '')))
})

describe('bringing forecasts up to date', () => {
  afterEach(() => vi.unstubAllGlobals())
  const json = (body: unknown) => new Response(JSON.stringify(body), { headers: { 'Content-Type': 'application/json' } })

  it('asks again until none is stale', async () => {
    let left = 8
    vi.stubGlobal('fetch', (request: Request) => {
      if (request.method === 'GET') return Promise.resolve(json([row('1', { stale: left > 0 })]))
      const computed = Math.min(6, left)
      left -= computed
      return Promise.resolve(json({ computed, waiting: left }))
    })
    const floor = new FloorState()
    await floor.open()
    expect([left, floor.waiting, floor.list.data?.[0]?.stale]).toEqual([0, 0, false])
  })
  it('stops when the server computes nothing, and when the screen is left', async () => {
    let posts = 0
    vi.stubGlobal('fetch', (request: Request) => {
      if (request.method === 'POST') posts += 1
      return Promise.resolve(json(request.method === 'GET' ? [row('1', { stale: true })] : { computed: 0, waiting: 1 }))
    })
    const stuck = new FloorState()
    await stuck.open()
    expect(posts).toBe(1)
    const left = new FloorState()
    left.leave()
    await left.open()
    expect(posts).toBe(1)
  })
  it('keeps the rows when the server goes away in between', async () => {
    vi.stubGlobal('fetch', (request: Request) =>
      request.method === 'GET' ? Promise.resolve(json([row('1', { stale: true })])) : Promise.reject(new TypeError('gone')))
    const floor = new FloorState()
    await floor.open()
    expect(tags(floor.list.data ?? [])).toEqual(['1'])
  })
})
