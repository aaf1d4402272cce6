/** The screens of the lathe side, mounted whole, with the server played by a table of answers. */
import { flushSync } from 'svelte'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { show, takeDown } from '$lib/ui/mounting'
import Reckoner from './bench/Reckoner.svelte'
import Cores from './lathe/Cores.svelte'
import ShapeBench from './lathe/ShapeBench.svelte'
import WhichWay from './lathe/WhichWay.svelte'
import Shop from './shop/Shop.svelte'

interface Sent { method: string; path: string; body: Record<string, unknown> }
let sent: Sent[] = []
const say = (template: string, params = {}) => ({ code: template, template, params })
const figure = (name: string, value: number, group = 'shape') => ({ name, label: name, value, low: null, high: null, why: say(`why ${name}`), limits: [], inputs: {}, source: 'geometry', group, big: group === 'wall' })
const OUTER = [[40, 0], [90, 40], [120, 100]].map(([r, z]) => ({ r_mm: r, z_mm: z, corner: false }))
const SHAPE = {
  outer: [[0, 0], [40, 0], [90, 40], [120, 100]], inner: [[0, 10], [60, 20], [100, 60], [114, 100]], walls_mm: [10, 7, 6, 6], thin: [114, 90, 6], thick: [60, 20, 10],
  figures: [figure('thin_mm', 6, 'wall'), figure('bottom_mm', 10, 'wall'), figure('capacity_ml', 1800)], marks: [], blank: null, largest: { scale: 1.1, diameter_mm: 264, height_mm: 110 }, swing_mm: 240, readings: [],
}
const WORDS = {
  families: [
    { key: 'hemisphere', label: 'Round-bellied', words: 'half a ball', plan: 'round', closed: false, foot_share: 0.4, sliders: [{ key: 'fullness', label: 'Fullness', low: 1.4, high: 3.6, usual: 2 }] },
    { key: 'closed', label: 'Closed form', words: 'belly and mouth', plan: 'round', closed: true, foot_share: 0.4, sliders: [] },
  ],
  walls: [{ key: 'even', label: 'Even', why: say('even') }, { key: 'heavy', label: 'Heavy bottom', why: say('heavy') }],
  orientations: { 'rim-to-pith': 'rim towards the pith', 'end-grain': 'along the log' }, signs: {}, values: { diameter: 'most width in all', price: 'most money' }, felt: {},
}
const STOCK = { diameter_mm: 290, height_mm: 120, orientation: 'rim-to-pith', pith_mm: 20, log_radius_mm: null, bark_mm: 0 }
const OWN = { design: null as unknown, species: 'pear', species_name: 'Pear', mc_pct: 60, grain: 'side-grain', form: 'side-grain-bowl', stock: STOCK, finish_diameter_mm: 260, finish_wall_mm: 6, callipers: [] as unknown[], cores: [] as string[] }
const DRIED = { mc_pct: 10, rim: [[130, 0], [0, 124]], along: [[0, 0], [128, 100]], across: [[0, 0], [122, 98]], long_mm: 260, short_mm: 248, rise_mm: 3, foot_mm: 0.2, cracks_mm: 0, words: [say('The rim goes oval.')] }
const CORE = {
  cut: { knife: { key: 'small', name: 'small', radius_mm: 110, kerf_mm: 7, reach_mm: 190, clear_mm: 18 }, gap_mm: 40, off_mm: 0 }, kerf: { entry_mm: 80, depth_mm: 50, swept_mm: 120, refused: [] }, diameter_mm: 153, height_mm: 60,
  wall_left_mm: 25, bottom_left_mm: 30, rough_cm3: 300, hold: say('Hold it so.'), settings: [say('Knife: small.')], refused: [], core_side: [[0, 40], [75, 100]], bowl_side: [[0, 33], [82, 100]],
}
const NEST = { key: 'best', label: 'Best set', cores: [CORE], bowl_left_mm: [30, 40], yield_pct: 55, value: 153, money: 120, why: say('By width.') }
const START = { outer: [[0, 0], [120, 100]], wall_mm: 24, bottom_mm: 30, knives: ['small'] }

