<script lang="ts">
  import { api, ask, refusalOf, type Refusal, type Shapes } from '$lib/api/client'
  import { Loader } from '$lib/api/loader.svelte'
  import Refused from '$lib/ui/Refused.svelte'
  import Said from '$lib/ui/Said.svelte'
  import { session } from '$lib/session.svelte'
  import { day, show } from '$lib/units/units'
  import CutPlanner from './CutPlanner.svelte'
  import LogForm from './LogForm.svelte'
  import { bodyOf, type LogBody } from './logForm.svelte'
  import Photos from './Photos.svelte'

  interface Props {
    params: { id: string }
  }
  let { params }: Props = $props()
  let id = $derived(Number(params.id))
  let at = $derived({ params: { path: { log_id: id } } })
  const log = new Loader<Shapes['LogDetail']>(() => ask(api.GET('/api/yard/logs/{log_id}', at)))
  const species = new Loader(() => ask(api.GET('/api/yard/species')))
  let changing = $state(false)
  let refusal = $state.raw<Refusal | undefined>()
  let undone = $state('')
  $effect(() => {
    void log.load()
    void species.load()
  })
  async function act(call: () => Promise<unknown>) {
    try {
      await call()
      refusal = undefined
      await log.load()
    } catch (error) {
      refusal = refusalOf(error)
    }
  }
  const today = () => new Date().toISOString().slice(0, 10)
  const change = (body: Partial<LogBody> & { gone_on?: string | null }) => ask(api.PATCH('/api/yard/logs/{log_id}', { ...at, body: body as Shapes['LogChange'] }))
  async function takeBack(number: number) {
    await act(() => ask(api.DELETE('/api/pieces/cut/{log_id}/{number}', { params: { path: { log_id: id, number } } })))
    undone = `Blank ${number} is in the log again.`
  }
  let l = $derived(log.data)
</script>

<Refused refusal={log.refusal} again={() => log.load()} />
{#if l}
  <div class="head"><h1>Log {l.number}, {l.species_name}</h1>
    <div class="head-actions">
      <button class="btn" aria-expanded={changing} onclick={() => (changing = !changing)}>Change what is known</button>
      {#if l.gone_on}<button class="btn" onclick={() => act(() => change({ gone_on: null }))}>It is still here</button>
      {:else}<button class="btn" onclick={() => act(() => change({ gone_on: today() }))}>It is gone</button>{/if}
      <a class="btn" href="#/new?log={l.id}">Make a piece of it</a>
      <a class="btn" href="#/yard">To the yard</a>
    </div></div>
  <p>{#if l.gone_on}Gone since {day(l.gone_on)}.{:else if l.keeping}<Said text={l.keeping.words} />{:else}Felling date not known.{/if}
    <span class="quiet">{[l.origin, l.lies_at, l.note].filter(Boolean).join('; ')}</span></p>
  <Refused {refusal} />
  {#if changing && species.data}
    <LogForm start={bodyOf(l)} species={species.data} label="What is known of log {l.number}" save={change} onsaved={() => { changing = false; void log.load() }} oncancel={() => (changing = false)} />
  {/if}

  {#if l.measured && !l.gone_on && l.left_mm !== 0 && l.large_end && l.small_end}
    {#key `${l.blanks.length}-${l.length_mm}-${l.large_wide_mm}-${l.small_wide_mm}-${l.diameter_mm}-${l.pith_offset_mm}-${l.trim_start_mm}-${l.trim_end_mm}`}
      <CutPlanner log={l} oncut={() => log.load()} />
    {/key}
  {:else if !l.measured}
    <p class="sheet my-3 p-4">Measure its length and at least one width, and it can be laid out: which blanks, how large, where the pith goes.
      <button class="btn btn-primary ml-2" onclick={() => (changing = true)}>Measure it</button></p>
  {/if}

  {#if undone}<p role="status" class="quiet mt-3">{undone}</p>{/if}
  {#if l.blanks.length}
    <section class="mt-4"><h2>Cut from it</h2>
      <table class="plain stack"><thead><tr><th>Blank</th><th>Size</th><th>Pith</th><th>Piece</th><th><span class="sr-only">Slip</span></th></tr></thead><tbody>
        {#each l.blanks as b (b.number)}
          <tr><td>{b.number} <span class="quiet">{b.cut.replace(/-/g, ' ')}, {day(b.cut_at)}</span></td>
            <td>{show('a_mm', b.diameter_mm, session.prefs)} × {show('a_mm', b.height_mm, session.prefs)}</td>
            <td>{b.holds_pith ? 'in it' : `${show('a_mm', b.pith_mm, session.prefs)} away`}</td>
            <td>{#each b.pieces as tag (tag)}<a class="link" href="#/piece/{tag}">{tag}</a> {:else}<span class="quiet">none</span>{/each}</td>
            <td><button class="btn btn-ghost" onclick={() => takeBack(b.number)}>Not cut after all<span class="sr-only">: blank {b.number}</span></button></td></tr>
        {/each}
      </tbody></table>
    </section>
  {/if}
  <Photos log={l} onchange={(d) => log.set(d)} />
{/if}
