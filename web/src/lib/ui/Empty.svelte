<script lang="ts">
  import type { Snippet } from 'svelte'
  interface Props {
    title: string
    children: Snippet
  }
  let { title, children }: Props = $props()
</script>

<div class="sheet empty my-4 max-w-xl p-5">
  <h2>{title}</h2>
  {@render children()}
</div>
