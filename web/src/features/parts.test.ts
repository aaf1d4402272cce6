import { flushSync } from 'svelte'
import { afterEach, describe, expect, it, vi } from 'vitest'
import type { Shapes } from '$lib/api/client'
import { session } from '$lib/session.svelte'
import { show, takeDown } from '$lib/ui/mounting'
import Chain from './bench/Chain.svelte'
import Coats from './bench/Coats.svelte'
import DoneForm from './bench/DoneForm.svelte'
import Holds from './bench/Holds.svelte'
import LadderTable from './bench/LadderTable.svelte'
import RouteList from './bench/RouteList.svelte'
import Schools from './bench/Schools.svelte'
import { BenchState } from './bench/bench.svelte'
import QuestionBox from './drying/QuestionBox.svelte'
import WeightList from './drying/WeightList.svelte'
import ToolForm from './shop/ToolForm.svelte'

const settled = async () => {
  await new Promise((done) => setTimeout(done, 10))
  flushSync()
}
const button = (box: HTMLElement, words: string) => [...box.querySelectorAll('button')].find((b) => b.textContent?.includes(words))
afterEach(() => {
  takeDown()
  vi.unstubAllGlobals()
})

const say = (template: string, params = {}) => ({ code: template, template, params })
const hold = (key: string, verdict: string, change = {}): Shapes['Hold'] => ({
  key, label: key, verdict, why: [say(`why ${key}`)], sizes: [], cautions: [], checks: [], depth_lost_mm: 0, rated_rpm: null, source: 'common-practice', rank: 0,
  but: verdict === 'possible' ? say(`but ${key}`) : null, ...change,
})

describe('holds on a card', () => {
  const size = { name: 'pilot_mm', label: 'Pilot drill', value: 8, limits: [], group: 'hold', big: false, source: '' }
  it('shows the best with its sizes, the runner-up with why not, and the rest behind', () => {
    const box = show(Holds, { choice: { moment: 'first', label: 'First hold', holds: [hold('worm', 'best', { sizes: [size] }), hold('plate', 'possible'), hold('centres', 'possible'), hold('glue', 'no')] } })
    expect(box.querySelector('.hold-best')?.textContent).toBe('worm')
    expect(box.querySelector('.hold-sizes')?.textContent).toContain('8 mm')
    expect(box.querySelector('.hold-runner')?.textContent).toContain('Why not first: but plate')
    const rest = [...box.querySelectorAll('details li')].map((li) => li.textContent)
    expect(rest[0]).toContain('centres: possible.')
    expect(rest[1]).toContain('glue: no. why glue')
    expect(box.querySelector('details')?.open).toBe(false)
  })
  it('says stop and opens the reasons when nothing in the shop will do', () => {
    const box = show(Holds, { choice: { moment: 'first', label: 'First hold', holds: [hold('worm', 'no')] } })
    expect(box.querySelector('.caution.stop')?.textContent).toContain('Nothing in this shop')
    expect(box.querySelector('details')?.open).toBe(true)
  })
  it('a broken chain is marked where it breaks', () => {
    const link = (moment: string, h: unknown) => ({ moment, label: moment, hold: h, leaves: say('then') })
    const box = show(Chain, { chain: [link('first', hold('worm', 'best')), link('hollow', null)] })
    expect([...box.querySelectorAll('li')].map((li) => li.classList.contains('broken'))).toEqual([false, true])
  })
})

describe('schools and grits', () => {
  it('put the house way first and call the other school so', () => {
    const verdict = (school: string, value: number | null) => ({ school, label: school, value, why: say('because'), source: '' })
    const box = show(Schools, { school: { question: 'How thick?', name: 'wall_mm', verdicts: [verdict('tenth', 28.1), verdict('computed', null)] } })
    const lines = [...box.querySelectorAll('li')].map((li) => li.textContent)
    expect(lines[0]).toMatch(/28\.1 mm.*house way/)
    expect(lines[1]).toMatch(/no answer.*the other school/)
  })
  it('climb in order and add up their minutes', () => {
    const rung = (grit: number) => ({ grit, median_um: 1, ratio: null, minutes: 5, quarter_sheets: 1, why: say('finer') })
    const box = show(LadderTable, { ladder: { school: 'long', rungs: [rung(120), rung(180)], after: say('then paste'), zones: [], cautions: [] } })
    expect([...box.querySelectorAll('.grit')].map((g) => g.textContent)).toEqual(['P120', 'P180'])
    expect(box.textContent).toContain('About 10 minutes')
    expect(box.textContent).toContain('then paste')
  })
})

