<script lang="ts">
  import RingDial from '$lib/draw/RingDial.svelte'
  import SpanBar from '$lib/draw/SpanBar.svelte'
  import { floorEnd } from '$lib/draw/time'
  import { session } from '$lib/session.svelte'
  import ChoiceField from '$lib/ui/ChoiceField.svelte'
  import Empty from '$lib/ui/Empty.svelte'
  import Piece from '$lib/ui/Piece.svelte'
  import Refused from '$lib/ui/Refused.svelte'
  import TextField from '$lib/ui/TextField.svelte'
  import { away, show } from '$lib/units/units'
  import BulkBar from './BulkBar.svelte'
  import { ONLY, keys } from './floorKeys'
  import { Chosen, FloorState, ORDERS, arranged, readyWords, spanOf, type Row } from './floor.svelte'

  const floor = new FloorState()
  $effect(() => {
    void floor.open()
    return () => floor.leave()
  })
  let order = $state('ready')
  let only = $state('all')
  const chosen = new Chosen()
  let wanted = $state('')
  const now = Date.now()
  let rows = $derived(arranged((floor.list.data ?? []).filter(ONLY[only]?.keep ?? (() => true)), order, wanted))
  let tags = $derived(rows.map((r) => r.tag))
  let end = $derived(floorEnd(now, (floor.list.data ?? []).map((r) => spanOf(r).high)))

  function flag(r: Row): string {
    if (r.questioned) return 'a weight waits for an answer'
    if (r.now?.risk_level === 'stop') return 'drying too fast: checks'
    if (r.now?.risk_level === 'care') return 'drying fast'
    if (r.now?.mould_level === 'stop') return 'will mould'
    return r.step_at && new Date(r.step_at).getTime() <= now ? 'a step of its way is due' : ''
  }
</script>

<div class="head"><h1>Drying</h1><div class="head-actions"><a class="btn" href="#/drying/table">Tables, calendar</a><a class="btn btn-primary" href="#/round">Weigh-in round</a></div></div>
<svelte:window onkeydown={(e) => keys(e, { tags, chosen })} />
<Refused refusal={floor.list.refusal} again={() => floor.open()} />
{#if floor.waiting}<p class="quiet" role="status">{floor.waiting} forecasts are still being worked out …</p>{/if}

{#if floor.list.data?.length}
  <div class="floor-tools">
    <TextField name="find" label="Find by tag, name, wood or place" bind:value={wanted} />
    <ChoiceField name="order" label="Order" bind:value={order} options={Object.entries(ORDERS).map(([key, o]) => ({ key, label: o.label }))} />
    <ChoiceField name="only" label="Show" bind:value={only} options={Object.entries(ONLY).map(([key, o]) => ({ key, label: o.label }))} />
  </div>
  <BulkBar {chosen} {tags} onmoved={() => floor.open()} />
  <table class="plain floor stack">
    <thead>
      <tr><th class="pick"><input type="checkbox" class="checkbox" aria-label="Choose all shown" checked={tags.length > 0 && chosen.all(tags)} onchange={(e) => chosen.set(tags, e.currentTarget.checked)} /></th><th>Piece</th><th>Moisture now</th><th class="span-head">Ready, eight chances in ten<SpanBar from={now} to={end} axis /></th><th>Where</th><th>Last weight</th></tr>
    </thead>
    <tbody>
      {#each rows as r (r.tag)}
        <tr data-tag={r.tag} class:chosen={chosen.has(r.tag)}>
          <td class="pick"><input type="checkbox" class="checkbox" aria-label="Choose {r.tag}" checked={chosen.has(r.tag)} onclick={(e) => chosen.toggle(r.tag, tags, e.shiftKey)} /></td>
          <td><Piece piece={r} href="#/drying/{r.tag}" size={40} /></td>
          <td class="dial-cell"><RingDial mc={r.now?.mc_pct} settles={r.settles_at_pct} size={48} />
            {#if r.now}<span class="quiet">{r.now.mc_low_pct.toFixed(0)} to {r.now.mc_high_pct.toFixed(0)} %</span>{/if}</td>
          <td class="span-cell"><SpanBar from={now} to={end} {...spanOf(r)} />
            <span class={r.ready ? 'ember font-semibold' : ''}>{readyWords(r)}</span>{#if flag(r)}<span class="flag">{flag(r)}</span>{/if}</td>
          <td>{r.place}<span class="quiet block text-sm">{r.wrap.replace(/-/g, ' ')}{r.ends_sealed ? ', ends sealed' : ''}</span></td>
          <td>{#if r.last_g !== null && r.last_at}{show('mass_g', r.last_g, session.prefs)}<span class="quiet block text-sm">{away(r.last_at)}</span>{:else}<span class="quiet">never</span>{/if}
            {#if r.weigh_at && new Date(r.weigh_at).getTime() <= now}<a class="link" href="#/round/{r.tag}">weigh<span class="sr-only"> {r.tag}</span></a>{/if}</td>
        </tr>
      {/each}
    </tbody>
  </table>
  {#if !rows.length}<p class="my-3">Nothing drying matches “{wanted}”.</p>{/if}
{:else if floor.list.data}
  <Empty title="Nothing is drying">
    <p class="my-2">Mark a piece as rough-turned and it comes here: how wet it is, where it settles, and when it will be ready, surer with each weight.</p>
    <a class="btn btn-primary" href="#/new">Begin a piece</a>
  </Empty>
{/if}
