<script lang="ts">
  import { api, ask, type Shapes } from '$lib/api/client'
  import { Loader } from '$lib/api/loader.svelte'
  import LogEnd from '$lib/draw/LogEnd.svelte'
  import { session } from '$lib/session.svelte'
  import Empty from '$lib/ui/Empty.svelte'
  import Refused from '$lib/ui/Refused.svelte'
  import Said from '$lib/ui/Said.svelte'
  import { show } from '$lib/units/units'
  import LogForm from './LogForm.svelte'
  import { blankLog } from './logForm.svelte'

  const logs = new Loader(() => ask(api.GET('/api/yard/logs')))
  const species = new Loader(() => ask(api.GET('/api/yard/species')))
  $effect(() => {
    void logs.load()
    void species.load()
  })
  let open = $state(false)

  const width = (log: Shapes['LogOut']) => log.diameter_mm ?? (log.large_wide_mm && log.small_wide_mm ? (log.large_wide_mm + log.small_wide_mm) / 2 : (log.large_wide_mm ?? log.small_wide_mm)) ?? null
  function words(log: Shapes['LogOut']): string {
    const across = width(log)
    return [
      across != null ? `${show('a_mm', across, session.prefs)} across` : 'width not known',
      log.length_mm != null ? `${show('a_mm', log.length_mm, session.prefs)} long` : 'length not known',
    ].join(', ')
  }
  const WORD: Record<string, string> = { over: 'Cut now', soon: 'Cut soon', sound: '' }
  let here = $derived((logs.data ?? []).filter((l) => !l.gone_on))
  let gone = $derived((logs.data ?? []).filter((l) => l.gone_on))
  function left(log: Shapes['LogOut']): string {
    if (log.left_mm == null) return log.pieces ? `${log.pieces} pieces` : 'not measured yet'
    if (log.left_mm === 0) return 'all cut'
    return log.pieces ? `${show('a_mm', log.left_mm, session.prefs)} left, ${log.pieces} cut` : 'nothing cut yet'
  }
</script>

<div class="head">
  <h1>Yard</h1>
  <div class="head-actions">
    <button class="btn" aria-expanded={open} onclick={() => (open = !open)}>Take in a log</button>
    <a class="btn" href="#/odd">Odd shapes, resin</a>
    <a class="btn btn-primary" href="#/new">New piece</a>
    <a class="btn" href="#/pieces">All pieces</a>
  </div>
</div>

{#if open && species.data}
  <LogForm start={blankLog()} species={species.data} label="A log comes in" save={(body) => ask(api.POST('/api/yard/logs', { body }))}
    onsaved={() => { open = false; void logs.load() }} oncancel={() => (open = false)} />
{/if}

<Refused refusal={logs.refusal} again={() => logs.load()} />
{#if here.length}
  <p class="quiet mb-2">What goes off first stands first. Ends, pith and length are drawn to one scale; what is not known is dotted.</p>
  <ul class="logs">
    {#each here as log (log.id)}
      <li class="ruled log-row" data-log={log.number}>
        <LogEnd diameter={width(log)} length={log.length_mm} pith={log.pith_offset_mm} cracked={log.cracked} label="Log {log.number}, {words(log)}" />
        <div>
          <p><strong>Log {log.number}, {log.species_name}</strong>{#if log.keeping && WORD[log.keeping.level]}<span class="flag">{WORD[log.keeping.level]}</span>{/if}</p>
          <p>{words(log)}{log.cracked ? ', cracked' : ''}{log.rot ? ', rot' : ''}{log.insects ? ', insects' : ''}.</p>
          {#if log.keeping}<p><Said text={log.keeping.words} /></p>{:else}<p>Felling date not known: what it has used of its time cannot be said.</p>{/if}
          <p class="quiet">{[log.origin, log.lies_at, log.note].filter(Boolean).join('; ')}</p>
        </div>
        <div class="log-side">
          <span class="quiet">{left(log)}</span>
          <a class="btn" href="#/yard/log/{log.id}">{log.measured && log.left_mm !== 0 ? 'Plan the cuts' : 'Open it'}<span class="sr-only"> of log {log.number}</span></a>
        </div>
      </li>
    {/each}
  </ul>
{:else if logs.data}
  <Empty title="No logs yet">
    <p class="my-2">The yard keeps what came in, when it was felled and where it lies, so that nothing is forgotten under the tarpaulin until it splits.</p>
    <button class="btn btn-primary" onclick={() => (open = true)}>Take in a log</button>
  </Empty>
{/if}
{#if gone.length}
  <details class="more mt-4"><summary>Gone from the yard ({gone.length})</summary>
    <ul>{#each gone as log (log.id)}<li class="ruled py-2"><a class="link" href="#/yard/log/{log.id}">Log {log.number}, {log.species_name}</a> <span class="quiet">{words(log)}; {log.pieces} pieces</span></li>{/each}</ul>
  </details>
{/if}
