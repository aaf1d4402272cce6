<script lang="ts">
  import { untrack } from 'svelte'
  import { api, ask, refusalOf, type Refusal, type Shapes } from '$lib/api/client'
  import { Loader } from '$lib/api/loader.svelte'
  import Cautions from '$lib/ui/Cautions.svelte'
  import NumberField from '$lib/ui/NumberField.svelte'
  import Refused from '$lib/ui/Refused.svelte'
  import Said from '$lib/ui/Said.svelte'
  import { session } from '$lib/session.svelte'
  import { moment, show } from '$lib/units/units'
  import { clock } from './ways.svelte'

  interface Props {
    params: { tag: string }
  }
  let { params }: Props = $props()
  let tag = $derived(params.tag)
  let power = $state<number | null>(900)
  let mass = $state<number | null>(null)
  let metal = $state(false)
  let after = $state<number | null>(null)
  let refusal = $state.raw<Refusal | undefined>()
  let now = $state(Date.now())
  const one = new Loader<Shapes['DryingOut']>(() => ask(api.GET('/api/drying/{tag}', { params: { path: { tag } } })))
  const plan = new Loader<Shapes['MicrowavePlan']>(() => ask(api.GET('/api/drying/{tag}/microwave', { params: { path: { tag }, query: { power_w: power ?? 900, ...(mass ? { mass_g: mass } : {}), metal } } })))
  $effect(() => {
    untrack(() => {
      void one.load()
      void plan.load()
    })
    const timer = setInterval(() => (now = Date.now()), 500)
    return () => clearInterval(timer)
  })
  let goes = $derived(one.data?.goes ?? [])
  let open = $derived(goes.find((g) => g.after_g === null))
  let left = $derived(open ? (new Date(open.at).getTime() + open.seconds * 1000 - now) / 1000 : 0)
  let rest = $derived(open ? (new Date(open.at).getTime() + open.seconds * 1000 + (plan.data?.rest_min ?? 30) * 60_000 - now) / 1000 : 0)

  async function act(call: () => Promise<Shapes['DryingOut']>) {
    try {
      one.set(await call())
      refusal = undefined
      mass = after ?? mass
      after = null
      await plan.load()
    } catch (error) {
      refusal = refusalOf(error)
    }
  }
  const begin = () => act(() => ask(api.POST('/api/drying/{tag}/goes', { params: { path: { tag } }, body: { key: crypto.randomUUID(), power_w: power ?? 900, seconds: plan.data?.seconds ?? 60, before_g: mass ?? 0 } })))
  const done = () => act(() => ask(api.POST('/api/drying/{tag}/goes/{go_id}', { params: { path: { tag, go_id: open?.id ?? 0 } }, body: { after_g: after ?? 0 } })))
  const grams = (v: number) => show('a_g', v, session.prefs)
  let p = $derived(plan.data)
</script>

<div class="head"><h1>Microwave goes <span class="tag">{tag}</span></h1><div class="head-actions"><a class="btn" href="#/drying/{tag}">To its drying</a></div></div>
<Refused refusal={one.refusal} />
{#if p}<Cautions cautions={p.cautions} />{/if}
<div class="oven">
  <section>
    <div class="fields">
      <NumberField name="mass_g" label="Weight now, cold" bind:value={mass} onchange={() => plan.load()} error={refusal?.of('before_g') ?? plan.refusal?.of('mass_g')} />
      <NumberField name="power_w" label="The oven's power, W" bind:value={power} onchange={() => plan.load()} error={plan.refusal?.of('power_w')} />
    </div>
    <label class="tick my-2"><input type="checkbox" class="checkbox" bind:checked={metal} onchange={() => plan.load()} /> there is metal in or on it</label>
    {#if plan.refusal?.of('metal')}<p class="caution stop" role="alert"><strong>Stop.</strong> {plan.refusal.of('metal')?.message}</p>{/if}
    <Refused refusal={plan.refusal} fields={['mass_g', 'power_w', 'metal']} />
    {#if open}
      <div class="oven-clock" role="timer" aria-live="off">
        {#if left > 0}<div class="figure-label">In the oven</div><div class="big-figure">{clock(left)}</div><p>Stay with it. Stop at the first smell of scorching.</p>
        {:else if rest > 0}<div class="figure-label">Resting, door open</div><div class="big-figure">{clock(rest)}</div><p>Until it is cold all through; then weigh it.</p>
        {:else}<div class="figure-label">Rested</div><div class="big-figure">Weigh it</div>{/if}
      </div>
      <form class="flex flex-wrap items-end gap-2" onsubmit={(e) => { e.preventDefault(); void done() }}>
        <NumberField name="after_g" label="Weight, cold" bind:value={after} error={refusal?.of('after_g')} /><button class="btn btn-primary">Keep it</button></form>
    {:else if p && !plan.refusal}
      <div class="big-figure" data-figure="seconds">{p.stop ? 'Stop here' : `${p.seconds} s on high`}</div>
      <p aria-live="polite"><Said text={p.why} /></p>
      {#if !p.stop}<button class="btn btn-primary mt-2" disabled={!mass} onclick={begin}>It goes in now</button>{#if !mass}<span class="quiet ml-2">weigh it first</span>{/if}{/if}
    {/if}
    <Refused {refusal} fields={['after_g', 'before_g']} />
  </section>
  <section><h2>Goes so far</h2>
    <table class="plain"><thead><tr><th>When</th><th>Go</th><th>Before</th><th>After, cold</th><th>Lost</th></tr></thead><tbody>
      {#each goes as g (g.id)}<tr><td>{moment(g.at)}</td><td>{g.seconds} s, {g.power_w} W</td><td>{grams(g.before_g)}</td><td>{g.after_g === null ? 'not yet' : grams(g.after_g)}</td><td>{g.after_g === null ? '' : grams(g.before_g - g.after_g)}</td></tr>
      {:else}<tr><td colspan="5" class="quiet">None yet.</td></tr>{/each}</tbody></table>
  </section>
</div>
