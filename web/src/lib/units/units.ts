/** How figures are read and written: storage is SI with suffixes, people mix units. */

export interface Prefs {
  length: string
  mass: string
  temperature: string
}

export const SI: Prefs = { length: 'mm', mass: 'g', temperature: 'c' }

const MM_PER_INCH = 25.4
const G_PER_LB = 453.59237
const G_PER_OZ = G_PER_LB / 16

// Longest first, as in the core.
const SUFFIXES = [
  '_per_week_pct', '_kg_m3', '_cm3', '_cm2', '_m_s', '_days', '_hours', '_rpm',
  '_pct', '_min', '_deg', '_mm', '_kg', '_um', '_ml', '_nm', '_g', '_c', '_n', '_w',
]

export function suffixOf(name: string): string {
  return SUFFIXES.find((s) => name.endsWith(s)) ?? ''
}

/** 11.27 -> "11 1/4"; sixteenths, or thirty-seconds under an inch. */
export function inchFraction(inches: number): string {
  const sign = inches < 0 ? '-' : ''
  const size = Math.abs(inches)
  const parts = size < 1 ? 32 : 16
  let top = Math.round(size * parts)
  const whole = Math.floor(top / parts)
  top -= whole * parts
  if (top === 0) return `${sign}${whole}`
  let bottom = parts
  while (top % 2 === 0) {
    top /= 2
    bottom /= 2
  }
  return `${sign}${whole ? `${whole} ` : ''}${top}/${bottom}`
}

function plain(value: number): string {
  const size = Math.abs(value)
  const digits = size >= 100 || Number.isInteger(value) ? 0 : size >= 10 ? 1 : size >= 1 ? 1 : 2
  const [whole = '0', part] = value.toFixed(digits).split('.')
  const grouped = whole.length > 4 ? whole.replace(/\B(?=(\d{3})+$)/g, '\u2009') : whole
  return part && Number(part) !== 0 ? `${grouped}.${part}` : grouped
}

function ounces(grams: number): string {
  const oz = grams / G_PER_OZ
  if (oz < 16) return `${oz.toFixed(1)} oz`
  let lb = Math.floor(oz / 16)
  let rest = Math.round((oz - lb * 16) * 10) / 10
  if (rest >= 16) [lb, rest] = [lb + 1, 0]
  return `${lb} lb ${rest.toFixed(1)} oz`
}

function span(hours: number): string {
  return hours >= 48 ? `${plain(Math.round(hours / 2.4) / 10)} days` : `${plain(hours)} h`
}

/** Write a value by its name's suffix in the reader's units. */
export function show(name: string, value: number, prefs: Prefs): string {
  const suffix = suffixOf(name)
  switch (suffix) {
    case '_mm':
      return prefs.length === 'in' ? `${inchFraction(value / MM_PER_INCH)} in` : `${plain(value)} mm`
    case '_g':
      return prefs.mass === 'oz' ? ounces(value) : `${plain(Math.round(value))} g`
    case '_c':
      return prefs.temperature === 'f' ? `${Math.round(value * 1.8 + 32)} °F` : `${plain(value)} °C`
    case '_hours':
      return span(value)
    case '_days':
      return value === 1 ? '1 day' : `${plain(value)} days`
    default:
      return `${plain(value)}${UNIT[suffix] ?? ''}`
  }
}

const UNIT: Record<string, string> = {
  _per_week_pct: ' % a week', _pct: ' %', _rpm: ' rpm', _kg_m3: ' kg/m³', _cm3: ' cm³', _cm2: ' cm²',
  _m_s: ' m/s', _min: ' min', _deg: '°', _kg: ' kg', _um: ' µm', _ml: ' ml', _n: ' N', _nm: ' N m', _w: ' W',
}

/** What stands behind a field's number in the reader's units. */
export function unitOf(name: string, prefs: Prefs): string {
  const suffix = suffixOf(name)
  if (suffix === '_mm') return prefs.length
  if (suffix === '_g') return prefs.mass
  if (suffix === '_c') return prefs.temperature === 'f' ? '°F' : '°C'
  if (suffix === '_hours') return 'h'
  if (suffix === '_days') return 'days'
  if (suffix === '_per_week_pct') return '%'
  return (UNIT[suffix] ?? '').trim()
}

/** A field's text for a stored value: no unit, as a person would type it. */
export function edit(name: string, value: number, prefs: Prefs): string {
  const suffix = suffixOf(name)
  if (suffix === '_mm' && prefs.length === 'in') return inchFraction(value / MM_PER_INCH)
  if (suffix === '_g' && prefs.mass === 'oz') return (value / G_PER_OZ).toFixed(1)
  if (suffix === '_c' && prefs.temperature === 'f') return String(Math.round(value * 18 + 320) / 10)
  return String(Math.round(value * 100) / 100)
}

