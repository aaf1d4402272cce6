/** The parts of the wood side, mounted, with the server played by a table of answers. */
import { flushSync } from 'svelte'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { Shapes } from '$lib/api/client'
import AirChart from '$lib/draw/AirChart.svelte'
import LogCut from '$lib/draw/LogCut.svelte'
import LogSide from '$lib/draw/LogSide.svelte'
import PairChart from '$lib/draw/PairChart.svelte'
import WaySpan from '$lib/draw/WaySpan.svelte'
import { show, takeDown } from '$lib/ui/mounting'
import BulkBar from './drying/BulkBar.svelte'
import Deeds from './drying/Deeds.svelte'
import { Chosen } from './drying/floor.svelte'
import Mend from './drying/Mend.svelte'
import Oven from './drying/Oven.svelte'
import Scan from './drying/Scan.svelte'
import WeightTable from './drying/WeightTable.svelte'
import WhatIf from './drying/WhatIf.svelte'
import Lineage from './pieces/Lineage.svelte'
import Tags from './pieces/Tags.svelte'
import Instruments from './shop/Instruments.svelte'
import OnePlace from './shop/OnePlace.svelte'
import LogForm from './yard/LogForm.svelte'
import { blankLog } from './yard/logForm.svelte'
import Odd from './yard/Odd.svelte'
import Photos from './yard/Photos.svelte'
import Resin from './yard/Resin.svelte'
import WhichWood from './yard/WhichWood.svelte'
import Yard from './yard/Yard.svelte'

interface Sent {
  method: string
  path: string
  body: unknown
}
let sent: Sent[] = []
type Answers = Record<string, unknown>

/** Answer each call by "METHOD path"; what is not in the table is a 404. */
function serve(answers: Answers) {
  vi.stubGlobal('fetch', async (request: Request) => {
    const path = new URL(request.url).pathname
    const text = request.method === 'GET' ? '' : await request.clone().text()
    sent.push({ method: request.method, path, body: text.startsWith('{') ? JSON.parse(text) : text })
    const found = answers[`${request.method} ${path}`]
    const made = typeof found === 'function' ? (found as (sent: Sent) => unknown)(sent.at(-1)!) : found
    if (made instanceof Response) return made
    return made === undefined ? refuse('', 'There is nothing here by that name.', 404) : Response.json(made)
  })
}
const refuse = (field: string, message: string, status = 422) =>
  Response.json({ type: 'about:blank', status, title: 'no', errors: [{ code: 'x', field, message, template: message, params: {} }] }, { status })
const settled = async () => {
  for (let i = 0; i < 4; i++) {
    await new Promise((done) => setTimeout(done, 8))
    flushSync()
  }
}
const button = (box: HTMLElement, words: string) => {
  const found = [...box.querySelectorAll('button')].find((b) => b.textContent?.includes(words))
  if (!found) throw new Error(`no button ${words}`)
  return found
}
const field = (box: HTMLElement, name: string) => box.querySelector<HTMLInputElement>(`[name="${name}"]`)!
function type(box: HTMLElement, name: string, value: string) {
  const input = field(box, name)
  input.value = value
  input.dispatchEvent(new Event('input', { bubbles: true }))
  input.dispatchEvent(new Event('change', { bubbles: true }))
  input.dispatchEvent(new Event('blur'))
  flushSync()
}
const say = (template: string, params = {}) => ({ code: template, template, params })
const last = (method: string) => sent.filter((s) => s.method === method).at(-1)

class NoSizes {
  observe() {}
  unobserve() {}
  disconnect() {}
}
beforeEach(() => {
  vi.stubGlobal('ResizeObserver', NoSizes) // the test's page has no layout
  sent = []
})
afterEach(() => {
  takeDown()
  vi.unstubAllGlobals()
})

const end = { a_mm: 160, b_mm: 150, bark_mm: 10, pith: [12, 8] }
const laid = (id: string, change = {}) => ({
  spot: { id, cut: 'half', start_mm: 30, length_mm: 280, angle_deg: 90, face_mm: 20, shift_mm: 0, wanted_mm: null, height_mm: null, locked: false },
  cut_label: 'Half', good_for: 'bowls', rim: 'the face', form: 'side-grain-bowl', diameter_mm: 270, height_mm: 110, cylinder_mm: 200, pith_mm: 12,
  holds_pith: false, volume_cm3: 10, end: [[-135, 20], [135, 20], [60, 130], [-60, 130]], low_mm: 20, high_mm: 130, rim_low_mm: null, risks: [], ...change,
})

