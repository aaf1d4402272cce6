<script lang="ts">
  import { api, ask, type Shapes } from '$lib/api/client'
  import { Loader } from '$lib/api/loader.svelte'

  /** Where a piece came from and what was cut from it, to be followed both ways. */
  interface Props {
    tag: string
  }
  let { tag }: Props = $props()
  const kin = new Loader<Shapes['LineageOut']>(() => ask(api.GET('/api/pieces/{tag}/lineage', { params: { path: { tag } } })))
  $effect(() => void kin.load())
  let k = $derived(kin.data)
</script>

{#if k && (k.log_number !== null || k.ancestors.length || k.parts.length)}
  <section data-lineage><h2>Where it comes from</h2>
    <p>{#if k.log_number !== null}<a class="link" href="#/yard/log/{k.log_id}">Log {k.log_number}, {k.log_species}</a>{/if}{#if k.blank_number !== null}{k.log_number !== null ? ', ' : ''}blank {k.blank_number}: {k.blank_cut?.toLowerCase()}{/if}{#if k.log_number !== null || k.blank_number !== null}.{/if}
      {#each [...k.ancestors].reverse() as a (a.tag)} Cut from <a class="link" href="#/piece/{a.tag}"><span class="tag">{a.tag}</span> {a.name}</a>.{/each}</p>
    {#if k.parts.length}<p>Became {#each k.parts as p, i (p.tag)}{i ? ', ' : ''}<a class="link" href="#/piece/{p.tag}"><span class="tag">{p.tag}</span> {p.name || p.stage_title.toLowerCase()}</a>{/each}.</p>{/if}
    {#if k.same_log.length}<p class="quiet no-print">From the same log: {#each k.same_log as p, i (p.tag)}{i ? ', ' : ''}<a class="link" href="#/piece/{p.tag}">{p.tag}</a>{/each}.</p>{/if}
  </section>
{/if}
