<script lang="ts">
  import { untrack } from 'svelte'
  import { api, ask, type Shapes } from '$lib/api/client'
  import { Loader } from '$lib/api/loader.svelte'
  import Cautions from '$lib/ui/Cautions.svelte'
  import ChoiceField from '$lib/ui/ChoiceField.svelte'
  import NumberField from '$lib/ui/NumberField.svelte'
  import Refused from '$lib/ui/Refused.svelte'
  import Said from '$lib/ui/Said.svelte'
  import { session } from '$lib/session.svelte'
  import { show } from '$lib/units/units'

  let form = $state({ kind: 'wedge', length_mm: 160 as number | null, width_mm: 18 as number | null, depth_mm: 30 as number | null, diameter_mm: 30 as number | null, filled_ml: 60 as number | null, loss_pct: 10, ratio_a: 2, ratio_b: 1, by: 'weight', layer_mm: 20, density_a_kg_m3: 1140, density_b_kg_m3: 1000 })
  const found = new Loader<Shapes['ResinPlan']>(() => ask(api.POST('/api/yard/resin', { body: form as Shapes['ResinIn'] })))
  const reckon = () => void found.load()
  $effect(() => untrack(reckon))
  const KINDS = [{ key: 'box', label: 'Box' }, { key: 'cylinder', label: 'Hole' }, { key: 'wedge', label: 'Wedge, a crack' }, { key: 'measured', label: 'Filled with water or rice' }]
  const SIZES: Record<string, { name: 'length_mm' | 'width_mm' | 'depth_mm' | 'diameter_mm' | 'filled_ml'; label: string }[]> = {
    box: [{ name: 'length_mm', label: 'Length' }, { name: 'width_mm', label: 'Width' }, { name: 'depth_mm', label: 'Depth' }],
    wedge: [{ name: 'length_mm', label: 'Length' }, { name: 'width_mm', label: 'Width at the top' }, { name: 'depth_mm', label: 'Depth' }],
    cylinder: [{ name: 'diameter_mm', label: 'Across' }, { name: 'depth_mm', label: 'Depth' }],
    measured: [{ name: 'filled_ml', label: 'It took' }, { name: 'depth_mm', label: 'Depth' }],
  }
  let p = $derived(found.data)
  const grams = (v: number) => show('a_g', v, session.prefs)
</script>

<section aria-labelledby="resin-h"><h2 id="resin-h">Resin for a void</h2>
  <div class="fields">
    <ChoiceField name="kind" label="The void" value={form.kind} options={KINDS} onchange={(v) => { form.kind = v; reckon() }} />
    {#each SIZES[form.kind] ?? [] as s (s.name)}<NumberField name={s.name} label={s.label} bind:value={form[s.name]} onchange={reckon} error={found.refusal?.of(s.name)} />{/each}
    <NumberField name="loss_pct" label="For what soaks in" bind:value={form.loss_pct} onchange={reckon} error={found.refusal?.of('loss_pct')} />
    <NumberField name="ratio_a" label="Resin, parts" bind:value={form.ratio_a} onchange={reckon} error={found.refusal?.of('ratio_a')} />
    <NumberField name="ratio_b" label="Hardener, parts" bind:value={form.ratio_b} onchange={reckon} error={found.refusal?.of('ratio_b')} />
    <ChoiceField name="by" label="Mixed by" value={form.by} options={[{ key: 'weight', label: 'weight' }, { key: 'volume', label: 'volume' }]} onchange={(v) => { form.by = v; reckon() }} />
    <NumberField name="layer_mm" label="Deepest pour, off the tin" bind:value={form.layer_mm} onchange={reckon} error={found.refusal?.of('layer_mm')} />
  </div>
  <Refused refusal={found.refusal} fields={['length_mm', 'width_mm', 'depth_mm', 'diameter_mm', 'filled_ml', 'loss_pct', 'ratio_a', 'ratio_b', 'layer_mm']} />
  {#if p}
    <Cautions cautions={p.cautions} />
    <div class="big-figure mt-2" data-figure="resin">{grams(p.part_a_g)} + {grams(p.part_b_g)}</div>
    <p>resin and hardener, {Math.round(p.mix_ml)} ml in all. <Said text={p.why} /></p>
    {#if p.pours.length > 1}<table class="plain mt-2"><thead><tr><th>Pour</th><th>Resin</th><th>Hardener</th><th>Layer</th></tr></thead><tbody>
      {#each p.pours as r (r.number)}<tr><td>{r.number}</td><td>{grams(r.part_a_g)}</td><td>{grams(r.part_b_g)}</td><td>{show('a_mm', r.layer_mm, session.prefs)}</td></tr>{/each}</tbody></table>{/if}
  {/if}
</section>
