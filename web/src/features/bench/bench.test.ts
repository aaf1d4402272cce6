import { afterEach, describe, expect, it, vi } from 'vitest'
import { BenchState } from './bench.svelte'

/** A server that keeps a blank and a wall, refusing a wall thicker than half the finished width. */
function server() {
  const piece = { finish_diameter_mm: 260, finish_wall_mm: 6 }
  const calls: [string, string, unknown][] = []
  const field = (name: string, value: number) => ({ name, label: name, kind: 'number', value, choices: [], required: false, on_piece: true, before: false })
  const note = (name: string, value: number | null) => ({ ...field(name, 0), value, on_piece: false })
  const card = (p: typeof piece) => ({
    card: { kind: 'rough', title: 'Rough-turn', inputs: [field('finish_diameter_mm', p.finish_diameter_mm), field('finish_wall_mm', p.finish_wall_mm)], notes: [note('wall_mm', p.finish_diameter_mm / 10), note('mass_g', null)], figures: [] },
    coats: [], cured_at: null,
  })
  const out = () => ({ tag: '1', stages: [{ kind: 'rough', state: 'active', notes: {} }] })
  const bad = { status: 422, title: '', errors: [{ code: 'wall', field: 'finish_wall_mm', message: 'too thick', template: '', params: {} }] }
  vi.stubGlobal('fetch', async (request: Request) => {
    const path = new URL(request.url).pathname
    const body: Record<string, unknown> = request.method === 'GET' ? {} : await request.json()
    calls.push([request.method, path, body])
    const wanted = { ...piece, ...(path.endsWith('/try') ? (body.figures as object) : request.method === 'PATCH' ? body : {}) }
    const json = (status: number, data: unknown) => new Response(JSON.stringify(data), { status, headers: { 'Content-Type': 'application/json' } })
    if (2 * wanted.finish_wall_mm >= wanted.finish_diameter_mm) return json(422, bad)
    if (request.method === 'PATCH') Object.assign(piece, body)
    return json(200, path.includes('/card/') ? card(wanted) : out())
  })
  return { piece, calls }
}

const opened = async () => {
  const bench = new BenchState('1')
  await bench.open(undefined)
  const [width, wall] = bench.card.data?.card.inputs ?? []
  if (!width || !wall) throw new Error('no inputs')
  return { bench, width, wall }
}
const settled = () => new Promise((done) => setTimeout(done, 20))

describe('the piece in hand', () => {
  afterEach(() => vi.unstubAllGlobals())

  it('opens at the stage in hand with the plan filled in', async () => {
    server()
    const { bench } = await opened()
    expect(bench.kind).toBe('rough')
    expect(bench.notes).toEqual({ wall_mm: 26, mass_g: null })
  })

  it('shows a figure while it is tried and keeps it when done', async () => {
    const { piece, calls } = server()
    const { bench, width } = await opened()
    bench.attempt(width, 200)
    await settled()
    expect(bench.card.data?.card.notes[0]?.value).toBe(20)
    expect(piece.finish_diameter_mm).toBe(260)
    await bench.keep(width, 200)
    expect(piece.finish_diameter_mm).toBe(200)
    expect(bench.trial).toEqual({})
    expect(calls.filter(([method]) => method === 'PATCH')).toHaveLength(1)
  })

  it('stands the refusal beside its field and keeps what was typed', async () => {
    const { piece } = server()
    const { bench, wall } = await opened()
    bench.attempt(wall, 150)
    await bench.keep(wall, 150)
    expect(bench.error('finish_wall_mm')?.message).toBe('too thick')
    expect(bench.valueOf(wall)).toBe(150)
    expect(piece.finish_wall_mm).toBe(6)
  })

  it('keeps a refused figure as soon as another one frees it', async () => {
    const { piece } = server()
    const { bench, width, wall } = await opened()
    await bench.keep(wall, 50)
    bench.attempt(width, 90)
    await bench.keep(width, 90) // 50 twice does not fit in 90
    expect(piece).toEqual({ finish_diameter_mm: 260, finish_wall_mm: 50 })
    bench.attempt(wall, 5)
    await bench.keep(wall, 5)
    expect(piece).toEqual({ finish_diameter_mm: 90, finish_wall_mm: 5 })
    expect(bench.error('finish_wall_mm')).toBeUndefined()
  })

  it('never overwrites what the person wrote at the end of the stage', async () => {
    server()
    const { bench, width } = await opened()
    bench.write('mass_g', 2450)
    await bench.keep(width, 200)
    expect(bench.notes).toEqual({ wall_mm: 20, mass_g: 2450 })
  })
})