const stage = (kind: string, state: string, notes = {}) => ({ kind, title: kind, place: 'bench', state, why: say('why'), done_at: state === 'done' ? '2026-11-01T10:00:00Z' : null, notes })
const piece = (...stages: ReturnType<typeof stage>[]) => ({ tag: '7', way_label: 'Rough, dry, finish', stages }) as unknown as Shapes['PieceOut']

describe('the route', () => {
  it('says in words which stage is done, in hand and to come', () => {
    const box = show(RouteList, { piece: piece(stage('rough', 'done'), stage('dry', 'active'), stage('turn', 'waiting')), here: 'dry' })
    expect([...box.querySelectorAll('.sr-only')].map((s) => s.textContent)).toEqual([', done', ', in hand', ', to come'])
    expect(box.querySelector('[aria-current=step]')?.getAttribute('href')).toBe('#/bench/7/dry')
  })
})

function benchAt(state: string, coats: { number: number; given_at: string | null }[] = [], notes = {}): BenchState {
  const bench = new BenchState('7')
  bench.kind = 'coat'
  bench.piece.set(piece(stage('coat', state, notes)))
  bench.card.set({ card: { notes: [], inputs: [] }, coats: coats.map((c) => ({ what: 'oil', due_at: '2026-11-02T10:00:00Z', ...c })), cured_at: '2026-12-02T10:00:00Z' } as unknown as Shapes['CardOut'])
  return bench
}

describe('coats', () => {
  it('offer the next one only while the stage is in hand', () => {
    const coats = [{ number: 1, given_at: '2026-11-01T10:00:00Z' }, { number: 2, given_at: null }]
    const box = show(Coats, { bench: benchAt('active', coats) })
    expect(box.querySelector('tr.next')?.textContent).toContain('oil')
    expect(button(box, 'Coat 2 is on')).toBeDefined()
    expect(button(box, 'Take the last coat back')).toBeDefined()
    expect(show(Coats, { bench: benchAt('done', coats) }).querySelectorAll('button')).toHaveLength(0)
  })
})

describe('what really happened', () => {
  const field = { name: 'wall_mm', label: 'Wall', kind: 'number', value: 6, choices: [], required: true, on_piece: false, before: false }
  it('is a form while in hand, a list once done', () => {
    const open = show(DoneForm, { bench: benchAt('active'), fields: [field], shown: [], onnext: vi.fn() })
    expect(open.querySelector('input[name=wall_mm]')).not.toBeNull()
    const done = show(DoneForm, { bench: benchAt('done', [], { wall_mm: 6.5 }), fields: [field], shown: [], onnext: vi.fn() })
    expect(done.querySelector('form')).toBeNull()
    expect(done.textContent).toContain('6.5 mm')
  })
  it('holds its ember back while coats are still to come', () => {
    const box = show(DoneForm, { bench: benchAt('active', [{ number: 1, given_at: null }]), fields: [], shown: [], onnext: vi.fn() })
    expect(button(box, 'Mark it done')?.classList.contains('btn-primary')).toBe(false)
  })
})

const weight = (id: number, mass_g: number, state = 'accepted', question = {}): Shapes['WeighInOut'] => ({
  id, tag: '7', at: '2026-11-10T10:00:00Z', mass_g, typed: '', state, question, corrects_id: null,
})
const json = (body: unknown, status = 200) => new Response(JSON.stringify(body), { status, headers: { 'Content-Type': 'application/json' } })

