/** Words for the ways of keeping a piece. */
import type { Shapes } from '$lib/api/client'

const days = (v: number): string => (v < 1.5 ? 'a day' : v < 21 ? `${Math.round(v)} days` : v < 100 ? `${Math.round(v / 7)} weeks` : v < 700 ? `${Math.round(v / 30.4)} months` : 'years')

type Way = Pick<Shapes['WayAhead'], 'ready_in_days' | 'settled_in_days' | 'settles_at_pct'>

/** What a way's bar shows: ready for its home, or else as dry as that air makes it. */
export const spanOf = (way: Way): Shapes['Span'] => (way.ready_in_days.middle === null ? way.settled_in_days : way.ready_in_days)

/** "8 to 31 days, likely 17 days"; open where the air hardly gets it there. */
export function inDays(way: Way): string {
  const { low, middle, high } = way.ready_in_days
  if (middle === null) {
    const { low: a, high: b } = way.settled_in_days
    const dry = `as dry as that air makes it (${way.settles_at_pct.toFixed(1)} %)`
    return a === null ? `not even ${dry} in two years` : b === null ? `${dry} from ${days(a)}` : `${dry} in ${days(a)} to ${days(b)}`
  }
  if (low === null) return ''
  return high === null ? `from ${days(low)}, likely ${days(middle)}` : `${days(low)} to ${days(high)}, likely ${days(middle)}`
}

export const risked = (level: string, words: Record<string, string>): string => words[level] ?? level

/** "1:05" of seconds left. */
export function clock(seconds: number): string {
  const left = Math.max(0, Math.ceil(seconds))
  return `${Math.floor(left / 60)}:${String(left % 60).padStart(2, '0')}`
}
