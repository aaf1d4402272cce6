import { describe, expect, it } from 'vitest'
import { Refusal } from '$lib/api/client'
import { Round, tagAndWeight, type Doors, type Waiting, type Weight } from './round.svelte'

const answer = (w: Waiting, state = 'accepted'): Weight => ({
  id: 1, tag: w.tag, at: w.at, mass_g: w.mass_g, typed: w.typed, state, question: {}, corrects_id: null,
})

function doors(change: Partial<Doors> = {}) {
  const store = new Map<string, string>()
  const sent: Waiting[] = []
  let n = 0
  const made: Doors = {
    send: (w) => { sent.push(w); return Promise.resolve(answer(w)) },
    keeper: { getItem: (k) => store.get(k) ?? null, setItem: (k, v) => void store.set(k, v) },
    now: () => new Date('2026-11-25T10:00:00Z'),
    key: () => `key-${(n += 1)}`,
    owner: 'ada',
    ...change,
  }
  return { made, sent, store }
}
const unreachable = () => Promise.reject(new Refusal(0, []))

describe('a weigh-in round', () => {
  it('sends a weight and forgets it once the server has it', async () => {
    const { made, sent, store } = doors()
    const round = new Round(made)
    const entry = await round.add(' b-7 ', 2390, '2 390 g')
    expect(entry?.state).toBe('kept')
    expect(sent).toEqual([{ key: 'key-1', tag: 'B-7', mass_g: 2390, typed: '2 390 g', at: '2026-11-25T10:00:00.000Z' }])
    expect(JSON.parse(store.get('kiln-round-ada') ?? '')).toEqual([])
  })

  it('keeps weights while the server is away and sends them later, in order, with the same keys', async () => {
    const { made, sent } = doors()
    const away = new Round({ ...made, send: unreachable })
    await away.add('1', 100, '100')
    await away.add('2', 200, '200')
    expect(away.waiting).toBe(2)
    const back = new Round(made) // the page was closed and opened again
    expect(back.waiting).toBe(2)
    await back.flush()
    expect(sent.map((w) => [w.key, w.tag])).toEqual([['key-1', '1'], ['key-2', '2']])
    expect(back.waiting).toBe(0)
  })

  it('does not send twice when two flushes run at once', async () => {
    const { made, sent } = doors()
    const away = new Round({ ...made, send: unreachable })
    await away.add('1', 100, '100')
    const back = new Round(made)
    await Promise.all([back.flush(), back.flush()])
    expect(sent).toHaveLength(1)
  })

  it('sets a refused weight aside and goes on', async () => {
    const { made } = doors({ send: (w) => (w.tag === '9' ? Promise.reject(new Refusal(404, [])) : Promise.resolve(answer(w))) })
    const round = new Round(made)
    expect((await round.add('9', 1, '1'))?.state).toBe('refused')
    expect((await round.add('1', 1, '1'))?.state).toBe('kept')
    expect(round.waiting).toBe(0)
  })

  it('waits out a server in trouble and a session that ended', async () => {
    for (const status of [500, 503, 401]) {
      const { made } = doors({ send: () => Promise.reject(new Refusal(status, [])) })
      const round = new Round(made)
      await round.add('1', 1, '1')
      expect(round.waiting).toBe(1)
    }
  })

  it('asks about an odd weight and takes the answer', async () => {
    const { made } = doors({ send: (w) => Promise.resolve(answer(w, 'questioned')) })
    const round = new Round(made)
    const entry = await round.add('1', 22400, '22400')
    expect(entry?.state).toBe('questioned')
    if (entry) round.answered(entry.key, answer(entry))
    expect(round.entries[0]?.state).toBe('kept')
  })

  it('never hands one person the weights of another', async () => {
    const { made } = doors()
    await new Round({ ...made, send: unreachable }).add('1', 100, '100')
    expect(new Round({ ...made, owner: 'bea' }).waiting).toBe(0)
  })

  it('survives a store with rubbish in it', () => {
    const { made } = doors({ keeper: { getItem: () => '{oops', setItem: () => { throw new Error('full') } } })
    expect(new Round(made).entries).toEqual([])
  })
})

it.each([['14 2390', '14', '2390'], ['14', '14', ''], ['b-7  2 390 g', 'b-7', '2 390 g'], ['', '', '']])(
  'reads %s', (text, tag, weight) => expect(tagAndWeight(text)).toEqual({ tag, weight }))