describe('a questioned weight', () => {
  const asked = weight(5, 22400, 'questioned', { sentence: say('{mass_g}?', { mass_g: 22400 }), meant_g: 2240, meant_tags: ['9'] })
  it('offers what was meant, another tag, or that it is right', () => {
    const box = show(QuestionBox, { weight: asked, onanswered: vi.fn() })
    expect([...box.querySelectorAll('button')].map((b) => b.textContent?.trim().replace(/\s/g, ' '))).toEqual(['Make it 2240 g', 'It was 9', '22 400 g is right'])
    expect(box.querySelector('p')?.textContent?.replace(/\s/g, ' ').trim()).toBe('22 400 g?')
  })
  it.each([
    ['Make it', '/api/drying/weigh-ins/5/correct', { mass_g: 2240, tag: null }],
    ['It was 9', '/api/drying/weigh-ins/5/correct', { mass_g: 22400, tag: '9' }],
    ['is right', '/api/drying/weigh-ins/5/accept', {}],
  ])('%s is sent and handed on', async (words, path, sent) => {
    const calls: [string, Record<string, unknown>][] = []
    vi.stubGlobal('fetch', async (request: Request) => {
      const text = await request.text()
      calls.push([new URL(request.url).pathname, text ? (JSON.parse(text) as Record<string, unknown>) : {}])
      return json(weight(6, 2240))
    })
    const onanswered = vi.fn()
    button(show(QuestionBox, { weight: asked, onanswered }), words)?.click()
    await settled()
    expect(calls[0]?.[0]).toBe(path)
    expect(calls[0]?.[1]).toMatchObject(sent)
    expect(onanswered).toHaveBeenCalledOnce()
  })
})

describe('the list of weights', () => {
  it('stands newest first, the replaced ones struck through', () => {
    const box = show(WeightList, { weights: [weight(1, 2450), weight(2, 24400, 'corrected'), weight(3, 2440)], onchange: vi.fn() })
    const rows = [...box.querySelectorAll('li')]
    expect(rows.map((r) => r.dataset.state)).toEqual(['accepted', 'corrected', 'accepted'])
    expect(rows[1]?.querySelector('.struck')).not.toBeNull()
    expect(rows[1]?.querySelector('button')).toBeNull()
  })
  it('teaches when there are none', () => expect(show(WeightList, { weights: [], onchange: vi.fn() }).textContent).toContain('the first weight tells most'))
})

describe('a tool on the wall', () => {
  const spec = [{ name: 'name', label: 'Name', kind: 'text' as const }, { name: 'swing_mm', label: 'Swing' }]
  it('opens with its figures, stays open with its refusal, and closes when kept', async () => {
    const { Refusal } = await import('$lib/api/client')
    const item = { code: 'x', field: 'swing_mm', message: 'too wide', template: '', params: {} }
    const save = vi.fn().mockRejectedValueOnce(new Refusal(422, [item])).mockResolvedValue({})
    const onsaved = vi.fn()
    const box = show(ToolForm, { spec, title: 'Long bed', row: { name: 'Long bed', swing_mm: 420 }, save, onsaved })
    button(box, 'Change')?.click()
    flushSync()
    expect(box.querySelector<HTMLInputElement>('input[name=swing_mm]')?.value).toBe('420')
    box.querySelector('form')?.requestSubmit()
    await settled()
    expect(box.textContent).toContain('too wide')
    box.querySelector('form')?.requestSubmit()
    await settled()
    expect(save).toHaveBeenLastCalledWith({ name: 'Long bed', swing_mm: 420 })
    expect(onsaved).toHaveBeenCalledOnce()
    expect(box.querySelector('form')).toBeNull()
  })
  it('asks again before it is removed', () => {
    const remove = vi.fn().mockResolvedValue(undefined)
    const box = show(ToolForm, { spec, title: 'Discs', row: { name: 'Discs', swing_mm: 300 }, save: vi.fn(), remove, onsaved: vi.fn() })
    button(box, 'Change')?.click()
    flushSync()
    button(box, 'Remove')?.click()
    flushSync()
    expect(remove).not.toHaveBeenCalled()
    button(box, 'Yes, remove it')?.click()
    expect(remove).toHaveBeenCalledOnce()
  })
})

describe('the session', () => {
  it('shows a choice at once and keeps it when the server is away', async () => {
    vi.stubGlobal('fetch', () => Promise.reject(new TypeError('gone')))
    await session.prefer({ theme: 'dim', length: 'in' })
    expect([session.me.theme, session.prefs.length, document.documentElement.dataset.theme]).toEqual(['dim', 'in', 'dusk'])
    await session.start()
    expect([session.known, session.unreachable]).toEqual([true, true])
  })
})
