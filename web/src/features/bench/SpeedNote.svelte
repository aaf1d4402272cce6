<script lang="ts">
  import { api, ask, refusalOf, type Refusal, type Shapes } from '$lib/api/client'
  import ChoiceField from '$lib/ui/ChoiceField.svelte'
  import NumberField from '$lib/ui/NumberField.svelte'
  import Refused from '$lib/ui/Refused.svelte'
  import TextField from '$lib/ui/TextField.svelte'

  /** Write down the speed that was used, for the next time. */
  interface Props {
    stage: string
    swing: number
    tag?: string
    onnoted: () => void
  }
  let { stage, swing, tag, onnoted }: Props = $props()
  let speed = $state<number | null>(null)
  let felt = $state('calm')
  let words = $state('')
  let refusal = $state.raw<Refusal | undefined>()
  let done = $state('')
  const FELT = [{ key: 'calm', label: 'calm' }, { key: 'hums', label: 'it hummed' }, { key: 'chatters', label: 'it chattered' }, { key: 'sketchy', label: 'it felt wrong' }]
  async function note() {
    try {
      await ask(api.POST('/api/lathe/speeds', { body: { stage, swing_mm: swing, speed_rpm: speed ?? 0, felt: felt as Shapes['SpeedIn']['felt'], words, tag: tag ?? null } }))
      refusal = undefined
      done = 'Noted for next time.'
      speed = null
      words = ''
      onnoted()
    } catch (error) {
      refusal = refusalOf(error)
    }
  }
</script>

<details class="more"><summary>Note the speed you used</summary>
  <div class="fields">
    <NumberField name="speed_rpm" label="Speed" bind:value={speed} error={refusal?.of('speed_rpm')} />
    <ChoiceField name="felt" label="It was" bind:value={felt} options={FELT} />
    <TextField name="words" label="In your words" bind:value={words} />
  </div>
  <Refused {refusal} fields={['speed_rpm']} />
  <button class="btn mt-2" disabled={speed === null} onclick={note}>Note it</button>
  {#if done}<span role="status" class="quiet"> {done}</span>{/if}
  {#if felt === 'sketchy'}<p class="caution stop"><strong>Stop.</strong> What feels wrong is wrong: lathe off, and find out why before it turns again.</p>{/if}
</details>
