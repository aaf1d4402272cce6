<script lang="ts">
  import { api, ask, type Shapes } from '$lib/api/client'
  import { Loader } from '$lib/api/loader.svelte'
  import LimitBar from '$lib/draw/LimitBar.svelte'
  import ChoiceField from '$lib/ui/ChoiceField.svelte'
  import FigureView from '$lib/ui/FigureView.svelte'
  import NumberField from '$lib/ui/NumberField.svelte'
  import Refused from '$lib/ui/Refused.svelte'
  import { session } from '$lib/session.svelte'
  import { show } from '$lib/units/units'
  import Chatter from './Chatter.svelte'
  import LastSpeeds from './LastSpeeds.svelte'
  import SpeedNote from './SpeedNote.svelte'

  type Ask = Shapes['ReckonIn']
  let swing = $state<number | null>(280)
  let stage = $state<Ask['stage']>('rough')
  let conditions = $state<Ask['conditions']>([])
  let tailstock = $state(true)
  let length = $state<number | null>(null)
  let rated = $state<number | null>(null)
  let lathe = $state<number | null>(null)
  let mass = $state<number | null>(null)
  let weight = $state<number | null>(null)
  let radius = $state<number | null>(null)
  const answer = new Loader<Shapes['ReckonOut']>(() => Promise.reject(new Error('not asked')))
  const STAGE_LABELS: Record<Ask['stage'], string> = {
    rough: 'out of round', true: 'running true', finish: 'finishing cuts', part: 'parting off',
    foot: 'reversed, at the foot', sand: 'power sanding', buff: 'buffing', bore: 'boring (the bit’s own diameter)',
  }

  let asked = $state(0)
  $effect(() => {
    void asked
    if (swing === null) return
    const body: Ask = { swing_mm: swing, stage, conditions: [...conditions], tailstock, length_mm: length, rated_rpm: rated, mass_kg: mass, weight_g: weight, radius_mm: radius, lathe_id: lathe }
    void answer.load(() => ask(api.POST('/api/bench/reckon/speed', { body })))
  })
  const error = (name: string) => answer.refusal?.of(name)
  let shown = $derived(answer.data)
  let conditionList = $derived(Object.entries(shown?.conditions ?? {}) as [Ask['conditions'][number], string][])
</script>

<h2 id="reckoner-title">Reckoner: how fast?</h2>
<p class="quiet mb-2">For a bare size, with no piece at all. Type 11 1/4 in, 28cm or 280.</p>
<div class="fields">
  <NumberField name="swing_mm" label="Swing: the circle the farthest corner sweeps" bind:value={swing} error={error('swing_mm') ?? error('diameter_mm')} />
  <ChoiceField name="stage" label="Doing" bind:value={stage as string} options={Object.entries(STAGE_LABELS).map(([key, label]) => ({ key, label }))} />
  {#if (shown?.lathes.length ?? 0) > 1}<ChoiceField name="lathe" label="On" value={String(lathe ?? shown?.lathes[0]?.id ?? '')} options={(shown?.lathes ?? []).map((l) => ({ key: String(l.id), label: l.name }))} onchange={(v) => (lathe = Number(v))} />{/if}
  <NumberField name="length_mm" label="Length out from the headstock" bind:value={length} error={error('length_mm')} optional />
  <NumberField name="rated_rpm" label="Rating of its plate or jaws" bind:value={rated} error={error('rated_rpm')} optional />
</div>
<details class="more"><summary>Out of balance, measured</summary>
  <p class="quiet">Lathe off, belt loose: let the heavy side sink, hang a weight on the light side until it stays where you leave it.</p>
  <div class="fields">
    <NumberField name="mass_kg" label="The work weighs" bind:value={mass} error={error('mass_kg')} optional />
    <NumberField name="weight_g" label="Weight hung on" bind:value={weight} error={error('weight_g')} optional />
    <NumberField name="radius_mm" label="That far from the axis" bind:value={radius} error={error('radius_mm')} optional />
  </div></details>
<div class="my-3 flex flex-wrap gap-x-6 gap-y-2">
  <label class="tick"><input type="checkbox" class="checkbox" bind:checked={tailstock} /> tailstock up</label>
  {#each conditionList as [key, label] (key)}
    <label class="tick"><input type="checkbox" class="checkbox" value={key} bind:group={conditions} /> {label}</label>
  {/each}
</div>
<Refused refusal={answer.refusal} fields={['swing_mm', 'diameter_mm', 'length_mm', 'rated_rpm', 'mass_kg', 'weight_g', 'radius_mm']} />
{#if shown}
  <div class={answer.refusal ? 'out-of-date' : ''} aria-live="polite"><FigureView figure={shown.speed} />
    <LimitBar limits={shown.speed.limits ?? []} low={shown.speed.low ?? 0} high={shown.speed.high ?? 0} named /></div>
  {#if shown.balance}<p data-figure="balance">Its middle of weight runs {show('a_mm', shown.balance.offset_mm, session.prefs)} off the axis: balance grade G {shown.balance.grade} at the top of the band.</p>{/if}
  {#if shown.last.length}<LastSpeeds speeds={shown.last} />{/if}
  <details class="more"><summary>How fast the surface runs</summary>
    <table class="plain"><thead><tr><th>Radius</th><th>Slow end</th><th>Fast end</th>{#if shown.surface[0]?.push_n != null}<th>The motor can push</th>{/if}</tr></thead>
      <tbody>{#each shown.surface as r (r.radius_mm)}<tr><td>{r.radius_mm < 0.5 ? 'centre' : show('a_mm', r.radius_mm, session.prefs)}</td><td>{r.low_m_s.toFixed(1)} m/s</td><td>{r.high_m_s.toFixed(1)} m/s</td>{#if shown.surface[0]?.push_n != null}<td>{r.push_n == null ? '' : show('a_n', r.push_n, session.prefs)}</td>{/if}</tr>{/each}</tbody></table></details>
  <SpeedNote {stage} swing={swing ?? 0} onnoted={() => (asked += 1)} />
  <Chatter {stage} speed={shown.speed.high ?? 500} />
  <p class="caution care"><strong>Mind.</strong> Start low, turn it by hand first, stand out of its line. The lathe’s manual and your training come before this figure.</p>
{/if}
