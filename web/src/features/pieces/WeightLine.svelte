<script lang="ts">
  import { scaleLinear, scaleUtc } from 'd3-scale'
  import { session } from '$lib/session.svelte'
  import { day, show } from '$lib/units/units'

  interface Props {
    weights: readonly { at: string; mass_g: number }[]
  }
  let { weights }: Props = $props()
  const W = 560
  const H = 120
  let points = $derived(weights.map((w) => ({ t: new Date(w.at).getTime(), g: w.mass_g })))
  let low = $derived(Math.min(...points.map((p) => p.g)))
  let high = $derived(Math.max(...points.map((p) => p.g)))
  let x = $derived(scaleUtc([points[0]?.t ?? 0, Math.max(points.at(-1)?.t ?? 1, (points[0]?.t ?? 0) + 1)], [10, W - 110]))
  let y = $derived(scaleLinear([low, high === low ? low + 1 : high], [H - 24, 14]))
  let path = $derived(points.map((p) => `${x(p.t).toFixed(1)},${y(p.g).toFixed(1)}`).join(' '))
  let first = $derived(weights[0])
  let last = $derived(weights.at(-1))
</script>

<svg viewBox="0 0 {W} {H}" class="weight-line" role="img" aria-label="Weight while drying, from {show('a_g', high, session.prefs)} to {show('a_g', low, session.prefs)}">
  <polyline points={path} class="mc-line" />
  {#each points as p (p.t)}<circle cx={x(p.t)} cy={y(p.g)} r="3" class="weighed" />{/each}
  {#if first && last}
    <text x="10" y={H - 4} class="axis-text">{day(first.at)}</text>
    <text x={x(points.at(-1)?.t ?? 0)} y={H - 4} class="axis-text" text-anchor="end">{day(last.at)}</text>
    <text x={x(points[0]?.t ?? 0) + 8} y="12" class="axis-text">{show('a_g', first.mass_g, session.prefs)}</text>
    <text x={x(points.at(-1)?.t ?? 0) + 8} y={y(last.mass_g) + 4} class="axis-text">{show('a_g', last.mass_g, session.prefs)}</text>
  {/if}
</svg>
