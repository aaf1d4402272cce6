<script lang="ts">
  import { api, ask, refusalOf, type Refusal, type Shapes } from '$lib/api/client'
  import { session } from '$lib/session.svelte'
  import Refused from '$lib/ui/Refused.svelte'
  import Said from '$lib/ui/Said.svelte'
  import { show } from '$lib/units/units'

  /** What is odd about a weight, and the ways to mend it; the turner decides. */
  interface Props {
    weight: Shapes['WeighInOut']
    onanswered: (weight: Shapes['WeighInOut']) => void
    focus?: boolean
  }
  let { weight, onanswered, focus = false }: Props = $props()
  interface Asked {
    sentence?: { template: string; params: Record<string, number | string> }
    meant_g?: number | null
    meant_tags?: string[]
  }
  let asked = $derived(weight.question as Asked)
  let refusal = $state.raw<Refusal | undefined>()
  let box = $state<HTMLElement>()
  $effect(() => {
    if (focus) box?.querySelector('button')?.focus()
  })

  async function answer(call: () => Promise<Shapes['WeighInOut']>) {
    try {
      onanswered(await call())
    } catch (error) {
      refusal = refusalOf(error)
    }
  }
  const path = () => ({ params: { path: { weigh_in_id: weight.id } } })
  const right = () => answer(() => ask(api.POST('/api/drying/weigh-ins/{weigh_in_id}/accept', path())))
  const mend = (mass_g: number, tag: string | null = null) =>
    answer(() => ask(api.POST('/api/drying/weigh-ins/{weigh_in_id}/correct', {
      ...path(), body: { key: crypto.randomUUID(), mass_g, typed: show('a_g', mass_g, session.prefs), tag },
    })))
</script>

<div bind:this={box} class="question" role="group" aria-label="About this weight">
  {#if asked.sentence}<p><Said text={asked.sentence} /></p>{/if}
  <div class="flex flex-wrap gap-2">
    {#if asked.meant_g}<button class="btn" onclick={() => mend(asked.meant_g ?? 0)}>Make it {show('a_g', asked.meant_g, session.prefs)}</button>{/if}
    {#each asked.meant_tags ?? [] as tag (tag)}<button class="btn" onclick={() => mend(weight.mass_g, tag)}>It was {tag}</button>{/each}
    <button class="btn" onclick={right}>{show('a_g', weight.mass_g, session.prefs)} is right</button>
  </div>
  <Refused {refusal} />
</div>
