<script lang="ts">
  import { arc } from 'd3-shape'

  /** End-grain rings; the blue share is water still to go, the tick is where this place settles. */
  interface Props {
    mc: number | null | undefined
    settles: number | null | undefined
    low?: number | undefined
    high?: number | undefined
    size?: number
  }
  let { mc, settles, low, high, size = 56 }: Props = $props()

  const FULL = 60
  const RINGS = [0.66, 0.82, 0.98]
  let c = $derived(size / 2)
  const turn = (pct: number) => (Math.min(Math.max(pct, 0), FULL) / FULL) * 2 * Math.PI
  let wet = $derived(mc != null && settles != null && mc > settles)
  const segment = (share: number, from: number, to: number) =>
    arc()({ innerRadius: (share - 0.1) * c, outerRadius: share * c, startAngle: turn(from), endAngle: turn(to) }) ?? ''
  let tick = $derived.by(() => {
    const a = turn(settles ?? 0) - Math.PI / 2
    return { x1: c + Math.cos(a) * c * 0.52, y1: c + Math.sin(a) * c * 0.52, x2: c + Math.cos(a) * c, y2: c + Math.sin(a) * c }
  })
  let label = $derived(
    mc == null ? 'moisture not known yet'
      : `${mc.toFixed(0)} % moisture${settles != null ? `, settles at ${settles.toFixed(0)} % here` : ''}`,
  )
  let span = $derived(low != null && high != null && size >= 90 ? `${low.toFixed(0)}–${high.toFixed(0)}` : '')
</script>

<svg width={size} height={size} viewBox="0 0 {size} {size}" role="img" aria-label={label} class="dial">
  {#each RINGS as share (share)}<circle cx={c} cy={c} r={(share - 0.05) * c} class="ring" stroke-width={0.1 * c} />{/each}
  {#if wet}
    <g transform="translate({c},{c})">{#each RINGS as share (share)}<path d={segment(share, settles ?? 0, mc ?? 0)} class="water" />{/each}</g>
  {/if}
  {#if settles != null}<line {...tick} class="tick" stroke-width={Math.max(2, size / 32)} />{/if}
  {#if mc != null}
    <circle cx={c} cy={c} r={0.5 * c} class="heart" />
    <text x={c} y={span ? c - size * 0.04 : c} class="dial-text" font-size={size * 0.27}>{mc.toFixed(0)}</text>
    {#if span}<text x={c} y={c + size * 0.14} class="dial-span" font-size={size * 0.11}>{span}</text>{/if}
  {/if}
</svg>
