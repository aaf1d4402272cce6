<script lang="ts">
  /** How long a way takes, as a span of days from now; the middle marked. */
  interface Props {
    longest: number
    low?: number | null
    middle?: number | null
    high?: number | null
    axis?: boolean
    /** Only as dry as the place makes it. */
    dashed?: boolean
  }
  let { longest, low = null, middle = null, high = null, axis = false, dashed = false }: Props = $props()
  let box = $state(300)
  let W = $derived(Math.max(box, 120))
  const x = (v: number) => Math.min(v / longest, 1) * (W - 4) + 2
  let ticks = $derived([0, 0.25, 0.5, 0.75, 1].map((s) => Math.round(longest * s)))
</script>

{#if axis}
  <div bind:clientWidth={box}><svg viewBox="0 0 {W} 16" class="span way-span" aria-hidden="true">
    {#each ticks as t, i (i)}<text x={x(t)} y="12" class="axis-text" text-anchor={i === 0 ? 'start' : i === 4 ? 'end' : 'middle'}>{t}{i === 4 ? ' d' : ''}</text>{/each}
  </svg></div>
{:else}
  <div bind:clientWidth={box}><svg viewBox="0 0 {W} 16" class="span way-span" aria-hidden="true">
    <line x1="2" x2={W - 2} y1="8" y2="8" class="axis" />
    {#if low !== null}<rect x={x(low)} y="4" width={Math.max(3, x(high ?? longest * 1.2) - x(low))} height="8" class={dashed ? 'settled-span' : 'ready-span'} class:open-end={high === null} />{/if}
    {#if middle !== null}<line x1={x(middle)} x2={x(middle)} y1="1" y2="15" class="now" />{/if}
  </svg></div>
{/if}
