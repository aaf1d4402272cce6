<script lang="ts">
  import { untrack } from 'svelte'
  import { api, ask, type Shapes } from '$lib/api/client'
  import { Loader } from '$lib/api/loader.svelte'
  import ChoiceField from '$lib/ui/ChoiceField.svelte'
  import NumberField from '$lib/ui/NumberField.svelte'
  import Refused from '$lib/ui/Refused.svelte'
  import Said from '$lib/ui/Said.svelte'
  import { session } from '$lib/session.svelte'
  import { show } from '$lib/units/units'
  import type { ShapeState } from './shape.svelte'

  interface Props {
    bench: ShapeState
  }
  let { bench }: Props = $props()
  const sketches = new Loader<Shapes['SketchOut'][]>(() => ask(api.GET('/api/lathe/sketches')) as Promise<Shapes['SketchOut'][]>)
  let other = $state('')
  let wanted = $state<number | null>(8)
  let partner = $derived(sketches.data?.find((k) => String(k.id) === other))
  const fit = new Loader<Shapes['Fit']>(() => ask(api.POST('/api/lathe/fit', { body: { shell: bench.design, piece: partner!.design, wanted_mm: wanted ?? 0 } })) as Promise<Shapes['Fit']>)
  $effect(() => void untrack(() => sketches.load()))
  $effect(() => {
    void [bench.shown, partner, wanted]
    if (partner) untrack(() => void fit.load())
  })
  const mm = (v: number) => show('a_mm', v, session.prefs)
</script>

<section aria-labelledby="fit-h">
  <h2 id="fit-h">Does a bowl go into this shell?</h2>
  <p class="quiet">The form above is the shell; the bowl is one of your kept forms. Keep the seat straight, along the axis.</p>
  <div class="fields">
    <ChoiceField name="other" label="Bowl" bind:value={other} options={[{ key: '', label: 'choose a kept form' }, ...(sketches.data ?? []).map((k) => ({ key: String(k.id), label: k.name }))]} />
    <NumberField name="wanted_mm" label="Its foot above the shell’s" bind:value={wanted} error={fit.refusal?.of('wanted_mm')} />
  </div>
  {#if !sketches.data?.length}<p>No form is kept yet: draw the bowl, keep it by name on the left, then draw the shell.</p>{/if}
  <Refused refusal={fit.refusal} fields={['wanted_mm']} />
  {#if fit.data && partner}
    <p class="caution {fit.data.reached ? 'note' : 'care'}" data-figure="fit"><strong>{fit.data.reached ? 'It goes in' : 'It stops early'}.</strong> <Said text={fit.data.words} /></p>
    <table class="plain"><thead><tr><th>Height in the shell</th><th>Clearance</th></tr></thead><tbody>
      {#each fit.data.gaps.filter((_, k) => k % 2 === 0) as [z, gap], k (k)}<tr><td>{mm(z ?? 0)}</td><td>{mm(gap ?? 0)}</td></tr>{/each}</tbody></table>
  {/if}
</section>
