<script lang="ts">
  import { api, ask, type Shapes } from '$lib/api/client'
  import { session } from '$lib/session.svelte'
  import TableImport from '$lib/ui/TableImport.svelte'
  import { moment, show } from '$lib/units/units'

  const example = 'tag;at;weight\n14;2026-03-02 09:30;2390'
  const UNITS = [{ key: 'g', label: 'grams' }, { key: 'kg', label: 'kilograms' }, { key: 'oz', label: 'ounces' }, { key: 'lb', label: 'pounds' }]
</script>

<div class="head"><h1>Weights as a table</h1><div class="head-actions">
  <a class="btn" href="/api/drying/weigh-ins.csv" download>All weights as CSV</a><a class="btn" href="/api/drying/calendar.ics" download>Dates as a calendar</a><a class="btn" href="#/drying">To the floor</a></div></div>
<p class="quiet mb-3">A file of weights is looked at first; odd ones are asked about like any weight, wrong rows are named, and a row that is here already is not kept twice.</p>
<TableImport units={UNITS} heads={['Tag', 'When', 'Weight']} {example}
  send={(r) => ask(api.POST('/api/drying/weigh-ins/table', { body: r }))}>
  {#snippet cells(row: Shapes['TableRow'])}
    <td><span class="tag">{row.tag}</span></td><td>{row.at ? moment(row.at) : ''}</td>
    <td>{row.mass_g === null ? '' : show('a_g', row.mass_g, session.prefs)}{#if row.question}<span class="quiet block text-sm">{row.question}</span>{/if}</td>
  {/snippet}
</TableImport>
