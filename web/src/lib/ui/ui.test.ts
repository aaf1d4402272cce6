import { flushSync } from 'svelte'
import { afterEach, describe, expect, it, vi } from 'vitest'
import HalfSection from '$lib/draw/HalfSection.svelte'
import LimitBar from '$lib/draw/LimitBar.svelte'
import RingDial from '$lib/draw/RingDial.svelte'
import SpanBar from '$lib/draw/SpanBar.svelte'
import { session } from '$lib/session.svelte'
import { show, takeDown } from '$lib/ui/mounting'
import Cautions from './Cautions.svelte'
import FigureView from './FigureView.svelte'
import NumberField from './NumberField.svelte'
import Refused from './Refused.svelte'
import { Refusal } from '$lib/api/client'

function type(target: HTMLElement, text: string, then: 'Enter' | 'blur' | 'none' = 'none'): HTMLInputElement {
  const input = target.querySelector('input') as HTMLInputElement
  input.value = text
  input.dispatchEvent(new Event('input', { bubbles: true }))
  if (then === 'Enter') input.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true }))
  if (then === 'blur') input.dispatchEvent(new Event('blur'))
  flushSync()
  return input
}
afterEach(() => {
  takeDown()
  session.me = { ...session.me, length: 'mm', mass: 'g', temperature: 'c' }
})

describe('a number field', () => {
  it('hands over millimetres whatever was typed, while typing and when done', () => {
    const oninput = vi.fn()
    const onchange = vi.fn()
    const field = show(NumberField, { name: 'diameter_mm', label: 'Across', value: 290, oninput, onchange })
    expect(field.querySelector('label')?.textContent).toContain('Across')
    type(field, '11 1/4 in', 'Enter')
    expect(oninput).toHaveBeenLastCalledWith(285.75)
    expect(onchange).toHaveBeenCalledExactlyOnceWith(285.75)
    expect(field.querySelector('input')?.value).toBe('285.75')
  })
  it('keeps what cannot be read, says how to write it, and hands nothing over', () => {
    const onchange = vi.fn()
    const field = show(NumberField, { name: 'wall_mm', label: 'Wall', value: 6, onchange })
    const input = type(field, 'thin', 'blur')
    expect([input.value, input.getAttribute('aria-invalid')]).toEqual(['thin', 'true'])
    expect(document.getElementById(input.getAttribute('aria-describedby') ?? '')?.textContent).toContain('not readable')
    expect(onchange).not.toHaveBeenCalled()
  })
  it('stays quiet when one only passes through', () => {
    const onchange = vi.fn()
    const field = show(NumberField, { name: 'wall_mm', label: 'Wall', value: 6, onchange })
    field.querySelector('input')?.dispatchEvent(new Event('blur'))
    expect(onchange).not.toHaveBeenCalled()
  })
  it('an emptied field is nothing, not zero', () => {
    const onchange = vi.fn()
    type(show(NumberField, { name: 'mass_g', label: 'Weight', value: 6, onchange }), '', 'blur')
    expect(onchange).toHaveBeenCalledExactlyOnceWith(null)
  })
  it('shows the server’s sentence in the reader’s units', () => {
    session.me = { ...session.me, length: 'in' }
    const error = { code: 'x', field: 'wall_mm', message: '', template: 'at most {most_mm}', params: { most_mm: 25.4 } }
    const field = show(NumberField, { name: 'wall_mm', label: 'Wall', value: 12.7, error })
    expect(field.textContent).toContain('at most 1 in')
    expect(field.querySelector('input')?.value).toBe('1/2')
  })
})

const sentence = (template: string, params = {}) => ({ code: template, template, params })
const speed = {
  name: 'speed_rpm', label: 'Speed', value: 210, low: 350, high: 520, big: true, group: 'speed', source: 'common-practice', inputs: { swing_mm: 290 },
  why: sentence('least of all'), limits: [
    { key: 'rim', label: 'rim rule', value: 525, why: sentence('six thousand'), source: 'common-practice', governs: true },
    { key: 'range', label: 'lathe', value: 2800, why: sentence('its fastest'), source: 'common-practice', governs: false },
  ],
}

