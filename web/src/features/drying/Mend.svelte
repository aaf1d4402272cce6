<script lang="ts">
  import { untrack } from 'svelte'
  import { api, ask, refusalOf, type Refusal, type Shapes } from '$lib/api/client'
  import { Loader } from '$lib/api/loader.svelte'
  import ChoiceField from '$lib/ui/ChoiceField.svelte'
  import NumberField from '$lib/ui/NumberField.svelte'
  import Refused from '$lib/ui/Refused.svelte'

  /** What may be wrong of a piece whose weights do not fit: its wood, or its sizes. The turner decides. */
  interface Props {
    drying: Shapes['DryingOut']
    onmended: () => void
  }
  let { drying, onmended }: Props = $props()
  const options = new Loader(() => ask(api.GET('/api/pieces/options')))
  $effect(() => void options.load())
  let wood = $state(untrack(() => drying.species))
  let wall = $state<number | null>(untrack(() => drying.wall_mm))
  let bottom = $state<number | null>(untrack(() => drying.bottom_mm))
  let refusal = $state.raw<Refusal | undefined>()
  let path = $derived({ params: { path: { tag: drying.row.tag } } })

  async function act(call: () => Promise<unknown>) {
    try {
      await call()
      refusal = undefined
      onmended()
    } catch (error) {
      refusal = refusalOf(error)
    }
  }
  const another = () => act(() => ask(api.PATCH('/api/pieces/{tag}', { ...path, body: { species: wood } })))
  const sizes = () => act(() => ask(api.PATCH('/api/drying/{tag}/sizes', { ...path, body: { wall_mm: wall, bottom_mm: bottom } })))
</script>

<div class="sheet p-3 my-2 flex flex-wrap items-end gap-4" data-mend>
  <ChoiceField name="species" label="It is really" bind:value={wood} options={options.data?.species ?? []} error={refusal?.of('species')} />
  <button class="btn" disabled={wood === drying.species} onclick={another}>Take this wood</button>
  <NumberField name="wall_mm" label="Its wall is" bind:value={wall} error={refusal?.of('wall_mm')} />
  <NumberField name="bottom_mm" label="Its bottom is" bind:value={bottom} error={refusal?.of('bottom_mm')} />
  <button class="btn" onclick={sizes}>Take these sizes</button>
  <Refused {refusal} fields={['species', 'wall_mm', 'bottom_mm']} />
</div>
