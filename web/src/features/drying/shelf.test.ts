import { describe, expect, it, vi } from 'vitest'
import type { Shapes } from '$lib/api/client'
import { ONLY, keys } from './floorKeys'
import { Chosen, type Row } from './floor.svelte'
import { Shelf, shelfOf, tagOfCode } from './shelf.svelte'
import { clock, inDays, risked, spanOf } from './ways.svelte'

const row = (tag: string, place: string, change = {}) => ({ tag, place, name: '', species_name: 'Pear', now: { mass_g: 1000, mass_sd_g: 10, risk_level: 'ok', mould_level: 'ok' }, last_g: 990, last_at: null, questioned: 0, ready: false, warnings: [], weigh_at: null, step_at: null, ...change }) as unknown as Shapes['FloorOut']
const keeper = () => {
  const kept = new Map<string, string>()
  return { getItem: (k: string) => kept.get(k) ?? null, setItem: (k: string, v: string) => void kept.set(k, v) }
}

describe('the shelf on the device', () => {
  it('stands shelf by shelf, tags as numbers', () => {
    expect(shelfOf([row('10', 'Loft'), row('9', 'Loft'), row('2', 'Corner')]).map((r) => r.tag)).toEqual(['2', '9', '10'])
  })
  it('expects two deviations either side, nothing where nothing is forecast', () => {
    expect(shelfOf([row('1', 'a')])[0]).toMatchObject({ low_g: 980, high_g: 1020 })
    expect(shelfOf([row('1', 'a', { now: null })])[0]).toMatchObject({ low_g: null, high_g: null })
  })
  it('is remembered for one person and serves when the server is gone', async () => {
    const store = keeper()
    const shelf = new Shelf(store, 'ada')
    await shelf.learn(() => Promise.resolve([row('14', 'Loft')]))
    const later = new Shelf(store, 'ada')
    await later.learn(() => Promise.reject(new Error('gone')))
    expect(later.find(' 14 ')?.place).toBe('Loft')
    expect(new Shelf(store, 'bea').rows).toEqual([])
  })
  it('survives a spoilt store', () => {
    expect(new Shelf({ getItem: () => '{oops', setItem: vi.fn() }, 'x').rows).toEqual([])
  })
  it('walks on from the last tag and skips what was weighed', async () => {
    const shelf = new Shelf(keeper(), 'ada')
    await shelf.learn(() => Promise.resolve([row('1', 'a'), row('2', 'a'), row('3', 'b')]))
    expect(shelf.next(new Set(), null)?.tag).toBe('1')
    expect(shelf.next(new Set(['2']), '1')?.tag).toBe('3')
    expect(shelf.next(new Set(['3']), '3')?.tag).toBe('1')
    expect(shelf.next(new Set(['1', '2', '3']), '3')).toBeUndefined()
  })
  it.each([['14', '14'], ['http://shop/#/piece/b-7', 'B-7'], ['', null], ['hello world!', null], ['x'.repeat(30), null]])('reads the code %s as %s', (code, tag) => {
    expect(tagOfCode(code)).toBe(tag)
  })
})

describe('choosing on the floor', () => {
  it('chooses one, a range, all, and lets go', () => {
    const chosen = new Chosen()
    const order = ['1', '2', '3', '4']
    chosen.toggle('2', order)
    chosen.toggle('4', order, true)
    expect(order.filter((t) => chosen.has(t))).toEqual(['2', '3', '4'])
    expect(chosen.size).toBe(3)
    chosen.toggle('3', order)
    expect(chosen.has('3')).toBe(false)
    chosen.set(order, true)
    expect(chosen.all(order)).toBe(true)
    chosen.clear()
    expect(chosen.size).toBe(0)
  })
  it('walks rows with j and k and chooses with x, not while somebody types', () => {
    document.body.innerHTML = '<input id="f"><table><tr data-tag="1"><td class="piece"><a href="#1">1</a></td></tr><tr data-tag="2"><td class="piece"><a href="#2">2</a></td></tr></table>'
    const floor = { tags: ['1', '2'], chosen: new Chosen() }
    const press = (key: string, target: Element = document.body) => {
      const event = new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true })
      Object.defineProperty(event, 'target', { value: target })
      keys(event, floor)
    }
    press('j')
    expect(document.activeElement?.textContent).toBe('1')
    press('j')
    press('j')
    expect(document.activeElement?.textContent).toBe('2')
    press('x')
    expect(floor.chosen.has('2')).toBe(true)
    press('k')
    expect(document.activeElement?.textContent).toBe('1')
    press('x', document.getElementById('f')!)
    expect(floor.chosen.has('1')).toBe(false)
    press('Escape')
    expect(floor.chosen.size).toBe(0)
  })
  it('shows only what is asked for', () => {
    const fine = row('1', 'a') as Row
    const quick = row('2', 'a', { now: { risk_level: 'care', mould_level: 'ok' } }) as Row
    const due = row('3', 'a', { weigh_at: '2020-01-01T00:00:00Z' }) as Row
    expect(ONLY.care!.keep(fine)).toBe(false)
    expect(ONLY.care!.keep(quick)).toBe(true)
    expect(ONLY.weigh!.keep(due)).toBe(true)
    expect(ONLY.weigh!.keep(fine)).toBe(false)
    expect(ONLY.ready!.keep(row('4', 'a', { ready: true }) as Row)).toBe(true)
  })
})

describe('words for ways', () => {
  const way = (low: number | null, middle: number | null, high: number | null) => ({ ready_in_days: { low, middle, high }, settled_in_days: { low: 50, middle: 80, high: 160 }, settles_at_pct: 11.7 })
  it('tells spans in the nearest sensible unit', () => {
    expect(inDays(way(1, 3, 12))).toBe('a day to 12 days, likely 3 days')
    expect(inDays(way(30, 80, 300))).toBe('4 weeks to 10 months, likely 11 weeks')
    expect(inDays(way(30, 80, null))).toBe('from 4 weeks, likely 11 weeks')
  })
  it('falls back on as dry as the air makes it', () => {
    expect(inDays(way(null, null, null))).toContain('as dry as that air makes it (11.7 %) in 7 weeks to 5 months')
    expect(spanOf(way(null, null, null)).middle).toBe(80)
    expect(spanOf(way(1, 2, 3)).middle).toBe(2)
  })
  it('counts down and never below nothing', () => {
    expect(clock(65.2)).toBe('1:06')
    expect(clock(-5)).toBe('0:00')
    expect(risked('stop', { stop: 'too much' })).toBe('too much')
  })
})
