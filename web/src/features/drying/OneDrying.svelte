<script lang="ts">
  import { push } from 'svelte-spa-router'
  import { api, ask, refusalOf, type Refusal, type Shapes } from '$lib/api/client'
  import { Loader } from '$lib/api/loader.svelte'
  import DryingChart from '$lib/draw/DryingChart.svelte'
  import RingDial from '$lib/draw/RingDial.svelte'
  import { session } from '$lib/session.svelte'
  import Piece from '$lib/ui/Piece.svelte'
  import Refused from '$lib/ui/Refused.svelte'
  import Said from '$lib/ui/Said.svelte'
  import { away, day, show, sooner as whenReady } from '$lib/units/units'
  import PairChart from '$lib/draw/PairChart.svelte'
  import Deeds from './Deeds.svelte'
  import Mend from './Mend.svelte'
  import MoveForm from './MoveForm.svelte'
  import WeightList from './WeightList.svelte'

  interface Props {
    params: { tag: string }
  }
  let { params }: Props = $props()
  let tag = $derived(params.tag)
  const one = new Loader<Shapes['DryingOut']>(() => ask(api.GET('/api/drying/{tag}', { params: { path: { tag } } })))
  let computing = $state(false)
  let refusal = $state.raw<Refusal | undefined>()

  async function refreshed() {
    await one.load()
    if (!one.data?.row.stale) return
    computing = true
    try {
      await ask(api.POST('/api/drying/refresh', { body: { tags: [tag], most: 1 } }))
      await one.load()
    } catch (error) {
      refusal = refusalOf(error)
    }
    computing = false
  }
  $effect(() => void refreshed())

  async function takeDown() {
    try {
      await ask(api.POST('/api/bench/{tag}/done/{kind}', { params: { path: { tag, kind: 'dry' } }, body: { notes: {} } }))
      await push(`/bench/${tag}`)
    } catch (error) {
      refusal = refusalOf(error)
    }
  }
  const MENDABLE = ['odd-rate', 'odd-dry-mass', 'data-contradict-model', 'meter-disagrees']
  let data = $derived(one.data)
  let row = $derived(data?.row)
  let fresh = $derived(data?.stays.length === 1 && data.weigh_ins.filter((w) => w.typed !== 'at the lathe').length === 0)
</script>

