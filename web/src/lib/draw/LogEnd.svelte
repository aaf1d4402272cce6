<script lang="ts">
  /** A log: its end with pith, rings and checks, and its side, to one scale. */
  interface Props {
    diameter?: number | null
    length?: number | null
    pith?: number | null
    cracked?: boolean
    label: string
  }
  let { diameter, length, pith, cracked = false, label }: Props = $props()
  const H = 84
  const WIDEST = 560
  const LONGEST = 1600
  let r = $derived((Math.min(diameter ?? 300, WIDEST) / WIDEST) * (H / 2 - 4))
  let side = $derived((Math.min(length ?? 800, LONGEST) / LONGEST) * 170)
  let off = $derived(diameter && pith ? (pith / diameter) * 2 * r : 0)
  let unknown = $derived(diameter == null)
</script>

<svg viewBox="0 0 280 {H}" width="280" height={H} role="img" aria-label={label} class="log">
  <g transform="translate(46,{H / 2})" class:guess={unknown}>
    <circle {r} class="bark" />
    {#each [0.82, 0.64, 0.46, 0.28, 0.12] as share (share)}
      <circle cx={off * (1 - share)} r={r * share * 0.98} class="year" />
    {/each}
    <circle cx={off} r="1.8" class="pith" />
    {#if cracked}<path d="M{off},0L{r * 0.5},{-r * 0.32}L{r * 0.88},{-r * 0.38}M{off},0L{-r * 0.45},{r * 0.4}L{-r * 0.7},{r * 0.62}" class="crack" />{/if}
  </g>
  <g transform="translate(100,{H / 2})" class:guess={length == null || unknown}>
    <path d="M0,{-r}H{side}A{r * 0.3},{r} 0 0 1 {side},{r}H0A{r * 0.3},{r} 0 0 1 0,{-r}Z" class="bark" />
    <ellipse cx="0" cy="0" rx={r * 0.3} ry={r} class="bark" />
    <path d="M{side * 0.2},{-r * 0.4}h{side * 0.3}M{side * 0.4},{r * 0.1}h{side * 0.4}M{side * 0.15},{r * 0.55}h{side * 0.35}" class="year" />
  </g>
</svg>
