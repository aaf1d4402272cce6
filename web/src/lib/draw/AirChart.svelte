<script lang="ts">
  import { scaleLinear, scaleUtc } from 'd3-scale'
  import type { Shapes } from '$lib/api/client'
  import { session } from '$lib/session.svelte'
  import { day, show } from '$lib/units/units'
  import { timeMarks } from './time'

  /** A place's air as it was logged: humidity as steps, and where wood settles in it. */
  interface Props {
    spells: Shapes['AirSpell'][]
  }
  let { spells }: Props = $props()
  let box = $state(700)
  let W = $derived(Math.min(Math.max(box, 320), 900))
  const H = 210
  const M = { left: 42, right: 96, top: 16, bottom: 28 }
  let rows = $derived(spells.map((s) => ({ ...s, from: new Date(s.start).getTime(), to: new Date(s.end).getTime() })))
  let start = $derived(rows[0]?.from ?? 0)
  let end = $derived(rows.at(-1)?.to ?? 1)
  let top = $derived(Math.ceil((Math.max(16, ...rows.map((r) => r.emc_pct)) + 1) / 4) * 4)
  let x = $derived(scaleUtc([start, end], [M.left, W - M.right]))
  let y = $derived(scaleLinear([0, top], [H - M.bottom, M.top]))
  let last = $derived(rows.at(-1))
</script>

<figure class="chart" bind:clientWidth={box}>
  <svg viewBox="0 0 {W} {H}" role="img" aria-label="Where wood settles in the logged air; figures in the table below">
    {#each y.ticks(4) as t (t)}<line x1={M.left} x2={W - M.right} y1={y(t)} y2={y(t)} class="grid" /><text x={M.left - 6} y={y(t) + 4} class="axis-text" text-anchor="end">{t}</text>{/each}
    <text x={4} y={11} class="axis-text">wood settles at, %</text>
    {#each timeMarks(start, end, Math.round(W / 110)) as mark (mark.at)}<text x={x(mark.at)} y={H - 8} class="axis-text" text-anchor="middle">{mark.label}</text>{/each}
    {#each rows as r (r.start)}<rect x={x(r.from)} y={y(r.emc_pct)} width={Math.max(1, x(r.to) - x(r.from))} height={y(0) - y(r.emc_pct)} class="mc-band" /><line x1={x(r.from)} x2={x(r.to)} y1={y(r.emc_pct)} y2={y(r.emc_pct)} class="mc-line" />{/each}
    {#if last}<text x={W - M.right + 6} y={y(last.emc_pct) + 4} class="axis-text">{last.emc_pct.toFixed(1)} % last</text>{/if}
  </svg>
  <details class="why"><summary>show as a table</summary><table class="plain mt-2"><thead><tr><th>From</th><th>To</th><th>Air</th><th>Humidity</th><th>Settles at</th></tr></thead><tbody>
    {#each rows as r (r.start)}<tr><td>{day(r.start)}</td><td>{day(r.end)}</td><td>{show('a_c', Math.round(r.air_c * 10) / 10, session.prefs)}</td><td>{r.rh_pct.toFixed(0)} %</td><td>{r.emc_pct.toFixed(1)} %</td></tr>{/each}</tbody></table></details>
  <figcaption class="quiet text-sm">Whole weeks of the logger's readings; like weeks joined.</figcaption>
</figure>
