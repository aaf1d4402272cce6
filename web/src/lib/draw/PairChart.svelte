<script lang="ts">
  import { scaleLinear } from 'd3-scale'
  import { line } from 'd3-shape'
  import type { Shapes } from '$lib/api/client'

  /** A piece and its control: weights as shares of the first, by days of drying. */
  interface Props {
    pair: Shapes['ControlOut']
    tag: string
    wrap: string
  }
  let { pair, tag, wrap }: Props = $props()
  let box = $state(560)
  let W = $derived(Math.min(Math.max(box, 320), 760))
  const H = 220
  const M = { left: 42, right: 118, top: 16, bottom: 34 }
  let own = $derived(pair.own_days.map((d, i) => [d, pair.own_share_pct[i] ?? 100] as [number, number]))
  let other = $derived(pair.days.map((d, i) => [d, pair.share_pct[i] ?? 100] as [number, number]))
  let end = $derived(Math.max(7, ...pair.days, ...pair.own_days))
  let low = $derived(Math.floor((Math.min(90, ...pair.share_pct, ...pair.own_share_pct) - 2) / 5) * 5)
  let x = $derived(scaleLinear([0, end], [M.left, W - M.right]))
  let y = $derived(scaleLinear([low, 100], [H - M.bottom, M.top]))
  let path = $derived(line<[number, number]>().x((p) => x(p[0])).y((p) => y(p[1])))
  let apart = $derived(Math.abs(y(own.at(-1)?.[1] ?? 100) - y(other.at(-1)?.[1] ?? 100)) < 26)
</script>

<figure class="chart" bind:clientWidth={box}>
  <svg viewBox="0 0 {W} {H}" role="img" aria-label="Weights of {tag} and its control {pair.tag} as shares of the first; figures in the table below">
    {#each y.ticks(4) as t (t)}<line x1={M.left} x2={W - M.right} y1={y(t)} y2={y(t)} class="grid" /><text x={M.left - 6} y={y(t) + 4} class="axis-text" text-anchor="end">{t}</text>{/each}
    {#each x.ticks(5) as t (t)}<text x={x(t)} y={H - M.bottom + 16} class="axis-text" text-anchor="middle">{t}</text>{/each}
    <text x={4} y={11} class="axis-text">share of the first weight, %</text><text x={W - M.right} y={H - 4} class="axis-text" text-anchor="end">days of drying</text>
    <path d={path(own) ?? ''} class="pair-own" /><path d={path(other) ?? ''} class="pair-other" />
    {#each own as p (p[0])}<circle cx={x(p[0])} cy={y(p[1])} r="3.5" class="weighed" />{/each}
    {#each other as p (p[0])}<circle cx={x(p[0])} cy={y(p[1])} r="3.5" class="pair-dot" />{/each}
    {#if own.length}<text x={x(own.at(-1)![0]) + 7} y={y(own.at(-1)![1]) - (apart ? 4 : -4)} class="axis-text">{tag}, {wrap.replace(/-/g, ' ')}</text>{/if}
    {#if other.length}<text x={x(other.at(-1)![0]) + 7} y={y(other.at(-1)![1]) + (apart ? 14 : 4)} class="axis-text">{pair.tag}, {pair.wrap.replace(/-/g, ' ')}</text>{/if}
  </svg>
  <details class="why"><summary>show as a table</summary><table class="plain mt-2"><thead><tr><th>Piece</th><th>Day</th><th>Share, %</th></tr></thead><tbody>
    {#each own as p (p[0])}<tr><td>{tag}</td><td>{p[0].toFixed(1)}</td><td>{p[1]}</td></tr>{/each}{#each other as p (p[0])}<tr><td>{pair.tag}</td><td>{p[0].toFixed(1)}</td><td>{p[1]}</td></tr>{/each}</tbody></table></details>
</figure>
