<script lang="ts">
  import type { Shapes } from '$lib/api/client'

  /** A dried piece: rim from above, and both half sections over each other. Movement to scale, dashed the green round. */
  interface Props {
    dried: Shapes['Dried']
    green: number
  }
  let { dried, green }: Props = $props()
  let half = $derived(Math.max(green, dried.long_mm) / 2 + 12)
  let tall = $derived(Math.max(...dried.along.map((p) => p[1] ?? 0), ...dried.across.map((p) => p[1] ?? 0), 10))
  const line = (points: readonly (readonly number[])[], up: boolean) => points.map((p) => `${(p[0] ?? 0).toFixed(1)},${(up ? tall - (p[1] ?? 0) : -(p[1] ?? 0)).toFixed(1)}`).join('L')
</script>

<svg viewBox="{-half} {-half} {2 * half} {2 * half + tall + 46}" class="warp-draw" role="img" aria-label="Rim from above and two sections of the dried piece">
  <circle r={green / 2} class="green" />
  <path d="M{line(dried.rim, false)}Z" class="dried" />
  <line x1={-half + 8} x2={half - 8} y1="0" y2="0" class="ext" />
  <text x="0" y="-6" text-anchor="middle" font-size={half * 0.075} class="note-plain">fibres run this way</text>
  <g transform="translate(0 {half + 22})">
    <path d="M{line(dried.along, true)}" class="dried" />
    <path d="M{line(dried.across, true)}" class="dried" stroke-dasharray="3 3" />
    <line x1={-half + 8} x2={half - 8} y1={tall} y2={tall} class="ext" />
    <text x="0" y={tall + 16} text-anchor="middle" font-size={half * 0.075} class="note-plain">whole line along the fibres, dotted across them</text>
  </g>
</svg>
