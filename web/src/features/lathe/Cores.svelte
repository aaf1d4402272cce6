<script lang="ts">
  import { untrack } from 'svelte'
  import { api, ask, type Shapes } from '$lib/api/client'
  import { Loader } from '$lib/api/loader.svelte'
  import NestDraw from '$lib/draw/NestDraw.svelte'
  import ChoiceField from '$lib/ui/ChoiceField.svelte'
  import NumberField from '$lib/ui/NumberField.svelte'
  import Refused from '$lib/ui/Refused.svelte'
  import Said from '$lib/ui/Said.svelte'
  import { session } from '$lib/session.svelte'
  import { show } from '$lib/units/units'
  import { NestState } from './nest.svelte'

  interface Props {
    params?: { tag?: string }
  }
  let { params = {} }: Props = $props()
  const tag = untrack(() => params.tag)
  const nest = new NestState()
  const words = new Loader<Shapes['LatheWords']>(() => ask(api.GET('/api/lathe/words')))
  const own = new Loader<Shapes['DesignOut']>(() => ask(api.GET('/api/lathe/{tag}/design', { params: { path: { tag: tag ?? '' } } })) as Promise<Shapes['DesignOut']>)
  async function start() {
    await words.load()
    if (tag && (await own.load()) && own.data) {
      nest.tags = own.data.cores
      nest.ask = { ...nest.ask, tag, width_mm: own.data.stock.diameter_mm, height_mm: Math.max(own.data.stock.height_mm - 12, 20) }
    } else nest.ask = { ...nest.ask, width_mm: 340, height_mm: 140 }
    await nest.search()
  }
  $effect(() => void untrack(() => start()))
  const mm = (v: number) => show('a_mm', v, session.prefs)
  const error = (name: string) => nest.refusal?.of(name)
  let s = $derived(nest.shown)
  let broken = $derived(s?.cores.some((c) => c.refused.length) ?? false)
  const FIELDS = ['width_mm', 'height_mm', 'wall_mm', 'bottom_mm', 'least_mm', 'tenon_mm', 'price_per_cm', 'cuts']
</script>

