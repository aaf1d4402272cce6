/** What is typed of a log, from nothing or from what is known of it. */
import type { Shapes } from '$lib/api/client'

export type LogBody = Shapes['LogFields']

export const CLOCK = Array.from({ length: 12 }, (_, i) => i + 1)

/** 12 o'clock is up, 3 o'clock right; the server counts degrees from the right towards the top. */
export const angleOf = (hour: number): number => (((3 - hour) * 30) % 360 + 360) % 360
export const hourOf = (angle: number): number => ((Math.round(3 - angle / 30) % 12) + 12) % 12 || 12

export function blankLog(): LogBody {
  return {
    species: 'unknown-hardwood', origin: '', felled_on: null, length_mm: null, diameter_mm: null, pith_offset_mm: null,
    cracked: false, ends_sealed: false, lies_at: '', note: '', tried: {}, large_wide_mm: null, large_tall_mm: null,
    small_wide_mm: null, small_tall_mm: null, bark_mm: null, pith_angle_deg: 90, pith_small_offset_mm: null,
    pith_small_angle_deg: null, rot: false, insects: false, nails: false, sealed_on: null, trim_start_mm: 30, trim_end_mm: 30,
  }
}

export function bodyOf(log: Shapes['LogOut']): LogBody {
  const blank = blankLog()
  return Object.fromEntries(Object.keys(blank).map((k) => [k, log[k as keyof LogBody]])) as unknown as LogBody
}
