<script lang="ts">
  import { api, ask, refusalOf, type Refusal, type Shapes } from '$lib/api/client'
  import { Loader } from '$lib/api/loader.svelte'
  import LogEnd from '$lib/draw/LogEnd.svelte'
  import { session } from '$lib/session.svelte'
  import ChoiceField from '$lib/ui/ChoiceField.svelte'
  import Empty from '$lib/ui/Empty.svelte'
  import NumberField from '$lib/ui/NumberField.svelte'
  import Refused from '$lib/ui/Refused.svelte'
  import TextField from '$lib/ui/TextField.svelte'
  import { show } from '$lib/units/units'

  const logs = new Loader(() => ask(api.GET('/api/yard/logs')))
  const species = new Loader(() => ask(api.GET('/api/yard/species')))
  $effect(() => {
    void logs.load()
    void species.load()
  })

  const FIELDS = ['species', 'felled_on', 'length_mm', 'diameter_mm', 'pith_offset_mm', 'origin', 'lies_at', 'note']
  const blank = () => ({
    species: 'unknown-hardwood', origin: '', felled_on: '', length_mm: null as number | null, diameter_mm: null as number | null,
    pith_offset_mm: null as number | null, cracked: false, ends_sealed: false, lies_at: '', note: '',
  })
  let form = $state(blank())
  let open = $state(false)
  let refusal = $state.raw<Refusal | undefined>()

  async function takeIn() {
    try {
      await ask(api.POST('/api/yard/logs', { body: { ...form, felled_on: form.felled_on || null } }))
      form = blank()
      refusal = undefined
      open = false
      await logs.load()
    } catch (error) {
      refusal = refusalOf(error)
    }
  }

  function words(log: Shapes['LogOut']): string {
    const size = [
      log.diameter_mm != null ? `${show('a_mm', log.diameter_mm, session.prefs)} across` : 'width not known',
      log.length_mm != null ? `${show('a_mm', log.length_mm, session.prefs)} long` : 'length not known',
    ]
    return size.join(', ')
  }
  function age(days: number | null): string {
    if (days === null) return 'felling date not known'
    return days < 60 ? `felled ${days} days ago` : `felled ${Math.round(days / 30.4)} months ago`
  }
</script>

<div class="head">
  <h1>Yard</h1>
  <div class="head-actions">
    <button class="btn" aria-expanded={open} onclick={() => (open = !open)}>Take in a log</button>
    <a class="btn btn-primary" href="#/new">New piece</a>
    <a class="btn" href="#/pieces">All pieces</a>
  </div>
</div>

{#if open}
  <form class="sheet my-3 p-4" onsubmit={(e) => { e.preventDefault(); void takeIn() }}>
    <h2 class="mb-2">A log comes in</h2>
    <div class="fields">
      <ChoiceField name="species" label="Wood" bind:value={form.species} error={refusal?.of('species')}
        options={(species.data ?? []).map((s) => ({ key: s.key, label: s.common }))} />
      <TextField name="felled_on" label="Felled on" type="date" bind:value={form.felled_on} error={refusal?.of('felled_on')} />
      <NumberField name="diameter_mm" label="Across, under bark" bind:value={form.diameter_mm} error={refusal?.of('diameter_mm')} optional />
      <NumberField name="length_mm" label="Length" bind:value={form.length_mm} error={refusal?.of('length_mm')} optional />
      <NumberField name="pith_offset_mm" label="Pith off the middle" bind:value={form.pith_offset_mm} error={refusal?.of('pith_offset_mm')} optional />
      <TextField name="origin" label="Where from" bind:value={form.origin} error={refusal?.of('origin')} />
      <TextField name="lies_at" label="Where it lies" bind:value={form.lies_at} error={refusal?.of('lies_at')} />
    </div>
    <div class="my-3 flex flex-wrap gap-6">
      <label class="tick"><input type="checkbox" class="checkbox" bind:checked={form.ends_sealed} /> ends sealed</label>
      <label class="tick"><input type="checkbox" class="checkbox" bind:checked={form.cracked} /> cracked</label>
    </div>
    <Refused {refusal} fields={FIELDS} />
    <button class="btn btn-primary">Keep it</button>
  </form>
{/if}

<Refused refusal={logs.refusal} again={() => logs.load()} />
{#if logs.data?.length}
  <p class="quiet mb-2">Longest felled first: it goes off first. Ends, pith and length are drawn to one scale; what is not known is dotted.</p>
  <ul class="logs">
    {#each logs.data as log (log.id)}
      <li class="ruled log-row">
        <LogEnd diameter={log.diameter_mm} length={log.length_mm} pith={log.pith_offset_mm} cracked={log.cracked} label="Log {log.number}, {words(log)}" />
        <div>
          <p><strong>Log {log.number}, {log.species_name}</strong></p>
          <p>{words(log)}; {age(log.days_since_felled)}{log.ends_sealed ? ', ends sealed' : ', ends bare'}{log.cracked ? ', cracked' : ''}.</p>
          <p class="quiet">{[log.origin, log.lies_at, log.note].filter(Boolean).join('; ')}</p>
        </div>
        <div class="log-side">
          <span class="quiet">{log.pieces === 0 ? 'nothing cut yet' : log.pieces === 1 ? '1 piece' : `${log.pieces} pieces`}</span>
          <a class="btn" href="#/new?log={log.id}">Cut a piece<span class="sr-only"> from log {log.number}</span></a>
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
