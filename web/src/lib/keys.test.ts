import { describe, expect, it } from 'vitest'
import { KEYS, wanted } from './keys'

function press(key: string, on: HTMLElement = document.body, held: KeyboardEventInit = {}): string | undefined {
  document.body.append(on)
  let found: string | undefined
  const listen = (event: KeyboardEvent) => (found = wanted(event))
  window.addEventListener('keydown', listen)
  on.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, ...held }))
  window.removeEventListener('keydown', listen)
  return found
}

describe('keys', () => {
  it.each(KEYS.map((k) => [k.key, k.to]))('%s leads to %s', (key, to) => expect(press(key, document.createElement('p'))).toBe(to))
  it.each(['input', 'select', 'textarea', 'dialog'])('are letters while one is in a %s', (name) =>
    expect(press('w', document.createElement(name))).toBeUndefined())
  it.each([{ ctrlKey: true }, { altKey: true }, { metaKey: true }])('leave the browser its own %o', (held) =>
    expect(press('n', document.createElement('p'), held)).toBeUndefined())
  it('do nothing where there is no such key', () => expect(press('q', document.createElement('p'))).toBeUndefined())
  it('stand once each', () => expect(new Set(KEYS.map((k) => k.key)).size).toBe(KEYS.length))
})
