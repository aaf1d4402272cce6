/** Shared shaping of time axes. */
import { scaleUtc } from 'd3-scale'

export const DAY = 86_400_000

export interface Mark {
  at: number
  label: string
}

/** Ticks of a time axis: days, weeks or months, as many as there is room for. */
export function timeMarks(from: number, to: number, count: number): Mark[] {
  const scale = scaleUtc([from, to], [0, 1])
  const long = to - from > 330 * DAY
  return scale.ticks(count).map((t) => {
    const january = t.getUTCMonth() === 0 && t.getUTCDate() === 1
    const options: Intl.DateTimeFormatOptions =
      to - from < 70 * DAY ? { day: 'numeric', month: 'short' }
        : long && january ? { month: 'short', year: '2-digit' } : { month: 'short' }
    return { at: t.getTime(), label: t.toLocaleDateString('en-GB', { ...options, timeZone: 'UTC' }) }
  })
}

/** Last moment a floor's axis must show: most spans whole, a very late one cut off. */
export function floorEnd(now: number, highs: (string | null)[]): number {
  const days = highs.filter((h): h is string => h !== null).map((h) => (new Date(h).getTime() - now) / DAY).sort((a, b) => a - b)
  const typical = days[Math.floor(days.length * 0.9)] ?? 60
  return now + Math.min(Math.max(typical * 1.1, 30), 420) * DAY
}
