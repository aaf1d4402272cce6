<script lang="ts">
  import type { Shapes } from '$lib/api/client'
  import { session } from '$lib/session.svelte'
  import { show } from '$lib/units/units'

  /** A log from the side, large end left: lengths cut away, trims, and blanks where they lie; they may be slid along. */
  interface Props {
    length: number
    large: Shapes['EndOut']
    small: Shapes['EndOut']
    start: number
    end: number
    blanks?: Shapes['LaidOut'][]
    cut?: Shapes['BlankOut'][]
    picked?: string | null
    clashes?: readonly (readonly string[])[]
    onpick?: (id: string) => void
    onslide?: (id: string, by: number) => void
  }
  let { length, large, small, start, end, blanks = [], cut = [], picked = null, clashes = [], onpick, onslide }: Props = $props()

  let svg = $state<SVGSVGElement>()
  let grip = $state<{ id: string; x: number } | null>(null)
  let tall = $derived(Math.max(large.b_mm + large.bark_mm, small.b_mm + small.bark_mm))
  const PAD = 26
  let W = $derived(length + 2 * PAD)
  let H = $derived(2 * tall + 62)
  const half = (x: number) => large.b_mm + large.bark_mm + ((small.b_mm + small.bark_mm - large.b_mm - large.bark_mm) * x) / length
  const wood = (x: number) => large.b_mm + ((small.b_mm - large.b_mm) * x) / length
  const shape = (from: number, to: number, of: (x: number) => number) =>
    `M${PAD + from},${tall - of(from)}L${PAD + to},${tall - of(to)}L${PAD + to},${tall + of(to)}L${PAD + from},${tall + of(from)}Z`
  /** Blanks of one length lie behind each other from this side: their numbers stand apart. */
  function labelX(b: Shapes['LaidOut']): number {
    const beside = blanks.filter((o) => o.spot.start_mm === b.spot.start_mm)
    const step = Math.min(tall * 0.28, b.spot.length_mm / (beside.length + 1))
    return PAD + b.spot.start_mm + b.spot.length_mm / 2 + (beside.indexOf(b) - (beside.length - 1) / 2) * step
  }
  const clash = (id: string) => clashes.some((pair) => pair.includes(id))
  let marks = $derived([...new Set([0, start, ...blanks.flatMap((b) => [b.spot.start_mm, b.spot.start_mm + b.spot.length_mm]), length].map(Math.round))].sort((a, b) => a - b))
  let spaced = $derived(marks.filter((m, i) => i === 0 || m - (marks[i - 1] ?? 0) > length * 0.055))

  function at(event: PointerEvent): number {
    const box = svg!.getBoundingClientRect()
    return ((event.clientX - box.left) * W) / box.width
  }
  function take(event: PointerEvent, id: string) {
    onpick?.(id)
    grip = { id, x: at(event) }
    svg?.setPointerCapture(event.pointerId)
    event.preventDefault()
  }
  function drag(event: PointerEvent) {
    if (!grip) return
    const x = at(event)
    onslide?.(grip.id, x - grip.x)
    grip = { id: grip.id, x }
  }
  function key(event: KeyboardEvent, id: string) {
    const by = { ArrowLeft: -5, ArrowRight: 5 }[event.key]
    if (by) onslide?.(id, by * (event.shiftKey ? 5 : 1))
    else if (event.key === 'Enter' || event.key === ' ') onpick?.(id)
    else return
    event.preventDefault()
  }
</script>

<svg bind:this={svg} viewBox="0 0 {W} {H}" class="log-side-view" role="group" aria-label="The log from the side, large end left"
  onpointermove={drag} onpointerup={() => (grip = null)} onpointercancel={() => (grip = null)}>
  <path d={shape(0, length, half)} class="bark" />
  <path d={shape(0, length, wood)} class="sapwood" />
  {#if start > 0}<path d={shape(0, start, half)} class="cut-away" />{/if}
  {#if end < length}<path d={shape(end, length, half)} class="cut-away" />{/if}
  {#each cut as b (b.number)}
    <path d={shape(b.start_mm, Math.min(b.start_mm + b.length_mm, length), half)} class="cut-away" />
  {/each}
  {#each blanks as b (b.spot.id)}
    <g role="button" tabindex="0" aria-pressed={b.spot.id === picked} aria-label="Blank {b.spot.id} along the log" onpointerdown={(e) => take(e, b.spot.id)} onkeydown={(e) => key(e, b.spot.id)} class="laid" class:picked={b.spot.id === picked} class:clash={clash(b.spot.id)} class:pithy={b.holds_pith}>
      <rect x={PAD + b.spot.start_mm} y={tall - b.high_mm} width={b.spot.length_mm} height={Math.max(b.high_mm - b.low_mm, 12)} rx="3" />
    </g>
  {/each}
  {#each blanks as b (b.spot.id)}
    <text x={labelX(b)} y={tall - (b.high_mm + b.low_mm) / 2} font-size={tall * 0.16} class="laid-text">{b.spot.id}</text>
  {/each}
  <line x1={PAD} x2={PAD + length} y1={2 * tall + 14} y2={2 * tall + 14} class="dim" />
  {#each spaced as m (m)}
    <line x1={PAD + m} x2={PAD + m} y1={2 * tall + 6} y2={2 * tall + 22} class="dim" />
    <text x={PAD + m} y={2 * tall + 44} class="side-text" text-anchor={m < length * 0.05 ? 'start' : m > length * 0.95 ? 'end' : 'middle'} font-size={length * 0.017}>{show('a_mm', m, session.prefs)}</text>
  {/each}
</svg>
