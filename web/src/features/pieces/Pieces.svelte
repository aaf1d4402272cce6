<script lang="ts">
  import { api, ask } from '$lib/api/client'
  import { Loader } from '$lib/api/loader.svelte'
  import { session } from '$lib/session.svelte'
  import Empty from '$lib/ui/Empty.svelte'
  import Piece from '$lib/ui/Piece.svelte'
  import Refused from '$lib/ui/Refused.svelte'
  import TextField from '$lib/ui/TextField.svelte'
  import { day, show } from '$lib/units/units'

  const pieces = new Loader(() => ask(api.GET('/api/pieces')))
  $effect(() => void pieces.load())
  let wanted = $state('')
  let rows = $derived(
    (pieces.data ?? []).filter((p) => `${p.tag} ${p.name} ${p.species_name} ${p.stage_title}`.toLowerCase().includes(wanted.toLowerCase())),
  )
</script>

<div class="head"><h1>All pieces</h1><div class="head-actions"><a class="btn" href="#/tags">Tags to print</a><a class="btn btn-primary" href="#/new">New piece</a></div></div>
<Refused refusal={pieces.refusal} again={() => pieces.load()} />
{#if pieces.data?.length}
  <div class="max-w-sm"><TextField name="find" label="Find by tag, name, wood or stage" bind:value={wanted} /></div>
  <table class="plain stack my-3">
    <thead><tr><th>Piece</th><th>Form</th><th>Size</th><th>Stage</th><th></th></tr></thead>
    <tbody>
      {#each rows as p (p.tag)}
        <tr>
          <td><Piece piece={p} href="#/piece/{p.tag}" size={40} /></td>
          <td>{p.form_label}</td>
          <td>{show('a_mm', p.finish_diameter_mm, session.prefs)}</td>
          <td>{p.stage_title}{p.finished_at ? `, ${day(p.finished_at)}` : ''}</td>
          <td><a class="btn" href={p.stage === 'dry' ? `#/drying/${p.tag}` : p.finished_at ? `#/piece/${p.tag}` : `#/bench/${p.tag}`}>Open<span class="sr-only"> {p.tag}</span></a></td>
        </tr>
      {/each}
    </tbody>
  </table>
  {#if !rows.length}<p>No piece matches “{wanted}”.</p>{/if}
{:else if pieces.data}
  <Empty title="No pieces yet"><p class="my-2">A piece is a tagged bit of wood on its way from blank to bowl.</p><a class="btn btn-primary" href="#/new">Begin one</a></Empty>
{/if}
