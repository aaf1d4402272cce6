/** The lathe side: states without a screen, and parts mounted with the server played by a table of answers. */
import { flushSync } from 'svelte'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { Shapes } from '$lib/api/client'
import FootHold from '$lib/draw/FootHold.svelte'
import LimitBar from '$lib/draw/LimitBar.svelte'
import NestDraw from '$lib/draw/NestDraw.svelte'
import OvalDraw from '$lib/draw/OvalDraw.svelte'
import Section from '$lib/draw/Section.svelte'
import WhichWayDraw from '$lib/draw/WhichWayDraw.svelte'
import { show, takeDown } from '$lib/ui/mounting'
import Chatter from './bench/Chatter.svelte'
import LastSpeeds from './bench/LastSpeeds.svelte'
import SpeedNote from './bench/SpeedNote.svelte'
import Callipers from './lathe/Callipers.svelte'
import { NestState, cutsOf, type Nest, type NestIn, type Step } from './lathe/nest.svelte'
import { EMPTY, ShapeState, between, merged, snapped, type Design, type Doors, type Shape } from './lathe/shape.svelte'
import { pairsOf, rowsOf } from './lathe/trace'

const say = (template: string, params = {}) => ({ code: template, template, params })
const handles = (...rows: [number, number][]) => rows.map(([r, z]) => ({ r_mm: r, z_mm: z, corner: false }))
const DESIGN: Design = { ...EMPTY, outer: handles([40, 0], [80, 20], [110, 60], [120, 100]) }
const shape = (change: Partial<Shape> = {}): Shape => ({
  outer: [[0, 0], [40, 0], [80, 20], [120, 100]], inner: [[0, 10], [60, 12], [100, 60], [114, 100]], walls_mm: [10, 8, 6, 1.5], thin: [114, 90, 1.5], thick: [60, 12, 8],
  figures: [{ name: 'bottom_mm', label: 'Bottom', value: 10 }], marks: [], blank: null, largest: null, swing_mm: 240, readings: [], ...change,
}) as unknown as Shape
const settled = async () => {
  for (let i = 0; i < 4; i++) {
    await new Promise((done) => setTimeout(done, 6))
    flushSync()
  }
}

function bench(change: Partial<Doors> = {}) {
  const doors: Doors = {
    judge: vi.fn(() => Promise.resolve(shape())),
    family: vi.fn(() => Promise.resolve({ outer: handles([30, 0], [90, 50], [100, 90]), inner: [], half_mm: null })),
    free: vi.fn((d: Design) => Promise.resolve({ outer: d.outer, inner: handles([0, 10], [60, 40], [90, 90]), half_mm: null })),
    trace: vi.fn(() => Promise.resolve({ outer: handles([20, 0], [60, 40], [70, 90]), inner: [], half_mm: null })),
    ...change,
  }
  return { state: new ShapeState(doors), doors }
}

describe('lengths on the rule', () => {
  it('snaps to millimetres or sixteenths', () => {
    expect(snapped(12.4, 'mm')).toBe(12)
    expect(snapped(12.4, 'in')).toBe(12.7)
  })
  it('puts a new point half way, at the end before the last', () => {
    expect(between(handles([0, 0], [10, 20], [30, 40]), 0)).toEqual({ at: 1, handle: { r_mm: 5, z_mm: 10, corner: false } })
    expect(between(handles([0, 0], [10, 20], [30, 40]), 2).at).toBe(2)
  })
  it('reads rows in the reader’s own units and refuses half of them', () => {
    const read = (w: string) => (w.endsWith('in') ? Number(w.slice(0, -2)) * 25.4 : Number(w))
    expect(pairsOf('40 0\n1in 2in', read)).toEqual([[40, 0], [25.4, 50.8]])
    expect(pairsOf('40', read)).toBeNull()
    expect(pairsOf('', read)).toBeNull()
    expect(rowsOf('0 100 8; 20 140 7', read)).toEqual([{ z_mm: 0, diameter_mm: 100, wall_mm: 8 }, { z_mm: 20, diameter_mm: 140, wall_mm: 7 }])
    expect(rowsOf('0 100 thick', read)).toBeNull()
  })
})

