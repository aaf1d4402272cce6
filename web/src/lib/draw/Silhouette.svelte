<script lang="ts">
  import { session } from '$lib/session.svelte'

  interface Props {
    family: string
    diameter: number
    height: number
    size?: number
  }
  let { family, diameter, height, size = 52 }: Props = $props()

  let scale = $derived((size - 4) / Math.max(diameter, height * 1.1))
  let tall = $derived(height * scale)
  let base = $derived((size + tall) / 2)
  let path = $derived.by(() => {
    const points = session.silhouettes[family]
    if (!points) return ''
    const half = (diameter / 2) * scale
    const right = points.map(([r, z]) => `${(size / 2 + r * half).toFixed(1)},${(base - z * tall).toFixed(1)}`)
    const left = points.map(([r, z]) => `${(size / 2 - r * half).toFixed(1)},${(base - z * tall).toFixed(1)}`).reverse()
    return `M${[...right, ...left].join('L')}Z`
  })
</script>

<svg width={size} height={size} viewBox="0 0 {size} {size}" aria-hidden="true" class="silhouette">
  <line x1="3" x2={size - 3} y1={base + 0.5} y2={base + 0.5} class="ground" />
  <path d={path} />
</svg>
