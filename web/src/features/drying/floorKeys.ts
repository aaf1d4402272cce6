/** What the floor shows of all that dries, and the keys that walk it. */
import type { Chosen, Row } from './floor.svelte'

const quick = (r: Row) => r.now !== null && (r.now.risk_level !== 'ok' || r.now.mould_level === 'stop')

export const ONLY: Record<string, { label: string; keep: (row: Row) => boolean }> = {
  all: { label: 'all that dries', keep: () => true },
  ready: { label: 'ready', keep: (r) => r.ready },
  weigh: { label: 'due for weighing', keep: (r) => r.weigh_at !== null && new Date(r.weigh_at).getTime() <= Date.now() },
  care: { label: 'wants looking at', keep: (r) => quick(r) || r.questioned > 0 || r.warnings.length > 0 || (r.step_at !== null && new Date(r.step_at).getTime() <= Date.now()) },
}

/** j and k walk the rows, x chooses, Escape lets go. */
export function keys(event: KeyboardEvent, floor: { tags: readonly string[]; chosen: Chosen }): void {
  const field = event.target instanceof HTMLElement && event.target.closest('input:not([type=checkbox]), select, textarea, [contenteditable]')
  if (field || event.ctrlKey || event.metaKey || event.altKey) return
  const row = document.activeElement?.closest<HTMLElement>('[data-tag]')?.dataset.tag
  const here = floor.tags.indexOf(row ?? '')
  if (event.key === 'j' || event.key === 'k') {
    const to = floor.tags[Math.min(Math.max(here + (event.key === 'j' ? 1 : -1), 0), floor.tags.length - 1)]
    document.querySelector<HTMLElement>(`[data-tag="${to}"] .piece a`)?.focus()
  } else if (event.key === 'x' && row) floor.chosen.toggle(row)
  else if (event.key === 'Escape') floor.chosen.clear()
  else return
  event.preventDefault()
}
