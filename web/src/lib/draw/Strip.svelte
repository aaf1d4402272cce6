<script lang="ts">
  import { scalePow } from 'd3-scale'

  /** The floor as one strip of time to ready; near times get more room. */
  interface Props {
    marks: readonly { tag: string; days?: number | null }[]
  }
  let { marks }: Props = $props()
  const W = 250
  const LINES: [number, string][] = [[0, 'ready'], [7, '1 week'], [30, '1 month'], [90, '3 months'], [180, '6 months'], [365, 'a year']]
  let H = $derived(Math.max(300, 130 + marks.length * 21))
  let y = $derived(scalePow([0, 365], [26, H - 40]).exponent(0.45).clamp(true))
  let never = $derived(marks.filter((m) => m.days == null))
  let placed = $derived.by(() => {
    const sorted = marks.filter((m) => m.days != null).sort((a, b) => (a.days ?? 0) - (b.days ?? 0))
    let last = -100
    return sorted.map((m) => {
      const own = y(Math.max(m.days ?? 0, 0))
      last = Math.max(own, last + 20)
      return { tag: m.tag, days: m.days ?? null, own, shown: last }
    })
  })
</script>

<svg viewBox="0 0 {W} {H}" class="strip" role="group" aria-labelledby="strip-title">
  <line x1="92" x2="92" y1="20" y2={H - 36} class="axis" />
  {#each LINES as [days, label] (days)}
    <line x1="86" x2="98" y1={y(days)} y2={y(days)} class="axis" />
    <text x="80" y={y(days) + 4} class="axis-text" text-anchor="end">{label}</text>
  {/each}
  {#each placed as m (m.tag)}
    <path d="M92,{m.own}L118,{m.own}L134,{m.shown}" class="leader" />
    <circle cx="92" cy={m.own} r="3.5" class="weighed" />
    <a href="#/drying/{m.tag}" aria-label="{m.tag}, {m.days === null ? '' : `ready in ${Math.max(0, Math.round(m.days))} days`}"><text x="138" y={m.shown + 5} class="strip-tag">{m.tag}</text></a>
  {/each}
  {#if never.length}<text x="4" y={H - 8} class="axis-text">Never where they lie: {never.map((m) => m.tag).join(', ')}</text>{/if}
</svg>
