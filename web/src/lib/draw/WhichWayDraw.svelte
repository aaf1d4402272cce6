<script lang="ts">
  import type { Shapes } from '$lib/api/client'

  /** A half section with the cuts that leave every fibre held, and one turn seen from the face. */
  interface Props {
    directions: Shapes['Directions']
    outer: readonly (readonly number[])[]
    inner: readonly (readonly number[])[]
    held?: boolean
    turn?: boolean
  }
  let { directions, outer, inner, held = false, turn = true }: Props = $props()
  const W = 460
  const id = $props.id()
  let wide = $derived(Math.max(...outer.map((p) => p[0] ?? 0), 1))
  let top = $derived(Math.max(...outer.map((p) => p[1] ?? 0), 1))
  let scale = $derived(Math.min((W - 70) / (2 * wide), 300 / top))
  let H = $derived(top * scale + 66)
  const X = (r: number) => W / 2 + r * scale
  const Y = (z: number) => 34 + (top - z) * scale
  const line = (points: readonly (readonly number[])[], side = 1, away = 0) => points.map((p) => `${(X(side * (p[0] ?? 0)) + away * side).toFixed(1)},${Y(p[1] ?? 0).toFixed(1)}`).join('L')
  let side = $derived(directions.grain !== 'end-grain')
  let fibres = $derived(Array.from({ length: side ? 9 : 15 }, (_, k) => k))
  const R = 78
  const arc = (k: number) => {
    const [a, b] = [(k * 5 * Math.PI) / 180, ((k * 5 + 5) * Math.PI) / 180]
    return `M${R * Math.cos(a)},${-R * Math.sin(a)}A${R},${R} 0 0 0 ${R * Math.cos(b)},${-R * Math.sin(b)}`
  }
</script>

<div class="two-up">
  <svg viewBox="0 0 {W} {H}" class="which" role="img" aria-label="Half section with the direction of each cut">
    <defs>
      <marker id="{id}-a" viewBox="0 0 10 8" refX="8" refY="4" markerWidth="5" markerHeight="5" orient="auto-start-reverse"><path d="M0,0L10,4L0,8Z" class="run-head" /></marker>
      <clipPath id="{id}-c"><path d="M{line(outer)}L{line([...inner].reverse())}Z" /><path d="M{line(outer, -1)}L{line([...inner].reverse(), -1)}Z" /></clipPath>
    </defs>
    <path d="M{line(outer)}L{line([...inner].reverse())}Z" class="profile" />
    <path d="M{line(outer, -1)}L{line([...inner].reverse(), -1)}Z" class="profile" />
    <g clip-path="url(#{id}-c)">
      {#each fibres as k (k)}
        {#if side}<line x1="0" x2={W} y1={Y((top * (k + 0.5)) / 9)} y2={Y((top * (k + 0.5)) / 9)} class="fibre" />
        {:else}<line x1={(W * (k + 0.5)) / 15} x2={(W * (k + 0.5)) / 15} y1="0" y2={H} class="fibre" />{/if}
      {/each}
    </g>
    {#each directions.steps as s, k (k)}{#if k + 1 < directions.steps.length}<path d="M{line(s, -1)}" class="step" />{/if}{/each}
    {#each directions.runs as r, k (k)}<path d="M{line(r.points, 1, r.side === 'outside' ? 10 : -10)}" class="run" marker-end="url(#{id}-a)" />{/each}
    <line x1={W / 2} x2={W / 2} y1="8" y2={H - 8} class="centre" />
    <text x={W - 8} y={H - 8} text-anchor="end" class="note-text">arrows: the cuts; dashed, left: steps inside</text>
  </svg>
  {#if turn}
    <svg viewBox="-120 -120 240 240" class="which turn" role="img" aria-label="One turn seen from the face: where the edge meets the fibres' ends">
      <g class="spin" class:held>
        {#each directions.against as a, k (k)}<path d={arc(k)} class={a > 0.05 ? 'against' : 'with'} stroke-opacity={a > 0.05 ? 0.25 + 0.75 * a : 1} />{/each}
        {#if side}{#each [-60, -40, -20, 0, 20, 40, 60] as y (y)}<line x1={-Math.sqrt(70 * 70 - y * y)} x2={Math.sqrt(70 * 70 - y * y)} y1={y} y2={y} class="fibre" />{/each}
        {:else}{#each [12, 24, 36, 48, 60] as r (r)}<circle {r} class="fibre" fill="none" />{/each}{/if}
      </g>
      <path d="M118,0L94,-7V7Z" class="run-head" />
      <text x="0" y="112" text-anchor="middle" font-size="12" class="note-plain">{side ? 'marked: against the fibres' : 'alike all round'}</text>
    </svg>
  {/if}
</div>
