<script lang="ts">
  import { push } from 'svelte-spa-router'
  import { untrack } from 'svelte'
  import { api, ask, refusalOf, type Shapes } from '$lib/api/client'
  import LogCut from '$lib/draw/LogCut.svelte'
  import LogSide from '$lib/draw/LogSide.svelte'
  import ChoiceField from '$lib/ui/ChoiceField.svelte'
  import NumberField from '$lib/ui/NumberField.svelte'
  import Refused from '$lib/ui/Refused.svelte'
  import Said from '$lib/ui/Said.svelte'
  import { session } from '$lib/session.svelte'
  import { show } from '$lib/units/units'
  import { Planner, doorsOf, type Want } from './planner.svelte'

  interface Props {
    log: Shapes['LogDetail']
    oncut: () => void
  }
  let { log, oncut }: Props = $props()
  const plan = untrack(() => new Planner(doorsOf(log.id), log.plan_wants))
  let made = $state<string[]>([])
  $effect(() => void untrack(() => plan.load()))

  const FORMS = [
    { key: 'side-grain-bowl', label: 'bowls' }, { key: 'natural-edge-bowl', label: 'natural-edge bowls' }, { key: 'end-grain-vase', label: 'vases, end grain' },
  ]
  const mm = (v: number) => show('a_mm', v, session.prefs)
  const want = (): Want => ({ form: 'side-grain-bowl', diameter_mm: 250, count: 2, height_mm: null })
  let s = $derived(plan.shown)
  let b = $derived(plan.blank)
  let refusedWords = $derived(s?.refused ?? [])

  async function cut(all: boolean) {
    const spots = all ? plan.spots : plan.spots.filter((x) => x.id === plan.picked)
    try {
      const done = await ask(api.POST('/api/pieces/cut', { body: { log_id: log.id, saw: plan.saw, spots } }))
      made = done.tags
      plan.refusal = undefined
      oncut()
    } catch (error) {
      plan.refusal = refusalOf(error)
    }
  }
  async function sheet() {
    await plan.keep()
    if (!plan.refusal) await push(`/yard/log/${log.id}/sheet`)
  }
</script>