type Answers = Record<string, unknown>
function serve(answers: Answers) {
  vi.stubGlobal('fetch', async (request: Request) => {
    const path = new URL(request.url).pathname
    const text = request.method === 'GET' ? '' : await request.clone().text()
    sent.push({ method: request.method, path, body: text.startsWith('{') ? (JSON.parse(text) as Record<string, unknown>) : {} })
    const found = answers[`${request.method} ${path}`]
    const made = typeof found === 'function' ? (found as (s: Sent) => unknown)(sent.at(-1)!) : found
    if (made instanceof Response) return made
    return made === undefined ? refuse('', `nothing at ${request.method} ${path}`, 404) : Response.json(made)
  })
}
const refuse = (field: string, message: string, status = 422) =>
  Response.json({ type: 'about:blank', status, title: 'no', errors: [{ code: 'x', field, message, template: message, params: {} }] }, { status })
const BASE: Answers = {
  'GET /api/lathe/words': WORDS, 'GET /api/lathe/sketches': [], 'GET /api/yard/species': [{ key: 'pear', common: 'Pear' }],
  'POST /api/lathe/family': { outer: OUTER, inner: [], half_mm: null }, 'POST /api/lathe/shape': SHAPE,
  'POST /api/lathe/depth': { rows: [{ depth_mm: 0, outside_mm: 120, inside_mm: 114, wall_mm: 6, across_mm: 6, set_mm: 10, gap_mm: 4 }, { depth_mm: 90, outside_mm: 60, inside_mm: 40, wall_mm: 10, across_mm: 20, set_mm: 10, gap_mm: null }], figures: [figure('depth_hole_mm', 89, 'depth')] },
  'POST /api/lathe/warp': { green_mm: 260, dried: DRIED, other: { ...DRIED, words: [say('Its ends drop.')] }, label: 'rim towards the pith', other_label: 'rim towards the bark', figures: [figure('left_mm', 240, 'warp')] },
  'POST /api/lathe/reach': { bars: [{ bar: { name: 'straight 16', diameter_mm: 16, length_mm: 400, handle_mm: 600 }, spots: [{ r_mm: 100, z_mm: 60, reached: true, overhang_mm: 90, over_limit: false, line: [[100, 60], [20, 110]] }], share_pct: 72, longest_mm: 90, figures: [figure('overhang_mm', 90, 'reach')], words: [say('Too long.')] }], missed: [[90, 80]], order: [say('Bore first.')] },
  'POST /api/lathe/directions': { grain: 'side-grain', runs: [{ side: 'outside', points: [[40, 0], [120, 100]], words: say('Foot to rim.') }], steps: [], way: say('Rim first.'), other_way: say('Middle first.'), rest: [say('At centre height.')], against: Array(72).fill(0.4), words: [say('Twice a turn.')] },
}
const settled = async (turns = 8) => {
  for (let i = 0; i < turns; i++) {
    await new Promise((done) => setTimeout(done, 8))
    flushSync()
  }
}
const press = async (box: HTMLElement, words: string) => {
  const found = [...box.querySelectorAll('button')].find((b) => b.textContent?.trim().startsWith(words))
  if (!found) throw new Error(`no button ${words}`)
  found.click()
  await settled()
}
async function type(box: HTMLElement, name: string, value: string) {
  const input = box.querySelector<HTMLInputElement>(`[name="${name}"]`)!
  input.value = value
  input.dispatchEvent(new Event('input', { bubbles: true }))
  input.dispatchEvent(new Event('change', { bubbles: true }))
  input.dispatchEvent(new Event('blur'))
  await settled()
}
const last = (path: string) => sent.filter((s) => s.path === path && s.method !== 'GET').at(-1)?.body
const design = (path: string) => last(path)!.design as { wall: string; inner: unknown[] }

beforeEach(() => {
  sent = []
  vi.stubGlobal('ResizeObserver', class { observe() {} unobserve() {} disconnect() {} })
})
afterEach(() => {
  takeDown()
  vi.unstubAllGlobals()
})