describe('a log drawn', () => {
  const pushes: unknown[][] = []
  it('pushes with arrows, further with shift, turns with brackets', () => {
    const turns: unknown[][] = []
    const box = show(LogCut, { end, blanks: [laid('1')], picked: '1', label: 'end', onpush: (...a: unknown[]) => pushes.push(a), onturn: (...a: unknown[]) => turns.push(a) })
    const blank = box.querySelector('.laid')!
    for (const [key, shiftKey] of [['ArrowUp', false], ['ArrowRight', true], ['[', false], ['q', false]] as const) blank.dispatchEvent(new KeyboardEvent('keydown', { key, shiftKey, bubbles: true }))
    expect(pushes).toEqual([['1', 0, 2], ['1', 10, 0]])
    expect(turns).toEqual([['1', 5]])
    expect(box.querySelector('.turn-knob')).not.toBeNull()
  })
  it('shows only the blanks of the length in hand as such, and marks clashes and pith', () => {
    const other = laid('2', { spot: { ...laid('2').spot, start_mm: 400 } })
    const box = show(LogCut, { end, blanks: [laid('1', { holds_pith: true }), other], picked: '1', clashes: [['1', '2']], label: 'end', cracked: true })
    expect(box.querySelectorAll('.laid')).toHaveLength(1)
    expect(box.querySelectorAll('.laid-behind')).toHaveLength(1)
    expect(box.querySelector('.laid')!.classList).toContain('clash')
    expect(box.querySelector('.laid')!.classList).toContain('pithy')
    expect(box.querySelector('.crack')).not.toBeNull()
    expect(box.querySelector('.turn-knob')).toBeNull()
  })
  it('has no turning for a round on the pith', () => {
    const round = laid('1', { spot: { ...laid('1').spot, cut: 'end-grain' } })
    expect(show(LogCut, { end, blanks: [round], picked: '1', label: 'e', onturn: vi.fn() }).querySelector('.turn-knob')).toBeNull()
  })
  it('slides blanks along the log and shows what is cut away', () => {
    const slides: unknown[][] = []
    const cut = [{ number: 1, start_mm: 600, length_mm: 200 }]
    const box = show(LogSide, { length: 1000, large: end, small: end, start: 30, end: 970, blanks: [laid('1'), laid('2')], cut, picked: '1', onslide: (...a: unknown[]) => slides.push(a) })
    box.querySelector('.laid')!.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowRight', shiftKey: true, bubbles: true }))
    expect(slides).toEqual([['1', 25]])
    expect(box.querySelectorAll('.cut-away')).toHaveLength(3)
    const labels = [...box.querySelectorAll('.laid-text')].map((t) => Number(t.getAttribute('x')))
    expect(labels[1]! - labels[0]!).toBeGreaterThan(20) // halves lie behind each other, their numbers do not
  })
})

describe('the yard', () => {
  const log = { ...blankLog(), id: 4, number: 2, species: 'pear', species_name: 'Pear', diameter_mm: 240, length_mm: 600, left_mm: 500, pieces: 1, measured: true, gone_on: null, days_since_felled: 60, cracked: true, keeping: { used_pct: 80, left_days: 40, level: 'soon', words: say('About {left_days} left.', { left_days: 40 }) } }
  it('says what goes off, what is left, and where each log leads', async () => {
    serve({ 'GET /api/yard/logs': [log, { ...log, id: 5, number: 3, measured: false, left_mm: null, pieces: 0, keeping: null, diameter_mm: null, length_mm: null }, { ...log, id: 6, number: 9, gone_on: '2026-01-01' }], 'GET /api/yard/species': [] })
    const box = show(Yard, {})
    await settled()
    const rows = [...box.querySelectorAll('.log-row')]
    expect(rows).toHaveLength(2)
    expect(rows[0]!.textContent).toMatch(/Cut soon.*240 mm across, 600 mm long, cracked.*About 40 days left.*500 mm left, 1 cut/s)
    expect(rows[0]!.querySelector('a.btn')?.getAttribute('href')).toBe('#/yard/log/4')
    expect(rows[1]!.textContent).toMatch(/width not known.*Felling date not known.*not measured yet.*Open it/s)
    expect(box.querySelector('details')?.textContent).toContain('Log 9')
  })
  it('teaches when it is empty', async () => {
    serve({ 'GET /api/yard/logs': [], 'GET /api/yard/species': [] })
    const box = show(Yard, {})
    await settled()
    expect(box.textContent).toContain('No logs yet')
  })
})

