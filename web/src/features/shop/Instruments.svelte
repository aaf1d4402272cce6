<script lang="ts">
  import { api, ask, refusalOf, type Refusal, type Shapes } from '$lib/api/client'
  import NumberField from '$lib/ui/NumberField.svelte'
  import ChoiceField from '$lib/ui/ChoiceField.svelte'
  import Refused from '$lib/ui/Refused.svelte'
  import TextField from '$lib/ui/TextField.svelte'
  import { session } from '$lib/session.svelte'
  import { show } from '$lib/units/units'

  interface Props {
    found: Shapes['InstrumentsOut']
    species: readonly { key: string; label: string }[]
    onsaved: () => void
  }
  let { found, species, onsaved }: Props = $props()
  // svelte-ignore state_referenced_locally
  let scale = $state(found.scale_url)
  // svelte-ignore state_referenced_locally
  let meter = $state(found.meter_url)
  let wood = $state('')
  let adds = $state<number | null>(null)
  let refusal = $state.raw<Refusal | undefined>()
  let said = $state('')

  async function act(call: () => Promise<string>) {
    try {
      said = await call()
      refusal = undefined
      onsaved()
    } catch (error) {
      refusal = refusalOf(error)
    }
  }
  const save = (body: Shapes['InstrumentsIn'], words: string) => act(async () => { await ask(api.PATCH('/api/shop/instruments', { body })); return words })
  const corrections = () => Object.entries(found.meter_corrections)
  const label = (key: string) => species.find((s) => s.key === key)?.label ?? key
  const tryScale = () => act(async () => {
    const r = await ask(api.GET('/api/drying/scale'))
    return r.mass_g === null ? r.words : `The scale shows ${show('a_g', r.mass_g, session.prefs)}. ${r.words}`
  })
  const tryMeter = () => act(async () => {
    const r = await ask(api.GET('/api/drying/meter'))
    return r.shown_pct === null ? r.words : `The meter shows ${r.shown_pct.toFixed(1)} %.`
  })
</script>

<form onsubmit={(e) => { e.preventDefault(); void save({ scale_url: scale.trim(), meter_url: meter.trim() }, 'Kept.') }}>
  <TextField name="scale_url" label="Scale" bind:value={scale} error={refusal?.of('scale_url')} hint="a port such as /dev/ttyUSB0, or socket://192.168.0.30:4001 of an adapter" />
  <TextField name="meter_url" label="Moisture meter" bind:value={meter} error={refusal?.of('meter_url')} hint="the same; empty where figures are typed" />
  <Refused {refusal} fields={['scale_url', 'meter_url', 'adds_pct', 'species']} />
  <div class="my-2 flex flex-wrap gap-2"><button class="btn btn-primary">Keep</button>
    <button type="button" class="btn" disabled={!found.scale_url} onclick={tryScale}>Try the scale</button><button type="button" class="btn" disabled={!found.meter_url} onclick={tryMeter}>Try the meter</button></div>
</form>
{#if said}<p role="status">{said}</p>{/if}
<details class="more"><summary>What the meter's sheet adds for a wood ({corrections().length})</summary>
  <ul>{#each corrections() as [key, value] (key)}<li class="ruled py-1 flex items-center gap-2">{label(key)}: {value > 0 ? '+' : ''}{value} %
    <button class="btn btn-ghost" onclick={() => save({ meter_corrections: Object.fromEntries(corrections().filter(([k]) => k !== key)) }, 'Left out.')}>Leave out<span class="sr-only"> {label(key)}</span></button></li>{/each}</ul>
  <form class="fields mt-2" onsubmit={(e) => { e.preventDefault(); void save({ meter_corrections: { ...found.meter_corrections, [wood]: adds ?? 0 } }, 'Kept.') }}>
    <ChoiceField name="species" label="Wood" bind:value={wood} options={[{ key: '', label: 'choose' }, ...species]} error={refusal?.of('species')} />
    <NumberField name="adds_pct" label="Adds" bind:value={adds} error={refusal?.of('adds_pct')} />
    <div><button class="btn" disabled={!wood || adds === null}>Add it</button></div></form>
</details>
