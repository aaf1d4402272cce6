<script lang="ts">
  import { scaleLinear, scaleUtc } from 'd3-scale'
  import { area, line } from 'd3-shape'
  import type { Shapes } from '$lib/api/client'
  import { session } from '$lib/session.svelte'
  import { day, show } from '$lib/units/units'
  import { DAY, timeMarks } from './time'

  interface Props {
    drying: Shapes['DryingOut']
    now?: number
  }
  let { drying, now = Date.now() }: Props = $props()

  // Drawn at the width it has, so that its words stay readable on a phone.
  let box = $state(720)
  let W = $derived(Math.min(Math.max(box, 330), 980))
  const H = 320
  const M = { left: 46, right: 84, top: 16, bottom: 44 }
  let curve = $derived(drying.curve)
  let start = $derived(new Date(drying.row.started_at).getTime())
  let times = $derived((curve?.days ?? []).map((d) => start + d * DAY))
  let end = $derived(Math.max(times.at(-1) ?? now, now + 14 * DAY))
  /** The wood's own dry mass at a moment: more before it was turned again. */
  function dryAt(t: number): number {
    return drying.turnings.filter((x) => new Date(x.at).getTime() > t).reduce((dry, x) => (dry * x.before_g) / x.after_g, drying.dry_mass_g ?? 1)
  }
  let weights = $derived(
    drying.weigh_ins
      .filter((w) => w.state === 'accepted' && drying.dry_mass_g)
      .map((w) => ({ at: new Date(w.at).getTime(), mc: 100 * (w.mass_g / dryAt(new Date(w.at).getTime()) - 1), g: w.mass_g })),
  )
  let top = $derived(Math.ceil((Math.max(20, ...(curve?.mc_high_pct ?? []), ...weights.map((w) => w.mc)) * 1.04) / 10) * 10)
  let x = $derived(scaleUtc([start, end], [M.left, W - M.right]))
  let y = $derived(scaleLinear([0, top], [H - M.bottom, M.top]))
  let rows = $derived(
    times.map((t, i) => ({ t, low: curve?.mc_low_pct[i] ?? 0, mid: curve?.mc_pct[i] ?? 0, high: curve?.mc_high_pct[i] ?? 0, g: curve?.mass_g[i] ?? 0 })),
  )
  type Row = { t: number; low: number; mid: number; high: number }
  let band = $derived(area<Row>().x((r) => x(r.t)).y0((r) => y(r.low)).y1((r) => y(r.high))(rows) ?? '')
  let middle = $derived(line<Row>().x((r) => x(r.t)).y((r) => y(r.mid))(rows) ?? '')
  let stays = $derived(
    drying.stays.map((s, i) => ({
      ...s,
      from: Math.max(new Date(s.started_at).getTime(), start),
      to: i + 1 < drying.stays.length ? new Date(drying.stays[i + 1]?.started_at ?? 0).getTime() : end,
    })),
  )
  let air = $derived(
    drying.air
      .map((a, i) => ({ emc: a.emc_pct, from: Math.max(new Date(a.start).getTime(), start), to: Math.min(new Date(drying.air[i + 1]?.start ?? end).getTime(), end) }))
      .filter((a) => a.to > a.from),
  )
  let ready = $derived({
    low: drying.row.ready_low ? new Date(drying.row.ready_low).getTime() : null,
    high: drying.row.ready_high ? new Date(drying.row.ready_high).getTime() : null,
  })
  const clampX = (t: number) => Math.min(Math.max(x(t), M.left), W - M.right)
  let lastRow = $derived(rows.at(-1))
  let target = $derived(drying.row.target_mc_pct)
  let settle = $derived(drying.row.settles_at_pct ?? stays.at(-1)?.emc_pct ?? 0)
  let meters = $derived(drying.meter.map((m) => ({ at: new Date(m.at).getTime(), mc: m.mc_pct })))
  let jumps = $derived([...drying.turnings.map((t) => ({ at: new Date(t.at).getTime(), what: 'turned' })), ...drying.goes.map((g) => ({ at: new Date(g.at).getTime(), what: '' }))])
  // Labels at the right edge must not sit on each other.
  let apart = $derived(Math.abs(y(target) - y(settle)) < 13)
</script>

