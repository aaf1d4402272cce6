<script lang="ts">
  import type { Refusal } from '$lib/api/client'
  import { problemWords } from './words'

  interface Props {
    refusal?: Refusal | undefined
    /** Fields shown on the form, which carry their own messages. */
    fields?: readonly string[]
    again?: () => void
  }
  let { refusal, fields = [], again }: Props = $props()

  let items = $derived(refusal?.beyond(fields) ?? [])
</script>

{#if items.length}
  <div role="alert" class="refused my-2 px-3 py-2">
    {#each items as item (item.code + item.field)}<p>{problemWords(item)}</p>{/each}
    {#if again}<button class="btn btn-sm mt-1" onclick={again}>Try again</button>{/if}
  </div>
{/if}
