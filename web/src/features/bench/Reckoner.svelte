<script lang="ts">
  import { api, ask, type Shapes } from '$lib/api/client'
  import { Loader } from '$lib/api/loader.svelte'
  import ChoiceField from '$lib/ui/ChoiceField.svelte'
  import FigureView from '$lib/ui/FigureView.svelte'
  import NumberField from '$lib/ui/NumberField.svelte'
  import Refused from '$lib/ui/Refused.svelte'

  type Ask = Shapes['ReckonIn']
  let swing = $state<number | null>(280)
  let stage = $state<Ask['stage']>('rough')
  let conditions = $state<Ask['conditions']>([])
  let tailstock = $state(true)
  let length = $state<number | null>(null)
  let rated = $state<number | null>(null)
  const answer = new Loader<Shapes['ReckonOut']>(() => Promise.reject(new Error('not asked')))
  const STAGE_LABELS: Record<Ask['stage'], string> = {
    rough: 'out of round', true: 'running true', finish: 'finishing cuts', part: 'parting off',
    foot: 'reversed, at the foot', sand: 'power sanding', buff: 'buffing', bore: 'boring (the bit’s own diameter)',
  }

  $effect(() => {
    if (swing === null) return
    const body: Ask = { swing_mm: swing, stage, conditions: [...conditions], tailstock, length_mm: length, rated_rpm: rated }
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
  <NumberField name="length_mm" label="Length out from the headstock" bind:value={length} error={error('length_mm')} optional />
  <NumberField name="rated_rpm" label="Rating of its plate or jaws" bind:value={rated} error={error('rated_rpm')} optional />
</div>
<div class="my-3 flex flex-wrap gap-x-6 gap-y-2">
  <label class="tick"><input type="checkbox" class="checkbox" bind:checked={tailstock} /> tailstock up</label>
  {#each conditionList as [key, label] (key)}
    <label class="tick"><input type="checkbox" class="checkbox" value={key} bind:group={conditions} /> {label}</label>
  {/each}
</div>
<Refused refusal={answer.refusal} fields={['swing_mm', 'diameter_mm', 'length_mm', 'rated_rpm']} />
{#if shown}
  <div class={answer.refusal ? 'out-of-date' : ''} aria-live="polite"><FigureView figure={shown.speed} /></div>
  <p class="caution care"><strong>Mind.</strong> Start low, turn it by hand first, stand out of its line. The lathe’s manual and your training come before this figure.</p>
{/if}