/** Read "11", "3,5", "11 3/8", "3/4", "2 450"; NaN when it is none of these. */
export function readNumber(text: string): number {
  const t = text.trim().replace(/(\d)[\s\u2009\u00a0](?=\d{3}(\D|$))/g, '$1').replace(',', '.')
  const mixed = /^(-?)(?:(\d+)[\s-]+)?(\d+)\/(\d+)$/.exec(t)
  if (mixed) {
    const size = Number(mixed[2] ?? 0) + Number(mixed[3]) / Number(mixed[4])
    return mixed[1] ? -size : size
  }
  return /^-?(\d+\.?\d*|\.\d+)$/.test(t) ? Number(t) : NaN
}

const LENGTH: Record<string, number> = { mm: 1, cm: 10, m: 1000, in: MM_PER_INCH, '"': MM_PER_INCH, '″': MM_PER_INCH, inch: MM_PER_INCH, inches: MM_PER_INCH }
const MASS: Record<string, number> = { g: 1, gr: 1, kg: 1000, oz: G_PER_OZ, lb: G_PER_LB, lbs: G_PER_LB }

function withUnit(text: string, table: Record<string, number>, bare: number): number {
  const found = /^(.*?)\s*([a-z"″]+)?$/i.exec(text.trim())
  const unit = (found?.[2] ?? '').toLowerCase()
  const factor = unit ? table[unit] : bare
  return factor === undefined ? NaN : readNumber(found?.[1] ?? '') * factor
}

/** Read a length to mm; a bare fraction means inches, a bare number the reader's unit. */
export function readLength(text: string, prefs: Prefs): number {
  const fraction = /\d\/\d/.test(text)
  return withUnit(text, LENGTH, prefs.length === 'in' || fraction ? MM_PER_INCH : 1)
}

/** Read a weight to g: "2450", "2,45 kg", "84.3 oz", "5 lb 6 oz". */
export function readMass(text: string, prefs: Prefs): number {
  const pounds = /^(.+?)\s*lbs?\s+(.+?)\s*oz$/i.exec(text.trim())
  if (pounds) return readNumber(pounds[1] ?? '') * G_PER_LB + readNumber(pounds[2] ?? '') * G_PER_OZ
  return withUnit(text, MASS, prefs.mass === 'oz' ? G_PER_OZ : 1)
}

/** Read what was typed in a field to its stored unit; NaN when unreadable. */
export function read(name: string, text: string, prefs: Prefs): number {
  switch (suffixOf(name)) {
    case '_mm':
      return readLength(text, prefs)
    case '_g':
      return readMass(text, prefs)
    case '_c': {
      const found = /^(.*?)\s*°?\s*([cf])?$/i.exec(text.trim())
      const unit = (found?.[2] ?? prefs.temperature).toLowerCase()
      const value = readNumber(found?.[1] ?? '')
      return unit === 'f' ? (value - 32) / 1.8 : value
    }
    default:
      return readNumber(text.replace(/\s*(rpm|%|min|h|days?)\s*$/i, ''))
  }
}

/** Fill a sentence of the core: {wall_mm} becomes "28 mm" or "1 1/8 in". */
export function fill(template: string, params: Record<string, number | string>, prefs: Prefs): string {
  return template.replace(/\{(\w+)\}/g, (whole, key: string) => {
    const value = params[key]
    if (value === undefined) return whole
    return typeof value === 'number' ? show(key, value, prefs) : value
  })
}

/** "12 Dec", with the year when it is not this one. */
export function day(iso: string | null | undefined, now = new Date()): string {
  if (!iso) return ''
  const date = new Date(iso)
  const year = date.getFullYear() === now.getFullYear() ? undefined : 'numeric'
  return date.toLocaleDateString('en-GB', { day: 'numeric', month: 'short', year })
}

/** The near end of a span of dates: "now" once it has passed. */
export function sooner(iso: string | null | undefined, now = new Date()): string {
  return iso && new Date(iso).getTime() < now.getTime() ? 'now' : day(iso, now)
}

/** "12 Dec, 14:05". */
export function moment(iso: string): string {
  const date = new Date(iso)
  return `${day(iso)}, ${date.toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' })}`
}

/** "in 3 weeks", "2 days ago", "today". */
export function away(iso: string, now = new Date()): string {
  const days = (new Date(iso).getTime() - now.getTime()) / 86_400_000
  const size = Math.abs(days)
  if (size < 0.75) return 'today'
  const words = size < 13 ? count(size, 'day') : size < 60 ? count(size / 7, 'week') : count(size / 30.44, 'month')
  return days > 0 ? `in ${words}` : `${words} ago`
}

function count(value: number, word: string): string {
  const n = Math.round(value)
  return `${n} ${word}${n === 1 ? '' : 's'}`
}
