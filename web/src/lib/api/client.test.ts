import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { Refusal, api, ask, refusalOf } from './client'
import { Loader } from './loader.svelte'

const item = (field: string, message: string) => ({ code: 'x', field, message, template: '', params: {} })

describe('a refusal', () => {
  const refusal = new Refusal(422, [item('wall_mm', 'too thick'), item('', 'and late')])
  it('finds the sentence of a field', () => {
    expect(refusal.of('wall_mm')?.message).toBe('too thick')
    expect(refusal.of('height_mm')).toBeUndefined()
  })
  it('hands over what no shown field can carry', () => {
    expect(refusal.beyond(['wall_mm']).map((i) => i.message)).toEqual(['and late'])
    expect(refusal.beyond([])).toHaveLength(2)
  })
  it('reads as its sentences', () => expect(refusal.message).toBe('too thick and late'))
  it('wraps what is no refusal and keeps what is', () => {
    expect(refusalOf(refusal)).toBe(refusal)
    expect(refusalOf(new TypeError('oops')).items[0]?.message).toContain('oops')
  })
})

describe('asking the server', () => {
  const answer = (status: number, body: unknown) => () => Promise.resolve(new Response(JSON.stringify(body), { status, headers: { 'Content-Type': 'application/json' } }))
  afterEach(() => vi.unstubAllGlobals())

  it('gives the data', async () => {
    vi.stubGlobal('fetch', answer(200, { rows: [], strip: [] }))
    expect(await ask(api.GET('/api/today'))).toEqual({ rows: [], strip: [] })
  })
  it('throws the problem with its status and items', async () => {
    vi.stubGlobal('fetch', answer(404, { status: 404, title: '', errors: [item('', 'nothing here')] }))
    const refusal = refusalOf(await ask(api.GET('/api/today')).catch((e: unknown) => e))
    expect([refusal.status, refusal.message, refusal.offline]).toEqual([404, 'nothing here', false])
  })
  it('says offline when nobody answers', async () => {
    vi.stubGlobal('fetch', () => Promise.reject(new TypeError('network')))
    const refusal = refusalOf(await ask(api.GET('/api/today')).catch((e: unknown) => e))
    expect(refusal.offline).toBe(true)
    expect(refusal.message).toContain('still here')
  })
  it('survives an answer that is no problem at all', async () => {
    vi.stubGlobal('fetch', answer(502, 'bad gateway'))
    const refusal = refusalOf(await ask(api.GET('/api/today')).catch((e: unknown) => e))
    expect(refusal.status).toBe(502)
    expect(refusal.message).not.toBe('')
  })
  it('sends the page’s token with what changes something, and only then', async () => {
    document.cookie = 'csrftoken=abc123'
    const seen: (string | null)[] = []
    vi.stubGlobal('fetch', (request: Request) => {
      seen.push(request.headers.get('X-CSRFToken'))
      return answer(200, {})()
    })
    await ask(api.GET('/api/today'))
    await ask(api.POST('/api/account/sign-out'))
    expect(seen).toEqual([null, 'abc123'])
  })
})

describe('a loader', () => {
  let gates: ((value: string) => void)[] = []
  const slow = () => new Promise<string>((open) => gates.push(open))
  beforeEach(() => (gates = []))

  it('drops an older answer that comes late', async () => {
    const loader = new Loader(slow)
    const first = loader.load()
    const second = loader.load()
    gates[1]?.('new')
    expect(await second).toBe(true)
    gates[0]?.('old')
    expect(await first).toBe(false)
    expect(loader.data).toBe('new')
    expect(loader.loading).toBe(false)
  })
  it('stays loading while the newer one is on its way', async () => {
    const loader = new Loader(slow)
    const first = loader.load()
    void loader.load()
    gates[0]?.('old')
    await first
    expect(loader.loading).toBe(true)
    expect(loader.data).toBeUndefined()
  })
  it('keeps the last answer beside a refusal and clears the refusal after', async () => {
    const loader = new Loader(() => Promise.resolve('kept'))
    await loader.load()
    await loader.load(() => Promise.reject(new Refusal(422, [item('a', 'no')])))
    expect([loader.data, loader.refusal?.status]).toEqual(['kept', 422])
    await loader.load()
    expect(loader.refusal).toBeUndefined()
  })
  it('an answer put in by hand beats one on its way', async () => {
    const loader = new Loader(slow)
    const late = loader.load()
    loader.set('by hand')
    gates[0]?.('late')
    await late
    expect(loader.data).toBe('by hand')
  })
})
