<script lang="ts">
  import { api, ask } from '$lib/api/client'
  import { Loader } from '$lib/api/loader.svelte'
  import Refused from '$lib/ui/Refused.svelte'

  const pieces = new Loader(() => ask(api.GET('/api/pieces')))
  $effect(() => void pieces.load())
  let rows = $derived((pieces.data ?? []).filter((p) => !p.finished_at))
</script>

<div class="head no-print"><h1>Tags to print</h1><div class="head-actions"><button class="btn btn-primary" onclick={() => window.print()}>Print</button><a class="btn" href="#/pieces">All pieces</a></div></div>
<p class="quiet no-print mb-3">One for each piece in work. A phone at the shelf reads the square; the number is for people.</p>
<Refused refusal={pieces.refusal} />
<ul class="tags">
  {#each rows as p (p.tag)}
    <li><img src="/api/pieces/{p.tag}/tag.svg" alt="Code of {p.tag}" width="96" height="96" /><span><strong class="tag">{p.tag}</strong><span class="block">{p.name || p.species_name}</span></span></li>
  {/each}
</ul>
