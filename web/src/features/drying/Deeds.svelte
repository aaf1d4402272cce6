<script lang="ts">
  import { push } from 'svelte-spa-router'
  import { api, ask, refusalOf, type Refusal, type Shapes } from '$lib/api/client'
  import NumberField from '$lib/ui/NumberField.svelte'
  import Refused from '$lib/ui/Refused.svelte'
  import Said from '$lib/ui/Said.svelte'
  import TextField from '$lib/ui/TextField.svelte'
  import { session } from '$lib/session.svelte'
  import { away, day, moment, show } from '$lib/units/units'

  /** What else was done to a drying piece: metered, turned again, split, set beside a control; and what its way asks for. */
  interface Props {
    drying: Shapes['DryingOut']
    onchange: () => void
  }
  let { drying, onchange }: Props = $props()
  let tag = $derived(drying.row.tag)
  let at = $derived({ params: { path: { tag } } })
  let refusal = $state.raw<Refusal | undefined>()
  let shown = $state<number | null>(null)
  let wall = $state<number | null>(null)
  let bottom = $state<number | null>(null)
  let before = $state<number | null>(null)
  let after = $state<number | null>(null)
  let control = $state('')
  let meterWords = $state('')
  const part = () => ({ diameter_mm: null as number | null, height_mm: null as number | null, wall_mm: drying.wall_mm as number | null, bottom_mm: drying.bottom_mm as number | null, mass_g: null as number | null })
  let parts = $state([part(), part()])

  async function act(call: () => Promise<unknown>, then: () => void = () => undefined) {
    try {
      await call()
      refusal = undefined
      then()
      onchange()
    } catch (error) {
      refusal = refusalOf(error)
    }
  }
  const metered = () => act(() => ask(api.POST('/api/drying/{tag}/meter', { ...at, body: { key: crypto.randomUUID(), shown_pct: shown ?? 0, corrected: false } })), () => (shown = null))
  async function readMeter() {
    try {
      const found = await ask(api.GET('/api/drying/meter'))
      if (found.shown_pct !== null) shown = found.shown_pct
      meterWords = found.state === 'steady' ? '' : found.words
    } catch (error) {
      refusal = refusalOf(error)
    }
  }
  const turned = () => act(() => ask(api.POST('/api/drying/{tag}/turned', { ...at, body: { wall_mm: wall ?? 0, bottom_mm: bottom ?? 0, before_g: before, after_g: after ?? 0 } })), () => (wall = bottom = before = after = null))
  async function split() {
    try {
      const made = await ask(api.POST('/api/drying/{tag}/split', { ...at, body: { parts: parts as unknown as Shapes['PartIn'][] } }))
      await push(`/drying/${made.tags[0]}`)
    } catch (error) {
      refusal = refusalOf(error)
    }
  }
  const step = (id: number, skip: boolean) => act(() => ask(api.POST('/api/drying/steps/{step_id}/done', { params: { path: { step_id: id } }, body: { skip } })))
  const paired = (other: string | null) => act(() => ask(api.POST('/api/drying/{tag}/pair', { ...at, body: { tag: other } })))
  let due = $derived(drying.steps.filter((s) => !s.done_at))
</script>