describe('the shape bench', () => {
  it('opens with a family, judges it, and shows what it is worth', async () => {
    serve(BASE)
    const box = show(ShapeBench, {})
    await settled()
    expect(box.textContent).toContain('A form of your own')
    expect(box.querySelectorAll('.knob')).toHaveLength(3)
    expect(box.querySelector('[data-figure="capacity_ml"]')!.textContent).toContain('1800 ml')
    expect(box.textContent).toContain('Nothing goes through')
    expect(box.querySelector('[data-figure="largest"]')!.textContent).toContain('264 mm')
    expect(box.querySelector('[data-figure="depth_hole_mm"]')!.textContent).toContain('89 mm')
    expect(box.querySelectorAll('.depth tbody tr')).toHaveLength(2)
  })
  it('sends a slider, a wall plan and a hold, and lists what goes wrong', async () => {
    serve({ ...BASE, 'POST /api/lathe/shape': (s: Sent) => ({ ...SHAPE, marks: (s.body.design as { foot: string }).foot === 'tenon' ? [{ r_mm: 40, z_mm: 0, caution: { level: 'stop', text: say('It eats the curve.') } }] : [] }) })
    const box = show(ShapeBench, {})
    await settled()
    await type(box, 'fullness', '3')
    expect(last('/api/lathe/family')).toMatchObject({ family: 'hemisphere', sliders: { fullness: 3 } })
    await type(box, 'wall', 'heavy')
    await type(box, 'foot', 'tenon')
    expect(design('/api/lathe/shape').wall).toBe('heavy')
    expect(box.querySelector('.marks')!.textContent).toContain('It eats the curve.')
    expect(box.querySelectorAll('.flag-mark.stop')).toHaveLength(1)
  })
  it('says beside the field what was refused and keeps the drawing', async () => {
    let first = true
    serve({ ...BASE, 'POST /api/lathe/shape': () => (first ? ((first = false), SHAPE) : refuse('wall_mm', 'The wall must lie between.')) })
    const box = show(ShapeBench, {})
    await settled()
    await type(box, 'wall_mm', '4000')
    expect(box.querySelector('[name="wall_mm"]')!.getAttribute('aria-invalid')).toBe('true')
    expect(box.textContent).toContain('The wall must lie between.')
    expect(box.querySelector('.section .cut')).not.toBeNull()
  })
  it('opens a piece’s own form and keeps it with the piece', async () => {
    const form = { outer: OUTER, inner: [], wall: 'even', wall_mm: 6, bottom_mm: 10, half_mm: null, foot: 'none', foot_mm: 0, foot_length_mm: 0 }
    serve({ ...BASE, 'GET /api/lathe/23/design': { ...OWN, design: form }, 'PUT /api/lathe/23/design': { ...OWN, design: form } })
    const box = show(ShapeBench, { params: { tag: '23' } })
    await settled()
    expect(box.textContent).toContain('Pear, blank 290 mm × 120 mm')
    expect(box.querySelector<HTMLInputElement>('[name="width_mm"]')!.value).toBe('240')
    expect(last('/api/lathe/shape')).toMatchObject({ tag: '23' })
    await type(box, 'bottom_mm', '14')
    await press(box, 'Keep with the piece')
    expect(last('/api/lathe/23/design')).toMatchObject({ bottom_mm: 14 })
    expect(box.textContent).toContain('Kept with piece 23')
  })
  it('walks through its tabs: dried, reach, which way, shell', async () => {
    serve(BASE)
    const box = show(ShapeBench, {})
    await settled()
    await press(box, 'Once dried')
    expect(box.querySelector('[data-figure="oval"]')!.textContent).toBe('260 mm × 248 mm')
    expect(box.textContent).toContain('The other way up: rim towards the bark')
    await type(box, 'pith_mm', '45')
    expect(last('/api/lathe/warp')).toMatchObject({ pith_mm: 45, orientation: 'rim-to-pith' })
    await press(box, 'Reach')
    expect(box.querySelector('[data-figure="reached"]')!.textContent).toBe('72 %')
    expect(box.querySelectorAll('.section .missed')).toHaveLength(1)
    expect(box.querySelectorAll('.section .bar-line')).toHaveLength(1)
    await press(box, 'Which way to cut')
    expect(box.querySelectorAll('.section .bar-line')).toHaveLength(0)
    expect(box.textContent).toContain('Foot to rim.')
    await type(box, 'inside', 'centre-out')
    expect(last('/api/lathe/directions')).toMatchObject({ inside: 'centre-out' })
    await press(box, 'Shell over bowl')
    expect(box.textContent).toContain('No form is kept yet')
  })
  it('fits a kept bowl into the shell and tells where it stops', async () => {
    const kept = { id: 3, name: 'Small bowl', design: { outer: OUTER }, kept_at: '2026-11-01T10:00:00Z' }
    serve({ ...BASE, 'GET /api/lathe/sketches': [kept], 'POST /api/lathe/fit': { seat_mm: 12, reached: false, touches: [80, 40], gaps: [[20, 6], [30, 4], [40, 0]], least_mm: 0, words: say('It stops 12 above.') } })
    const box = show(ShapeBench, {})
    await settled()
    await press(box, 'Shell over bowl')
    await type(box, 'other', '3')
    expect(box.querySelector('[data-figure="fit"]')!.textContent).toContain('It stops 12 above.')
  })
  it('keeps a form by name, and lays a traced card', async () => {
    serve({ ...BASE, 'POST /api/lathe/sketches': { id: 4, name: 'House', design: {}, kept_at: '' }, 'POST /api/lathe/trace': { outer: OUTER, inner: OUTER, half_mm: null } })
    const box = show(ShapeBench, {})
    await settled()
    const name = box.querySelector<HTMLInputElement>('#sketch-name')!
    name.value = ' House '
    name.dispatchEvent(new Event('input', { bubbles: true }))
    flushSync()
    await press(box, 'Keep')
    expect(last('/api/lathe/sketches')).toMatchObject({ name: 'House' })
    const traced = box.querySelector<HTMLTextAreaElement>('#traced')!
    traced.value = '40 0\nx'
    traced.dispatchEvent(new Event('input', { bubbles: true }))
    flushSync()
    await press(box, 'Lay a curve')
    expect(box.textContent).toContain('Each line wants two figures')
    traced.value = '40 0\n80 20\n90 70'
    traced.dispatchEvent(new Event('input', { bubbles: true }))
    flushSync()
    await press(box, 'Lay a curve')
    expect(last('/api/lathe/trace')).toMatchObject({ kind: 'points', points: [[40, 0], [80, 20], [90, 70]] })
    expect(box.textContent).toContain('The inside is drawn by hand.')
    await press(box, 'Back to a plan')
    expect(design('/api/lathe/shape').inner).toEqual([])
  })
})