describe('a log taken in', () => {
  const species = [{ key: 'pear', common: 'Pear' }, { key: 'unknown-hardwood', common: 'Unknown hardwood' }]
  it('sends what was typed in its own units and keeps it on the form when refused', async () => {
    const save = vi.fn(() => Promise.reject(new Error('x')))
    const saved = vi.fn()
    const box = show(LogForm, { start: blankLog(), species, save, onsaved: saved, label: 'A log comes in' })
    type(box, 'species', 'pear')
    type(box, 'length_mm', '60cm')
    type(box, 'large_wide_mm', '10 in')
    type(box, 'pith_hour', '3')
    box.querySelector<HTMLInputElement>('input[type=checkbox]')!.click()
    box.querySelector('form')!.requestSubmit()
    await settled()
    expect(save).toHaveBeenCalledWith(expect.objectContaining({ species: 'pear', length_mm: 600, large_wide_mm: 254, pith_angle_deg: 0, ends_sealed: true, felled_on: null }))
    expect(saved).not.toHaveBeenCalled()
    expect(field(box, 'length_mm').value).toBe('600')
    expect(box.textContent).toContain('Sealed on')
  })
  it('narrows the wood by what was tried and says which sign to try next', async () => {
    serve({
      'GET /api/yard/signs': { signs: [{ key: 'glow', label: 'Lamp', how: 'in the dark', choices: [['none', 'dull'], ['yellow-green', 'glows']] }] },
      'POST /api/yard/which-wood': (s: Sent) => ({
        likely: [{ key: 'pear', common: 'Pear', share_pct: 40, against: (s.body as { tried: object }).tried && 'glow' in (s.body as { tried: Record<string, string> }).tried ? ['glow'] : [] }],
        words: say('Pear fits best.'), next_sign: 'glow', cautions: [{ level: 'care', text: say('Never look into the lamp.') }],
      }),
    })
    const chosen = vi.fn()
    const box = show(WhichWood, { tried: {}, onchoose: chosen })
    await settled()
    expect(box.textContent).toContain('This one would tell most now.')
    type(box, 'glow', 'yellow-green')
    await settled()
    expect(last('POST')?.body).toEqual({ tried: { glow: 'yellow-green' } })
    expect(box.textContent).toContain('against it: lamp')
    expect(box.textContent).toContain('Never look into the lamp.')
    button(box, 'Take it').click()
    expect(chosen).toHaveBeenCalledWith('pear')
  })
})

describe('pictures of a log', () => {
  const log = { id: 4, number: 2, photos: [{ id: 7, url: '/api/yard/logs/4/photos/7', width: 800, height: 600 }] }
  it('shows, removes, and says why one is not kept', async () => {
    serve({ 'DELETE /api/yard/logs/4/photos/7': { ...log, photos: [] }, 'POST /api/yard/logs/4/photos': () => refuse('photo', 'That is not a picture.') })
    const changed = vi.fn()
    const box = show(Photos, { log, onchange: changed })
    expect(box.querySelector('img')?.alt).toBe('Log 2, picture 1')
    const input = box.querySelector<HTMLInputElement>('input[type=file]')!
    Object.defineProperty(input, 'files', { value: [new File(['x'], 'p.jpg')] })
    input.dispatchEvent(new Event('change', { bubbles: true }))
    await settled()
    expect(box.querySelector('[role=alert]')?.textContent).toContain('not a picture')
    button(box, 'Remove').click()
    await settled()
    expect(changed).toHaveBeenCalledWith(expect.objectContaining({ photos: [] }))
  })
})

