<script lang="ts">
  import { session } from '$lib/session.svelte'
  import { edit, read, unitOf } from '$lib/units/units'
  import type { ProblemItem } from '$lib/api/client'
  import { problemWords } from './words'

  interface Props {
    name: string
    label: string
    value?: number | null
    error?: ProblemItem | undefined
    hint?: string
    optional?: boolean
    /** While typing, each readable figure. */
    oninput?: (value: number | null) => void
    /** When the person is done with the field. */
    onchange?: (value: number | null) => void
  }
  let { name, label, value = $bindable(null), error, hint = '', optional = false, oninput, onchange }: Props = $props()

  const id = $props.id()
  let draft = $state<string | undefined>()
  let bad = $state(false)
  let dirty = $state(false)
  let shown = $derived(draft ?? (value == null ? '' : edit(name, value, session.prefs)))
  let unit = $derived(unitOf(name, session.prefs))
  let examples = $derived(unit === 'in' ? '11 3/8 or 280mm' : unit === 'mm' ? '280, 28cm or 11 1/4 in' : 'a number')
  let message = $derived(
    bad ? `This is not readable as a figure. Write it as ${examples}.` : problemWords(error),
  )

  function typed(text: string) {
    draft = text
    dirty = true
    const figure = text.trim() ? read(name, text, session.prefs) : null
    if (figure === null || !Number.isNaN(figure)) {
      bad = false
      value = figure
      oninput?.(figure)
    }
  }

  function left() {
    if (!dirty) return
    const text = (draft ?? '').trim()
    const figure = text ? read(name, text, session.prefs) : null
    bad = figure !== null && Number.isNaN(figure)
    if (bad) return // what was typed stays, to be mended
    dirty = false
    draft = undefined
    value = figure
    onchange?.(figure)
  }
</script>

<div class="field">
  <label for={id}>{label}{#if optional}<span class="quiet font-normal">&ensp;if known</span>{/if}</label>
  <div class="flex items-center gap-1">
    <input
      {id} {name} class="input w-full" inputmode={unit === 'in' ? 'text' : 'decimal'} autocomplete="off" value={shown}
      aria-invalid={message ? 'true' : undefined} aria-describedby={message || hint ? `${id}-help` : undefined}
      oninput={(e) => typed(e.currentTarget.value)} onblur={left}
      onkeydown={(e) => e.key === 'Enter' && left()}
    />
    {#if unit}<span class="unit quiet">{unit}</span>{/if}
  </div>
  {#if message}<p id="{id}-help" class="wrong">{message}</p>
  {:else if hint}<p id="{id}-help" class="quiet text-sm">{hint}</p>{/if}
</div>
