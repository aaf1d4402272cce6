<script lang="ts">
  import type { ProblemItem } from '$lib/api/client'
  import { problemWords } from './words'

  interface Props {
    name: string
    label: string
    value?: string
    options: readonly { key: string; label: string }[]
    error?: ProblemItem | undefined
    hint?: string
    onchange?: (value: string) => void
  }
  let { name, label, value = $bindable(''), options, error, hint = '', onchange }: Props = $props()
  const id = $props.id()
  let message = $derived(problemWords(error))
</script>

<div class="field">
  <label for={id}>{label}</label>
  <select {id} {name} class="select w-full" bind:value aria-invalid={message ? 'true' : undefined}
    aria-describedby={message || hint ? `${id}-help` : undefined} onchange={(e) => onchange?.(e.currentTarget.value)}>
    {#each options as option (option.key)}<option value={option.key}>{option.label}</option>{/each}
  </select>
  {#if message}<p id="{id}-help" class="wrong">{message}</p>
  {:else if hint}<p id="{id}-help" class="quiet text-sm">{hint}</p>{/if}
</div>