describe('odd shapes and resin', () => {
  const mount = (key: string, label: string, change = {}) => ({ key, label, x_mm: 0, y_mm: 0, swing_mm: 300, offset_mm: 0, imbalance_g_mm: 0, clear_mm: 90, on_wood: true, plate_fits: true, ...change })
  const outline = { points: [[0, 0], [200, 0], [100, 200]], balance: { area_cm2: 1, mass_g: 900, width_mm: 200, length_mm: 200, words: [say('Clearance goes by the swing.')], mounts: [mount('balance', 'Balance point'), mount('least-swing', 'Least swing', { swing_mm: 280, offset_mm: 20, imbalance_g_mm: 18000, plate_fits: false })] } }
  it('names both mounts with what they sweep', async () => {
    serve({ 'GET /api/yard/species': [], 'POST /api/yard/outline': outline, 'POST /api/yard/resin': refuse('depth_mm', 'This is still to be filled in.') })
    const box = show(Odd, {})
    await settled()
    const rows = [...box.querySelectorAll('tbody tr')].map((r) => r.textContent)
    expect(rows[0]).toMatch(/Balance point.*300 mm.*none/)
    expect(rows[1]).toMatch(/Least swing.*plate sticks out.*280 mm.*20 mm; 18 g at a metre/)
  })
  it('sends corners once they are readable and says when they are not', async () => {
    serve({ 'GET /api/yard/species': [], 'POST /api/yard/outline': outline, 'POST /api/yard/resin': refuse('', 'x') })
    const box = show(Odd, {})
    await settled()
    type(box, 'template', '')
    const corners = box.querySelector<HTMLTextAreaElement>('#corners')!
    const typed = (text: string) => {
      corners.value = text
      corners.dispatchEvent(new Event('input', { bubbles: true }))
      flushSync()
    }
    typed('0 0\nx')
    expect(box.textContent).toContain('Each line wants two numbers')
    typed('0 0\n100 0\n0 100')
    await settled()
    const asked = sent.filter((s) => s.path === '/api/yard/outline').at(-1)?.body
    expect(asked).toMatchObject({ template: null, points: [[0, 0], [100, 0], [0, 100]] })
  })
  it('reckons resin and keeps a refusal at its field', async () => {
    const plan = { void_ml: 40, mix_ml: 44, part_a_g: 33.4, part_b_g: 16.7, pours: [{ number: 1, volume_ml: 22, part_a_g: 16.7, part_b_g: 8.3, layer_mm: 15 }, { number: 2, volume_ml: 22, part_a_g: 16.7, part_b_g: 8.4, layer_mm: 15 }], why: say('two pours'), cautions: [{ level: 'care', text: say('Gloves.') }] }
    serve({ 'POST /api/yard/resin': (s: Sent) => ((s.body as { depth_mm: number }).depth_mm > 1000 ? refuse('depth_mm', 'The depth must be less.') : plan) })
    const box = show(Resin, {})
    await settled()
    expect(box.querySelector('[data-figure=resin]')?.textContent).toBe('33 g + 17 g')
    expect(box.querySelectorAll('tbody tr')).toHaveLength(2)
    type(box, 'depth_mm', '5000')
    await settled()
    expect(box.querySelector('.wrong')?.textContent).toContain('The depth must be less.')
  })
})

const row = { tag: '14', name: 'Beech', species_name: 'Beech', family: 'hemisphere', wrap: 'paper-bag', place: 'Loft', diameter_mm: 200, height_mm: 80 }
const drying = (change = {}) => ({ row, species: 'beech-european', wall_mm: 26, bottom_mm: 31, steps: [], meter: [], goes: [], turnings: [], control: null, ...change }) as unknown as Shapes['DryingOut']