describe('the shape bench', () => {
  it('makes one step of a whole drag and undoes it', async () => {
    const { state } = bench()
    await state.open(DESIGN)
    await state.move('outer', 1, 85.3, 22.6, { first: true, last: false })
    await state.move('outer', 1, 88.8, 24.2, { first: false, last: false })
    await state.move('outer', 1, 90.2, 25.1, { first: false, last: true })
    expect(state.design.outer[1]).toEqual({ r_mm: 90, z_mm: 25, corner: false })
    expect(state.kept).toBe(false)
    await state.undo()
    expect(state.design.outer[1]!.r_mm).toBe(80)
    expect(state.canUndo).toBe(false)
    await state.redo()
    expect(state.design.outer[1]!.r_mm).toBe(90)
  })
  it('nudges by marks, by five, and by a fifth without the snap', async () => {
    const { state } = bench()
    await state.open(DESIGN)
    await state.nudge('outer', 3, -1, 0)
    await state.nudge('outer', 3, 0, 1, 'far')
    await state.nudge('outer', 3, 1, 0, 'fine')
    expect(state.design.outer[3]).toEqual({ r_mm: 119.2, z_mm: 105, corner: false })
    state.length = 'in'
    await state.nudge('outer', 3, 1, 0)
    expect(state.design.outer[3]!.r_mm).toBeCloseTo(120.65, 1)
    expect(state.snap).toBe(true)
  })
  it('never lets a point pass the axis and never takes out the last three', async () => {
    const { state } = bench()
    await state.open({ ...DESIGN, outer: handles([40, 0], [80, 20], [120, 100]) })
    await state.move('outer', 0, -12, 0)
    expect(state.design.outer[0]!.r_mm).toBe(0)
    await state.remove('outer', 1)
    expect(state.design.outer).toHaveLength(3)
    await state.add('outer', 0)
    await state.corner('outer', 1)
    expect(state.design.outer.map((h) => h.corner)).toEqual([false, true, false, false])
    expect(state.picked).toEqual({ curve: 'outer', i: 1 })
  })
  it('asks one thing at a time and shows the newest form only', async () => {
    const answers: (() => void)[] = []
    const asked: number[] = []
    const judge = vi.fn((body: { design: Design }) => {
      asked.push(body.design.outer[1]!.r_mm)
      return new Promise<Shape>((done) => answers.push(() => done(shape({ swing_mm: body.design.outer[1]!.r_mm }))))
    })
    const { state } = bench({ judge })
    const first = state.open(DESIGN)
    void state.move('outer', 1, 85, 20)
    void state.move('outer', 1, 95, 20)
    expect(judge).toHaveBeenCalledTimes(1)
    answers[0]!()
    await vi.waitFor(() => expect(judge).toHaveBeenCalledTimes(2))
    answers[1]!()
    await first
    expect(asked).toEqual([80, 95])
    expect(state.shown?.swing_mm).toBe(95)
  })
  it('keeps the last drawing when a form is refused', async () => {
    const judge = vi.fn().mockResolvedValueOnce(shape()).mockRejectedValueOnce(new Error('no'))
    const { state } = bench({ judge })
    await state.open(DESIGN)
    await state.change({ wall_mm: 900 })
    expect(state.shown).toBeDefined()
    expect(state.refusal).toBeDefined()
  })
  it('forgets another family’s sliders and takes what is traced', async () => {
    const { state, doors } = bench()
    await state.layFamily({ sliders: { fullness: 3 } })
    await state.layFamily({ family: 'bottle' })
    expect(doors.family).toHaveBeenLastCalledWith(expect.objectContaining({ family: 'bottle', sliders: {} }))
    await state.freeInside()
    expect(state.free).toBe(true)
    await state.trace({ kind: 'points', points: [[20, 0]] })
    expect(state.free).toBe(false)
    expect(state.design.outer).toHaveLength(3)
  })
  it('keeps slow figures while a handle is on its way', () => {
    const f = (name: string, value: number) => ({ name, label: name, value }) as unknown as Shape['figures'][number]
    expect(merged([f('a', 2)], [f('a', 1), f('tips', 40)]).map((x) => x.value)).toEqual([2, 40])
  })
})

const core = (gap: number, change = {}) => ({
  cut: { knife: { key: 'small', name: 'small' }, gap_mm: gap, off_mm: 0 }, kerf: { entry_mm: 80, depth_mm: 50 }, diameter_mm: 150, height_mm: 60,
  wall_left_mm: null, bottom_left_mm: null, rough_cm3: 300, hold: say('hold'), settings: [say('set')], refused: [], core_side: [[0, 40], [75, 100]], bowl_side: [[0, 33], [82, 100]], ...change,
})
const nest = (...cores: ReturnType<typeof core>[]): Nest => ({ key: 'best', label: 'Best', cores, bowl_left_mm: [30, 40], yield_pct: 50, value: 150, money: 90, why: say('why') }) as unknown as Nest