{#if due.length}
  <section class="mt-4"><h2>What its way asks for</h2>
    <ul>{#each due as s (s.id)}<li class="ruled py-2 flex flex-wrap items-center gap-2"><span>{day(s.due_at)}, {away(s.due_at)}: <strong><Said text={s.words} /></strong></span>
      <button class="btn" onclick={() => step(s.id, false)}>Done<span class="sr-only">: {s.due_at}</span></button><button class="btn btn-ghost" onclick={() => step(s.id, true)}>Leave it out</button></li>{/each}</ul>
  </section>
{/if}
<section class="mt-4"><h2>Done to it while it dries</h2>
  <Refused {refusal} fields={['shown_pct', 'wall_mm', 'bottom_mm', 'before_g', 'after_g', 'tag']} />
  {#if drying.meter.length || drying.turnings.length || drying.goes.length}
    <ul>
      {#each drying.turnings as t (t.at)}<li class="ruled py-1">{moment(t.at)}: turned again to a wall of {show('a_mm', t.wall_mm, session.prefs)}, {show('a_g', t.before_g, session.prefs)} to {show('a_g', t.after_g, session.prefs)}</li>{/each}
      {#each drying.goes as g (g.id)}<li class="ruled py-1">{moment(g.at)}: {g.seconds} s in the microwave oven{g.after_g === null ? '' : `, lost ${show('a_g', g.before_g - g.after_g, session.prefs)}`}</li>{/each}
      {#each drying.meter as m (m.at)}<li class="ruled py-1">{moment(m.at)}: the meter showed {m.shown_pct.toFixed(1)} %{Math.abs(m.mc_pct - m.shown_pct) > 0.05 ? `, for this wood ${m.mc_pct.toFixed(1)} %` : ''}</li>{/each}
    </ul>
  {/if}
  <div class="deeds">
    <details class="more"><summary>The meter shows</summary>
      <form class="mt-2" onsubmit={(e) => { e.preventDefault(); void metered() }}>
        <NumberField name="shown_pct" label="Moisture meter" bind:value={shown} error={refusal?.of('shown_pct')} hint={meterWords || 'as it shows it; the wood and the meter are set under Shop'} />
        <div class="mt-2 flex gap-2"><button class="btn btn-primary" disabled={shown === null}>Keep it</button><button type="button" class="btn" onclick={readMeter}>Read the meter</button></div></form></details>
    <details class="more"><summary>Turned again</summary>
      <form class="mt-2" onsubmit={(e) => { e.preventDefault(); void turned() }}>
        <p class="quiet">Its weight jumps, its wall is another: the curve goes on from there. It was {show('a_mm', drying.wall_mm, session.prefs)} thick.</p>
        <div class="fields mt-2"><NumberField name="wall_mm" label="Wall now" bind:value={wall} error={refusal?.of('wall_mm')} /><NumberField name="bottom_mm" label="Bottom now" bind:value={bottom} error={refusal?.of('bottom_mm')} />
          <NumberField name="before_g" label="Weight before" bind:value={before} error={refusal?.of('before_g')} optional /><NumberField name="after_g" label="Weight after" bind:value={after} error={refusal?.of('after_g')} /></div>
        <button class="btn btn-primary mt-2" disabled={wall === null || bottom === null || after === null}>Keep it</button></form></details>
    <details class="more"><summary>Split into parts</summary>
      <form class="mt-2" onsubmit={(e) => { e.preventDefault(); void split() }}>
        <p class="quiet">Each part gets its own tag and dries on with what this one has taught.</p>
        {#each parts as p, i (i)}<fieldset class="fields mt-2"><legend class="font-semibold">Part {i + 1}</legend>
          <NumberField name="part{i}_diameter_mm" label="Across" bind:value={p.diameter_mm} error={refusal?.of(`parts.${i}.diameter_mm`)} /><NumberField name="part{i}_height_mm" label="Height" bind:value={p.height_mm} error={refusal?.of(`parts.${i}.height_mm`)} />
          <NumberField name="part{i}_wall_mm" label="Wall" bind:value={p.wall_mm} /><NumberField name="part{i}_bottom_mm" label="Bottom" bind:value={p.bottom_mm} /><NumberField name="part{i}_mass_g" label="Weight" bind:value={p.mass_g} optional /></fieldset>{/each}
        <div class="mt-2 flex flex-wrap gap-2"><button class="btn btn-primary" disabled={parts.some((p) => p.diameter_mm === null || p.height_mm === null)}>Split it</button><button type="button" class="btn" onclick={() => (parts = [...parts, part()])}>One more part</button></div></form></details>
    <details class="more" open={!!drying.control}><summary>Beside a control</summary>
      {#if drying.control}<p class="mt-2">Beside <a class="link" href="#/drying/{drying.control.tag}">{drying.control.tag}</a>, kept {drying.control.wrap.replace(/-/g, ' ')}; both below as shares of their first weight. <button class="btn btn-ghost" onclick={() => paired(null)}>Let go of it</button></p>
      {:else}<form class="mt-2" onsubmit={(e) => { e.preventDefault(); void paired(control) }}>
        <TextField name="tag" label="Tag of the piece beside it" bind:value={control} error={refusal?.of('tag')} hint="one in the bag, one outside: compared on one chart" /><button class="btn mt-2" disabled={!control.trim()}>Set them side by side</button></form>{/if}</details>
  </div>
</section>
