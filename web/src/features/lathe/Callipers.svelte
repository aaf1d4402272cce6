<script lang="ts">
  import { api, ask, refusalOf, type Refusal, type Shapes } from '$lib/api/client'
  import NumberField from '$lib/ui/NumberField.svelte'
  import Refused from '$lib/ui/Refused.svelte'
  import Said from '$lib/ui/Said.svelte'
  import { session } from '$lib/session.svelte'
  import { show } from '$lib/units/units'

  interface Props {
    tag: string
    callipers: readonly Shapes['CalliperOut'][]
    readings: readonly Shapes['ReadingCheck'][]
    onread: (design: Shapes['DesignOut']) => void
  }
  let { tag, callipers, readings, onread }: Props = $props()
  let z = $state<number | null>(null)
  let wall = $state<number | null>(null)
  let refusal = $state.raw<Refusal | undefined>()
  const mm = (v: number) => show('a_mm', v, session.prefs)
  const words = (r: Shapes['CalliperOut']) => readings.find((c) => c.z_mm === r.z_mm && c.wall_mm === r.wall_mm)

  async function act(call: Promise<unknown>) {
    try {
      onread((await call) as Shapes['DesignOut'])
      refusal = undefined
      wall = null
    } catch (error) {
      refusal = refusalOf(error)
    }
  }
  const note = () => z !== null && wall !== null && act(ask(api.POST('/api/lathe/{tag}/callipers', { params: { path: { tag } }, body: { z_mm: z, wall_mm: wall } })))
  const drop = (id: number) => act(ask(api.DELETE('/api/lathe/{tag}/callipers/{reading_id}', { params: { path: { tag, reading_id: id } } })))
</script>

<section aria-labelledby="callipers-h" class="no-print">
  <h2 id="callipers-h">Callipers</h2>
  <div class="fields">
    <NumberField name="z_mm" label="Height above the foot" bind:value={z} error={refusal?.of('z_mm')} />
    <NumberField name="wall_mm" label="Wall read" bind:value={wall} error={refusal?.of('wall_mm')} />
  </div>
  <button class="btn mt-2" disabled={z === null || wall === null} onclick={note}>Note it</button>
  <Refused {refusal} fields={['z_mm', 'wall_mm']} />
  <ul class="fold-lines">
    {#each callipers as r (r.id)}
      {@const w = words(r)}
      <li><strong>{mm(r.wall_mm)}</strong> at {mm(r.z_mm)}. {#if w}<Said text={w.words} />{/if}
        <button class="btn btn-ghost" onclick={() => drop(r.id)}>Take back<span class="sr-only"> the reading at {mm(r.z_mm)}</span></button></li>
    {/each}
  </ul>
</section>
