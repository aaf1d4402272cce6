<script lang="ts">
  import { untrack } from 'svelte'
  import { api, ask, refusalOf, type Refusal, type Shapes } from '$lib/api/client'
  import { Loader } from '$lib/api/loader.svelte'
  import ChoiceField from '$lib/ui/ChoiceField.svelte'
  import NumberField from '$lib/ui/NumberField.svelte'
  import Refused from '$lib/ui/Refused.svelte'
  import Said from '$lib/ui/Said.svelte'
  import { session } from '$lib/session.svelte'
  import { show } from '$lib/units/units'
  import type { Design, ShapeState } from './shape.svelte'

  interface Props {
    bench: ShapeState
    words: Shapes['LatheWords']
    tag: string | undefined
  }
  let { bench, words, tag }: Props = $props()
  const woods = new Loader(() => ask(api.GET('/api/yard/species')))
  const sketches = new Loader<Shapes['SketchOut'][]>(() => ask(api.GET('/api/lathe/sketches')) as Promise<Shapes['SketchOut'][]>)
  $effect(() => untrack(() => {
    void sketches.load()
    if (!tag) void woods.load()
  }))
  let name = $state('')
  let refusal = $state.raw<Refusal | undefined>()
  let family = $derived(words.families.find((f) => f.key === bench.family))
  let plan = $derived(words.walls.find((w) => w.key === (bench.design.wall ?? 'even')))
  const FEET = [{ key: 'none', label: 'none drawn' }, { key: 'tenon', label: 'tenon' }, { key: 'recess', label: 'recess' }]
  const error = (field: string) => bench.refusal?.of(field)
  const figure = (key: string, value: number) => (key.endsWith('_mm') ? show(key, value, session.prefs) : key.endsWith('_deg') ? `${Math.round(value)}°` : key === 'fullness' ? value.toFixed(1) : `${Math.round(value * 100)} %`)

  async function keep() {
    try {
      await ask(api.POST('/api/lathe/sketches', { body: { name: name.trim(), design: bench.design } }))
      name = ''
      refusal = undefined
      await sketches.load()
    } catch (e) {
      refusal = refusalOf(e)
    }
  }
</script>

<section aria-labelledby="form-h">
  <h2 id="form-h">Form</h2>
  <ChoiceField name="family" label="Outside" value={bench.family} options={words.families} hint={family?.words ?? ''} onchange={(v) => bench.layFamily({ family: v })} />
  <div class="fields">
    <NumberField name="width_mm" label={family?.plan === 'square' ? 'Side of the square' : 'Across'} bind:value={bench.sizes.width_mm} onchange={() => bench.layFamily()} error={error('width_mm')} />
    <NumberField name="height_mm" label="High" bind:value={bench.sizes.height_mm} onchange={() => bench.layFamily()} error={error('height_mm')} />
    <NumberField name="foot_mm" label="Foot" bind:value={bench.sizes.foot_mm} onchange={() => bench.layFamily()} error={error('foot_mm')} optional />
  </div>
  {#each family?.sliders ?? [] as s (s.key)}
    {@const value = bench.sliders[s.key] ?? s.usual}
    <label class="slider"><span>{s.label}: <strong>{figure(s.key, value)}</strong></span>
      <input type="range" name={s.key} min={s.low} max={s.high} step={(s.high - s.low) / 60} {value} oninput={(e) => bench.layFamily({ sliders: { [s.key]: Number(e.currentTarget.value) } })} /></label>
  {/each}
</section>
<section aria-labelledby="wall-h">
  <h2 id="wall-h">Wall</h2>
  {#if bench.free}
    <p>The inside is drawn by hand.</p>
    <button class="btn" onclick={() => bench.change({ inner: [] })}>Back to a plan</button>
  {:else}
    <ChoiceField name="wall" label="Plan" value={bench.design.wall ?? 'even'} options={words.walls} onchange={(v) => bench.change({ wall: v })} />
    {#if plan}<p class="quiet text-sm"><Said text={plan.why} /></p>{/if}
    <div class="fields">
      <NumberField name="wall_mm" label="Wall" value={bench.design.wall_mm ?? 6} onchange={(v) => v !== null && bench.change({ wall_mm: v })} error={error('wall_mm')} />
      <NumberField name="bottom_mm" label="Bottom" value={bench.design.bottom_mm ?? 10} onchange={(v) => v !== null && bench.change({ bottom_mm: v })} error={error('bottom_mm')} />
    </div>
    <button class="btn mt-2" onclick={() => bench.freeInside()}>Draw the inside by hand</button>
  {/if}
</section>
<section aria-labelledby="foot-h">
  <h2 id="foot-h">Hold at the foot</h2>
  <ChoiceField name="foot" label="Kind" value={bench.design.foot ?? 'none'} options={FEET} onchange={(v) => bench.change({ foot: v as NonNullable<Design['foot']>, foot_mm: bench.design.foot_mm || 60, foot_length_mm: bench.design.foot_length_mm || 6 })} />
  {#if bench.design.foot && bench.design.foot !== 'none'}
    <div class="fields">
      <NumberField name="diameter_mm" label="Its diameter" value={bench.design.foot_mm ?? 60} onchange={(v) => v !== null && bench.change({ foot_mm: v })} error={error('diameter_mm')} />
      <NumberField name="length_mm" label={bench.design.foot === 'tenon' ? 'Its length' : 'Its depth'} value={bench.design.foot_length_mm ?? 6} onchange={(v) => v !== null && bench.change({ foot_length_mm: v })} error={error('length_mm')} />
    </div>
  {/if}
</section>
{#if !tag}
  <section aria-labelledby="wood-h"><h2 id="wood-h">Wood</h2>
    <ChoiceField name="species" label="Wood" value={bench.setting.species ?? ''} options={(woods.data ?? []).map((w) => ({ key: w.key, label: w.common }))} onchange={(v) => { bench.setting = { ...bench.setting, species: v }; void bench.judgeAgain() }} />
    <NumberField name="mc_pct" label="Moisture now" value={bench.setting.mc_pct ?? 10} onchange={(v) => { if (v !== null) { bench.setting = { ...bench.setting, mc_pct: v }; void bench.judgeAgain() } }} error={error('mc_pct')} />
  </section>
{/if}
<details class="more"><summary>Forms kept ({sketches.data?.length ?? 0})</summary>
  <ul class="fold-lines">{#each sketches.data ?? [] as k (k.id)}<li><button class="btn btn-ghost" onclick={() => bench.change(k.design)}>{k.name}</button></li>{/each}</ul>
  <div class="field"><label for="sketch-name">Keep this form as</label><input id="sketch-name" class="input w-full" bind:value={name} maxlength="60" /></div>
  <Refused {refusal} />
  <button class="btn mt-2" disabled={!name.trim()} onclick={keep}>Keep</button>
</details>