describe('cores', () => {
  const line = (done: number, plan: unknown) => JSON.stringify({ done, start: START, plan }) + '\n'
  const stream = (plan: unknown) => () => new Response(line(0.5, null) + line(1, plan), { headers: { 'Content-Type': 'application/x-ndjson' } })
  const found = { best: NEST, 'largest-first': { ...NEST, key: 'largest-first', label: 'Largest first' }, one: { ...NEST, key: 'one', cores: [] }, tried: 31 }
  it('reads the search line by line and shows the cut list', async () => {
    serve({ ...BASE, 'POST /api/lathe/nest/search': stream(found) })
    const box = show(Cores, {})
    await settled()
    expect(box.querySelectorAll('[data-nest]')).toHaveLength(2)
    expect(box.textContent).toContain('31 cuts that are possible')
    expect(box.querySelector('.nest-card')!.textContent).toContain('Knife: small.')
    expect(box.querySelector('[data-figure="bowl-left"]')!.textContent).toContain('30 mm')
    expect(box.textContent).not.toContain('become pieces')
    expect(box.querySelector('[data-figure="worth"]')!.textContent).toContain('55 % of the blank in rough bowls, about 120 to sell')
  })
  it('names what breaks by hand, will not take it, and takes what is sound', async () => {
    const bad = { ...NEST, key: 'own', cores: [{ ...CORE, refused: [say('It leaves too little.')] }] }
    let broken = true
    serve({
      ...BASE, 'GET /api/lathe/28/design': OWN, 'POST /api/lathe/nest/search': stream(found),
      'POST /api/lathe/nest': () => ({ nest: broken ? bad : NEST, start: START }), 'POST /api/lathe/28/cores': { tags: ['31'] },
    })
    const box = show(Cores, { params: { tag: '28' } })
    await settled()
    expect(last('/api/lathe/nest/search')).toMatchObject({ tag: '28', width_mm: 290, height_mm: 108 })
    const pivot = box.querySelector<SVGElement>('[data-pivot="0"]')!
    pivot.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowUp', bubbles: true }))
    await settled()
    expect(box.querySelector('.nest-card.refused')!.textContent).toContain('It leaves too little.')
    const take = [...box.querySelectorAll('button')].find((b) => b.textContent?.startsWith('The cores are out'))!
    expect(take.disabled).toBe(true)
    broken = false
    pivot.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowDown', bubbles: true }))
    await settled()
    await press(box, 'The cores are out')
    expect(last('/api/lathe/28/cores')).toMatchObject({ cuts: [{ knife: 'small', gap_mm: 40 }] })
    expect(box.textContent).toContain('Cores that are pieces: 31')
  })
  it('leads to the shop where there is no knife, and says so where no core comes out', async () => {
    serve({ ...BASE, 'POST /api/lathe/nest/search': () => refuse('knives', 'There is no coring knife in the shop; add one there.') })
    const box = show(Cores, {})
    await settled()
    expect(box.textContent).toContain('Add a knife in the shop')
    takeDown()
    serve({ ...BASE, 'POST /api/lathe/nest/search': stream({ best: { ...NEST, cores: [] }, 'largest-first': { ...NEST, cores: [] }, one: { ...NEST, cores: [] }, tried: 0 }) })
    const none = show(Cores, {})
    await settled()
    expect(none.textContent).toContain('No core comes out with these walls')
  })
})

