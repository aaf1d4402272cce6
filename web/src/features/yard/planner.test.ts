import { describe, expect, it, vi } from 'vitest'
import type { Shapes } from '$lib/api/client'
import { angleOf, bodyOf, blankLog, hourOf } from './logForm.svelte'
import { cornersOf, textOf } from './odd.svelte'
import { Planner, pushed, turned, type Doors, type Layout, type Spot } from './planner.svelte'

const spot = (change: Partial<Spot> = {}): Spot => ({ id: '1', cut: 'half', start_mm: 30, length_mm: 280, angle_deg: 90, face_mm: 20, shift_mm: null, wanted_mm: null, height_mm: null, locked: false, ...change })
const laid = (s: Spot) => ({ spot: s, cut_label: 'Half', good_for: 'bowls', rim: 'the face', form: 'side-grain-bowl', diameter_mm: 270, height_mm: 110, cylinder_mm: 200, pith_mm: 20, holds_pith: false, volume_cm3: 1, end: [], low_mm: 20, high_mm: 130, rim_low_mm: null, risks: [] })
const layout = (key: string, spots: Spot[]): Layout => ({ key, label: key, blanks: spots.map(laid), yield_pct: 30, used_mm: 280, left_mm: 700, why: { code: 'layout', template: 'x', params: {} }, clashes: [], refused: [], unmet: [] }) as unknown as Layout

function planner(change: Partial<Doors> = {}) {
  const doors: Doors = {
    layouts: vi.fn(() => Promise.resolve({ layouts: [layout('half', [spot(), spot({ id: '2', angle_deg: 270 })]), layout('slab', [spot({ cut: 'slab' })])], saw: {}, start_mm: 30, end_mm: 1000 } as unknown as Shapes['LayoutsOut'])),
    trial: vi.fn((body: { spots: Spot[] }) => Promise.resolve(layout('own', body.spots))),
    keep: vi.fn((body: { spots: Spot[] }) => Promise.resolve(layout('own', body.spots))),
    ...change,
  }
  return { plan: new Planner(doors), doors }
}

describe('pushing a blank about', () => {
  it('moves the face along its own direction and the axis along the face', () => {
    expect(pushed(spot(), 0, 5, 0)).toEqual({ face_mm: 25, shift_mm: 0 })
    expect(pushed(spot(), 5, 0, 3)).toEqual({ face_mm: 20, shift_mm: -2 })
    expect(pushed(spot({ angle_deg: 0 }), 5, 0, 0)).toEqual({ face_mm: 25, shift_mm: 0 })
  })
  it('leaves a round on the pith where it is', () => {
    expect(pushed(spot({ cut: 'end-grain' }), 5, 5, 0)).toEqual({})
  })
  it('turns within a circle and finds its place anew', () => {
    expect(turned(spot({ angle_deg: 355 }), 10)).toEqual({ angle_deg: 5, shift_mm: null })
    expect(turned(spot({ angle_deg: 5 }), -10)).toEqual({ angle_deg: 355, shift_mm: null })
  })
})

describe('the planner', () => {
  it('shows the first layout with its first blank in hand', async () => {
    const { plan } = planner()
    await plan.load()
    expect(plan.shown?.key).toBe('half')
    expect(plan.blank?.spot.id).toBe('1')
    expect(plan.own).toBe(false)
  })
  it('asks once more for the last of many changes, and the last answer wins', async () => {
    const answers: ((l: Layout) => void)[] = []
    const trial = vi.fn((body: { spots: Spot[] }) => new Promise<Layout>((done) => answers.push(() => done(layout('own', body.spots)))))
    const { plan } = planner({ trial })
    await plan.load()
    plan.push('1', 0, 1)
    plan.push('1', 0, 1)
    plan.push('1', 0, 1)
    expect(trial).toHaveBeenCalledTimes(1)
    answers[0]!(layout('own', []))
    await vi.waitFor(() => expect(trial).toHaveBeenCalledTimes(2))
    answers[1]!(layout('own', []))
    await vi.waitFor(() => expect(plan.shown?.key).toBe('own'))
    expect(plan.spots[0]!.face_mm).toBe(23)
    expect(plan.own).toBe(true)
  })
  it('never moves what is locked, until it is unlocked', async () => {
    const { plan, doors } = planner()
    await plan.load()
    plan.change('1', { locked: true })
    await vi.waitFor(() => expect(doors.trial).toHaveBeenCalledTimes(1))
    plan.push('1', 0, 9)
    plan.turn('1', 9)
    expect(plan.spots[0]!.face_mm).toBe(20)
    plan.change('1', { locked: false })
    plan.push('1', 0, 9)
    expect(plan.spots[0]!.face_mm).toBe(29)
  })
  it('keeps a blank between the ends when it is slid', async () => {
    const { plan } = planner()
    await plan.load()
    plan.slide('1', -500)
    expect(plan.spots[0]!.start_mm).toBe(30)
    plan.slide('1', 5000)
    expect(plan.spots[0]!.start_mm).toBe(720)
  })
  it('leaves a blank out and keeps the rest as mine', async () => {
    const { plan, doors } = planner()
    await plan.load()
    plan.remove('1')
    expect(plan.spots.map((s) => s.id)).toEqual(['2'])
    await plan.keep()
    expect(doors.keep).toHaveBeenCalledWith(expect.objectContaining({ spots: [expect.objectContaining({ id: '2' })] }))
    expect(plan.kept).toBe(true)
  })
  it('says why when nothing can be laid out', async () => {
    const { plan } = planner({ layouts: () => Promise.reject(new Error('no')) })
    await plan.load()
    expect(plan.refusal?.message).toContain('Something broke')
    expect(plan.working).toBe(false)
  })
})

describe('what is typed of a log', () => {
  it('counts the clock from twelve and degrees from three', () => {
    for (let hour = 1; hour <= 12; hour++) expect(hourOf(angleOf(hour))).toBe(hour)
    expect([angleOf(12), angleOf(3), angleOf(6), angleOf(9)]).toEqual([90, 0, 270, 180])
  })
  it('starts a change from all that is known', () => {
    const log = { ...blankLog(), species: 'pear', length_mm: 600, id: 3, number: 4 } as unknown as Shapes['LogOut']
    expect(bodyOf(log)).toMatchObject({ species: 'pear', length_mm: 600 })
    expect('id' in bodyOf(log)).toBe(false)
  })
})

describe('corners', () => {
  it('are read from lines, semicolons, commas', () => {
    expect(cornersOf('0 0; 200,0\n 200 100 ')).toEqual([[0, 0], [200, 0], [200, 100]])
    expect(cornersOf('0 0; 200')).toBeNull()
    expect(cornersOf('a b')).toBeNull()
    expect(cornersOf('')).toEqual([])
  })
  it('go back to text and stay what they are', () => {
    expect(cornersOf(textOf([[1.25, 2], [3, -4]]))).toEqual([[1.3, 2], [3, -4]])
  })
})
