<script lang="ts">
  import { untrack } from 'svelte'
  import { api, ask, refusalOf, type Refusal, type Shapes } from '$lib/api/client'
  import { Loader } from '$lib/api/loader.svelte'
  import AirChart from '$lib/draw/AirChart.svelte'
  import NumberField from '$lib/ui/NumberField.svelte'
  import Refused from '$lib/ui/Refused.svelte'
  import Said from '$lib/ui/Said.svelte'
  import TableImport from '$lib/ui/TableImport.svelte'
  import TextField from '$lib/ui/TextField.svelte'
  import { session } from '$lib/session.svelte'
  import { day, moment, show } from '$lib/units/units'

  interface Props {
    params: { id: string }
  }
  let { params }: Props = $props()
  let id = $derived(Number(params.id))
  let at = $derived({ params: { path: { place_id: id } } })
  const shop = new Loader(() => ask(api.GET('/api/shop')))
  const climate = new Loader<Shapes['ClimateOut']>(() => ask(api.GET('/api/shop/places/{place_id}/climate', at)))
  let refusal = $state.raw<Refusal | undefined>()
  let said = $state('')
  let seasons = $state<Record<string, { air_c: number | null; rh_pct: number | null }>>({})
  let url = $state('')
  let target = $state<number | null>(8)
  let boxC = $state<number | null>(35)
  const box = new Loader<Shapes['BoxAir']>(() => ask(api.GET('/api/drying/box', { params: { query: { target_mc_pct: target ?? 8, box_c: boxC ?? 35, place_id: id } } })))
  let place = $derived(shop.data?.places.find((p) => p.id === id))

  async function load() {
    await shop.load()
    if (place) {
      url = place.logger_url
      seasons = Object.fromEntries((shop.data?.seasons ?? []).map((s) => [s.key, { air_c: place.seasons[s.key]?.[0] ?? null, rh_pct: place.seasons[s.key]?.[1] ?? null }]))
    }
  }
  $effect(() => {
    untrack(() => {
      const started = load()
      void climate.load()
      void box.load()
      void started.then(live)
    })
    const timer = setInterval(() => void live(), 60_000)
    return () => clearInterval(timer)
  })
  async function act(call: () => Promise<unknown>, words: string) {
    try {
      await call()
      refusal = undefined
      said = words
      await Promise.all([shop.load(), climate.load()])
    } catch (error) {
      refusal = refusalOf(error)
    }
  }
  function save() {
    const typed = Object.entries(seasons).filter(([, v]) => v.air_c !== null && v.rh_pct !== null)
    const body = { name: place?.name ?? '', air_c: place?.air_c ?? 18, rh_pct: place?.rh_pct ?? 50, seasons: Object.fromEntries(typed.map(([k, v]) => [k, [v.air_c, v.rh_pct]])), logger_url: url.trim() }
    return act(() => ask(api.PUT('/api/shop/places/{place_id}', { ...at, body: body as unknown as Shapes['PlaceIn'] })), 'Kept; every forecast that lay there is worked out anew.')
  }
  const read = () => act(async () => { const found = await ask(api.POST('/api/shop/places/{place_id}/climate/read', at)); climate.set(found); said = `${found.new} new readings.` }, '')
  const example = 'time;temperature;humidity\n2026-03-02 09:00;17.5;58'
  /** While this page is open a place with a logger is read by itself, once a minute. */
  const live = async () => {
    if (place?.logger_url && !document.hidden) await read()
  }
  const UNITS = [{ key: 'c', label: '°C' }, { key: 'f', label: '°F' }]
</script>

<Refused refusal={shop.refusal} />
{#if place}
  <div class="head"><h1>Air of {place.name}</h1><div class="head-actions"><a class="btn" href="#/shop">To the shop</a></div></div>
  <p>Usually {show('a_c', place.air_c, session.prefs)} and {place.rh_pct} %: wood settles at {place.emc_pct.toFixed(1)} %. What a logger read goes before what was typed; a season typed goes before the usual.</p>
  <Refused {refusal} fields={['logger_url']} />
  {#if said}<p role="status" class="quiet">{said}</p>{/if}
  {#if climate.data?.spells.length}<AirChart spells={climate.data.spells} />{/if}
  <div class="place-two">
    <section><h2>By season</h2>
      {#each shop.data?.seasons ?? [] as s (s.key)}{#if seasons[s.key]}<div class="season"><span class="field-name">{s.label}</span>
        <NumberField name="{s.key}_c" label="Air" bind:value={seasons[s.key]!.air_c} optional /><NumberField name="{s.key}_rh_pct" label="Humidity" bind:value={seasons[s.key]!.rh_pct} optional /></div>{/if}{/each}
      <h2 class="mt-4">Its logger</h2>
      <TextField name="logger_url" label="Address" bind:value={url} error={refusal?.of('logger_url')} hint="on the workshop's own network, such as http://192.168.0.20/air.json" />
      <div class="mt-3 flex flex-wrap gap-2"><button class="btn btn-primary" onclick={save}>Keep seasons and address</button>
        <button class="btn" disabled={!place.logger_url} onclick={read}>Read the logger now</button></div>
    </section>
    <section><h2>What must a box's air be?</h2>
      <div class="fields"><NumberField name="target_mc_pct" label="To settle at" bind:value={target} onchange={() => box.load()} error={box.refusal?.of('target_mc_pct')} />
        <NumberField name="box_c" label="In a box kept at" bind:value={boxC} onchange={() => box.load()} error={box.refusal?.of('box_c')} /></div>
      <Refused refusal={box.refusal} fields={['target_mc_pct', 'box_c']} />
      {#if box.data}<div class="big-figure mt-2" data-figure="box">{box.data.rh_pct.toFixed(0)} %</div><p><Said text={box.data.words} /></p>
        <p class="caution care"><strong>Mind.</strong> A box with a lamp or heater can burn: away from shavings, with a thermostat, never sealed tight.</p>{/if}
    </section>
  </div>
  <section class="mt-5"><h2>Readings as a table</h2>
    <p class="quiet mb-2">{climate.data?.readings ?? 0} readings{climate.data?.last_at ? `, the last of ${moment(climate.data.last_at)}; since ${day(climate.data.first_at)}` : ''}. {#if climate.data?.readings}<a class="link" href="/api/shop/places/{id}/climate.csv" download>All as CSV</a>{/if}</p>
    <TableImport units={UNITS} heads={['When', 'Air', 'Humidity']} {example} onkept={() => climate.load()}
      send={(r) => ask(api.POST('/api/shop/places/{place_id}/climate/table', { ...at, body: r }))}>
      {#snippet cells(row: Shapes['AirTableRow'])}<td>{row.at ? moment(row.at) : ''}</td><td>{row.air_c ?? ''}</td><td>{row.rh_pct ?? ''}</td>{/snippet}
    </TableImport></section>
{/if}
