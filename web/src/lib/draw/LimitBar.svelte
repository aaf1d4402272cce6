<script lang="ts">
  import { scaleLinear } from 'd3-scale'
  import type { Shapes } from '$lib/api/client'

  interface Props {
    limits: readonly Shapes['Limit'][]
    low: number
    high: number
    /** Write what each limit is below the bar, the governing one first. */
    named?: boolean
  }
  let { limits, low, high, named = false }: Props = $props()
  const W = 340
  let known = $derived(limits.filter((l) => l.value != null && l.value > 0))
  let top = $derived(Math.min(Math.max(...known.map((l) => l.value ?? 0), high) * 1.05, high * 3.2))
  let x = $derived(scaleLinear([0, top], [4, W - 4]))
  let ticks = $derived(x.ticks(5))
  let order = $derived([...known].sort((a, b) => (a.value ?? 0) - (b.value ?? 0)))
  const mark = (limit: Shapes['Limit']) => String.fromCharCode(97 + order.findIndex((l) => l.key === limit.key))
</script>

<svg viewBox="0 0 {W} 46" class="limit-bar" role="img" aria-label="Band from {low} to {high} rpm among {known.length} limits">
  <line x1="4" x2={W - 4} y1="22" y2="22" class="axis" />
  <rect x={x(low)} y="15" width={Math.max(3, x(high) - x(low))} height="14" class="band" />
  {#each known as limit (limit.key)}
    {@const beyond = (limit.value ?? 0) > top}
    <line x1={x(Math.min(limit.value ?? 0, top))} x2={x(Math.min(limit.value ?? 0, top))} y1={limit.governs ? 4 : 10} y2={limit.governs ? 40 : 34}
      class={limit.governs ? 'governing' : 'limit'} stroke-dasharray={beyond ? '2 2' : undefined} />
    {#if named}<text x={x(Math.min(limit.value ?? 0, top)) - 3} y="10" text-anchor="end" class="axis-text">{mark(limit)}</text>{/if}
  {/each}
  {#each ticks as t (t)}<text x={x(t)} y="44" class="axis-text" text-anchor="middle">{t}</text>{/each}
</svg>
{#if named}
  <ul class="limit-names">{#each order as l (l.key)}<li class:governs={l.governs}><strong>{mark(l)}</strong> {l.label}, {Math.round(l.value ?? 0)} rpm{l.governs ? ': this one governs' : ''}</li>{/each}</ul>
{/if}
