<script lang="ts">
  import { api, ask, type Shapes } from '$lib/api/client'
  import { Loader } from '$lib/api/loader.svelte'
  import LogCut from '$lib/draw/LogCut.svelte'
  import LogSide from '$lib/draw/LogSide.svelte'
  import Refused from '$lib/ui/Refused.svelte'
  import Said from '$lib/ui/Said.svelte'
  import { session } from '$lib/session.svelte'
  import { show } from '$lib/units/units'

  interface Props {
    params: { id: string }
  }
  let { params }: Props = $props()
  let at = $derived({ params: { path: { log_id: Number(params.id) } } })
  const log = new Loader<Shapes['LogDetail']>(() => ask(api.GET('/api/yard/logs/{log_id}', at)))
  const sheet = new Loader<Shapes['SheetOut']>(async () => {
    const found = await ask(api.POST('/api/yard/logs/{log_id}/layouts', { ...at, body: {} as Shapes['LayoutsIn'] }))
    span = { start: found.start_mm, end: found.end_mm }
    const own = found.layouts.find((l) => l.key === 'own') ?? found.layouts[0]!
    return ask(api.POST('/api/yard/logs/{log_id}/sheet', { ...at, body: { saw: found.saw, spots: own.blanks.map((b) => b.spot), wants: [] } }))
  })
  let span = $state({ start: 0, end: 0 })
  $effect(() => {
    void log.load()
    void sheet.load()
  })
  const WORD: Record<string, string> = { chainsaw: 'Chainsaw', bandsaw: 'Bandsaw', drill: 'Drill' }
  let l = $derived(log.data)
  let groups = $derived.by(() => {
    const all = sheet.data?.layout.blanks ?? []
    return [...new Set(all.map((b) => b.spot.start_mm))].map((start) => ({ start, blanks: all.filter((b) => b.spot.start_mm === start) }))
  })
  const mm = (v: number) => show('a_mm', v, session.prefs)
</script>

<Refused refusal={sheet.refusal ?? log.refusal} />
{#if l && sheet.data && l.large_end && l.small_end}
  <div class="head"><h1>Cutting sheet, log {l.number}, {l.species_name}</h1>
    <div class="head-actions no-print"><button class="btn btn-primary" onclick={() => window.print()}>Print</button><a class="btn" href="#/yard/log/{l.id}">Back to the log</a></div></div>
  <LogSide length={l.length_mm ?? 1000} large={l.large_end} small={l.small_end} start={span.start} end={span.end} blanks={sheet.data.layout.blanks} cut={l.blanks} />
  <div class="sheet-ends">
    {#each groups as g (g.start)}
      <figure><LogCut end={l.large_end} blanks={g.blanks} picked={g.blanks[0]?.spot.id ?? null} label="Length from {mm(g.start)}" />
        <figcaption>From {mm(g.start)}: blanks {g.blanks.map((b) => b.spot.id).join(', ')}</figcaption></figure>
    {/each}
  </div>
  <ol class="marks">
    {#each sheet.data.marks as m, i (i)}<li class="ruled py-1"><span class="mark-box" aria-hidden="true"></span><strong>{WORD[m.tool] ?? m.tool}.</strong> <Said text={m.text} /></li>{/each}
  </ol>
  <p class="caution care"><strong>Mind.</strong> Chainsaw: helmet, face and ear protection, trousers and boots for it; the log held so that it cannot roll. Bandsaw: no round stock without a cradle. Your machines' manuals and training come first.</p>
{/if}
