<script lang="ts">
  import { untrack } from 'svelte'
  import { api, ask, type Shapes } from '$lib/api/client'
  import { Loader } from '$lib/api/loader.svelte'
  import FigureView from '$lib/ui/FigureView.svelte'
  import Refused from '$lib/ui/Refused.svelte'
  import Said from '$lib/ui/Said.svelte'
  import type { ShapeState } from './shape.svelte'

  interface Props {
    bench: ShapeState
    onlines: (lines: number[][][], missed: number[][]) => void
  }
  let { bench, onlines }: Props = $props()
  const plan = new Loader<Shapes['ReachPlan']>(() => ask(api.POST('/api/lathe/reach', { body: { design: bench.design } })) as Promise<Shapes['ReachPlan']>)
  let chosen = $state('')
  $effect(() => {
    void bench.shown
    untrack(() => void plan.load())
  })
  let bar = $derived(plan.data?.bars.find((b) => b.bar.name === chosen) ?? plan.data?.bars[0])
  $effect(() => {
    const lines = (bar?.spots ?? []).filter((s) => s.reached).map((s) => s.line as number[][])
    const missed = (plan.data?.missed ?? []) as number[][]
    untrack(() => onlines(lines, missed))
  })
</script>

<Refused refusal={plan.refusal} />
{#if plan.refusal?.of('bars')}<p><a class="btn" href="#/shop">Add a bar in the shop</a></p>{/if}
{#if plan.data && bar}
  <div class="two-up">
    <section aria-labelledby="bars-h"><h2 id="bars-h">Bars of this shop</h2>
      <div class="tabs-line" role="group" aria-label="Bars">{#each plan.data.bars as b (b.bar.name)}<button aria-pressed={b.bar.name === bar.bar.name} onclick={() => (chosen = b.bar.name)}>{b.bar.name}: {b.share_pct.toFixed(0)} %</button>{/each}</div>
      <p>It reaches <strong data-figure="reached">{bar.share_pct.toFixed(0)} %</strong> of the inside{plan.data.missed.length ? '; the red points in the drawing are out of reach of every bar' : '; nothing is left out of reach'}.</p>
      <div class="figures">{#each bar.figures as f (f.name)}<FigureView figure={f} />{/each}</div>
      {#each bar.words as w (w.code)}<p class="caution care"><strong>Mind.</strong> <Said text={w} /></p>{/each}
    </section>
    <section aria-labelledby="order-h"><h2 id="order-h">In this order</h2>
      <ol class="steps">{#each plan.data.order as o (o.code)}<li><Said text={o} /></li>{/each}</ol>
      <p class="caution stop"><strong>Stop.</strong> No finger, cloth or wrapped paper inside a closed form that turns. Lathe off to feel, to measure, to clear.</p></section>
  </div>
{/if}
