<script lang="ts">
  import type { Shapes } from '$lib/api/client'
  import { session } from '$lib/session.svelte'
  import { show } from '$lib/units/units'

  /** A blank with its cores: right the cut wood, kerfs white, pivots in front of the face to be pushed about. */
  interface Props {
    nest: Shapes['Nest']
    outer: readonly (readonly number[])[]
    picked: number | null
    onpick: (i: number) => void
    onpush: (i: number, gap: number, off: number) => void
  }
  let { nest, outer, picked, onpick, onpush }: Props = $props()
  const W = 640
  let svg = $state<SVGSVGElement>()
  let grip = $state<{ i: number; x: number; y: number } | null>(null)
  let wide = $derived(Math.max(...outer.map((p) => p[0] ?? 0), 1))
  let face = $derived(Math.max(...outer.map((p) => p[1] ?? 0), 1))
  let most = $derived(Math.max(60, ...nest.cores.map((c) => c.cut.gap_mm)) + 22)
  let held = $state.raw<number | null>(null)
  let above = $derived(held ?? most)
  let scale = $derived((W - 60) / (2 * wide))
  let H = $derived((face + above) * scale + 24)
  const X = (r: number) => W / 2 + r * scale
  const Y = (z: number) => 8 + (face + above - z) * scale
  const line = (points: readonly (readonly number[])[], side = 1) => points.map((p) => `${X(side * (p[0] ?? 0)).toFixed(1)},${Y(p[1] ?? 0).toFixed(1)}`).join('L')
  const whole = (points: readonly (readonly number[])[]) => `M${line(points)}L${line([...points].reverse(), -1)}Z`
  // outermost first, so that smaller ones are drawn into them
  let order = $derived(nest.cores.map((core, i) => ({ core, i })).reverse())
  const mm = (v: number) => show('a_mm', v, session.prefs)

  const at = (event: PointerEvent) => {
    const box = svg!.getBoundingClientRect()
    const k = W / box.width / scale
    return { x: event.clientX * k, y: event.clientY * k }
  }
  function take(event: PointerEvent, i: number) {
    onpick(i)
    held = most
    grip = { i, ...at(event) }
    svg?.setPointerCapture(event.pointerId)
    event.preventDefault()
    ;(event.currentTarget as SVGElement).focus()
  }
  function drag(event: PointerEvent) {
    if (!grip) return
    const to = at(event)
    const [off, gap] = [to.x - grip.x, grip.y - to.y]
    if (Math.abs(off) + Math.abs(gap) < 0.5) return
    onpush(picked ?? grip.i, gap, off)
    grip = { ...grip, ...to }
  }
  const drop = () => { grip = null; held = null }
  const KEYS: Record<string, [number, number]> = { ArrowUp: [1, 0], ArrowDown: [-1, 0], ArrowLeft: [0, -1], ArrowRight: [0, 1] }
  function key(event: KeyboardEvent, i: number) {
    const move = KEYS[event.key]
    if (!move) return
    onpick(i)
    const far = event.shiftKey ? 5 : 1
    onpush(i, move[0] * far, move[1] * far)
    event.preventDefault()
  }
</script>

<svg bind:this={svg} viewBox="0 0 {W} {H}" class="nest section" role="group" aria-label="The blank with its cores; pivots are moved by dragging or by arrow keys" onpointermove={drag} onpointerup={drop} onpointercancel={drop}>
  <defs><pattern id="nest-hatch" width="8" height="8" patternUnits="userSpaceOnUse" patternTransform="rotate(45)"><line x1="0" x2="0" y1="0" y2="8" class="hatch" /></pattern></defs>
  <path d={whole(outer)} class="big" />
  {#each order as { core, i } (i)}
    {#if core.core_side && core.bowl_side}
      <path d={whole(core.bowl_side)} class="kerf" />
      <path d={whole(core.core_side)} class="core" class:alt={i % 2 === 1} class:refused={core.refused.length > 0} />
    {/if}
  {/each}
  <line x1={X(-wide) - 12} x2={X(wide) + 12} y1={Y(face)} y2={Y(face)} class="face" />
  <line x1={W / 2} x2={W / 2} y1="4" y2={H - 4} class="centre" />
  {#each nest.cores as core, i (i)}
    {@const c = core.cut}
    <line x1={X(c.off_mm ?? 0)} y1={Y(face + c.gap_mm)} x2={X(core.kerf.entry_mm)} y2={Y(face)} class="swing-line" />
    <text x={W / 2 - 8} y={Y(face - core.height_mm) - 12} text-anchor="end" class="note-text">{i + 1}: {mm(core.diameter_mm)} × {mm(core.height_mm)}</text>
  {/each}
  {#if nest.bowl_left_mm}<text x={X(0) - 8} y={Y(0) - 6} text-anchor="end" class="note-text">{mm(nest.bowl_left_mm[1] ?? 0)} bottom left</text>{/if}
  {#each nest.cores as core, i (i)}
    {@const c = core.cut}
    <g role="button" tabindex="0" class="knob pivot" class:picked={picked === i} data-pivot={i} aria-label="{i + 1}: {mm(c.gap_mm)} off the face, {mm(c.off_mm ?? 0)} beside the axis: pivot of the {c.knife.name}"
      onpointerdown={(e) => take(e, i)} onkeydown={(e) => key(e, i)} onfocus={() => onpick(i)}>
      <circle cx={X(c.off_mm ?? 0)} cy={Y(face + c.gap_mm)} r="23" class="reach" />
      <circle cx={X(c.off_mm ?? 0)} cy={Y(face + c.gap_mm)} r="8" class="grip" />
      <text x={X(c.off_mm ?? 0) + 14} y={Y(face + c.gap_mm) + 5} class="note-text">{i + 1}: {mm(c.gap_mm)}</text>
    </g>
  {/each}
</svg>