describe('the nest planner', () => {
  const start = { outer: [[0, 0], [120, 100]], wall_mm: 24, bottom_mm: 30, knives: ['small'] }
  const search = vi.fn(async (_: NestIn, on: (s: Step) => void) => {
    on({ done: 0.5, start, plan: null })
    on({ done: 1, start, plan: { best: nest(core(40)), 'largest-first': nest(), one: nest(), tried: 9 } as unknown as Step['plan'] })
  })
  const own = vi.fn(async (body: NestIn) => ({ nest: nest(...(body.cuts ?? []).map((c) => core(c.gap_mm))), start }) as unknown as Shapes['NestOut'])
  it('shows progress, leaves out sets without a core, and pushes a pivot', async () => {
    const state = new NestState({ search, own, take: vi.fn(), putBack: vi.fn() })
    await state.search()
    expect(state.progress).toBeNull()
    expect(state.found.map((n) => n.cores.length)).toEqual([1])
    expect(cutsOf(state.shown!)).toEqual([{ knife: 'small', gap_mm: 40, off_mm: 0 }])
    state.picked = 0
    state.push(0, 5, 2)
    await vi.waitFor(() => expect(own).toHaveBeenCalled())
    await settled()
    expect(own.mock.lastCall![0].cuts).toEqual([{ knife: 'small', gap_mm: 45, off_mm: 2 }])
    state.add('small')
    await settled()
    expect(state.cuts).toHaveLength(2)
    state.remove(1)
    await settled()
    expect(state.cuts).toHaveLength(1)
  })
  it('takes the cores, or says why not', async () => {
    const take = vi.fn().mockResolvedValueOnce({ tags: ['31', '32'] }).mockRejectedValueOnce(new Error('no'))
    const state = new NestState({ search, own, take, putBack: vi.fn(() => Promise.resolve()) })
    await state.search()
    await state.take('28')
    expect(state.tags).toEqual(['31', '32'])
    await state.take('28')
    expect(state.refusal).toBeDefined()
    await state.putBack('28')
    expect(state.tags).toEqual([])
    expect(state.refusal).toBeUndefined()
  })
})