describe('a figure', () => {
  it('shows its band with one unit, where to start, and every limit behind its why', () => {
    const figure = show(FigureView, { figure: speed })
    expect(figure.querySelector('.big-figure')?.textContent).toBe('350 to 520 rpm')
    expect(figure.textContent).toContain('start at 210 rpm')
    expect([...figure.querySelectorAll('.limits li')].map((li) => li.classList.contains('governs'))).toEqual([true, false])
    expect(figure.querySelector('details')?.textContent).toContain('From swing 290 mm')
  })
  it('says when nothing is known', () => {
    expect(show(FigureView, { figure: { ...speed, name: 'wall_mm', value: null, low: null, high: null, limits: [] } }).textContent).toContain('not known')
  })
  it('draws the band among its limits in words for those who cannot see it', () => {
    const bar = show(LimitBar, { limits: speed.limits, low: 350, high: 520 })
    expect(bar.querySelector('svg')?.getAttribute('aria-label')).toBe('Band from 350 to 520 rpm among 2 limits')
    expect(bar.querySelectorAll('.governing')).toHaveLength(1)
  })
})

describe('cautions and refusals', () => {
  it('put the worst first and never speak by colour alone', () => {
    const list = show(Cautions, { cautions: [{ level: 'note', text: sentence('air the room') }, { level: 'stop', text: sentence('cracked') }, { level: 'care', text: sentence('dust') }] })
    expect([...list.querySelectorAll('li')].map((li) => li.textContent?.trim())).toEqual(['Stop. cracked', 'Mind. dust', 'Note. air the room'])
  })
  it('show only what no field carries, and offer to try again', () => {
    const again = vi.fn()
    const item = (field: string) => ({ code: field, field, message: `at ${field || 'large'}`, template: '', params: {} })
    const box = show(Refused, { refusal: new Refusal(422, [item('tag'), item('')]), fields: ['tag'], again })
    expect(box.querySelector('[role=alert]')?.textContent).toContain('at large')
    expect(box.textContent).not.toContain('at tag')
    box.querySelector('button')?.click()
    expect(again).toHaveBeenCalledOnce()
  })
  it('stay away when there is nothing to say', () => expect(show(Refused, { refusal: undefined }).textContent?.trim()).toBe(''))
})

describe('drawings', () => {
  it('the dial says moisture and where it settles, and paints only water still to go', () => {
    const wet = show(RingDial, { mc: 43, settles: 9 })
    expect(wet.querySelector('svg')?.getAttribute('aria-label')).toBe('43 % moisture, settles at 9 % here')
    expect(wet.querySelectorAll('.water').length).toBeGreaterThan(0)
    expect(show(RingDial, { mc: 7, settles: 9 }).querySelectorAll('.water')).toHaveLength(0)
    expect(show(RingDial, { mc: null, settles: null }).querySelector('svg')?.getAttribute('aria-label')).toContain('not known')
  })
  it('a span past the axis points onward, a settled one is drawn otherwise', () => {
    const times = { from: Date.UTC(2026, 10, 1), to: Date.UTC(2027, 1, 1) }
    const open = show(SpanBar, { ...times, low: '2026-12-01T00:00:00Z', middle: '2026-12-20T00:00:00Z', high: null })
    expect(open.querySelectorAll('.onward')).toHaveLength(1)
    const settled = show(SpanBar, { ...times, low: '2026-12-01T00:00:00Z', middle: null, high: '2026-12-30T00:00:00Z', kind: 'settled' })
    expect(settled.querySelectorAll('.settled-span')).toHaveLength(1)
    expect(show(SpanBar, times).querySelectorAll('.ready-span')).toHaveLength(0)
  })
  it('the half section names its dimensions in the reader’s units and closes its wall', () => {
    session.me = { ...session.me, length: 'in' }
    const drawing = {
      outer: [[0, 0], [50, 0], [100, 80]], inner: [[0, 10], [60, 10], [94, 80]], blank_radius_mm: 110, blank_height_mm: 90,
      dimensions: [['diameter_mm', 'outside', 203.2], ['wall_mm', 'wall', 6.35], ['bottom_mm', 'bottom', 9.5], ['height_mm', 'height', 80]]
        .map(([name, label, value]) => ({ name, label, value, limits: [], group: '', big: false, source: '' })),
      tenon_radius_mm: 30, tenon_length_mm: 8,
    }
    const section = show(HalfSection, { drawing, title: 'Rough-turn' })
    expect(section.querySelector('title')?.textContent).toContain('outside 8 in')
    expect(section.querySelector('path[fill^=url]')?.getAttribute('d')).toMatch(/^M.*Z$/)
    expect(section.querySelectorAll('.tenon')).toHaveLength(1)
    const plain = show(HalfSection, { drawing: { ...drawing, tenon_radius_mm: null, tenon_length_mm: 0 }, title: 'Turn' })
    expect(plain.querySelectorAll('.tenon')).toHaveLength(0)
  })
})