describe('what is done while it dries', () => {
  it('lists what its way asks for and notes it as done or left out', async () => {
    const steps = [{ id: 3, due_at: '2026-12-01T00:00:00Z', kind: 'move', words: say('Out of the bag.'), way: 'bag', done_at: null }, { id: 2, due_at: '2026-11-01T00:00:00Z', kind: 'move', words: say('Into a bag.'), way: 'bag', done_at: '2026-11-01T00:00:00Z' }]
    serve({ 'POST /api/drying/steps/3/done': {} })
    const changed = vi.fn()
    const box = show(Deeds, { drying: drying({ steps }), onchange: changed })
    expect(box.textContent).toContain('Out of the bag.')
    expect(box.textContent).not.toContain('Into a bag.')
    button(box, 'Leave it out').click()
    await settled()
    expect(last('POST')?.body).toEqual({ skip: true })
    expect(changed).toHaveBeenCalled()
  })
  it('takes a figure off the meter into the field and keeps it', async () => {
    serve({ 'GET /api/drying/meter': { shown_pct: 18.4, state: 'steady', words: '' }, 'POST /api/drying/14/meter': {} })
    const box = show(Deeds, { drying: drying(), onchange: vi.fn() })
    button(box, 'Read the meter').click()
    await settled()
    expect(field(box, 'shown_pct').value).toBe('18.4')
    field(box, 'shown_pct').form!.requestSubmit()
    await settled()
    expect(last('POST')?.body).toMatchObject({ shown_pct: 18.4 })
  })
  it('says what the meter says when it shows nothing', async () => {
    serve({ 'GET /api/drying/meter': { shown_pct: null, state: 'overload', words: 'Wetter than this meter reads.' } })
    const box = show(Deeds, { drying: drying(), onchange: vi.fn() })
    button(box, 'Read the meter').click()
    await settled()
    expect(box.textContent).toContain('Wetter than this meter reads.')
  })
  it('keeps a new wall, refused at its own field', async () => {
    serve({ 'POST /api/drying/14/turned': () => refuse('wall_mm', 'The wall cannot be thicker.') })
    const box = show(Deeds, { drying: drying(), onchange: vi.fn() })
    for (const [name, value] of [['wall_mm', '40'], ['bottom_mm', '44'], ['after_g', '900']] as const) type(box, name, value)
    field(box, 'wall_mm').form!.requestSubmit()
    await settled()
    expect(last('POST')?.body).toEqual({ wall_mm: 40, bottom_mm: 44, before_g: null, after_g: 900 })
    expect(box.querySelector('.wrong')?.textContent).toContain('cannot be thicker')
  })
  it('splits only once both parts have their sizes', async () => {
    serve({ 'POST /api/drying/14/split': { tags: ['41', '42'] } })
    const box = show(Deeds, { drying: drying(), onchange: vi.fn() })
    expect(button(box, 'Split it').disabled).toBe(true)
    for (const i of [0, 1]) {
      type(box, `part${i}_diameter_mm`, '120')
      type(box, `part${i}_height_mm`, '60')
    }
    button(box, 'Split it').click()
    await settled()
    const { parts } = last('POST')?.body as { parts: unknown[] }
    expect(parts).toHaveLength(2)
    expect(parts[0]).toMatchObject({ diameter_mm: 120, wall_mm: 26, mass_g: null })
  })
  it('offers another wood or other sizes where the weights do not fit', async () => {
    serve({ 'GET /api/pieces/options': { species: [{ key: 'beech-european', label: 'Beech' }, { key: 'pear', label: 'Pear' }] }, 'PATCH /api/pieces/14': {}, 'PATCH /api/drying/14/sizes': {} })
    const mended = vi.fn()
    const box = show(Mend, { drying: drying(), onmended: mended })
    await settled()
    expect(button(box, 'Take this wood').disabled).toBe(true)
    type(box, 'species', 'pear')
    button(box, 'Take this wood').click()
    await settled()
    expect(last('PATCH')?.body).toEqual({ species: 'pear' })
    type(box, 'wall_mm', '20')
    button(box, 'Take these sizes').click()
    await settled()
    expect(last('PATCH')?.body).toEqual({ wall_mm: 20, bottom_mm: 31 })
    expect(mended).toHaveBeenCalledTimes(2)
  })
  it('moves many from now on and leaves what is not chosen as it is', async () => {
    serve({ 'GET /api/shop': { places: [{ id: 5, name: 'Loft' }], wraps: [{ key: 'waxed', label: 'waxed' }] }, 'POST /api/drying/bulk': { moved: 2 } })
    const chosen = new Chosen()
    chosen.set(['1', '2'], true)
    const moved = vi.fn()
    const box = show(BulkBar, { chosen, tags: ['1'], onmoved: moved })
    await settled()
    expect(box.textContent).toContain('2 chosen, 1 of them not shown')
    expect(button(box, 'From now on').disabled).toBe(true)
    type(box, 'bulk-wrap', 'waxed')
    button(box, 'From now on').click()
    await settled()
    expect(last('POST')?.body).toEqual({ tags: ['1', '2'], place_id: null, wrap: 'waxed', ends_sealed: null })
    expect(chosen.size).toBe(0)
    expect(moved).toHaveBeenCalled()
  })
})

