<script lang="ts">
  import type { ProblemItem, Refusal } from '$lib/api/client'
  import { session } from '$lib/session.svelte'
  import { fill } from '$lib/units/units'

  interface Props {
    refusal?: Refusal | undefined
    /** Fields shown on the form, which carry their own messages. */
    fields?: readonly string[]
    again?: () => void
  }
  let { refusal, fields = [], again }: Props = $props()

  const words = (i: ProblemItem) => (i.template ? fill(i.template, i.params ?? {}, session.prefs) : i.message)
  let items = $derived(refusal?.beyond(fields) ?? [])
</script>

{#if items.length}
  <div role="alert" class="refused my-2 px-3 py-2">
    {#each items as item (item.code + item.field)}<p>{words(item)}</p>{/each}
    {#if again}<button class="btn btn-sm mt-1" onclick={again}>Try again</button>{/if}
  </div>
{/if}
