<script lang="ts">
  import { untrack } from 'svelte'
  import Section from '$lib/draw/Section.svelte'
  import Refused from '$lib/ui/Refused.svelte'
  import WhichWayPart from './WhichWayPart.svelte'
  import { ShapeState } from './shape.svelte'

  /** A short page to learn by: pick a form, see which way each cut goes and why. */
  const bench = new ShapeState()
  const FORMS = [
    { key: 'hemisphere', label: 'Bowl', width: 260, height: 105, grain: 'side-grain' }, { key: 'ogee', label: 'Double curve', width: 260, height: 110, grain: 'side-grain' },
    { key: 'platter', label: 'Platter', width: 300, height: 45, grain: 'side-grain' }, { key: 'closed', label: 'Vase', width: 150, height: 200, grain: 'end-grain' },
    { key: 'bottle', label: 'Bottle', width: 120, height: 240, grain: 'end-grain' },
  ] as const
  let chosen = $state<(typeof FORMS)[number]>(FORMS[0])
  async function pick(form: (typeof FORMS)[number]) {
    bench.sizes = { width_mm: form.width, height_mm: form.height, foot_mm: null }
    await bench.layFamily({ family: form.key })
    chosen = form
  }
  $effect(() => void untrack(() => pick(FORMS[0])))
</script>

<div class="head"><div><h1>Which way to cut</h1><p class="quiet">A fibre is held up by the ones below it. Cut so that there always are some below.</p></div>
  <div class="head-actions"><a class="btn" href="#/bench">To the bench</a></div></div>
<div class="tabs-line" role="group" aria-label="Forms">{#each FORMS as f (f.key)}<button aria-pressed={chosen.key === f.key} onclick={() => pick(f)}>{f.label}</button>{/each}</div>
<Refused refusal={bench.refusal} />
{#if bench.shown}{#key chosen.key}<WhichWayPart {bench} grain={chosen.grain} />{/key}
  <details class="more mt-4"><summary>The whole form</summary><div class="odd-draw"><Section shape={bench.shown} outer={[]} inner={[]} picked={null} foot={{ kind: 'none', diameter: 0, length: 0 }} label="Half section of the form" /></div></details>
{/if}
<p class="caution stop mt-4"><strong>Stop.</strong> A picture teaches the direction and not the hand: learn it beside somebody who turns, with a face shield on. A roughing gouge for spindles never touches a bowl.</p>