describe('ways side by side', () => {
  const way = (key: string, change = {}) => ({ key, label: key, ready_in_days: { low: 8, middle: 17, high: 31 }, settled_in_days: { low: 5, middle: 9, high: 20 }, never_pct: 0, risk: 0.4, risk_level: 'ok', mould: 1, mould_level: 'ok', settles_at_pct: 9, oval_mm: 8, visits: 5, effort: 'nothing', good_for: '', verdict: say('Sound.'), steps: [], ...change })
  it('tells danger in words as well as colour, and takes one', async () => {
    serve({ 'GET /api/shop': { places: [] }, 'GET /api/drying/14/what-if': { ways: [way('as-it-is'), way('box', { risk: 2.1, risk_level: 'stop' })], chosen: 'bag', target_mc_pct: 10.3, place: 'Loft', drying: true }, 'POST /api/drying/14/what-if': {} })
    const box = show(WhatIf, { params: { tag: '14' } })
    await settled()
    const boxed = box.querySelector('[data-way=box]')!
    expect(boxed.querySelector('.level.stop')?.textContent).toMatch(/2\.1.*too much/)
    expect(box.querySelector('[data-way=as-it-is] button')).toBeNull()
    boxed.querySelector('button')!.click()
    await settled()
    expect(last('POST')?.body).toEqual({ way: 'box', place_id: null })
  })
  it('offers nothing to take while it is a blank', async () => {
    serve({ 'GET /api/shop': { places: [] }, 'GET /api/drying/14/what-if': { ways: [way('whole')], chosen: '', target_mc_pct: 10, place: 'Loft', drying: false } })
    const box = show(WhatIf, { params: { tag: '14' } })
    await settled()
    expect(box.querySelector('[data-way=whole] button')).toBeNull()
    expect(box.textContent).toContain('It is still a blank')
    expect(box.querySelector('[data-way=whole]')?.textContent).toContain('not yet')
  })
  it('draws an open end where it may never come', () => {
    const open = show(WaySpan, { longest: 100, low: 10, middle: null, high: null })
    expect(open.querySelector('.open-end')).not.toBeNull()
    expect(open.querySelector('.now')).toBeNull()
    expect(show(WaySpan, { longest: 100, low: 10, middle: 20, high: 30, dashed: true }).querySelector('.settled-span')).not.toBeNull()
  })
})

describe('the oven', () => {
  const plan = { seconds: 60, rest_min: 30, expected_loss_g: 9, goes_left: 6, stop: false, why: say('60 seconds.'), cautions: [{ level: 'stop', text: say('No metal.') }] }
  it('begins no go before it is weighed and waits for the cold weight after', async () => {
    const go = { id: 8, at: new Date().toISOString(), power_w: 900, seconds: 60, before_g: 480, after_g: null }
    serve({ 'GET /api/drying/14': drying(), 'GET /api/drying/14/microwave': plan, 'POST /api/drying/14/goes': drying({ goes: [go] }), 'POST /api/drying/14/goes/8': drying({ goes: [{ ...go, after_g: 471 }] }) })
    const box = show(Oven, { params: { tag: '14' } })
    await settled()
    expect(button(box, 'It goes in now').disabled).toBe(true)
    type(box, 'mass_g', '480')
    await settled()
    button(box, 'It goes in now').click()
    await settled()
    expect(last('POST')?.body).toMatchObject({ power_w: 900, seconds: 60, before_g: 480 })
    expect(sent.filter((s) => s.path === '/api/drying/14')).toHaveLength(1) // a figure typed asks for no more than its plan
    expect(box.querySelector('[role=timer]')?.textContent).toMatch(/In the oven.*(1:00|0:59)/)
    type(box, 'after_g', '471')
    field(box, 'after_g').form!.requestSubmit()
    await settled()
    expect(box.querySelector('tbody')?.textContent).toContain('9 g')
  })
  it('stops where the core says stop', async () => {
    serve({ 'GET /api/drying/14': drying(), 'GET /api/drying/14/microwave': { ...plan, stop: true, why: say('At 10 it is there.') } })
    const box = show(Oven, { params: { tag: '14' } })
    await settled()
    expect(box.querySelector('[data-figure=seconds]')?.textContent).toBe('Stop here')
  })
})

