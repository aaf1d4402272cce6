import { describe, expect, it } from 'vitest'
import { DAY, floorEnd, timeMarks } from './time'

const NOW = Date.UTC(2026, 10, 25)

describe('time axes', () => {
  it('marks days on a short axis and months on a long one', () => {
    expect(timeMarks(NOW, NOW + 30 * DAY, 4)[0]?.label).toMatch(/^\d+ \w{3}$/)
    expect(timeMarks(NOW, NOW + 200 * DAY, 4)[0]?.label).toMatch(/^\w{3}$/)
  })
  it('says the year where one turns', () =>
    expect(timeMarks(NOW, NOW + 400 * DAY, 12).map((m) => m.label)).toContain('Jan 27'))
  it('keeps every mark inside', () => {
    for (const m of timeMarks(NOW, NOW + 90 * DAY, 5)) expect(m.at >= NOW && m.at <= NOW + 90 * DAY).toBe(true)
  })
})

describe('end of the floor', () => {
  const after = (days: number) => new Date(NOW + days * DAY).toISOString()
  it('shows a month at least, on an empty floor two', () => {
    expect(floorEnd(NOW, [after(2)])).toBe(NOW + 30 * DAY)
    expect(floorEnd(NOW, [])).toBe(NOW + 66 * DAY)
  })
  it('does not let one very late piece squeeze all others', () => {
    const many = [...Array(19).keys()].map((i) => after(20 + i))
    expect(floorEnd(NOW, [...many, after(1000)])).toBeLessThan(NOW + 60 * DAY)
  })
  it('leaves out pieces that never get there', () => expect(floorEnd(NOW, [null, after(100)])).toBeCloseTo(NOW + 110 * DAY))
})
