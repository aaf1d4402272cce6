<script lang="ts">
  import { api, ask } from '$lib/api/client'
  import { Loader } from '$lib/api/loader.svelte'
  import Silhouette from '$lib/draw/Silhouette.svelte'
  import { session } from '$lib/session.svelte'
  import Refused from '$lib/ui/Refused.svelte'
  import Said from '$lib/ui/Said.svelte'
  import { day, fill, moment, show } from '$lib/units/units'
  import Lineage from './Lineage.svelte'
  import WeightLine from './WeightLine.svelte'

  interface Props {
    params: { tag: string }
  }
  let { params }: Props = $props()
  const record = new Loader(() => ask(api.GET('/api/bench/{tag}/record', { params: { path: { tag: params.tag } } })))
  $effect(() => void record.load())

  let data = $derived(record.data)
  let piece = $derived(data?.piece)
  let done = $derived(piece?.stages.filter((s) => s.state === 'done') ?? [])
  let counted = $derived(data?.weigh_ins.filter((w) => w.state === 'accepted') ?? [])

  const label = (name: string) => data?.labels[name] ?? name.replace(/_/g, ' ')

  function noted(notes: Record<string, unknown>): string[] {
    return Object.entries(notes)
      .filter(([name]) => name !== 'words' && name !== 'finish')
      .map(([name, value]) => `${label(name)} ${typeof value === 'number' ? show(name, value, session.prefs) : value}`)
  }
</script>

<Refused refusal={record.refusal} again={() => record.load()} />
{#if data && piece}
  <article class="record">
    <header class="record-head">
      <Silhouette family={piece.family} diameter={piece.diameter_mm} height={piece.height_mm} size={110} />
      <div>
        <h1><span class="tag">{piece.tag}</span> {piece.name || piece.form_label}</h1>
        <p>{piece.species_name}; {piece.form_label.toLowerCase()}; {piece.way_label.toLowerCase()}.</p>
        <p>Blank {show('a_mm', piece.diameter_mm, session.prefs)} across, {show('a_mm', piece.height_mm, session.prefs)} deep; wanted {show('a_mm', piece.finish_diameter_mm, session.prefs)} with a wall of {show('a_mm', piece.finish_wall_mm, session.prefs)}.</p>
        <p class="quiet">Begun {day(piece.begun_at)}{piece.finished_at ? `, done ${day(piece.finished_at)}` : `; now: ${piece.stage_title.toLowerCase()}`}.</p>
      </div>
      <div class="no-print head-actions">
        <button class="btn" onclick={() => window.print()}>Print</button>
        {#if !piece.finished_at}<a class="btn btn-primary" href={piece.stage === 'dry' ? `#/drying/${piece.tag}` : `#/bench/${piece.tag}`}>Go on with it</a>{/if}
      </div>
    </header>

    <Lineage tag={piece.tag} />
    <section><h2>At the lathe</h2>
      {#each done as stage (stage.kind)}
        <div class="record-stage ruled">
          <strong>{stage.title}</strong> <span class="quiet">{day(stage.done_at)}</span>
          <p>{noted(stage.notes).join('; ') || 'nothing noted'}{stage.notes.words ? `. “${stage.notes.words}”` : ''}</p>
        </div>
      {:else}<p class="quiet">Nothing has been done to it yet.</p>{/each}
    </section>

    {#if counted.length}
      <section><h2>Drying</h2>
        <WeightLine weights={counted} />
        <p>{#each data.stays as stay, i (stay.started_at + i)}{i ? '; ' : ''}{day(stay.started_at)} {stay.place}, {stay.wrap.replace(/-/g, ' ')}{/each}.</p>
        <p class="weights">{#each data.weigh_ins as w (w.id)}<span class:struck={w.state === 'corrected'} class:open={w.state === 'questioned'}>{day(w.at)} {show('mass_g', w.mass_g, session.prefs)}{w.state === 'questioned' ? ' (not counted)' : ''}</span>{/each}</p>
        {#if data.weigh_ins.some((w) => w.state === 'corrected')}<p class="quiet text-sm">Struck through: corrected later.</p>{/if}
      </section>
    {/if}
    {#if piece.coats.length}
      <section><h2>Finish</h2>
        <ul>{#each piece.coats as coat (coat.number)}<li>{coat.number}. {coat.what}, {moment(coat.given_at)}</li>{/each}</ul>
      </section>
    {/if}
    {#if data.care}<section class="care-note"><h2>Care</h2><p><Said text={data.care} /></p></section>{/if}
    <details class="why no-print"><summary>everything that happened</summary>
      <ul class="mt-2">{#each data.events as e, i (e.at + i)}<li><span class="quiet">{moment(e.at)}</span> {e.verb.replace(/-/g, ' ')}: {fill(e.words, {}, session.prefs)}</li>{/each}</ul>
    </details>
  </article>
{/if}