describe('tables', () => {
  const looked = (change = {}) => ({ header: ['who', 'day', 'g'], columns: [{ key: 'tag', label: 'Tag', required: true }, { key: 'at', label: 'When', required: true }, { key: 'key', label: 'Key', required: false }], mapping: { tag: 'who', at: 'day' }, rows: [], more: 0, new: 0, known: 0, questioned: 0, wrong: 0, kept: false, ...change })
  const paste = async (box: HTMLElement, text: string) => {
    const area = box.querySelector<HTMLTextAreaElement>('#table-text')!
    area.value = text
    area.dispatchEvent(new Event('input', { bubbles: true }))
    flushSync()
    button(box, 'Look at it').click()
    await settled()
  }
  it('asks which column is which before anything else', async () => {
    serve({ 'POST /api/drying/weigh-ins/table': (s: Sent) => looked({ mapping: (s.body as { mapping: object }).mapping }) })
    const box = show(WeightTable, {})
    await paste(box, 'who;day;g')
    expect(box.querySelector('[role=alert]')?.textContent).toContain('tag, when')
    type(box, 'map-tag', 'who')
    await settled()
    expect(last('POST')?.body).toMatchObject({ mapping: { tag: 'who' }, keep: false })
    expect(box.querySelector('[role=alert]')?.textContent).toContain('when')
  })
  it('keeps nothing while a row is wrong, and says where', async () => {
    const wrong = { line: 3, fate: 'wrong', tag: '99', at: null, mass_g: null, question: '', wrong: [{ column: 'tag', message: 'No piece of that tag.' }] }
    serve({ 'POST /api/drying/weigh-ins/table': looked({ rows: [wrong], new: 1, wrong: 1 }) })
    const box = show(WeightTable, {})
    await paste(box, 'who;day;g\n1;2;3')
    expect(button(box, 'Keep 1 rows').disabled).toBe(true)
    expect(box.querySelector('[data-fate=wrong]')?.textContent).toContain('Tag: No piece of that tag.')
  })
  it('keeps all and shows what will be asked about', async () => {
    const odd = { line: 2, fate: 'questioned', tag: '14', at: '2026-11-24T10:00:00Z', mass_g: 11950, question: 'A zero too many?', wrong: [] }
    serve({ 'POST /api/drying/weigh-ins/table': (s: Sent) => looked({ rows: [odd], new: 1, questioned: 1, kept: (s.body as { keep: boolean }).keep }) })
    const box = show(WeightTable, {})
    await paste(box, 'who;day;g\n14;x;11950')
    expect(box.textContent).toContain('A zero too many?')
    button(box, 'Keep 1 rows').click()
    await settled()
    expect(box.querySelector('[role=status]')?.textContent).toContain('Kept: 1 rows.')
  })
  it('names a file that is no table', async () => {
    serve({ 'POST /api/drying/weigh-ins/table': () => refuse('text', 'The file wants a line of column names.') })
    const box = show(WeightTable, {})
    await paste(box, 'oops')
    expect(box.querySelector('[role=alert]')?.textContent).toContain('column names')
  })
})

