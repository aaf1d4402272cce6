<script lang="ts">
  import type { Shapes } from '$lib/api/client'
  import { session } from '$lib/session.svelte'
  import { show } from '$lib/units/units'

  /** A dried oval from above, and the round bowl still lying in it. */
  interface Props {
    inside: Shapes['Inside']
  }
  let { inside }: Props = $props()
  let long = $derived((inside.long_mm ?? 0) / 2)
  let short = $derived((inside.short_mm ?? 0) / 2)
  let ring = $derived(inside.diameter_mm / 2)
  const mm = (v: number) => show('a_mm', v, session.prefs)
</script>

{#if long > 0 && short > 0}
  <figure class="oval-figure">
    <svg viewBox="{-long - 14} {-short - 14} {2 * long + 28} {2 * short + 48}" class="oval" role="img" aria-label="Dried oval {mm(2 * long)} by {mm(2 * short)}; a round bowl of {mm(inside.diameter_mm)} lies in it with a wall of {mm(inside.wall_mm)}">
      <ellipse rx={long} ry={short} class="wood" />
      <ellipse rx={long - (inside.wall_long_mm ?? 0)} ry={short - (inside.wall_short_mm ?? 0)} class="hollow" />
      <circle r={ring} class="ring-left" /><circle r={Math.max(ring - inside.wall_mm, 1)} class="ring-left" />
      <text x="0" y="5" text-anchor="middle" font-size={long * 0.09} class="note-plain">⌀ {mm(inside.diameter_mm)}, wall {mm(inside.wall_mm)}</text>
      <text x="0" y={short + 26} text-anchor="middle" font-size={long * 0.08} class="note-plain">{mm(2 * long)} × {mm(2 * short)} as measured</text>
    </svg>
    <figcaption class="quiet text-sm">From above: wood, and between the two rings the bowl that is still in it.</figcaption>
  </figure>
{/if}
