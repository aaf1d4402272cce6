import { describe, expect, it, vi } from 'vitest'
import { Newest } from './newest'

describe('one question at a time', () => {
  it('asks once more for all that came meanwhile and takes only the last answer', async () => {
    const newest = new Newest()
    const doors: ((v: number) => void)[] = []
    const question = vi.fn(() => new Promise<number>((done) => doors.push(done)))
    const take = vi.fn()
    const first = newest.ask(question, take, vi.fn())
    void newest.ask(question, take, vi.fn())
    void newest.ask(question, take, vi.fn())
    expect(question).toHaveBeenCalledTimes(1)
    doors[0]!(1)
    await vi.waitFor(() => expect(question).toHaveBeenCalledTimes(2))
    doors[1]!(2)
    await first
    expect(take.mock.calls).toEqual([[2]])
  })
  it('hands a refusal on, and is ready for the next question', async () => {
    const newest = new Newest()
    const refused = vi.fn()
    await newest.ask(() => Promise.reject(new Error('no')), vi.fn(), refused)
    expect(refused).toHaveBeenCalledOnce()
    const take = vi.fn()
    await newest.ask(() => Promise.resolve(7), take, refused)
    expect(take).toHaveBeenCalledWith(7)
  })
  it('forgets a refusal when a newer question follows', async () => {
    const newest = new Newest()
    const [take, refused] = [vi.fn(), vi.fn()]
    let fail: (e: Error) => void = () => undefined
    const question = vi.fn(() => Promise.resolve(1)).mockImplementationOnce(() => new Promise<number>((_, no) => (fail = no)))
    const first = newest.ask(question, take, refused)
    void newest.ask(question, take, refused)
    fail(new Error('old'))
    await first
    expect(refused).not.toHaveBeenCalled()
    expect(take.mock.calls).toEqual([[1]])
  })
})
