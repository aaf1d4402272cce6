<script lang="ts">
  import type { Shapes } from '$lib/api/client'
  import { session } from '$lib/session.svelte'
  import { show } from '$lib/units/units'

  /** Half section by drafting habits: left the outside, right the cut wall, centre line between. */
  interface Props {
    drawing: Shapes['Drawing']
    title: string
  }
  let { drawing, title }: Props = $props()

  const W = 420
  const PAD = { left: 20, right: 76, top: 44, bottom: 30 }
  let tall = $derived(Math.max(drawing.blank_height_mm, 1))
  let wide = $derived(Math.max(drawing.blank_radius_mm, 1))
  let scale = $derived(Math.min((W - PAD.left - PAD.right) / (2 * wide), 420 / tall))
  let cx = $derived(PAD.left + (W - PAD.left - PAD.right) / 2)
  let H = $derived(PAD.top + tall * scale + PAD.bottom)
  let foot = $derived((drawing.tenon_length_mm ?? 0) * scale)
  let base = $derived(H - PAD.bottom - foot)
  const at = (r: number, z: number) => `${(cx + r * scale).toFixed(1)},${(base - z * scale).toFixed(1)}`
  const line = (path: readonly (readonly number[])[], side = 1) => path.map((p) => at(side * (p[0] ?? 0), p[1] ?? 0))

  let cut = $derived(`M${[...line(drawing.outer), ...line(drawing.inner).reverse()].join('L')}Z`)
  let outside = $derived(`M${[...line(drawing.outer, -1)].join('L')}L${at(0, drawing.outer.at(-1)?.[1] ?? 0)}`)
  let value = $derived(Object.fromEntries(drawing.dimensions.map((d) => [d.name, d.value ?? 0])))
  let rim = $derived(drawing.outer.at(-1) ?? [0, 0])
  let rimIn = $derived(drawing.inner.at(-1) ?? [0, 0])
  let widest = $derived(Math.max(...drawing.outer.map((p) => p[0] ?? 0)))
  let bottom = $derived(drawing.inner[0]?.[1] ?? 0)
  const text = (name: string) => show(name, value[name] ?? 0, session.prefs)
  let rimY = $derived(base - (rim[1] ?? 0) * scale)
  let sideX = $derived(cx + wide * scale + 12)
  const id = $props.id()
</script>

<figure class="drawing">
  <svg viewBox="0 0 {W} {H}" role="img" aria-labelledby="{id}-t">
    <title id="{id}-t">{title}: {drawing.dimensions.map((d) => `${d.label} ${show(d.name, d.value ?? 0, session.prefs)}`).join(', ')}</title>
    <defs>
      <pattern id="{id}-h" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)"><line x1="0" x2="0" y1="0" y2="7" class="hatch" /></pattern>
      <marker id="{id}-a" viewBox="0 0 8 6" refX="8" refY="3" markerWidth="7" markerHeight="6" orient="auto-start-reverse"><path d="M0,0L8,3L0,6Z" class="arrow" /></marker>
    </defs>
    <rect x={cx - wide * scale} y={base + foot - tall * scale} width={2 * wide * scale} height={tall * scale} class="blank" />
    {#if drawing.tenon_radius_mm}
      <rect x={cx - drawing.tenon_radius_mm * scale} y={base} width={2 * drawing.tenon_radius_mm * scale} height={foot} class="contour tenon" />
    {/if}
    <path d={outside} class="contour" />
    <path d={cut} fill="url(#{id}-h)" class="contour" />
    <line x1={cx} x2={cx} y1={PAD.top - 14} y2={H - 8} class="centre" />

    <line x1={cx - widest * scale} x2={cx + widest * scale} y1={18} y2={18} class="dim" marker-start="url(#{id}-a)" marker-end="url(#{id}-a)" />
    <line x1={cx - widest * scale} x2={cx - widest * scale} y1={12} y2={rimY} class="ext" /><line x1={cx + widest * scale} x2={cx + widest * scale} y1={12} y2={rimY} class="ext" />
    <text x={cx} y="13" class="dim-text" text-anchor="middle">⌀ {text('diameter_mm')}</text>

    <text x={cx + (((rim[0] ?? 0) + (rimIn[0] ?? 0)) / 2) * scale} y={rimY - 7} class="dim-text" text-anchor="end">wall {text('wall_mm')}</text>

    <line x1={sideX} x2={sideX} y1={rimY} y2={base} class="dim" marker-start="url(#{id}-a)" marker-end="url(#{id}-a)" />
    <line x1={cx + (rim[0] ?? 0) * scale} x2={sideX + 4} y1={rimY} y2={rimY} class="ext" /><line x1={cx} x2={sideX + 4} y1={base} y2={base} class="ext" />
    <text x={sideX + 5} y={(rimY + base) / 2 + 4} class="dim-text">{text('height_mm')}</text>

    <line x1={cx + 14} x2={cx + 14} y1={base - bottom * scale} y2={base} class="dim" marker-start="url(#{id}-a)" marker-end="url(#{id}-a)" />
    <text x={cx + 20} y={base - bottom * scale - 6} class="dim-text">bottom {text('bottom_mm')}</text>
    {#if drawing.tenon_radius_mm}
      <text x={cx} y={H - 12} class="dim-text" text-anchor="middle">⌀ {show('tenon_mm', 2 * drawing.tenon_radius_mm, session.prefs)} × {show('tenon_mm', drawing.tenon_length_mm ?? 0, session.prefs)}</text>
    {/if}
  </svg>
  <figcaption class="quiet text-sm">Left the outside, right the cut wall; dashed, the blank. Not to full size.</figcaption>
</figure>
