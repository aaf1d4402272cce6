<script lang="ts">
  import { api, ask, refusalOf, type Refusal, type Shapes } from '$lib/api/client'
  import { session } from '$lib/session.svelte'
  import NumberField from '$lib/ui/NumberField.svelte'
  import Refused from '$lib/ui/Refused.svelte'
  import { moment, show } from '$lib/units/units'
  import QuestionBox from './QuestionBox.svelte'

  interface Props {
    weights: readonly Shapes['WeighInOut'][]
    onchange: () => void
  }
  let { weights, onchange }: Props = $props()
  let editing = $state<number | undefined>()
  let value = $state<number | null>(null)
  let refusal = $state.raw<Refusal | undefined>()
  let newest = $derived([...weights].reverse())

  async function correct(id: number) {
    if (value === null) return
    try {
      await ask(api.POST('/api/drying/weigh-ins/{weigh_in_id}/correct', {
        params: { path: { weigh_in_id: id } },
        body: { key: crypto.randomUUID(), mass_g: value, typed: show('a_g', value, session.prefs) },
      }))
      editing = undefined
      refusal = undefined
      onchange()
    } catch (error) {
      refusal = refusalOf(error)
    }
  }
</script>

<ul class="weight-list">
  {#each newest as w (w.id)}
    <li class="ruled py-1" data-state={w.state}>
      <span class={w.state === 'corrected' ? 'struck' : 'font-semibold'}>{show('mass_g', w.mass_g, session.prefs)}</span>
      <span class="quiet">{moment(w.at)}{w.state === 'corrected' ? ', corrected' : w.corrects_id ? ', the corrected figure' : ''}</span>
      {#if w.state === 'accepted' && editing !== w.id}
        <button class="btn btn-sm btn-ghost" onclick={() => { editing = w.id; value = w.mass_g }}>Correct<span class="sr-only"> {show('mass_g', w.mass_g, session.prefs)}</span></button>
      {/if}
      {#if w.state === 'questioned'}<QuestionBox weight={w} onanswered={onchange} />{/if}
      {#if editing === w.id}
        <form class="flex items-end gap-2" onsubmit={(e) => { e.preventDefault(); void correct(w.id) }}>
          <NumberField name="mass_g" label="The right weight" bind:value error={refusal?.of('mass_g')} />
          <button class="btn">Keep</button><button type="button" class="btn btn-ghost" onclick={() => (editing = undefined)}>Leave it</button>
        </form>
        <Refused {refusal} fields={['mass_g']} />
      {/if}
    </li>
  {:else}<li class="quiet">Not weighed yet: the first weight tells most.</li>{/each}
</ul>
