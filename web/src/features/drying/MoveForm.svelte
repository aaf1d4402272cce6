<script lang="ts">
  import { untrack } from 'svelte'
  import { api, ask, refusalOf, type Refusal, type Shapes } from '$lib/api/client'
  import { Loader } from '$lib/api/loader.svelte'
  import ChoiceField from '$lib/ui/ChoiceField.svelte'
  import Refused from '$lib/ui/Refused.svelte'
  import WhenField from '$lib/ui/WhenField.svelte'

  interface Props {
    tag: string
    stay?: Shapes['StayOut'] | undefined
    /** When it came to lie there; null for now. */
    since: string | null
    onmoved: () => void
  }
  let { tag, stay, since, onmoved }: Props = $props()
  const shop = new Loader(() => ask(api.GET('/api/shop')))
  let place = $state('')
  let wrap = $state(untrack(() => stay?.wrap ?? 'open-shelf'))
  let sealed = $state(untrack(() => stay?.ends_sealed ?? false))
  let at = $state<string | null>(untrack(() => since))
  let refusal = $state.raw<Refusal | undefined>()
  let busy = $state(false)
  $effect(() => {
    void shop.load().then(() => {
      const places = shop.data?.places ?? []
      place = String((places.find((p) => p.name === stay?.place) ?? places[0])?.id ?? '')
    })
  })
  let places = $derived((shop.data?.places ?? []).map((p) => ({ key: String(p.id), label: `${p.name} (settles at ${p.emc_pct.toFixed(1)} %)` })))
  let wraps = $derived((shop.data?.wraps ?? []).map((w) => ({ key: w.key, label: `${w.label}: ${w.note}` })))

  async function put() {
    busy = true
    try {
      await ask(api.POST('/api/drying/{tag}/stays', { params: { path: { tag } }, body: { place_id: Number(place), wrap, ends_sealed: sealed, at } }))
      refusal = undefined
      onmoved()
    } catch (error) {
      refusal = refusalOf(error)
    }
    busy = false
  }
</script>

<form onsubmit={(e) => { e.preventDefault(); void put() }}>
  <div class="fields my-2">
    <ChoiceField name="place_id" label="Place" bind:value={place} options={places} error={refusal?.of('place_id')} />
    <ChoiceField name="wrap" label="Kept" bind:value={wrap} options={wraps} error={refusal?.of('wrap')} />
    <WhenField label="Since" bind:value={at} error={refusal?.of('at')} />
  </div>
  <label class="tick"><input type="checkbox" class="checkbox" bind:checked={sealed} /> end grain sealed with wax</label>
  <Refused {refusal} fields={['place_id', 'wrap', 'at']} />
  <div class="mt-2"><button class="btn btn-primary" disabled={busy || !place}>It lies there</button></div>
</form>
