<script lang="ts">
  import Silhouette from '$lib/draw/Silhouette.svelte'

  interface Props {
    piece: { tag: string; name: string; species_name: string; family: string; diameter_mm: number; height_mm: number }
    href?: string
    size?: number
  }
  let { piece, href, size = 52 }: Props = $props()
</script>

<span class="piece">
  <Silhouette family={piece.family} diameter={piece.diameter_mm} height={piece.height_mm} {size} />
  <span class="piece-words">
    <span><span class="tag">{piece.tag}</span>
      {#if href}<a class="link link-hover font-semibold" {href}>{piece.name || piece.species_name}</a>
      {:else}<strong>{piece.name || piece.species_name}</strong>{/if}</span>
    {#if piece.name}<span class="quiet block text-sm">{piece.species_name}</span>{/if}
  </span>
</span>
