<script lang="ts">
  import type { Shapes } from '$lib/api/client'
  import ChoiceField from '$lib/ui/ChoiceField.svelte'
  import NumberField from '$lib/ui/NumberField.svelte'
  import type { BenchState } from './bench.svelte'

  interface Props {
    bench: BenchState
    fields: readonly Shapes['NoteField'][]
  }
  let { bench, fields }: Props = $props()
</script>

{#if fields.length}
  <div class="fields inputs no-print">
    {#each fields as field (field.name)}
      {@const value = bench.valueOf(field)}
      {#if field.kind === 'choice'}
        <ChoiceField name={field.name} label={field.label} value={String(value ?? '')} error={bench.error(field.name)}
          options={field.choices.map(([key = '', label = '']) => ({ key, label }))} onchange={(v) => void bench.keep(field, v)} />
      {:else}
        <NumberField name={field.name} label={field.label} value={typeof value === 'number' ? value : null} error={bench.error(field.name)}
          oninput={(v) => bench.attempt(field, v)} onchange={(v) => void bench.keep(field, v)} />
      {/if}
    {/each}
  </div>
{/if}
