<script lang="ts">
  import type { Shapes } from '$lib/api/client'
  import { session } from '$lib/session.svelte'
  import { show } from '$lib/units/units'

  /** What is cut at the foot for a hold: a tenon below it or a recess in it, with its sizes. */
  interface Props {
    hold: Shapes['Hold']
  }
  let { hold }: Props = $props()
  const size = (name: string) => hold.sizes.find((s) => s.name === name)?.value ?? null
  let recess = $derived(size('recess_diameter_mm'))
  let wide = $derived(recess ?? size('tenon_diameter_mm'))
  let deep = $derived(recess ? (size('recess_depth_mm') ?? 4) : (size('tenon_length_mm') ?? 6))
  let ring = $derived(size('recess_rim_mm') ?? 0)
  const W = 260
  let half = $derived((wide ?? 60) / 2)
  let k = $derived((W - 120) / (2 * half + 2 * Math.max(ring, half * 0.5)))
  let tall = $derived(Math.max(10, deep * k))
  const mm = (v: number) => show('a_mm', v, session.prefs)
</script>

{#if wide}
  <svg viewBox="0 0 {W} {58 + tall}" class="foot-draw" role="img" aria-label={recess ? `Recess ${mm(wide)} wide, ${mm(deep)} deep` : `Tenon ${mm(wide)} wide, ${mm(deep)} long`}>
    {#if recess}
      <path d="M14,10H{W - 14}V{22 + tall}H{W / 2 + half * k}L{W / 2 + half * k + 3},22H{W / 2 - half * k - 3}L{W / 2 - half * k},{22 + tall}H14Z" class="foot-wood" />
    {:else}
      <path d="M14,10H{W - 14}V22H{W / 2 + half * k - 3}L{W / 2 + half * k},{22 + tall}H{W / 2 - half * k}L{W / 2 - half * k + 3},22H14Z" class="foot-wood" />
    {/if}
    <line x1={W / 2 - half * k} x2={W / 2 + half * k} y1={32 + tall} y2={32 + tall} class="dim" />
    <text x={W / 2} y={48 + tall} text-anchor="middle" class="dim-text">⌀ {mm(wide)}, {mm(deep)} {recess ? 'deep' : 'long'}</text>
  </svg>
{/if}
