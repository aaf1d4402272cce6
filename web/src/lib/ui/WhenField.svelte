<script lang="ts">
  import type { ProblemItem } from '$lib/api/client'
  import { problemWords } from './words'

  /** Now, unless another moment is wanted. ``value`` is ISO, or null for now. */
  interface Props {
    label: string
    value?: string | null
    error?: ProblemItem | undefined
  }
  let { label, value = $bindable(null), error }: Props = $props()
  const id = $props.id()
  let local = $derived.by(() => {
    if (value === null) return ''
    const at = new Date(value)
    return new Date(at.getTime() - at.getTimezoneOffset() * 60_000).toISOString().slice(0, 16)
  })
  function picked(text: string) {
    const at = new Date(text)
    if (!Number.isNaN(at.getTime())) value = at.toISOString()
  }
</script>

<div class="field">
  {#if value === null}
    <span class="field-name">{label}</span>
    <button type="button" class="btn justify-start" onclick={() => (value = new Date().toISOString())}>now <span class="quiet font-normal">(change)</span></button>
  {:else}
    <label for={id}>{label}</label>
    <div class="flex gap-1">
      <input {id} type="datetime-local" class="input w-full" value={local} onchange={(e) => picked(e.currentTarget.value)} aria-invalid={error ? 'true' : undefined} aria-describedby={error ? `${id}-help` : undefined} />
      <button type="button" class="btn" onclick={() => (value = null)}>now</button>
    </div>
  {/if}
  {#if error}<p id="{id}-help" class="wrong">{problemWords(error)}</p>{/if}
</div>
