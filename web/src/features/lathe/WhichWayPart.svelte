<script lang="ts">
  import { untrack } from 'svelte'
  import { api, ask, type Shapes } from '$lib/api/client'
  import { Loader } from '$lib/api/loader.svelte'
  import WhichWayDraw from '$lib/draw/WhichWayDraw.svelte'
  import ChoiceField from '$lib/ui/ChoiceField.svelte'
  import Refused from '$lib/ui/Refused.svelte'
  import Said from '$lib/ui/Said.svelte'
  import type { ShapeState } from './shape.svelte'

  interface Props {
    bench: ShapeState
    grain: 'side-grain' | 'end-grain'
  }
  let { bench, grain }: Props = $props()
  let inside = $state('rim-down')
  let own = $state<'side-grain' | 'end-grain'>(untrack(() => grain))
  let held = $state(false)
  const found = new Loader<Shapes['Directions']>(() => ask(api.POST('/api/lathe/directions', { body: { design: bench.design, grain: own, inside } })) as Promise<Shapes['Directions']>)
  $effect(() => {
    void [bench.shown, own, inside]
    untrack(() => void found.load())
  })
  let d = $derived(found.data)
</script>

<div class="fields">
  <ChoiceField name="grain" label="Fibres run" value={own} options={[{ key: 'side-grain', label: 'across the axis: side grain' }, { key: 'end-grain', label: 'along the axis: end grain' }]} onchange={(v) => (own = v as 'side-grain')} />
  {#if own === 'side-grain'}<ChoiceField name="inside" label="Inside" bind:value={inside} options={[{ key: 'rim-down', label: 'rim down in steps' }, { key: 'centre-out', label: 'centre out' }]} />{/if}
</div>
<Refused refusal={found.refusal} />
{#if d && bench.shown}
  <div class="my-3"><WhichWayDraw directions={d} outer={bench.shown.outer} inner={bench.shown.inner} {held} /></div>
  <button class="btn no-print" aria-pressed={held} onclick={() => (held = !held)}>{held ? 'Let it turn' : 'Hold it still'}</button>
  <ol class="steps mt-2">
    {#each d.runs as r, k (k)}<li><strong>{r.side === 'outside' ? 'Outside' : 'Inside'}.</strong> <Said text={r.words} /></li>{/each}
    <li><Said text={d.way} /></li>
    {#each d.rest as r (r.code)}<li><Said text={r} /></li>{/each}
  </ol>
  {#if own === 'side-grain'}<p class="quiet">The other school: <Said text={d.other_way} /></p>{/if}
  {#each d.words as w (w.code)}<p><Said text={w} /></p>{/each}
{/if}
