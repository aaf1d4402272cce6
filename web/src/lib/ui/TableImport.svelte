<script lang="ts" module>
  export interface Wrong {
    column: string
    message: string
  }
  export interface ImportRow {
    line: number
    fate: string
    wrong: Wrong[]
  }
  export interface Looked<R extends ImportRow> {
    header: string[]
    columns: { key: string; label: string; required: boolean }[]
    mapping: Record<string, string>
    rows: R[]
    more: number
    new: number
    known: number
    questioned?: number
    wrong: number
    kept: boolean
  }
  export interface Request {
    text: string
    mapping: Record<string, string>
    unit: string
    keep: boolean
  }
</script>

<script lang="ts" generics="R extends ImportRow">
  import type { Snippet } from 'svelte'
  import { refusalOf, type Refusal } from '$lib/api/client'
  import ChoiceField from './ChoiceField.svelte'
  import Refused from './Refused.svelte'

  /** A table comes in: looked at first, columns matched, wrong rows named, then kept all together. */
  interface Props {
    send: (request: Request) => Promise<Looked<R>>
    units: { key: string; label: string }[]
    /** What a row says, after its line number. */
    cells: Snippet<[R]>
    heads: string[]
    example: string
    onkept?: () => void
  }
  let { send, units, cells, heads, example, onkept }: Props = $props()

  let text = $state('')
  let unit = $state('')
  let mapping = $state<Record<string, string>>({})
  let looked = $state.raw<Looked<R> | undefined>()
  let refusal = $state.raw<Refusal | undefined>()
  let busy = $state(false)
  let pasting = $state(true)
  let chosen = $derived(unit || (units[0]?.key ?? ''))

  async function go(keep: boolean) {
    busy = true
    try {
      looked = await send({ text, mapping, unit: chosen, keep })
      mapping = looked.mapping
      refusal = undefined
      if (keep) onkept?.()
    } catch (error) {
      refusal = refusalOf(error)
    }
    busy = false
  }
  async function file(found: File | undefined) {
    if (!found) return
    text = await found.text()
    pasting = false
    mapping = {}
    await go(false)
  }
  function match(key: string, header: string) {
    mapping = { ...mapping, [key]: header }
    void go(false)
  }
  const FATE: Record<string, string> = { new: 'new', known: 'here already', questioned: 'will be asked about', wrong: 'wrong' }
  const labelOf = (key: string) => looked?.columns.find((c) => c.key === key)?.label ?? key
  let unmatched = $derived((looked?.columns ?? []).filter((c) => c.required && !mapping[c.key]))
</script>

<div class="table-import">
  <div class="flex flex-wrap items-end gap-3">
    <div><label class="btn btn-primary" for="table-file">Choose a file</label><input id="table-file" class="sr-only" type="file" accept=".csv,.tsv,.txt,text/csv" onchange={(e) => { void file(e.currentTarget.files?.[0]); e.currentTarget.value = '' }} /></div>
    {#if units.length > 1}<ChoiceField name="unit" label="Figures are in" value={chosen} options={units} onchange={(v) => { unit = v; if (text) void go(false) }} />{/if}
  </div>
  <details class="more mt-2" bind:open={pasting}><summary>Or paste the rows here</summary>
    <div class="field mt-2"><label for="table-text">Rows, the first with the names of the columns</label>
      <textarea id="table-text" class="textarea w-full" rows="5" bind:value={text} placeholder={example} aria-invalid={refusal?.of('text') ? 'true' : undefined}></textarea></div>
    <button class="btn" disabled={!text.trim() || busy} onclick={() => { mapping = {}; void go(false) }}>Look at it</button>
  </details>
  {#if refusal?.of('text')}<p class="wrong" role="alert">{refusal.of('text')?.message}</p>{/if}
  <Refused {refusal} fields={['text']} />
  {#if looked}
    <h2 class="mt-3">Which column is which</h2>
    {#if unmatched.length}<p class="wrong" role="alert">Say which column holds: {unmatched.map((c) => c.label.toLowerCase()).join(', ')}.</p>{/if}
    <div class="fields">
      {#each looked.columns.filter((c) => c.required) as c (c.key)}
        <ChoiceField name="map-{c.key}" label={c.label} value={mapping[c.key] ?? ''} options={[{ key: '', label: 'choose' }, ...looked.header.map((h) => ({ key: h, label: h }))]} onchange={(v) => match(c.key, v)} />
      {/each}
    </div>
  {/if}
  {#if looked && !unmatched.length}
    <p class="mt-3" role="status">{#if looked.kept}<strong>Kept: {looked.new} rows.</strong>{:else}<strong>{looked.new} new</strong>{/if}, {looked.known} here already{looked.questioned ? `, ${looked.questioned} to be asked about` : ''}{looked.wrong ? `, ` : '.'}{#if looked.wrong}<span class="wrong">{looked.wrong} wrong.</span>{/if}</p>
    {#if !looked.kept}
      <div class="flex flex-wrap gap-2 my-2"><button class="btn btn-primary" disabled={busy || looked.wrong > 0 || looked.new === 0} onclick={() => go(true)}>Keep {looked.new} rows</button></div>
      {#if looked.wrong}<p>Nothing is kept while a row is wrong: mend the file and choose it again.</p>{/if}
    {/if}
    <table class="plain stack"><thead><tr><th>Line</th>{#each heads as h (h)}<th>{h}</th>{/each}<th>What becomes of it</th></tr></thead><tbody>
      {#each looked.rows as row (row.line)}
        <tr data-fate={row.fate}><td>{row.line}</td>{@render cells(row)}
          <td>{#if row.wrong.length}{#each row.wrong as w (w.column + w.message)}<span class="wrong block">{labelOf(w.column)}: {w.message}</span>{/each}{:else}{looked.kept && row.fate === 'new' ? 'kept' : FATE[row.fate]}{/if}</td></tr>
      {/each}</tbody></table>
    {#if looked.more}<p class="quiet">and {looked.more} rows more.</p>{/if}
  {/if}
</div>