<Refused refusal={one.refusal} again={refreshed} />
{#if data && row}
  <div class="head">
    <h1 class="sr-only">Drying of {row.tag}</h1>
    <Piece piece={row} href="#/piece/{row.tag}" size={64} />
    <div class="head-actions">
      <a class="btn" href="#/round/{row.tag}">Weigh it</a>
      <a class="btn" href="#/drying/{row.tag}/ways">What if?</a>
      <a class="btn" href="#/drying/{row.tag}/oven">Microwave</a>
      <button class="btn {row.ready ? 'btn-primary' : ''}" onclick={takeDown}>{row.ready ? 'Ready: take it down' : 'Take it down anyway'}</button>
    </div>
  </div>
  <Refused {refusal} />
  {#if fresh}
    <section class="sheet my-3 p-4"><h2>Where does it lie now?</h2>
      <MoveForm {tag} stay={data.stays[0]} since={row.started_at} onmoved={refreshed} /></section>
  {/if}

  <div class="one-drying">
    <div class="one-figures">
      <RingDial mc={row.now?.mc_pct} settles={row.settles_at_pct} low={row.now?.mc_low_pct} high={row.now?.mc_high_pct} size={132} />
      <div aria-live="polite">
        <div class="figure-label">Ready</div>
        <div class="big-figure" data-figure="ready">
          {#if !row.now}being worked out{:else if row.ready}now
          {:else if row.ready_middle === null}not in this place
          {:else if row.ready_high}{whenReady(row.ready_low)} to {day(row.ready_high)}
          {:else}from {whenReady(row.ready_low)}{/if}
        </div>
        {#if row.now && !row.ready && row.ready_middle}<p>most likely {day(row.ready_middle)}, {away(row.ready_middle)}; {row.ready_high ? 'eight chances in ten within the span' : 'the air there is so near the limit that it may take much longer'}.</p>{/if}
        {#if row.now && row.ready_middle === null}<p>As dry as it gets here, {row.settles_at_pct?.toFixed(1)} %, by {day(row.settled_middle)} ({whenReady(row.settled_low)} to {day(row.settled_high)}); then it wants drier air.</p>{/if}
        {#if row.never_pct >= 1}<p>About {row.never_pct.toFixed(0)} in a hundred that it never gets there in this place.</p>{/if}
        {#if computing}<p class="quiet" role="status">Working it out anew …</p>{/if}
      </div>
      <div class="rules-two">
        <div class="figure-label">Two rules for stopping</div>
        <p>{row.ready ? 'Met' : 'Not yet'}: within one of where it will live, {row.target_mc_pct.toFixed(1)} %{row.now ? ` (it has ${row.now.mc_pct.toFixed(1)} %)` : ''}.</p>
        <p>{data.loss_met === null ? 'Not known yet' : data.loss_met ? 'Met' : 'Not yet'}: loses less than {show('a_per_week_pct', data.loss_rule_pct, session.prefs)}{data.loss_measured_pct === null ? ' (two weights are needed)' : ` (last weights: ${data.loss_measured_pct.toFixed(2)} %)`}.</p>
      </div>
    </div>
    {#if row.now && row.now.risk_level !== 'ok'}
      <p class="caution {row.now.risk_level}"><strong>{row.now.risk_level === 'stop' ? 'Stop' : 'Mind'}.</strong> It dries too fast: check index {row.now.risk.toFixed(1)} now, {row.now.risk_peak.toFixed(1)} in the next two weeks; at 1 it checks. A bag, wax on the end grain, or damper air slows it. An index for comparing pieces, not a strength.</p>
    {/if}
    {#if row.now && row.now.mould_level !== 'ok'}
      <p class="caution {row.now.mould_level}"><strong>{row.now.mould_level === 'stop' ? 'Stop' : 'Mind'}.</strong> Damp and warm for so long that mould comes: dose {row.now.mould.toFixed(1)} now, {row.now.mould_ahead.toFixed(1)} in three weeks; 8 is mouldy. Open it, wipe it, turn the shavings, let air to it.</p>
    {/if}
    {#each row.warnings as warning (warning.code)}<p class="caution care"><strong>Mind.</strong> <Said text={warning} /></p>{/each}
    {#if row.warnings.some((w) => MENDABLE.includes(w.code))}<Mend drying={data} onmended={refreshed} />{/if}

    <DryingChart drying={data} />

    {#if data.control}<PairChart pair={data.control} tag={row.tag} wrap={row.wrap} />{/if}
    <Deeds drying={data} onchange={refreshed} />
    <div class="one-lists">
      <section><h2>Weights</h2>
        <WeightList weights={data.weigh_ins} onchange={refreshed} />
        {#if data.dry_mass_g}<p class="quiet">Its wood without water: about {show('a_g', data.dry_mass_g, session.prefs)}.{#if data.rate_factor}&ensp;It dries at {data.rate_factor.toFixed(1)} times the usual rate.{/if}</p>{/if}
      </section>
      <section><h2>Where it lay</h2>
        <ul>{#each data.stays as s, i (s.started_at + i)}<li class="ruled py-1">{day(s.started_at)}: {s.place}, {s.wrap_label}{s.ends_sealed ? ', ends sealed' : ''} <span class="quiet">({show('a_c', s.air_c, session.prefs)}, {s.rh_pct} %; settles at {s.emc_pct.toFixed(1)} %)</span></li>{/each}</ul>
        {#if !fresh}<details class="more mt-2"><summary>Move it</summary><MoveForm {tag} stay={data.stays.at(-1)} since={null} onmoved={refreshed} /></details>{/if}
      </section>
    </div>
  </div>
{/if}