<div class="head"><div><h1>Cores{tag ? ` from piece ${tag}` : ''}</h1><p class="quiet">What comes out of the middle of a bowl, planned before the first cut.</p></div>
  <div class="head-actions no-print">{#if tag}<a class="btn" href="#/bench/{tag}">To its card</a>{/if}<button class="btn" onclick={() => window.print()}>Print the cut list</button></div></div>
<div class="shape-bench">
  <div class="shape-side no-print">
    <section aria-labelledby="ask-h"><h2 id="ask-h">Blank and wants</h2>
      <div class="fields">
        <NumberField name="width_mm" label="Across" value={nest.ask.width_mm ?? null} onchange={(v) => (nest.ask.width_mm = v)} error={error('width_mm')} />
        <NumberField name="height_mm" label="Deep, without its hold" value={nest.ask.height_mm ?? null} onchange={(v) => (nest.ask.height_mm = v)} error={error('height_mm')} />
        <NumberField name="wall_mm" label="Rough wall to leave" value={nest.ask.wall_mm ?? nest.start?.wall_mm ?? null} onchange={(v) => (nest.ask.wall_mm = v)} error={error('wall_mm')} />
        <NumberField name="bottom_mm" label="Rough bottom to leave" value={nest.ask.bottom_mm ?? nest.start?.bottom_mm ?? null} onchange={(v) => (nest.ask.bottom_mm = v)} error={error('bottom_mm')} />
        <NumberField name="least_mm" label="Smallest core worth it" value={nest.ask.least_mm ?? 100} onchange={(v) => v !== null && (nest.ask.least_mm = v)} error={error('least_mm')} />
        <NumberField name="tenon_mm" label="Tenon on each core" value={nest.ask.tenon_mm ?? 45} onchange={(v) => v !== null && (nest.ask.tenon_mm = v)} error={error('tenon_mm')} />
        <ChoiceField name="value" label="I want" value={nest.ask.value ?? 'diameter'} options={Object.entries(words.data?.values ?? {}).map(([key, label]) => ({ key, label }))} onchange={(v) => (nest.ask.value = v)} />
        {#if nest.ask.value === 'price'}<NumberField name="price_per_cm" label="Price a cm of a 20 cm bowl" value={nest.ask.price_per_cm ?? 3} onchange={(v) => v !== null && (nest.ask.price_per_cm = v)} error={error('price_per_cm')} />{/if}
      </div>
      <label class="tick my-2"><input type="checkbox" class="checkbox" checked={nest.ask.offsets ?? false} onchange={(e) => (nest.ask.offsets = e.currentTarget.checked)} /> pivots beside the axis, too</label>
      <button class="btn btn-primary" disabled={nest.progress !== null} onclick={() => nest.search()}>{nest.progress === null ? 'Find the best set' : `Searching, ${Math.round(nest.progress * 100)} %`}</button>
      <Refused refusal={nest.refusal} fields={FIELDS.slice(0, -1)} />
      {#if nest.refusal?.of('knives')}<p><a class="btn" href="#/shop">Add a knife in the shop</a></p>{/if}
    </section>
    <section aria-label="Sets found">
      {#each nest.found as n (n.key)}
        <button class="layout" aria-pressed={s?.key === n.key} data-nest={n.key} onclick={() => nest.pick(n)}><strong>{n.label}: {n.cores.length} {n.cores.length === 1 ? 'core' : 'cores'}</strong>
          <span><Said text={n.why} /> {n.cores.map((c) => mm(c.diameter_mm)).join(', ')}; {n.yield_pct.toFixed(0)} % of the wood in bowls, about {Math.round(n.money)} to sell.</span></button>
      {/each}
      {#if nest.found.length}<p class="quiet text-sm">{nest.tried} cuts that are possible were weighed.</p>{:else if nest.start && nest.progress === null && !nest.refusal}<p>No core comes out with these walls. Thinner walls, a smaller core, or another knife would change that.</p>{/if}
    </section>
  </div>
  <div class="shape-draw">
    {#if s && nest.start}
      <NestDraw nest={s} outer={nest.start.outer} picked={nest.picked} onpick={(i) => (nest.picked = i)} onpush={(i, gap, off) => nest.push(i, gap, off)} />
      <div class="shape-tools no-print">
        {#if nest.picked !== null && nest.cuts[nest.picked]}
          <ChoiceField name="knife" label="Knife of core {nest.picked + 1}" value={nest.cuts[nest.picked]?.knife ?? ''} options={nest.start.knives.map((k) => ({ key: k, label: k }))} onchange={(v) => nest.picked !== null && nest.knife(nest.picked, v)} />
          <button class="btn" onclick={() => nest.picked !== null && nest.remove(nest.picked)}>Leave it out</button>
        {/if}
        <button class="btn" onclick={() => nest.start?.knives[0] && nest.add(nest.start.knives[0])}>Add a cut</button>
      </div>
      <p class="quiet text-sm no-print">To scale; white, the kerfs. Touch a pivot, then drag it or press the arrows.</p>
      {#if s.bowl_left_mm}<p data-figure="bowl-left">The big bowl keeps <strong>{mm(s.bowl_left_mm[0] ?? 0)}</strong> of wall and <strong>{mm(s.bowl_left_mm[1] ?? 0)}</strong> of bottom.</p>{/if}
      <p data-figure="worth">This set: <strong>{s.yield_pct.toFixed(0)} %</strong> of the blank in rough bowls, about <strong>{Math.round(s.money)}</strong> to sell with the big one.</p>
    {/if}
  </div>
  <div class="shape-side" aria-live="polite">
    {#if s}
      <h2>Cut list, in this order</h2>
      <div class="nest-cards">
        {#each s.cores as core, i (i)}
          <article class="nest-card" class:refused={core.refused.length > 0}>
            <h3>{i + 1}. {mm(core.diameter_mm)} × {mm(core.height_mm)}</h3>
            {#each core.refused as r (r.code)}<p class="caution stop"><strong>Stop.</strong> <Said text={r} /></p>{/each}
            <ol class="steps">{#each core.settings as t (t.code)}<li><Said text={t} /></li>{/each}</ol>
            {#if core.wall_left_mm != null && core.bottom_left_mm != null}<p>Keeps {mm(core.wall_left_mm)} of wall and {mm(core.bottom_left_mm)} of bottom once the smaller one is out.</p>{/if}
            <p class="quiet"><Said text={core.hold} /></p>
          </article>
        {/each}
      </div>
      <p class="caution care"><strong>Mind.</strong> Smallest first: the rest stays stiff and all come out on one mounting. Slow speed, tailstock up as long as it can stay, clear the chips often; the maker’s sheet of the knife comes before this list.</p>
      {#if tag}
        {#if nest.tags.length}<p role="status">Cores that are pieces: {#each nest.tags as t, i (t)}{i ? ', ' : ''}<a class="link" href="#/bench/{t}">{t}</a>{/each}. Write the tags on the wood.</p>
          <button class="btn no-print" onclick={() => nest.putBack(tag)}>They did not come out so: take the pieces back</button>
        {:else}<button class="btn btn-primary no-print" disabled={broken || !s.cores.length} onclick={() => nest.take(tag)}>The cores are out: {s.cores.length === 1 ? 'it becomes a piece' : 'they become pieces'}</button>{/if}
      {/if}
    {/if}
  </div>
</div>
