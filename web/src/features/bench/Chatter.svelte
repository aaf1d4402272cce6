<script lang="ts">
  import { untrack } from 'svelte'
  import { api, ask, type Shapes } from '$lib/api/client'
  import { Loader } from '$lib/api/loader.svelte'
  import ChoiceField from '$lib/ui/ChoiceField.svelte'
  import NumberField from '$lib/ui/NumberField.svelte'
  import Refused from '$lib/ui/Refused.svelte'
  import Said from '$lib/ui/Said.svelte'

  /** It chatters: what to change, in which order. */
  interface Props {
    stage: string
    speed: number
  }
  let { stage, speed }: Props = $props()
  let open = $state(false)
  let sign = $state('rim')
  let now = $state<number | null>(untrack(() => speed))
  let overhang = $state<number | null>(null)
  let bar = $state<number | null>(null)
  let wall = $state<number | null>(null)
  const SIGNS = [{ key: 'rim', label: 'rings or a howl at the rim' }, { key: 'inside-deep', label: 'rings deep inside' }, { key: 'tool', label: 'the tool hums in the hand' },
    { key: 'whole-lathe', label: 'the whole lathe shakes' }, { key: 'foot', label: 'it wobbles more and more at the foot' }, { key: 'sudden', label: 'it came all at once' }]
  const advice = new Loader<Shapes['Advice']>(() => ask(api.POST('/api/lathe/chatter', { body: { stage, sign, speed_rpm: now ?? speed, overhang_mm: overhang, bar_mm: bar, wall_mm: wall, green: false } })) as Promise<Shapes['Advice']>)
  $effect(() => {
    void [stage, sign, now, overhang, bar, wall]
    if (open) untrack(() => void advice.load())
  })
</script>

<details class="more" bind:open><summary>It chatters</summary>
  <div class="fields">
    <ChoiceField name="sign" label="What happens" bind:value={sign} options={SIGNS} />
    <NumberField name="speed_rpm" label="Speed now" bind:value={now} error={advice.refusal?.of('speed_rpm')} />
    <NumberField name="overhang_mm" label="Tool over the rest" bind:value={overhang} optional />
    <NumberField name="bar_mm" label="Its thickness" bind:value={bar} optional />
    <NumberField name="wall_mm" label="Wall there" bind:value={wall} optional />
  </div>
  <Refused refusal={advice.refusal} fields={['speed_rpm']} />
  {#if advice.data}
    {#if advice.data.stop}<p class="caution stop"><strong>Stop.</strong> Lathe off before anything else.</p>{/if}
    <ol class="steps" data-figure="chatter">{#each advice.data.steps as s (s.code)}<li><Said text={s} /></li>{/each}</ol>
  {/if}
</details>
