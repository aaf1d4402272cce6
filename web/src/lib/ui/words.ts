/** The sentence of a refusal in the reader's units. */
import type { ProblemItem } from '$lib/api/client'
import { session } from '$lib/session.svelte'
import { fill } from '$lib/units/units'

export function problemWords(item: ProblemItem | undefined): string {
  if (!item) return ''
  return item.template ? fill(item.template, item.params ?? {}, session.prefs) : item.message
}
