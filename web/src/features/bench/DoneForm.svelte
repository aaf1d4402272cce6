<script lang="ts">
  import type { Shapes } from '$lib/api/client'
  import { session } from '$lib/session.svelte'
  import ChoiceField from '$lib/ui/ChoiceField.svelte'
  import NumberField from '$lib/ui/NumberField.svelte'
  import Refused from '$lib/ui/Refused.svelte'
  import TextField from '$lib/ui/TextField.svelte'
  import WhenField from '$lib/ui/WhenField.svelte'
  import { show } from '$lib/units/units'
  import type { BenchState } from './bench.svelte'

  interface Props {
    bench: BenchState
    fields: readonly Shapes['NoteField'][]
    shown: readonly string[]
    onnext: (kind: string | undefined) => void
  }
  let { bench, fields, shown, onnext }: Props = $props()
  let state = $derived(bench.stage?.state)
  let kept = $derived(fields.filter((f) => bench.stage?.notes[f.name] !== undefined))
  let coatsLeft = $derived(bench.card.data?.coats.some((c) => !c.given_at) ?? false)
  const note = (name: string) => bench.stage?.notes[name]

  async function done() {
    onnext(await bench.done())
  }
</script>

{#if state === 'active'}
  <form class="sheet done-form no-print p-4" aria-labelledby="done-title" onsubmit={(e) => { e.preventDefault(); void done() }}>
    <h2 id="done-title">What really happened</h2>
    <p class="quiet mb-2">Filled in as planned: change what came out otherwise.</p>
    <div class="fields">
      {#each fields as field (field.name)}
        {#if field.kind === 'choice'}
          <ChoiceField name={field.name} label={field.label} value={String(bench.notes[field.name] ?? '')} options={field.choices.map(([key = '', label = '']) => ({ key, label }))}
            error={bench.refusal?.of(field.name)} onchange={(v) => bench.write(field.name, v)} />
        {:else if field.kind === 'text'}
          <TextField name={field.name} label={field.label} value={String(bench.notes[field.name] ?? '')} error={bench.refusal?.of(field.name)}
            onchange={(v) => bench.write(field.name, v)} />
        {:else}
          <NumberField name={field.name} label={field.label} optional={!field.required} error={bench.refusal?.of(field.name)}
            value={typeof bench.notes[field.name] === 'number' ? (bench.notes[field.name] as number) : null} oninput={(v) => bench.write(field.name, v)} />
        {/if}
      {/each}
      <WhenField label="When" bind:value={bench.at} error={bench.refusal?.of('at')} />
    </div>
    <Refused refusal={bench.refusal} fields={[...shown, 'at']} />
    <button class={['btn btn-lg mt-3', !coatsLeft && 'btn-primary']} disabled={bench.busy}>Mark it done</button>
  </form>
{:else if kept.length}
  <section><h2>Noted</h2>
    <dl class="hold-sizes">
      {#each kept as field (field.name)}<div><dt>{field.label}</dt><dd>{typeof note(field.name) === 'number' ? show(field.name, note(field.name) as number, session.prefs) : note(field.name)}</dd></div>{/each}
    </dl></section>
{/if}