<section class="planner" aria-labelledby="plan-h">
  <div class="planner-ask">
    <h2 id="plan-h">What to cut</h2>
    {#each plan.wants as w, i (i)}
      <div class="want">
        <NumberField name="count" label="How many" value={w.count} onchange={(v) => (w.count = Math.max(1, Math.round(v ?? 1)))} />
        <ChoiceField name="form" label="Of what" value={w.form} options={FORMS} onchange={(v) => (w.form = v as Want['form'])} />
        <NumberField name="diameter_mm" label="Width" value={w.diameter_mm} onchange={(v) => (w.diameter_mm = v ?? 0)} error={plan.refusal?.of(`wants.${i}.diameter_mm`) ?? plan.refusal?.of('diameter_mm')} />
        <button class="btn btn-ghost" aria-label="Leave this wish out" onclick={() => (plan.wants = plan.wants.filter((_, k) => k !== i))}>Remove</button>
      </div>
    {/each}
    <div class="flex flex-wrap gap-2">
      <button class="btn" onclick={() => (plan.wants = [...plan.wants, want()])}>{plan.wants.length ? 'And another' : 'I want certain sizes'}</button>
      <button class="btn btn-primary" disabled={plan.working} onclick={() => plan.load()}>{plan.working ? 'Laying out …' : 'Lay it out'}</button>
    </div>
    <details class="more mt-2"><summary>Saw, trims, depth</summary>
      <div class="fields mt-2">
        <NumberField name="kerf_mm" label="Chainsaw takes" bind:value={plan.saw.kerf_mm} error={plan.refusal?.of('kerf_mm')} />
        <NumberField name="trim_mm" label="Spare on each length" bind:value={plan.saw.trim_mm} error={plan.refusal?.of('trim_mm')} />
        <NumberField name="bit_mm" label="Bit for the pith" bind:value={plan.saw.bit_mm} error={plan.refusal?.of('bit_mm')} />
        <NumberField name="depth_share" label="Bowl depth as a share of its width" bind:value={plan.saw.depth_share} error={plan.refusal?.of('depth_share')} />
      </div></details>
    <Refused refusal={plan.refusal} fields={['kerf_mm', 'trim_mm', 'bit_mm', 'depth_share', 'diameter_mm', 'spots']} />
    {#if plan.refusal?.of('spots')}<p class="wrong" role="alert">{plan.refusal.of('spots')?.message}</p>{/if}
    <ul class="layouts" aria-label="Layouts">
      {#each plan.found as lay (lay.key)}
        <li><button class="layout" aria-pressed={s?.key === lay.key} onclick={() => plan.pick(lay)}>
          <strong>{lay.label}</strong>
          <span><Said text={lay.why} /></span>
          <span class="quiet">{lay.yield_pct.toFixed(0)} % of the wood; {mm(Math.round(lay.left_mm))} of length left</span>
          {#each lay.unmet as u, i (i)}<span class="flag"><Said text={u} /></span>{/each}
        </button></li>
      {/each}
    </ul>
    {#if plan.found.length}<p class="quiet text-sm">In order of use, not of volume: wood round the pith gives most and splits.</p>{/if}
  </div>

  {#if s && log.large_end && log.small_end}
    <div class="planner-draw">
      <div class="planner-ends">
        <LogCut end={log.large_end} blanks={s.blanks} picked={plan.picked} clashes={s.clashes} cracked={log.cracked} label="The end of the log with the blanks of one length; arrows push, brackets turn"
          onpick={(id) => (plan.picked = id)} onpush={(id, x, y) => plan.push(id, x, y)} onturn={(id, by) => plan.turn(id, by)} />
        <div class="blank-words" aria-live="polite">
          {#if b}
            <h3>Blank {b.spot.id}: {b.cut_label.toLowerCase()}</h3>
            <div class="big-figure" data-figure="blank">{mm(b.diameter_mm)} × {mm(b.height_mm)}</div>
            <p>{b.form === 'end-grain-vase' ? 'round by length' : 'circle by depth'}; {b.good_for}.</p>
            <p>Rim: {b.rim}. {b.holds_pith ? 'The pith is in it.' : `Pith ${mm(b.pith_mm)} ${b.form === 'end-grain-vase' ? 'off its axis' : 'from the rim'}.`}</p>
            {#each b.risks as r (r.code)}<p class="caution {r.code === 'holds-pith' ? 'stop' : r.code === 'rim-dips' || r.code === 'bored-wall' ? 'note' : 'care'}"><strong>{r.code === 'holds-pith' ? 'Stop' : 'Mind'}.</strong> <Said text={r} /></p>{/each}
            <div class="flex flex-wrap gap-2 mt-2">
              <button class="btn" aria-pressed={b.spot.locked} onclick={() => plan.change(b.spot.id, { locked: !b.spot.locked })}>{b.spot.locked ? 'Unlock' : 'Lock'}</button>
              <button class="btn" onclick={() => plan.turn(b.spot.id, 5)}>Turn left</button>
              <button class="btn" onclick={() => plan.turn(b.spot.id, -5)}>Turn right</button>
              <button class="btn btn-ghost" onclick={() => plan.remove(b.spot.id)}>Leave it out</button>
            </div>
          {/if}
        </div>
      </div>
      <LogSide length={log.length_mm ?? 1000} large={log.large_end} small={log.small_end} start={plan.span.start} end={plan.span.end} blanks={s.blanks} cut={log.blanks} picked={plan.picked} clashes={s.clashes}
        onpick={(id) => (plan.picked = id)} onslide={(id, by) => plan.slide(id, by)} />
      <p aria-live="polite" data-figure="yield"><strong>{s.yield_pct.toFixed(1)} % of the wood</strong> in {s.blanks.length} blanks.
        {#each s.clashes as [one, two] (`${one}-${two}`)}<span class="wrong block">Blanks {one} and {two} lie in each other.</span>{/each}
        {#each refusedWords as r (r.id)}<span class="wrong block">Blank {r.id}: <Said text={r.why} /></span>{/each}</p>
      <div class="flex flex-wrap gap-2">
        <button class="btn btn-primary" disabled={!s.blanks.length || s.clashes.length > 0 || refusedWords.length > 0} onclick={() => cut(true)}>Cut these {s.blanks.length}: each becomes a piece</button>
        <button class="btn" disabled={!b} onclick={() => cut(false)}>Cut blank {plan.picked ?? ''} only</button>
        <button class="btn" onclick={() => plan.keep()}>{plan.kept ? 'Kept with the log' : 'Keep as mine'}</button>
        <button class="btn" onclick={sheet}>Cutting sheet</button>
      </div>
      {#if made.length}<p role="status" class="mt-2">Tags given: {#each made as tag, i (tag)}{i ? ', ' : ''}<a class="link" href="#/bench/{tag}">{tag}</a>{/each}. Write them on the wood.</p>{/if}
    </div>
  {/if}
</section>