describe('drawings and parts', () => {
  let sent: { path: string; body: unknown }[] = []
  beforeEach(() => {
    sent = []
    vi.stubGlobal('fetch', async (request: Request) => {
      const path = new URL(request.url).pathname
      const text = await request.clone().text()
      sent.push({ path, body: text ? JSON.parse(text) : null })
      if (path.endsWith('/chatter')) return Response.json({ stop: true, steps: [say('Stop the lathe.')] })
      return Response.json({ id: 1, callipers: [], tag: null }, { status: 201 })
    })
  })
  afterEach(() => {
    takeDown()
    vi.unstubAllGlobals()
  })

  it('hands a dragged handle on in millimetres and keeps the paper still meanwhile', () => {
    const moves: [string, number, number, number, boolean, boolean][] = []
    const box = show(Section, {
      shape: shape({ marks: [{ r_mm: 60, z_mm: 0, caution: { level: 'stop', text: say('eats') } }], readings: [{ z_mm: 60, wall_mm: 9, planned_mm: 6, over_mm: 3, words: { code: 'reading-thick', template: '', params: {} } }] } as unknown as Partial<Shape>),
      outer: DESIGN.outer, inner: [], picked: null, foot: { kind: 'tenon', diameter: 60, length: 6 }, label: 'section',
      onmove: (c: string, i: number, r: number, z: number, first: boolean, last: boolean) => moves.push([c, i, Math.round(r), Math.round(z), first, last]),
    })
    const svg = box.querySelector('svg')!
    svg.setPointerCapture = () => undefined
    svg.getBoundingClientRect = () => ({ left: 0, top: 0, width: 620, height: 500 }) as DOMRect
    const knob = box.querySelector<SVGElement>('[data-handle="outer-1"]')!
    const fire = (el: Element, type: string, x: number, y: number) => el.dispatchEvent(new MouseEvent(type, { bubbles: true, clientX: x, clientY: y }))
    fire(knob, 'pointerdown', 400, 200)
    fire(svg, 'pointermove', 410, 210)
    fire(svg, 'pointermove', 420, 214)
    fire(svg, 'pointerup', 420, 214)
    expect(moves.map((m) => [m[4], m[5]])).toEqual([[true, false], [false, false], [false, true]])
    expect(moves[1]![2]).toBeGreaterThan(moves[0]![2])
    expect(moves[1]![3]).toBeLessThan(moves[0]![3])
    expect(box.querySelectorAll('.wall.w0').length).toBeGreaterThan(0)
    expect(box.querySelector('.flag-mark.stop text')!.textContent).toBe('1')
    expect(box.querySelector('.reading.reading-thick')).not.toBeNull()
    expect(box.querySelector('.foot-hold')).not.toBeNull()
  })
  it('moves a pivot by keys and marks a refused core', () => {
    const pushes: number[][] = []
    const box = show(NestDraw, { nest: nest(core(40), core(60, { refused: [say('thin')] })), outer: [[0, 0], [120, 100]], picked: 0, onpick: () => undefined, onpush: (i: number, gap: number, off: number) => pushes.push([i, gap, off]) })
    const pivot = box.querySelector<SVGElement>('[data-pivot="1"]')!
    for (const init of [{ key: 'ArrowUp' }, { key: 'ArrowLeft', shiftKey: true }, { key: 'q' }]) pivot.dispatchEvent(new KeyboardEvent('keydown', { ...init, bubbles: true }))
    expect(pushes).toEqual([[1, 1, 0], [1, 0, -5]])
    expect(box.querySelectorAll('.core.refused')).toHaveLength(1)
  })
  it('draws the foot’s hold, the oval with its ring, and names every limit', () => {
    const size = (name: string, value: number) => ({ name, label: name, value })
    const hold = { sizes: [size('recess_diameter_mm', 60), size('recess_depth_mm', 4), size('recess_rim_mm', 12)] } as unknown as Shapes['Hold']
    expect(show(FootHold, { hold }).textContent).toContain('60 mm, 4 mm deep')
    expect(show(FootHold, { hold: { sizes: [] } as unknown as Shapes['Hold'] }).querySelector('svg')).toBeNull()
    const inside = { diameter_mm: 250, wall_mm: 8, oval_mm: 14, clean_mm: 3, long_mm: 280, short_mm: 266, wall_long_mm: 27, wall_short_mm: 26 }
    expect(show(OvalDraw, { inside }).querySelector('svg')!.getAttribute('aria-label')).toContain('250 mm')
    const limit = (key: string, value: number, governs = false) => ({ key, label: key, value, why: say(key), source: 'assumed', governs })
    const bar = show(LimitBar, { limits: [limit('lathe', 2500), limit('rim speed', 560, true)], low: 300, high: 560, named: true })
    expect([...bar.querySelectorAll('li')].map((l) => l.textContent)).toEqual(['a rim speed, 560 rpm: this one governs', 'b lathe, 2500 rpm'])
  })
  it('shows one turn marked where it goes against the fibres', () => {
    const directions = { grain: 'side-grain', runs: [{ side: 'outside', points: [[40, 0], [120, 100]], words: say('x') }], steps: [], way: say('w'), other_way: say('o'), rest: [], against: Array.from({ length: 72 }, (_, k) => Math.sin((k * 10 * Math.PI) / 180)), words: [] } as unknown as Shapes['Directions']
    const box = show(WhichWayDraw, { directions, outer: shape().outer, inner: shape().inner })
    expect(box.querySelectorAll('.against').length).toBe(34)
    expect(box.querySelectorAll('.run')).toHaveLength(1)
  })
  it('asks why it chatters once opened, notes a speed, and takes a reading back', async () => {
    const chatter = show(Chatter, { stage: 'finish', speed: 900 })
    expect(sent).toEqual([])
    chatter.querySelector('details')!.open = true
    chatter.querySelector('details')!.dispatchEvent(new Event('toggle'))
    await settled()
    expect(chatter.textContent).toContain('Lathe off before anything else')
    const noted = vi.fn()
    const note = show(SpeedNote, { stage: 'rough', swing: 300, onnoted: noted })
    const field = note.querySelector<HTMLInputElement>('input[name="speed_rpm"]')!
    field.value = '520'
    field.dispatchEvent(new Event('input', { bubbles: true }))
    field.dispatchEvent(new Event('blur'))
    flushSync()
    note.querySelector<HTMLButtonElement>('button')!.click()
    await settled()
    expect(sent.at(-1)!.body).toMatchObject({ stage: 'rough', swing_mm: 300, speed_rpm: 520, felt: 'calm' })
    expect(noted).toHaveBeenCalledOnce()
    const read = vi.fn()
    const callipers = show(Callipers, { tag: '23', callipers: [{ id: 4, z_mm: 60, wall_mm: 9, at: '2026-11-01T10:00:00Z' }], readings: [], onread: read })
    ;[...callipers.querySelectorAll('button')].find((b) => b.textContent?.includes('Take back'))!.click()
    await settled()
    expect(sent.at(-1)!.path).toBe('/api/lathe/23/callipers/4')
    expect(read).toHaveBeenCalledOnce()
  })
  it('tells what was used last time in words', () => {
    const box = show(LastSpeeds, { speeds: [{ id: 1, tag: '13', stage: 'rough', swing_mm: 360, speed_rpm: 420, felt: 'hums', words: 'bark side heavy', at: '2026-11-20T10:00:00Z' }] })
    expect(box.textContent).toContain('it hummed, bark side heavy')
    expect(box.textContent).toContain('piece 13')
  })
})
