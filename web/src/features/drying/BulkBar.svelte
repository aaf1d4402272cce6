<script lang="ts">
  import { api, ask, refusalOf, type Refusal } from '$lib/api/client'
  import { Loader } from '$lib/api/loader.svelte'
  import ChoiceField from '$lib/ui/ChoiceField.svelte'
  import Refused from '$lib/ui/Refused.svelte'
  import type { Chosen } from './floor.svelte'

  /** What to do with all the pieces chosen at once. */
  interface Props {
    chosen: Chosen
    tags: readonly string[]
    onmoved: () => void
  }
  let { chosen, tags, onmoved }: Props = $props()
  const shop = new Loader(() => ask(api.GET('/api/shop')))
  let place = $state('')
  let wrap = $state('')
  let sealed = $state('')
  let refusal = $state.raw<Refusal | undefined>()
  let said = $state('')
  let asked = false
  $effect(() => {
    if (chosen.size && !asked) {
      asked = true
      void shop.load()
    }
  })
  async function go() {
    try {
      const done = await ask(api.POST('/api/drying/bulk', {
        body: { tags: [...chosen.tags], place_id: place ? Number(place) : null, wrap: wrap || null, ends_sealed: sealed ? sealed === 'yes' : null },
      }))
      said = `${done.moved} pieces noted.`
      refusal = undefined
      chosen.clear()
      place = wrap = sealed = ''
      onmoved()
    } catch (error) {
      refusal = refusalOf(error)
    }
  }
  let hidden = $derived(chosen.tags.filter((t) => !tags.includes(t)).length)
</script>

{#if chosen.size}
  <form class="sheet bulk p-3 my-2" aria-label="All that are chosen" onsubmit={(e) => { e.preventDefault(); void go() }}>
    <p class="font-semibold">{chosen.size} chosen{hidden ? `, ${hidden} of them not shown` : ''}</p>
    <div class="fields">
      <ChoiceField name="bulk-place" label="Put them" bind:value={place} error={refusal?.of('place_id')} options={[{ key: '', label: 'where they are' }, ...(shop.data?.places ?? []).map((p) => ({ key: String(p.id), label: p.name }))]} />
      <ChoiceField name="bulk-wrap" label="Kept" bind:value={wrap} error={refusal?.of('wrap')} options={[{ key: '', label: 'as they are' }, ...(shop.data?.wraps ?? []).map((w) => ({ key: w.key, label: w.label }))]} />
      <ChoiceField name="bulk-sealed" label="End grain" bind:value={sealed} options={[{ key: '', label: 'as it is' }, { key: 'yes', label: 'sealed' }, { key: 'no', label: 'bare' }]} />
    </div>
    <Refused {refusal} fields={['place_id', 'wrap']} />
    <div class="mt-2 flex gap-2"><button class="btn btn-primary" disabled={!place && !wrap && !sealed}>From now on</button><button type="button" class="btn btn-ghost" onclick={() => chosen.clear()}>Let go of them</button></div>
  </form>
{:else if said}<p class="quiet" role="status">{said}</p>{/if}
