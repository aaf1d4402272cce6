<script lang="ts">
  import { timeMarks } from './time'

  /** One row of the floor: when it may be ready, on the floor's one time axis. */
  interface Props {
    from: number
    to: number
    low?: string | null
    middle?: string | null
    high?: string | null
    /** ready: for its home; settled: only as dry as its place makes it. */
    kind?: string
    /** Draw the axis itself instead of a span. */
    axis?: boolean
  }
  let { from, to, low = null, middle = null, high = null, kind = 'ready', axis = false }: Props = $props()
  const ROW = 300
  // The axis is drawn at the width it has, for its words; the rows below scale with it.
  let box = $state(ROW)
  let W = $derived(axis ? Math.max(box, 120) : ROW)
  const x = (t: number) => (4 / ROW + Math.min(Math.max((t - from) / (to - from), 0), 1) * (1 - 8 / ROW)) * W
  const at = (iso: string | null) => (iso === null ? to : new Date(iso).getTime())
  let marks = $derived(timeMarks(from, to, 5))
</script>

{#if axis}
  <div bind:clientWidth={box}>
    <svg viewBox="0 0 {W} 18" class="span" aria-hidden="true">
      <text x="4" y="12" class="label-now">now</text>
      {#each marks as mark (mark.at)}{#if x(mark.at) > 46 && x(mark.at) < W - 12}<text x={x(mark.at)} y="12" class="axis-text" text-anchor="middle">{mark.label}</text>{/if}{/each}
    </svg>
  </div>
{:else}
  <svg viewBox="0 0 {W} 22" class="span" aria-hidden="true">
    {#each marks as mark (mark.at)}<line x1={x(mark.at)} x2={x(mark.at)} y1="0" y2="22" class="grid" />{/each}
    {#if low !== null && at(low) >= to}<text x={W - 14} y="16" class="axis-text" text-anchor="end">later</text><path d="M{W - 10},5l6,6l-6,6" class="onward" />
    {:else if low !== null}
      <rect x={x(at(low))} y="8" width={Math.max(3, x(at(high)) - x(at(low)))} height="6" class={kind === 'settled' ? 'settled-span' : 'ready-span'} />
      {#if high === null || at(high) > to}<path d="M{W - 10},5l6,6l-6,6" class="onward" />{/if}
      {#if middle !== null && at(middle) <= to}<rect x={x(at(middle)) - 1.5} y="4" width="3" height="14" class="ready-mid" />{/if}
    {/if}
  </svg>
{/if}
