/** Mounts parts for tests and takes them down again. */
import { flushSync, mount, unmount, type Component } from 'svelte'

let made: Record<string, unknown>[] = []

export function show(part: unknown, props: Record<string, unknown>): HTMLElement {
  const target = document.createElement('div')
  document.body.append(target)
  made.push(mount(part as Component, { target, props }) as Record<string, unknown>)
  flushSync()
  return target
}

export function takeDown(): void {
  for (const part of made) void unmount(part)
  made = []
  document.body.replaceChildren()
}