<figure class="chart" bind:clientWidth={box}>
  <svg viewBox="0 0 {W} {H}" role="img" aria-label="Moisture over time with the span it may lie in; the figures are in the table below">
    {#each y.ticks(6) as t (t)}
      <line x1={M.left} x2={W - M.right} y1={y(t)} y2={y(t)} class="grid" />
      <text x={M.left - 6} y={y(t) + 4} class="axis-text" text-anchor="end">{t}</text>
    {/each}
    <text x={4} y={M.top - 3} class="axis-text">moisture, % of dry mass</text>
    {#each timeMarks(start, end, Math.round(W / 100)) as mark (mark.at)}
      <line x1={x(mark.at)} x2={x(mark.at)} y1={H - M.bottom} y2={H - M.bottom + 5} class="axis" />
      <text x={x(mark.at)} y={H - M.bottom + 18} class="axis-text" text-anchor="middle">{mark.label}</text>
    {/each}
    <line x1={M.left} x2={W - M.right} y1={H - M.bottom} y2={H - M.bottom} class="axis" />

    {#if rows.length}
      <path d={band} class="mc-band" />
      <path d={middle} class="mc-line" />
      {#if lastRow}<text x={W - M.right + 5} y={Math.min(y(lastRow.mid), y(Math.max(target, settle))) - 18} class="label-water">moisture</text>{/if}
    {/if}
    {#each air as step (step.from)}<line x1={clampX(step.from)} x2={clampX(step.to)} y1={y(step.emc)} y2={y(step.emc)} class="emc" />{/each}
    {#each stays as stay, i (stay.started_at + i)}
      {#if i}
        <line x1={clampX(stay.from)} x2={clampX(stay.from)} y1={M.top} y2={H - M.bottom} class="move" />
      {/if}
      {#if clampX(stay.to) - clampX(stay.from) > 60}<text x={clampX(stay.from) + 4} y={M.top + 10 + (i % 3) * 14} class="axis-text">{stay.place}</text>{/if}
    {/each}
    <text x={W - M.right + 5} y={y(settle) + (apart ? 14 : 4)} class="axis-text">settles {settle.toFixed(1)}</text>
    <line x1={M.left} x2={W - M.right} y1={y(target)} y2={y(target)} class="target" />
    <text x={W - M.right + 5} y={y(target) + (apart ? -2 : 4)} class="axis-text">ready {target.toFixed(1)}</text>
    {#each jumps as j, i (i)}<line x1={clampX(j.at)} x2={clampX(j.at)} y1={M.top + 14} y2={H - M.bottom} class="jump" />{#if j.what}<text x={clampX(j.at) + 3} y={M.top + 24} class="axis-text">{j.what}</text>{/if}{/each}
    {#each meters as m (m.at)}<path d="M{clampX(m.at)},{y(m.mc) - 5}l5,5l-5,5l-5,-5Z" class="metered"><title>meter: {m.mc.toFixed(1)} %</title></path>{/each}
    {#each weights as w (w.at)}<circle cx={clampX(w.at)} cy={y(w.mc)} r="4" class="weighed"><title>{show('mass_g', w.g, session.prefs)}, {day(new Date(w.at).toISOString())}</title></circle>{/each}
    <line x1={clampX(now)} x2={clampX(now)} y1={M.top} y2={H - M.bottom} class="now" />
    <text x={clampX(now) + 4} y={H - M.bottom - 6} class="label-now">now</text>
    {#if ready.low !== null}
      <rect x={clampX(ready.low)} y={H - 16} width={Math.max(4, (ready.high === null ? W - M.right : clampX(ready.high)) - clampX(ready.low))} height="8" class="ready-span" />
      <text x={M.left - 6} y={H - 8} class="axis-text" text-anchor="end">ready</text>
    {/if}
  </svg>
  <details class="why"><summary>show as a table</summary>
    <table class="plain mt-2"><thead><tr><th>Date</th><th>Moisture, %</th><th>Span, %</th><th>Weight</th></tr></thead>
      <tbody>{#each rows.filter((_, i) => i % 4 === 0) as r (r.t)}
        <tr><td>{day(new Date(r.t).toISOString())}</td><td>{r.mid.toFixed(1)}</td><td>{r.low.toFixed(1)} to {r.high.toFixed(1)}</td><td>{show('mass_g', r.g, session.prefs)}</td></tr>
      {/each}</tbody></table>
  </details>
  <figcaption class="quiet text-sm">Band: eight chances in ten. Dots: weights, as moisture by the likely dry mass. Upright lines: moved or turned.{#if meters.length} Diamonds: the meter.{/if}</figcaption>
</figure>
