<script lang="ts">
  import type { ProblemItem } from '$lib/api/client'
  import { problemWords } from './words'

  interface Props {
    name: string
    label: string
    value?: string
    error?: ProblemItem | undefined
    hint?: string
    type?: 'text' | 'password' | 'date'
    autocomplete?: 'off' | 'username' | 'current-password'
    onchange?: (value: string) => void
  }
  let { name, label, value = $bindable(''), error, hint = '', type = 'text', autocomplete = 'off', onchange }: Props = $props()
  const id = $props.id()
  let message = $derived(problemWords(error))
</script>

<div class="field">
  <label for={id}>{label}</label>
  <input {id} {name} {type} {autocomplete} class="input w-full" bind:value aria-invalid={message ? 'true' : undefined}
    aria-describedby={message || hint ? `${id}-help` : undefined} onchange={(e) => onchange?.(e.currentTarget.value)} />
  {#if message}<p id="{id}-help" class="wrong">{message}</p>
  {:else if hint}<p id="{id}-help" class="quiet text-sm">{hint}</p>{/if}
</div>
