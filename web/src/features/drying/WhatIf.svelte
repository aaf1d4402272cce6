<script lang="ts">
  import { untrack } from 'svelte'
  import { push } from 'svelte-spa-router'
  import { api, ask, refusalOf, type Refusal, type Shapes } from '$lib/api/client'
  import { Loader } from '$lib/api/loader.svelte'
  import WaySpan from '$lib/draw/WaySpan.svelte'
  import ChoiceField from '$lib/ui/ChoiceField.svelte'
  import Refused from '$lib/ui/Refused.svelte'
  import Said from '$lib/ui/Said.svelte'
  import { session } from '$lib/session.svelte'
  import { show } from '$lib/units/units'
  import { inDays, risked, spanOf } from './ways.svelte'

  interface Props {
    params: { tag: string }
  }
  let { params }: Props = $props()
  let tag = $derived(params.tag)
  let place = $state('')
  let refusal = $state.raw<Refusal | undefined>()
  let busy = $state('')
  const shop = new Loader(() => ask(api.GET('/api/shop')))
  const ways = new Loader<Shapes['WaysOut']>(() => ask(api.GET('/api/drying/{tag}/what-if', { params: { path: { tag }, query: place ? { place_id: Number(place) } : {} } })))
  $effect(() => {
    untrack(() => {
      void shop.load()
      void ways.load()
    })
  })
  async function choose(key: string) {
    busy = key
    try {
      await ask(api.POST('/api/drying/{tag}/what-if', { params: { path: { tag } }, body: { way: key, place_id: place ? Number(place) : null } }))
      await push(`/drying/${tag}`)
    } catch (error) {
      refusal = refusalOf(error)
    }
    busy = ''
  }
  let w = $derived(ways.data)
  let longest = $derived(Math.min(400, Math.max(30, ...(w?.ways ?? []).map((x) => spanOf(x).high ?? spanOf(x).middle ?? 0))))
  const LEVEL: Record<string, string> = { ok: 'fine', care: 'watch', stop: 'too much' }
</script>

<div class="head"><h1>What if? <span class="tag">{tag}</span></h1><div class="head-actions">
  {#if w?.drying}<a class="btn" href="#/drying/{tag}">To its drying</a>{:else}<a class="btn" href="#/bench/{tag}">To the bench</a>{/if}</div></div>
<Refused refusal={ways.refusal} again={() => ways.load()} />
<Refused {refusal} />
{#if w}
  <div class="floor-tools"><p>From now on, by what its weights have taught; the same wood in every row, only the keeping differs. Ready means {w.target_mc_pct.toFixed(1)} %.</p>
    <ChoiceField name="place" label="Shelf it would lie on" value={place} onchange={(v) => { place = v; void ways.load() }}
      options={[{ key: '', label: `where it is: ${w.place}` }, ...(shop.data?.places ?? []).map((p) => ({ key: String(p.id), label: `${p.name} (${p.emc_pct.toFixed(1)} %)` }))]} /></div>
  <table class="plain stack ways" aria-busy={ways.loading}>
    <thead><tr><th>Way</th><th class="span-head">Ready in<WaySpan longest={longest} axis /></th><th>Checks</th><th>Mould</th><th>Oval when dry</th><th>Hands</th><th><span class="sr-only">Take it</span></th></tr></thead>
    <tbody>
      {#each w.ways as x (x.key)}
        <tr data-way={x.key} class:taken={w.chosen === x.key}>
          <td><strong>{x.label}</strong><span class="block"><Said text={x.verdict} /></span>{#if x.good_for}<span class="quiet block text-sm">for {x.good_for}</span>{/if}</td>
          <td class="span-cell"><WaySpan {longest} {...spanOf(x)} dashed={x.ready_in_days.middle === null} />
            <span>{inDays(x)}</span></td>
          <td class="level {x.risk_level}" data-label="Checks">{x.risk.toFixed(1)}<span class="block text-sm">{risked(x.risk_level, LEVEL)}</span></td>
          <td class="level {x.mould_level}" data-label="Mould">{x.mould.toFixed(0)}<span class="block text-sm">{risked(x.mould_level, LEVEL)}</span></td>
          <td data-label="Oval when dry:">{x.key === 'whole' ? 'not yet' : show('a_mm', x.oval_mm, session.prefs)}</td>
          <td>{x.effort}<span class="quiet block text-sm">about {x.visits} visits</span></td>
          <td>{#if w.drying && x.key !== 'as-it-is'}<button class="btn" disabled={busy !== ''} onclick={() => choose(x.key)}>{w.chosen === x.key ? 'Taken' : 'Take this'}<span class="sr-only">: {x.label}</span></button>{/if}</td>
        </tr>
      {/each}
    </tbody>
  </table>
  <p class="quiet text-sm mt-2">Checks: at 1 it checks, above 0.7 watch it. Mould: a dose, 8 is mouldy. Both are for comparing, not strengths. {w.drying ? 'Taking a way notes the first move now; the rest comes up in Today and the calendar.' : 'It is still a blank: rough it first, then take a way.'}</p>
{:else if !ways.refusal}<p class="quiet" role="status">Trying the ways …</p>{/if}
