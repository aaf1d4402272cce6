<script lang="ts">
  import type { Shapes } from '$lib/api/client'

  /** A log's end, seen from the large end, with the blanks of one length lying in it; they may be pushed about. */
  interface Props {
    end: Shapes['EndOut']
    blanks: Shapes['LaidOut'][]
    picked: string | null
    clashes?: readonly (readonly string[])[]
    cracked?: boolean
    label: string
    onpick?: (id: string) => void
    onpush?: (id: string, dx: number, dy: number) => void
    onturn?: (id: string, by: number) => void
  }
  let { end, blanks, picked, clashes = [], cracked = false, label, onpick, onpush, onturn }: Props = $props()

  let svg = $state<SVGSVGElement>()
  let half = $derived(Math.max(end.a_mm, end.b_mm) + end.bark_mm + 14)
  let pith = $derived({ x: end.pith[0] ?? 0, y: -(end.pith[1] ?? 0) })
  let grip = $state<{ id: string; x: number; y: number; turn: boolean } | null>(null)
  let here = $derived(blanks.find((b) => b.spot.id === picked)?.spot.start_mm)
  let inSight = $derived([...blanks].sort((a, b) => Number(a.spot.start_mm === here) - Number(b.spot.start_mm === here)))
  const path = (points: readonly (readonly number[])[]) => `M${points.map(([x, y]) => `${x},${-(y ?? 0)}`).join('L')}Z`
  const middle = (b: Shapes['LaidOut']) => {
    const n = b.end.length
    return { x: b.end.reduce((s, p) => s + (p[0] ?? 0), 0) / n, y: -b.end.reduce((s, p) => s + (p[1] ?? 0), 0) / n }
  }
  const clash = (id: string) => clashes.some((pair) => pair.includes(id))
  let knob = $derived.by(() => {
    const b = blanks.find((x) => x.spot.id === picked)
    if (!b || b.spot.locked || ['end-grain', 'bored-branch'].includes(b.spot.cut)) return null
    const turn = (b.spot.angle_deg * Math.PI) / 180
    return { x: Math.cos(turn) * (half - 8), y: -Math.sin(turn) * (half - 8) }
  })

  function at(event: PointerEvent): { x: number; y: number } {
    const box = svg!.getBoundingClientRect()
    const scale = (2 * half) / box.width
    return { x: (event.clientX - box.left) * scale - half, y: -((event.clientY - box.top) * scale - half) }
  }
  function take(event: PointerEvent, id: string, turn = false) {
    onpick?.(id)
    grip = { id, ...at(event), turn }
    svg?.setPointerCapture(event.pointerId)
    event.preventDefault()
  }
  function drag(event: PointerEvent) {
    if (!grip) return
    const to = at(event)
    if (grip.turn) {
      const by = ((Math.atan2(to.y, to.x) - Math.atan2(grip.y, grip.x)) * 180) / Math.PI
      onturn?.(grip.id, Math.round(by * 10) / 10)
    } else onpush?.(grip.id, to.x - grip.x, to.y - grip.y)
    grip = { ...grip, ...to }
  }
  const STEP: Record<string, [number, number]> = { ArrowLeft: [-2, 0], ArrowRight: [2, 0], ArrowUp: [0, 2], ArrowDown: [0, -2] }
  function key(event: KeyboardEvent, id: string) {
    const step = STEP[event.key]
    const far = event.shiftKey ? 5 : 1
    if (step) onpush?.(id, step[0] * far, step[1] * far)
    else if (event.key === '[') onturn?.(id, 5)
    else if (event.key === ']') onturn?.(id, -5)
    else if (event.key === 'Enter' || event.key === ' ') onpick?.(id)
    else return
    event.preventDefault()
  }
</script>

<svg bind:this={svg} viewBox="{-half} {-half} {2 * half} {2 * half}" class="log-cut" role="group" aria-label={label}
  onpointermove={drag} onpointerup={() => (grip = null)} onpointercancel={() => (grip = null)}>
  <ellipse rx={end.a_mm + end.bark_mm} ry={end.b_mm + end.bark_mm} class="bark" />
  <ellipse rx={end.a_mm} ry={end.b_mm} class="sapwood" />
  {#each [0.86, 0.72, 0.58, 0.44, 0.3, 0.16] as share (share)}
    <ellipse cx={pith.x * (1 - share)} cy={pith.y * (1 - share)} rx={end.a_mm * share} ry={end.b_mm * share} class="year" />
  {/each}
  {#if cracked}<path d="M{pith.x},{pith.y}l{end.a_mm * 0.5},{-end.b_mm * 0.3}l{end.a_mm * 0.25},{-end.b_mm * 0.05}M{pith.x},{pith.y}l{-end.a_mm * 0.4},{end.b_mm * 0.4}" class="crack" />{/if}
  {#each inSight as b (b.spot.id)}
    {@const other = b.spot.start_mm !== here}
    {#if !other}
      <g role="button" tabindex="0" aria-pressed={b.spot.id === picked} aria-label="Blank {b.spot.id}, {b.cut_label}" onpointerdown={(e) => take(e, b.spot.id)} onkeydown={(e) => key(e, b.spot.id)} class="laid" class:picked={b.spot.id === picked} class:clash={clash(b.spot.id)} class:pithy={b.holds_pith} class:locked={b.spot.locked}>
        <path d={path(b.end)} />
        <text {...middle(b)} font-size={half * 0.1}>{b.spot.id}</text>
      </g>
    {:else}<path d={path(b.end)} class="laid-behind" />{/if}
  {/each}
  <path d="M{pith.x - 5},{pith.y}h10M{pith.x},{pith.y - 5}v10" class="pith-mark" />
  {#if knob && onturn && picked}
    <circle cx={knob.x} cy={knob.y} r={half * 0.055} class="turn-knob" role="slider" tabindex="0" aria-label="Turn blank {picked}" aria-valuenow={blanks.find((b) => b.spot.id === picked)?.spot.angle_deg ?? 0}
      onpointerdown={(e) => take(e, picked, true)} onkeydown={(e) => key(e, picked)} />
  {/if}
</svg>
