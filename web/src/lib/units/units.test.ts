import { describe, expect, it } from 'vitest'
import { away, day, edit, fill, sooner, inchFraction, read, readLength, readMass, readNumber, show, SI, suffixOf } from './units'

const INCH = { length: 'in', mass: 'oz', temperature: 'f' }

describe('reading what people type', () => {
  it.each([
    ['290', 290], ['280mm', 280], ['28cm', 280], ['28 cm', 280], ['11in', 279.4], ['11 1/4 in', 285.75],
    ['11 3/8', 288.925], ['11 3/8"', 288.925], ['3,5', 3.5], ['1/2 in', 12.7],
  ])('length %s', (text, mm) => expect(readLength(text, SI)).toBeCloseTo(mm, 6))

  it('takes a bare number in the reader’s unit', () => expect(readLength('11', INCH)).toBeCloseTo(279.4))
  it.each([['2 450', 2450], ['2.45 kg', 2450], ['84 oz', 2381.3599], ['5 lb 6 oz', 2438.0590], ['12450', 12450]])(
    'mass %s', (text, g) => expect(readMass(text, SI)).toBeCloseTo(g, 3))
  it.each(['', 'abc', '12 parsecs', '1/0x', '--3'])('refuses %s', (text) => expect(readLength(text, SI)).toBeNaN())
  it('reads fahrenheit by its letter', () => expect(read('room_c', '68 F', SI)).toBeCloseTo(20))
  it('drops units of plain numbers', () => expect(read('speed_rpm', '650 rpm', SI)).toBe(650))
  it('reads negative fractions', () => expect(readNumber('-1 1/2')).toBe(-1.5))
})

describe('writing figures', () => {
  it.each([[11.25, '11 1/4'], [11.26, '11 1/4'], [0.5, '1/2'], [0.28125, '9/32'], [3, '3'], [11.99, '12'], [0.999, '1']])(
    '%s inches', (value, text) => expect(inchFraction(value)).toBe(text))
  it('uses the reader’s units', () => {
    expect(show('wall_mm', 28.1, SI)).toBe('28.1 mm')
    expect(show('wall_mm', 28.575, INCH)).toBe('1 1/8 in')
    expect(show('mass_g', 2450, SI)).toBe('2450 g')
    expect(show('mass_g', 2450, INCH)).toBe('5 lb 6.4 oz')
    expect(show('room_c', 20, INCH)).toBe('68 °F')
    expect(show('cured_hours', 414, SI)).toBe('17.3 days')
  })
  it('rolls sixteen ounces over', () => expect(show('mass_g', 907.15, INCH)).toBe('2 lb 0.0 oz'))
  it('finds the longest suffix', () => {
    expect(suffixOf('loss_per_week_pct')).toBe('_per_week_pct')
    expect(suffixOf('rim_m_s')).toBe('_m_s')
  })
  it('fills a sentence and leaves unknown names to be seen', () =>
    expect(fill('{wall_mm} of {x}', { wall_mm: 25.4 }, INCH)).toBe('1 in of {x}'))
  it('edits without losing what was meant', () => {
    for (const mm of [12.7, 25.4, 285.75]) expect(readLength(edit('a_mm', mm, INCH), INCH)).toBeCloseTo(mm, 3)
  })
})

describe('dates', () => {
  const now = new Date('2026-11-24T12:00:00Z')
  it('says the year only when it is another', () => {
    expect(day('2026-12-03T10:00:00Z', now)).toBe('3 Dec')
    expect(day('2027-01-03T10:00:00Z', now)).toBe('3 Jan 2027')
  })
  it('says now once the near end has passed', () => {
    expect(sooner('2026-11-10T10:00:00Z', now)).toBe('now')
    expect(sooner('2026-12-03T10:00:00Z', now)).toBe('3 Dec')
  })
  it('speaks of distance', () => {
    expect(away('2026-11-24T20:00:00Z', now)).toBe('today')
    expect(away('2026-11-22T12:00:00Z', now)).toBe('2 days ago')
    expect(away('2027-01-05T12:00:00Z', now)).toBe('in 6 weeks')
  })
})
