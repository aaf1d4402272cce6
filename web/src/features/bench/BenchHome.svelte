<script lang="ts">
  import { api, ask } from '$lib/api/client'
  import { Loader } from '$lib/api/loader.svelte'
  import Piece from '$lib/ui/Piece.svelte'
  import Refused from '$lib/ui/Refused.svelte'
  import Reckoner from './Reckoner.svelte'

  const pieces = new Loader(() => ask(api.GET('/api/pieces')))
  $effect(() => void pieces.load())
  let inWork = $derived((pieces.data ?? []).filter((p) => !p.finished_at && p.stage !== 'dry'))
</script>

<div class="head"><h1>Bench</h1>
  <div class="head-actions"><a class="btn" href="#/shape">Shape bench</a><a class="btn" href="#/cores">Cores</a><a class="btn" href="#/cutting">Which way to cut</a></div></div>
<div class="bench-home">
  <section class="sheet p-4" aria-labelledby="reckoner-title"><Reckoner /></section>
  <section aria-labelledby="hand-title">
    <h2 id="hand-title">Pieces to work on</h2>
    <Refused refusal={pieces.refusal} again={() => pieces.load()} />
    <ul>
      {#each inWork as piece (piece.tag)}
        <li class="ruled bench-row"><Piece {piece} size={44} /><span>{piece.stage_title}</span>
          <a class="btn" href="#/bench/{piece.tag}">Open card<span class="sr-only"> of {piece.tag}</span></a></li>
      {:else}
        {#if pieces.data}<li class="my-2">Nothing is in work but what dries. <a class="link" href="#/new">Begin a piece</a>.</li>{/if}
      {/each}
    </ul>
  </section>
</div>
