<script lang="ts">
  import type { Shapes } from '$lib/api/client'
  import { session } from '$lib/session.svelte'
  import { show } from '$lib/units/units'

  /** A half section to draw on: left the outside, right the cut wall with its handles. Blank, rings and bark round it. */
  type Handle = Shapes['HandleIn']
  interface Props {
    shape: Shapes['ShapeOut']
    outer: readonly Handle[]
    inner: readonly Handle[]
    picked: { curve: 'outer' | 'inner'; i: number } | null
    foot: { kind: string; diameter: number; length: number }
    label: string
    lines?: readonly (readonly (readonly number[])[])[]
    missed?: readonly (readonly number[])[]
    onpick?: (curve: 'outer' | 'inner', i: number) => void
    onmove?: (curve: 'outer' | 'inner', i: number, r: number, z: number, first: boolean, last: boolean) => void
    onkey?: (curve: 'outer' | 'inner', i: number, event: KeyboardEvent) => void
  }
  let { shape, outer, inner, picked, foot, label, lines = [], missed = [], onpick, onmove, onkey }: Props = $props()

  const W = 620
  const PAD = 34
  const id = $props.id()
  let svg = $state<SVGSVGElement>()
  let grip = $state<{ curve: 'outer' | 'inner'; i: number; moved: boolean; frame: Frame } | null>(null)

  interface Frame { wide: number; low: number; top: number }
  let fit = $derived.by((): Frame => {
    const b = shape.blank
    const wide = Math.max(shape.swing_mm / 2, b?.radius_mm ?? 0, ...outer.map((h) => h.r_mm))
    const top = Math.max(...shape.outer.map((p) => p[1] ?? 0), b?.top_mm ?? 0, ...outer.map((h) => h.z_mm))
    return { wide, top, low: Math.min(0, b?.low_mm ?? 0, foot.kind === 'tenon' ? -foot.length : 0) }
  })
  /** While a handle is held the paper keeps still. */
  let frame = $derived(grip?.frame ?? fit)
  let scale = $derived(Math.min((W / 2 - PAD) / frame.wide, 430 / Math.max(frame.top - frame.low, 1)))
  let H = $derived((frame.top - frame.low) * scale + 2 * PAD)
  const cx = W / 2
  const X = (r: number) => cx + r * scale
  const Y = (z: number) => PAD + (frame.top - z) * scale
  const path = (points: readonly (readonly number[])[], side = 1) => points.map((p) => `${X(side * (p[0] ?? 0)).toFixed(1)},${Y(p[1] ?? 0).toFixed(1)}`).join('L')

  let cut = $derived(`M${path(shape.outer)}L${path([...shape.inner].reverse())}Z`)
  let top = $derived(shape.outer.at(-1)?.[1] ?? 0)
  let most = $derived(Math.max(...shape.walls_mm, 1))
  /** The inner line in stretches of like thickness, pale where thin and dark where thick. */
  let stretches = $derived.by(() => {
    const out: { d: string; step: number }[] = []
    for (let k = 0; k + 1 < shape.inner.length; k += 3) {
      const part = shape.inner.slice(k, k + 4)
      const wall = Math.min(...shape.walls_mm.slice(k, k + 4))
      out.push({ d: `M${path(part)}`, step: wall < 2 ? 0 : Math.min(5, 1 + Math.floor((wall / most) * 4.99)) })
    }
    return out
  })
  const mm = (v: number) => show('a_mm', v, session.prefs)
  /** Where the inside runs at a height, to hang a calliper reading on. */
  function insideAt(z: number): number {
    let best = 0
    for (let k = 0; k + 1 < shape.inner.length; k++) {
      const [r1 = 0, z1 = 0] = shape.inner[k] ?? []
      const [r2 = 0, z2 = 0] = shape.inner[k + 1] ?? []
      if (Math.min(z1, z2) <= z && z <= Math.max(z1, z2) && z1 !== z2) best = Math.max(best, r1 + ((z - z1) / (z2 - z1)) * (r2 - r1))
    }
    return best
  }
  function place(event: PointerEvent): { r: number; z: number } {
    const box = svg!.getBoundingClientRect()
    const k = W / box.width
    return { r: ((event.clientX - box.left) * k - cx) / scale, z: frame.top - ((event.clientY - box.top) * k - PAD) / scale }
  }
  function take(event: PointerEvent, curve: 'outer' | 'inner', i: number) {
    onpick?.(curve, i)
    grip = { curve, i, moved: false, frame: { ...fit } }
    svg?.setPointerCapture(event.pointerId)
    event.preventDefault()
    ;(event.currentTarget as SVGElement).focus()
  }
  function drag(event: PointerEvent) {
    if (!grip) return
    const { r, z } = place(event)
    onmove?.(grip.curve, grip.i, Math.abs(r), z, !grip.moved, false)
    grip.moved = true
  }
  function drop(event: PointerEvent) {
    if (!grip) return
    const { curve, i, moved } = grip
    const { r, z } = place(event)
    grip = null
    if (moved) onmove?.(curve, i, Math.abs(r), z, false, true)
  }
  const named = (curve: string, i: number, h: Handle) => `${curve === 'outer' ? 'Outside' : 'Inside'} point ${i + 1}, ${mm(h.r_mm)} out, ${mm(h.z_mm)} up${h.corner ? ', a corner' : ''}`
</script>

