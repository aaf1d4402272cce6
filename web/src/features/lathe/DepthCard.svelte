<script lang="ts">
  import { untrack } from 'svelte'
  import { api, ask, refusalOf, type Refusal, type Shapes } from '$lib/api/client'
  import { Loader } from '$lib/api/loader.svelte'
  import ChoiceField from '$lib/ui/ChoiceField.svelte'
  import FigureView from '$lib/ui/FigureView.svelte'
  import NumberField from '$lib/ui/NumberField.svelte'
  import Refused from '$lib/ui/Refused.svelte'
  import { session } from '$lib/session.svelte'
  import { show } from '$lib/units/units'
  import { saveBlob } from '$lib/files'
  import type { ShapeState } from './shape.svelte'

  interface Props {
    bench: ShapeState
    title: string
  }
  let { bench, title }: Props = $props()
  let every = $state<number | null>(10)
  let set = $state<number | null>(null)
  let paper = $state('A4')
  let refusal = $state.raw<Refusal | undefined>()
  const card = new Loader<Shapes['DepthOut']>(() => ask(api.POST('/api/lathe/depth', { body: { design: bench.design, every_mm: every ?? 10, set_mm: set } })))
  $effect(() => {
    void bench.shown // a new judgement means a new form
    void [every, set]
    untrack(() => void card.load())
  })
  const mm = (v: number | null | undefined) => (v == null ? '' : show('a_mm', v, session.prefs))
  const KINDS = [['svg', 'SVG'], ['pdf', 'PDF'], ['dxf', 'DXF'], ['stl', 'STL'], ['glb', 'GLB']] as const
  async function file(kind: (typeof KINDS)[number][0]) {
    try {
      const answer = await api.POST('/api/lathe/file', { body: { design: bench.design, kind, paper: paper as 'A4', title }, parseAs: 'blob' })
      if (!answer.response.ok) return void (refusal = refusalOf(new Error('no file')))
      saveBlob(answer.data as unknown as Blob, `profile.${kind}`)
      refusal = undefined
    } catch (error) {
      refusal = refusalOf(error)
    }
  }
</script>

<div class="two-up">
  <section aria-labelledby="depth-h">
    <h2 id="depth-h">Depth card</h2>
    <div class="fields no-print">
      <NumberField name="every_mm" label="A row every" bind:value={every} error={card.refusal?.of('every_mm')} />
      <NumberField name="set_mm" label="Spring calliper set to" bind:value={set} error={card.refusal?.of('set_mm')} optional />
    </div>
    <Refused refusal={card.refusal} fields={['every_mm', 'set_mm']} />
    {#if card.data}
      <div class="figures">{#each card.data.figures as f (f.name)}<FigureView figure={f} />{/each}</div>
      <table class="plain depth"><thead><tr><th>Below the rim</th><th>Outside, radius</th><th>Inside, radius</th><th>Wall</th><th>Level</th><th>Gap left of {mm(card.data.rows[0]?.set_mm)}</th></tr></thead>
        <tbody>{#each card.data.rows as r, k (r.depth_mm)}<tr><td><strong>{mm(r.depth_mm)}</strong></td><td>{mm(r.outside_mm)}</td><td>{k === card.data.rows.length - 1 ? 'the floor' : mm(r.inside_mm)}</td><td>{mm(r.wall_mm)}</td><td class="quiet">{mm(r.across_mm)}</td><td>{mm(r.gap_mm)}</td></tr>{/each}</tbody></table>
      <p class="quiet text-sm">The wall is the least distance to the outside; level across it is more where the side leans. The gap is what stays open when the wall is right.</p>
    {/if}
  </section>
  <section aria-labelledby="files-h" class="no-print">
    <h2 id="files-h">Prints and files</h2>
    <p>The half section at full size, outside and inside, with a 100 mm bar to check the print by.</p>
    <ChoiceField name="paper" label="Paper for the PDF" bind:value={paper} options={[{ key: 'A4', label: 'A4' }, { key: 'Letter', label: 'Letter' }]} />
    <div class="shape-tools">{#each KINDS as [kind, label] (kind)}<button class="btn" onclick={() => file(kind)}>{label}</button>{/each}
      <button class="btn" onclick={() => window.print()}>Print this card</button></div>
    <Refused {refusal} />
  </section>
</div>