describe('the reckoner, the trainer, the shop', () => {
  const RECKON = {
    speed: { ...figure('speed_rpm', 300), low: 360, high: 540, limits: [{ key: 'rim', label: 'rim speed', value: 544, why: say('rim'), source: 'common-practice', governs: true }] },
    stages: {}, conditions: { barky: 'loose bark' }, surface: [{ radius_mm: 140, low_m_s: 5, high_m_s: 8, push_n: 90 }, { radius_mm: 0, low_m_s: 0, high_m_s: 0, push_n: null }],
    balance: { offset_mm: 12, e_omega: 680, grade: 1600 }, last: [], lathes: [{ id: 1, name: 'Long bed' }, { id: 2, name: 'Little' }],
  }
  it('sends the counterweight and the chosen lathe, and shows the balance', async () => {
    serve({ ...BASE, 'POST /api/bench/reckon/speed': RECKON })
    const box = show(Reckoner, {})
    await settled()
    await type(box, 'mass_kg', '7')
    await type(box, 'weight_g', '600')
    await type(box, 'radius_mm', '14cm')
    await type(box, 'lathe', '2')
    expect(last('/api/bench/reckon/speed')).toMatchObject({ mass_kg: 7, weight_g: 600, radius_mm: 140, lathe_id: 2 })
    expect(box.querySelector('[data-figure="balance"]')!.textContent).toContain('12 mm off the axis')
    expect(box.textContent).toContain('90 N')
    expect(box.querySelector('.limit-names')!.textContent).toContain('this one governs')
  })
  it('holds the turning picture still when asked', async () => {
    serve(BASE)
    const box = show(WhichWay, {})
    await settled()
    expect(box.querySelector('.spin.held')).toBeNull()
    await press(box, 'Hold it still')
    expect(box.querySelector('.spin.held')).not.toBeNull()
    await press(box, 'Vase')
    expect(last('/api/lathe/family')).toMatchObject({ family: 'closed' })
    expect(last('/api/lathe/directions')).toMatchObject({ grain: 'end-grain' })
  })
  it('makes a tool’s form from what the core declares, with its usual figures', async () => {
    const kinds = [{ key: 'collet', label: 'Collet', words: 'Closes all round.', measures: [{ name: 'bore_mm', label: 'Closes on', low: 5, high: 120, usual: 38 }, { name: 'depth_mm', label: 'Depth', low: 5, high: 120, usual: 25 }] }]
    const way = { rough_wall: 'tenth', second_hold: 'tenon', inside: 'rim-down', handle: 'four', ladder: 'long', finish: 'oil', grits: '80', home_c: 20, home_rh_pct: 50, finish_room_c: 18, stop_loss_per_week_pct: 0.3 }
    serve({
      ...BASE, 'GET /api/pieces/options': { species: [] }, 'POST /api/shop/tools': { id: 9 },
      'GET /api/shop': { name: 'Yard', way, lathes: [], jaws: [], plates: [], tools: [{ id: 4, kind: 'collet', name: '38 collet', sizes: { bore_mm: 38, depth_mm: 25 } }], tool_kinds: kinds, places: [], worm_pilot_mm: 8, worm_length_mm: 35, finishes: [], wraps: [], seasons: [], instruments: { scale_url: '', meter_url: '', meter_corrections: {} } },
    })
    const box = show(Shop, {})
    await settled()
    expect(box.textContent).toContain('closes on 38 mm, depth 25 mm')
    await press(box, 'Add: collet')
    expect(box.querySelector<HTMLInputElement>('[name="bore_mm"]')!.value).toBe('38')
    await type(box, 'name', 'new one')
    box.querySelector('form')!.dispatchEvent(new Event('submit', { bubbles: true, cancelable: true }))
    await settled()
    expect(last('/api/shop/tools')).toEqual({ kind: 'collet', name: 'new one', sizes: { bore_mm: 38, depth_mm: 25 } })
  })
})