{#snippet knob(curve: 'outer' | 'inner', h: Handle, i: number)}
  <g role="button" tabindex="0" class="knob {curve}" class:picked={picked?.curve === curve && picked.i === i} class:corner={h.corner} aria-label={named(curve, i, h)} data-handle="{curve}-{i}"
    onpointerdown={(e) => take(e, curve, i)} onfocus={() => onpick?.(curve, i)} onkeydown={(e) => onkey?.(curve, i, e)}>
    <circle cx={X(h.r_mm)} cy={Y(h.z_mm)} r="23" class="reach" />
    {#if h.corner}<rect x={X(h.r_mm) - 6} y={Y(h.z_mm) - 6} width="12" height="12" class="grip" />{:else}<circle cx={X(h.r_mm)} cy={Y(h.z_mm)} r="7" class="grip" />{/if}
  </g>
{/snippet}

<svg bind:this={svg} viewBox="0 0 {W} {H}" class="section" role="group" aria-label={label} onpointermove={drag} onpointerup={drop} onpointercancel={drop}>
  <defs>
    <pattern id="{id}-h" width="8" height="8" patternUnits="userSpaceOnUse" patternTransform="rotate(45)"><line x1="0" x2="0" y1="0" y2="8" class="hatch" /></pattern>
    {#if shape.blank}<clipPath id="{id}-b"><rect x={X(-shape.blank.radius_mm)} y={Y(shape.blank.top_mm)} width={2 * shape.blank.radius_mm * scale} height={(shape.blank.top_mm - shape.blank.low_mm) * scale} /></clipPath>{/if}
  </defs>
  {#if shape.blank}
    {@const b = shape.blank}
    <g clip-path="url(#{id}-b)">
      {#if b.bark_mm && b.pith}<circle cx={X(b.pith.off_mm ?? 0)} cy={Y(b.pith.z_mm ?? 0)} r={(b.bark_mm[0] ?? 0) * scale} class="log-edge" />{/if}
      {#if b.pith}{#each b.rings_mm as ring (ring)}<circle cx={X(b.pith.off_mm ?? 0)} cy={Y(b.pith.z_mm ?? 0)} r={ring * scale} class="ring" />{/each}{/if}
    </g>
    <rect x={X(-b.radius_mm)} y={Y(b.top_mm)} width={2 * b.radius_mm * scale} height={(b.top_mm - b.low_mm) * scale} class="stock" />
    {#if b.pith && Math.abs(b.pith.z_mm ?? 0) < 2000}<path d="M{X(b.pith.off_mm ?? 0) - 7},{Y(b.pith.z_mm ?? 0)}h14M{X(b.pith.off_mm ?? 0)},{Y(b.pith.z_mm ?? 0) - 7}v14" class="pith-mark" />{/if}
  {/if}
  {#if foot.kind === 'tenon'}<rect x={X(-foot.diameter / 2)} y={Y(0)} width={foot.diameter * scale} height={foot.length * scale} class="foot-hold" />{/if}
  <path d="M{path(shape.outer, -1)}L{X(0)},{Y(top)}" class="outside" />
  <path d={cut} fill="url(#{id}-h)" class="cut" />
  {#if foot.kind === 'recess'}<rect x={X(-foot.diameter / 2)} y={Y(foot.length)} width={foot.diameter * scale} height={foot.length * scale} class="foot-hold recess" />{/if}
  {#each stretches as s, k (k)}<path d={s.d} class="wall w{s.step}" />{/each}
  <line x1={cx} x2={cx} y1="6" y2={H - 6} class="centre" />
  {#each lines as line, k (k)}<path d="M{path(line)}" class="bar-line" />{/each}
  {#each missed as p, k (k)}<circle cx={X(p[0] ?? 0)} cy={Y(p[1] ?? 0)} r="4.5" class="missed" />{/each}
  <text x={X(shape.thin[0] ?? 0) - 14} y={Y(shape.thin[1] ?? 0) + 4} text-anchor="end" class="note-text">{mm(shape.thin[2] ?? 0)} thinnest</text>
  {#if (shape.thick[2] ?? 0) - (shape.thin[2] ?? 0) > 0.5}<text x={X(shape.thick[0] ?? 0) + 6} y={Y(shape.thick[1] ?? 0) + 34} class="note-text">{mm(shape.thick[2] ?? 0)} thickest</text>{/if}
  <text x={cx - 8} y={Y(shape.inner[0]?.[1] ?? 0) - 8} class="note-text" text-anchor="end">{mm(shape.figures.find((f) => f.name === 'bottom_mm')?.value ?? 0)} bottom</text>
  <text x={X(-shape.swing_mm / 2)} y={Y(top) - 8} class="note-text">{mm(shape.swing_mm)} across, {mm(top)} high</text>
  {#each shape.readings as r, k (k)}
    <g class="reading {r.words.code}"><circle cx={X(insideAt(r.z_mm))} cy={Y(r.z_mm)} r="5" /><text x={X(insideAt(r.z_mm)) - 10} y={Y(r.z_mm) + 5} text-anchor="end" class="note-text">{mm(r.wall_mm)}</text></g>
  {/each}
  {#each shape.marks as m, k (m.caution.text.code + k)}
    <g class="flag-mark {m.caution.level}"><circle cx={X(m.r_mm)} cy={Y(m.z_mm)} r="11" /><text x={X(m.r_mm)} y={Y(m.z_mm) + 5} text-anchor="middle">{k + 1}</text></g>
  {/each}
  {#if onmove}
    {#each outer as h, i (i)}{@render knob('outer', h, i)}{/each}
    {#each inner as h, i (i)}{@render knob('inner', h, i)}{/each}
  {/if}
</svg>
