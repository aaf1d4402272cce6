<script lang="ts">
  import ChoiceField from '$lib/ui/ChoiceField.svelte'
  import NumberField from '$lib/ui/NumberField.svelte'
  import { session } from '$lib/session.svelte'
  import { read } from '$lib/units/units'
  import { pairsOf, rowsOf } from './trace'
  import type { ShapeState } from './shape.svelte'

  interface Props {
    bench: ShapeState
  }
  let { bench }: Props = $props()
  let text = $state('')
  let measures = $state('')
  let bottom = $state<number | null>(10)
  let axis = $state('left')
  let bad = $state('')
  const POINTS = '40 0\n80 12\n120 60\n128 105'
  const ROWS = '0 100 9\n30 190 7\n60 240 6\n95 255 6'
  const AXES = [{ key: 'left', label: 'its left edge' }, { key: 'right', label: 'its right edge' }, { key: 'middle', label: 'its middle' }]
  const length = (word: string) => read('a_mm', word, session.prefs)

  async function points() {
    const pairs = pairsOf(text, length)
    bad = pairs ? '' : 'Each line wants two figures: out from the axis, and up. Such as 40 0.'
    if (pairs) await bench.trace({ kind: 'points', points: pairs, handles: 9 })
  }
  async function measured() {
    const rows = rowsOf(measures, length)
    bad = rows ? '' : 'Each line wants three figures: height, diameter outside, wall. Such as 20 180 7.'
    if (rows) await bench.trace({ kind: 'measures', measures: rows, bottom_mm: bottom ?? 10 })
  }
  async function file(chosen: File | undefined) {
    if (!chosen) return
    const kind = chosen.name.toLowerCase().endsWith('.dxf') ? 'dxf' : 'svg'
    await bench.trace({ kind, text: await chosen.text(), axis: axis as 'left', handles: 9 })
  }
</script>

<details class="more"><summary>From a card, a file or a bowl</summary>
  <div class="field mt-2"><label for="traced">Traced points, one a line: out, up</label>
    <textarea id="traced" class="textarea w-full" rows="4" bind:value={text} placeholder={POINTS}></textarea></div>
  <button class="btn" disabled={!text.trim()} onclick={points}>Lay a curve through them</button>
  <ChoiceField name="axis" label="In a file the axis is" bind:value={axis} options={AXES} />
  <p class="my-2"><label class="btn" for="profile-in">Read an SVG or DXF file</label><input id="profile-in" class="sr-only" type="file" accept=".svg,.dxf,image/svg+xml" onchange={(e) => file(e.currentTarget.files?.[0])} /></p>
  <div class="field mt-2"><label for="measured">A bowl measured: height, diameter, wall</label>
    <textarea id="measured" class="textarea w-full" rows="4" bind:value={measures} placeholder={ROWS}></textarea></div>
  <NumberField name="under_mm" label="Its bottom" bind:value={bottom} />
  <button class="btn mt-2" disabled={!measures.trim()} onclick={measured}>Draw the bowl as it is</button>
  {#if bad}<p class="wrong" role="alert">{bad}</p>{/if}
</details>
