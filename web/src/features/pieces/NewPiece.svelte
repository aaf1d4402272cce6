<script lang="ts">
  import { push, router } from 'svelte-spa-router'
  import { untrack } from 'svelte'
  import { api, ask } from '$lib/api/client'
  import { Loader } from '$lib/api/loader.svelte'
  import { session } from '$lib/session.svelte'
  import ChoiceField from '$lib/ui/ChoiceField.svelte'
  import NumberField from '$lib/ui/NumberField.svelte'
  import Refused from '$lib/ui/Refused.svelte'
  import Said from '$lib/ui/Said.svelte'
  import TextField from '$lib/ui/TextField.svelte'
  import { show } from '$lib/units/units'
  import { FIELDS, NewPiece } from './newPiece.svelte'

  const piece = new NewPiece()
  const options = new Loader(() => ask(api.GET('/api/pieces/options')))
  const logs = new Loader(() => ask(api.GET('/api/yard/logs')))
  $effect(() => {
    void options.load()
    const wanted = Number(new URLSearchParams(router.querystring ?? '').get('log'))
    void logs.load().then(() => takeFrom(wanted))
  })

  function takeFrom(id: number) {
    const log = logs.data?.find((l) => l.id === id)
    piece.log_id = log?.id ?? null
    if (log) piece.species = log.species
  }

  // The route follows the answers; one request at a time wins.
  $effect(() => {
    const ready = piece.sized
    JSON.stringify(piece.body())
    if (!ready) return
    const timer = setTimeout(() => untrack(() => void piece.suggest()), 120)
    return () => clearTimeout(timer)
  })

  async function begin() {
    const tag = await piece.begin()
    if (tag) await push(`/bench/${tag}`)
  }
  let ways = $derived((options.data?.ways ?? []).filter((w) => w.states.includes(piece.state)))
  let plan = $derived(piece.sized ? piece.plan.data : undefined)
  const CONDITIONS = [['barky', 'loose bark'], ['cracked', 'a crack'], ['punky', 'soft, punky places']] as const
</script>

<h1>New piece</h1>
<form class="new-piece" onsubmit={(e) => { e.preventDefault(); void begin() }}>
  <div>
    <div class="fields">
      <ChoiceField name="species" label="Wood" bind:value={piece.species} options={options.data?.species ?? []} error={piece.error('species')} />
      <ChoiceField name="form" label="What it will be" bind:value={piece.form} options={options.data?.forms ?? []} error={piece.error('form')} />
      <ChoiceField name="state" label="The wood is" bind:value={piece.state} options={options.data?.states ?? []} error={piece.error('state')}
        onchange={() => (piece.way = '')} />
      <NumberField name="diameter_mm" label="Blank across" bind:value={piece.diameter_mm} error={piece.error('diameter_mm')} />
      <NumberField name="height_mm" label="Blank deep" bind:value={piece.height_mm} error={piece.error('height_mm')} />
      <NumberField name="finish_diameter_mm" label="Finished across" bind:value={piece.finish_diameter_mm} error={piece.error('finish_diameter_mm')}
        hint={plan && piece.finish_diameter_mm === null ? `Left empty: ${show('a_mm', plan.finish_diameter_mm, session.prefs)}` : ''} optional />
    </div>
    <details class="more my-4">
      <summary>More, if you know it</summary>
      <div class="fields mt-3">
        <ChoiceField name="way" label="Way" bind:value={piece.way} options={[{ key: '', label: 'the usual way for this wood' }, ...ways]} error={piece.error('way')} />
        <ChoiceField name="purpose" label="Meant" bind:value={piece.purpose} options={options.data?.purposes ?? []} error={piece.error('purpose')} />
        <NumberField name="finish_wall_mm" label="Finished wall" bind:value={piece.finish_wall_mm} error={piece.error('finish_wall_mm')}
          hint={piece.finish_wall_mm === null ? `Left empty: ${show('a_mm', 6, session.prefs)}` : ''} optional />
        <NumberField name="pith_mm" label="Rim plane to pith" bind:value={piece.pith_mm} error={piece.error('pith_mm')} optional />
        <TextField name="name" label="What you call it" bind:value={piece.name} error={piece.error('name')} />
        <TextField name="tag" label="Tag" bind:value={piece.tag} error={piece.error('tag')} hint={options.data ? `Left empty: ${options.data.free_tag}` : ''} />
        <ChoiceField name="log_id" label="From log" value={String(piece.log_id ?? '')} onchange={(v) => takeFrom(Number(v))}
          options={[{ key: '', label: 'none noted' }, ...(logs.data ?? []).map((l) => ({ key: String(l.id), label: `${l.number}, ${l.species_name}` }))]} />
      </div>
      <fieldset class="mt-3"><legend class="font-semibold">It has</legend>
        <div class="flex flex-wrap gap-6">
          {#each CONDITIONS as [key, label] (key)}
            <label class="tick"><input type="checkbox" class="checkbox" value={key} bind:group={piece.conditions} /> {label}</label>
          {/each}
        </div>
      </fieldset>
    </details>
    <Refused refusal={piece.refusal} fields={FIELDS} />
    <button class="btn btn-primary btn-lg" disabled={piece.busy || !piece.sized}>Begin it</button>
    {#if !piece.sized}<p class="quiet mt-2">Give its two sizes; all else may stay as it is.</p>{/if}
  </div>

  <aside class="sheet p-4" aria-live="polite" aria-labelledby="route-title">
    <h2 id="route-title">Its route</h2>
    {#if plan}
      <p class="quiet">{options.data?.ways.find((w) => w.key === plan.way)?.label}: {options.data?.ways.find((w) => w.key === plan.way)?.note}</p>
      <ol class="route-preview">
        {#each plan.stages as stage (stage.kind)}<li><strong>{stage.title}</strong><br /><span class="quiet"><Said text={stage.why} /></span></li>{/each}
      </ol>
    {:else}
      <p class="quiet">With its sizes given, the stages it will go through stand here, each with its reason.</p>
    {/if}
    <Refused refusal={piece.sized ? piece.plan.refusal : undefined} fields={FIELDS} />
  </aside>
</form>
