import { afterEach, describe, expect, it, vi } from 'vitest'
import { NewPiece } from './newPiece.svelte'

const json = (status: number, body: unknown) => new Response(JSON.stringify(body), { status, headers: { 'Content-Type': 'application/json' } })
const problem = (field: string) => ({ status: 422, title: '', errors: [{ code: 'x', field, message: `bad ${field}`, template: '', params: {} }] })

describe('a new piece', () => {
  afterEach(() => vi.unstubAllGlobals())

  it('needs two sizes and chooses the rest', () => {
    const piece = new NewPiece()
    expect(piece.sized).toBe(false)
    piece.diameter_mm = 290
    piece.height_mm = 115
    expect(piece.sized).toBe(true)
    expect(piece.body()).toMatchObject({ species: 'unknown-hardwood', way: null, tag: null, finish_diameter_mm: null, finish_wall_mm: 6, purpose: 'food' })
  })

  it('suggests without its tag, so that a taken one cannot spoil the plan', async () => {
    const bodies: Record<string, unknown>[] = []
    vi.stubGlobal('fetch', async (request: Request) => {
      bodies.push((await request.json()) as Record<string, unknown>)
      return json(200, { finish_diameter_mm: 260, way: 'twice-turned', stages: [] })
    })
    const piece = new NewPiece()
    Object.assign(piece, { diameter_mm: 290, height_mm: 115, tag: ' 12 ' })
    await piece.suggest()
    expect(bodies[0]?.tag).toBeNull()
    expect(piece.plan.data?.finish_diameter_mm).toBe(260)
    expect(piece.body().tag).toBe('12')
  })

  it('keeps everything typed when it is refused, with the sentence at its field', async () => {
    vi.stubGlobal('fetch', () => Promise.resolve(json(422, problem('tag'))))
    const piece = new NewPiece()
    Object.assign(piece, { diameter_mm: 290, height_mm: 115, tag: '12', name: 'Gate' })
    expect(await piece.begin()).toBeUndefined()
    expect(piece.error('tag')?.message).toBe('bad tag')
    expect([piece.tag, piece.name, piece.busy]).toEqual(['12', 'Gate', false])
  })

  it('shows a refusal of the plan beside its field only once there are sizes', async () => {
    vi.stubGlobal('fetch', () => Promise.resolve(json(422, problem('diameter_mm'))))
    const piece = new NewPiece()
    await piece.suggest()
    expect(piece.error('diameter_mm')).toBeUndefined()
    Object.assign(piece, { diameter_mm: 480, height_mm: 115 })
    await piece.suggest()
    expect(piece.error('diameter_mm')?.message).toBe('bad diameter_mm')
  })

  it('gives its tag when begun', async () => {
    vi.stubGlobal('fetch', () => Promise.resolve(json(201, { tag: '25' })))
    const piece = new NewPiece()
    Object.assign(piece, { diameter_mm: 290, height_mm: 115 })
    expect(await piece.begin()).toBe('25')
  })
})