describe('air and instruments', () => {
  const place = { id: 5, name: 'Loft', air_c: 18, rh_pct: 48, emc_pct: 9, seasons: { winter: [13, 52] }, logger_url: 'http://127.0.0.1:1/air.json', logged: true }
  const spell = { start: '2026-10-01T00:00:00Z', end: '2026-10-08T00:00:00Z', air_c: 15, rh_pct: 60, emc_pct: 11.1 }
  it('keeps seasons as pairs and leaves out what is not typed', async () => {
    serve({ 'GET /api/shop': { places: [place], seasons: [{ key: 'winter', label: 'winter' }, { key: 'summer', label: 'summer' }] }, 'GET /api/shop/places/5/climate': { spells: [spell], readings: 28, first_at: spell.start, last_at: spell.end, new: 0 }, 'GET /api/drying/box': { rh_pct: 44.7, heat_to_c: 20, words: say('At 35.') }, 'PUT /api/shop/places/5': place, 'POST /api/shop/places/5/climate/read': () => refuse('logger_url', 'The logger cannot be reached.') })
    const box = show(OnePlace, { params: { id: '5' } })
    await settled()
    expect(field(box, 'winter_c').value).toBe('13')
    expect(sent.some((s) => s.path.endsWith('/climate/read'))).toBe(true) // the logger is read by itself
    expect(box.querySelector('[data-figure=box]')?.textContent).toBe('45 %')
    type(box, 'summer_c', '24')
    button(box, 'Keep seasons').click()
    await settled()
    expect(last('PUT')?.body).toMatchObject({ seasons: { winter: [13, 52] }, name: 'Loft' })
    button(box, 'Read the logger').click()
    await settled()
    expect(box.textContent).toContain('The logger cannot be reached.')
  })
  it('draws where wood settled with the figures behind', () => {
    const box = show(AirChart, { spells: [spell, { ...spell, start: spell.end, end: '2026-10-15T00:00:00Z', emc_pct: 12.4 }] })
    expect(box.querySelectorAll('.mc-line')).toHaveLength(2)
    expect(box.querySelectorAll('tbody tr')).toHaveLength(2)
    expect(box.textContent).toContain('12.4 % last')
  })
  it('tries the scale and says what it says', async () => {
    serve({ 'GET /api/drying/scale': { mass_g: null, state: 'unreachable', words: 'It cannot be reached.' }, 'PATCH /api/shop/instruments': () => refuse('scale_url', 'Not in reach.') })
    const box = show(Instruments, { found: { scale_url: 'socket://127.0.0.1:1', meter_url: '', meter_corrections: { pear: 1.5 } }, species: [{ key: 'pear', label: 'Pear' }], onsaved: vi.fn() })
    expect(button(box, 'Try the meter').disabled).toBe(true)
    button(box, 'Try the scale').click()
    await settled()
    expect(box.querySelector('[role=status]')?.textContent).toContain('cannot be reached')
    type(box, 'scale_url', 'socket://8.8.8.8:1')
    box.querySelector('form')!.requestSubmit()
    await settled()
    expect(box.querySelector('.wrong')?.textContent).toContain('Not in reach.')
    expect(box.textContent).toContain('Pear: +1.5 %')
  })
})

describe('kin and tags', () => {
  it('leads to the log, the whole and the parts', async () => {
    serve({ 'GET /api/pieces/7/lineage': { log_id: 3, log_number: 2, log_species: 'Pear', blank_number: 4, blank_cut: 'Half', blank_words: '', ancestors: [{ tag: '5', name: 'Whole', stage_title: 'Split' }], parts: [{ tag: '8', name: '', stage_title: 'Dry' }], same_log: [] } })
    const box = show(Lineage, { tag: '7' })
    await settled()
    expect([...box.querySelectorAll('a')].map((a) => a.getAttribute('href'))).toEqual(['#/yard/log/3', '#/piece/5', '#/piece/8'])
    expect(box.textContent).toContain('blank 4: half')
  })
  it('says nothing of a piece that comes from nowhere', async () => {
    serve({ 'GET /api/pieces/7/lineage': { log_id: null, log_number: null, log_species: null, blank_number: null, blank_cut: null, blank_words: null, ancestors: [], parts: [], same_log: [] } })
    const box = show(Lineage, { tag: '7' })
    await settled()
    expect(box.textContent?.trim()).toBe('')
  })
  it('prints a tag for each piece in work', async () => {
    serve({ 'GET /api/pieces': [{ tag: '1', name: 'Bowl', species_name: 'Pear', finished_at: null }, { tag: '2', name: '', species_name: 'Ash', finished_at: '2026-01-01' }] })
    const box = show(Tags, {})
    await settled()
    expect([...box.querySelectorAll('img')].map((i) => i.getAttribute('src'))).toEqual(['/api/pieces/1/tag.svg'])
  })
  it('says how to go on when the camera may not be used', async () => {
    const closed = vi.fn()
    const box = show(Scan, { onfound: vi.fn(), onclose: closed })
    await settled()
    expect(box.querySelector('[role=alert]')?.textContent).toContain('Type the tag instead.')
    button(box, 'Close').click()
    expect(closed).toHaveBeenCalled()
  })
  it('draws a piece beside its control as shares of the first weight', () => {
    const box = show(PairChart, { pair: { tag: '25', name: '', wrap: 'plastic-loose', days: [0, 20], share_pct: [100, 99], own_days: [0, 20], own_share_pct: [100, 74] }, tag: '26', wrap: 'open-shelf' })
    expect(box.querySelectorAll('tbody tr')).toHaveLength(4)
    expect(box.textContent).toContain('25, plastic loose')
  })
})
