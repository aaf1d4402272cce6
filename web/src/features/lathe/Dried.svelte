<script lang="ts">
  import { untrack } from 'svelte'
  import { api, ask, type Shapes } from '$lib/api/client'
  import { Loader } from '$lib/api/loader.svelte'
  import ChoiceField from '$lib/ui/ChoiceField.svelte'
  import FigureView from '$lib/ui/FigureView.svelte'
  import NumberField from '$lib/ui/NumberField.svelte'
  import Refused from '$lib/ui/Refused.svelte'
  import Said from '$lib/ui/Said.svelte'
  import Sentences from '$lib/ui/Sentences.svelte'
  import DriedDraw from '$lib/draw/DriedDraw.svelte'
  import { session } from '$lib/session.svelte'
  import { show } from '$lib/units/units'
  import type { ShapeState } from './shape.svelte'

  interface Props {
    bench: ShapeState
    words: Shapes['LatheWords']
    tag: string | undefined
    stock?: Shapes['StockIn'] | undefined
  }
  let { bench, words, tag, stock }: Props = $props()
  let orientation = $state(untrack(() => stock?.orientation ?? 'rim-to-pith'))
  let pith = $state<number | null>(untrack(() => stock?.pith_mm ?? 30))
  let off = $state<number | null>(0)
  let mc = $state<number | null>(10)
  let open = $state(false)
  let Solid = $state<typeof import('./Solid.svelte').default | undefined>()
  const body = (): Shapes['WarpIn'] => ({
    design: bench.design, tag: tag ?? null, species: bench.setting.species ?? 'unknown-hardwood', orientation, pith_mm: pith ?? 0, off_mm: off ?? 0, mc_pct: mc ?? 10,
  })
  const warp = new Loader<Shapes['WarpOut']>(() => ask(api.POST('/api/lathe/warp', { body: body() })) as Promise<Shapes['WarpOut']>)
  const mesh = new Loader<Shapes['MeshOut']>(() => ask(api.POST('/api/lathe/mesh', { body: body() })))
  $effect(() => {
    void [bench.shown, orientation, pith, off, mc]
    untrack(() => {
      void warp.load()
      if (open) void mesh.load()
    })
  })
  async function turn() {
    open = true
    await mesh.load()
    Solid ??= (await import('./Solid.svelte')).default
  }
  const mm = (v: number) => show('a_mm', v, session.prefs)
  let d = $derived(warp.data)
</script>

<div class="two-up">
  <section aria-labelledby="dried-h">
    <h2 id="dried-h">Once dried</h2>
    <div class="fields">
      <ChoiceField name="orientation" label="How it lay in the log" bind:value={orientation} options={Object.entries(words.orientations).map(([key, label]) => ({ key, label }))} />
      <NumberField name="pith_mm" label={orientation === 'end-grain' ? 'Pith off the axis' : 'Pith from the rim'} bind:value={pith} error={warp.refusal?.of('pith_mm')} />
      <NumberField name="off_mm" label="Pith beside the axis" bind:value={off} error={warp.refusal?.of('off_mm')} />
      <NumberField name="mc_pct" label="Dried to" bind:value={mc} error={warp.refusal?.of('mc_pct')} />
    </div>
    <Refused refusal={warp.refusal} fields={['pith_mm', 'off_mm', 'mc_pct']} />
    {#if d}
      <p class="mt-2">Green {mm(d.green_mm)} round; dried <strong data-figure="oval">{mm(d.dried.long_mm)} × {mm(d.dried.short_mm)}</strong>.</p>
      <ul>{#each d.dried.words as w (w.code)}<li><Said text={w} /></li>{/each}</ul>
      <div class="figures">{#each d.figures as f (f.name)}<FigureView figure={f} />{/each}</div>
      {#if d.other}
        <h3>The other way up: {d.other_label}</h3>
        <p>{mm(d.other.long_mm)} × {mm(d.other.short_mm)}. <Sentences texts={d.other.words} /></p>
      {/if}
      <p class="quiet text-sm">By the place of the pith and the wood’s own shrinkage; what creep holds back is not in it, so real bowls move a little less.</p>
    {/if}
  </section>
  <section aria-label="Drawing of the dried piece">
    {#if d}<DriedDraw dried={d.dried} green={d.green_mm} />{/if}
    {#if !open}<button class="btn mt-2" onclick={turn}>Turn it in the round</button>
    {:else if Solid && mesh.data}<Solid mesh={mesh.data} />{:else}<p class="quiet">Building it …</p>{/if}
    <Refused refusal={mesh.refusal} again={turn} />
  </section>
</div>
