<script lang="ts">
  import { api, ask, type Shapes } from '$lib/api/client'
  import { Loader } from '$lib/api/loader.svelte'
  import { session } from '$lib/session.svelte'
  import Refused from '$lib/ui/Refused.svelte'
  import { show } from '$lib/units/units'
  import HouseWay from './HouseWay.svelte'
  import Instruments from './Instruments.svelte'
  import ToolForm, { type Spec } from './ToolForm.svelte'

  const shop = new Loader(() => ask(api.GET('/api/shop')))
  const options = new Loader(() => ask(api.GET('/api/pieces/options')))
  $effect(() => {
    void shop.load()
    void options.load()
  })
  const reload = () => void shop.load()

  const LATHE: Spec[] = [
    { name: 'name', label: 'Name', kind: 'text' }, { name: 'swing_mm', label: 'Swing over the bed' },
    { name: 'min_rpm', label: 'Slowest' }, { name: 'max_rpm', label: 'Fastest' },
    { name: 'steps', label: 'Pulley speeds, if fixed', kind: 'text', hint: 'with commas; empty for a dial' }, { name: 'mass_kg', label: 'Its own weight', optional: true }, { name: 'power_w', label: 'Motor', optional: true },
  ]
  const JAWS: Spec[] = [
    { name: 'name', label: 'Name', kind: 'text' }, { name: 'tenon_low_mm', label: 'Closes on, smallest' }, { name: 'tenon_high_mm', label: 'Closes on, largest' },
    { name: 'recess_low_mm', label: 'Opens into, smallest' }, { name: 'recess_high_mm', label: 'Opens into, largest' }, { name: 'depth_mm', label: 'Depth' },
  ]
  const KINDS = [{ key: 'faceplate', label: 'Faceplate' }, { key: 'expanding-jaws', label: 'Expanding jaws' }, { key: 'reversing-plate', label: 'Two-disc reversing plate' }]
  const PLATE: Spec[] = [
    { name: 'name', label: 'Name', kind: 'text' }, { name: 'kind', label: 'Kind', kind: 'choice', options: KINDS }, { name: 'low_mm', label: 'Smallest it takes', hint: 'a faceplate: its own diameter' },
    { name: 'high_mm', label: 'Largest it takes' }, { name: 'rated_rpm', label: 'Rated speed', optional: true },
  ]
  const PLACE: Spec[] = [{ name: 'name', label: 'Name', kind: 'text' }, { name: 'air_c', label: 'Air' }, { name: 'rh_pct', label: 'Humidity' }]

  const mm = (v: number) => show('a_mm', v, session.prefs)
  const id = (row: Record<string, unknown>) => Number(row.id)
  const toolSpec = (kind: Shapes['Kind']): Spec[] => [{ name: 'name', label: 'Name', kind: 'text' }, ...kind.measures.map((m) => ({ name: m.name, label: m.label, usual: m.usual }))]
  /** A form is flat; a tool's figures travel in a box of their own. */
  function toolBody(kind: string, body: Record<string, unknown>): Shapes['ToolIn'] {
    const { name, ...sizes } = body
    return { kind, name: String(name ?? ''), sizes: Object.fromEntries(Object.entries(sizes).filter(([, v]) => v !== null)) as Record<string, number> }
  }
  type Body<K extends keyof Shapes> = Shapes[K]
</script>

<h1>Shop</h1>
<Refused refusal={shop.refusal} again={reload} />
{#if shop.data}
  {@const s = shop.data}
  <p class="quiet">{s.name}. What stands here is what every card works with.</p>
  <div class="shop">
    <section aria-labelledby="lathe-h"><h2 id="lathe-h">Lathes</h2>
      {#each s.lathes as row (row.id)}
        <ToolForm spec={LATHE} {row} title={row.name} summary="swings {mm(row.swing_mm)}, {row.steps || `${row.min_rpm} to ${row.max_rpm}`} rpm" onsaved={reload}
          save={(body) => ask(api.PUT('/api/shop/lathes/{lathe_id}', { params: { path: { lathe_id: id(row) } }, body: body as Body<'LatheIn'> }))} />
      {/each}
      <ToolForm spec={LATHE} title="Add a lathe" onsaved={reload} save={(body) => ask(api.POST('/api/shop/lathes', { body: body as Body<'LatheIn'> }))} />
    </section>
    <section aria-labelledby="jaws-h"><h2 id="jaws-h">Chuck jaws</h2>
      {#each s.jaws as row (row.id)}
        <ToolForm spec={JAWS} {row} title={row.name} summary="tenon {mm(row.tenon_low_mm)} to {mm(row.tenon_high_mm)}, recess {mm(row.recess_low_mm)} to {mm(row.recess_high_mm)}, {mm(row.depth_mm)} deep" onsaved={reload}
          save={(body) => ask(api.PUT('/api/shop/jaws/{jaws_id}', { params: { path: { jaws_id: id(row) } }, body: body as Body<'JawIn'> }))}
          remove={() => ask(api.DELETE('/api/shop/jaws/{jaws_id}', { params: { path: { jaws_id: id(row) } } }))} />
      {/each}
      <ToolForm spec={JAWS} title="Add jaws" onsaved={reload} save={(body) => ask(api.POST('/api/shop/jaws', { body: body as Body<'JawIn'> }))} />
    </section>
    <section aria-labelledby="plates-h"><h2 id="plates-h">Plates</h2>
      {#each s.plates as row (row.id)}
        <ToolForm spec={PLATE} {row} title={row.name} summary="{KINDS.find((k) => k.key === row.kind)?.label.toLowerCase()}, {mm(row.low_mm)} to {mm(row.high_mm)}{row.rated_rpm ? `, rated ${row.rated_rpm} rpm` : ''}" onsaved={reload}
          save={(body) => ask(api.PUT('/api/shop/plates/{plate_id}', { params: { path: { plate_id: id(row) } }, body: body as Body<'PlateIn'> }))}
          remove={() => ask(api.DELETE('/api/shop/plates/{plate_id}', { params: { path: { plate_id: id(row) } } }))} />
      {/each}
      <ToolForm spec={PLATE} title="Add a plate" onsaved={reload} save={(body) => ask(api.POST('/api/shop/plates', { body: body as Body<'PlateIn'> }))} />
    </section>
    <section aria-labelledby="tools-h" class="way"><h2 id="tools-h">Knives, bars, steadies, collets, screws</h2>
      <div class="two-up">
      {#each s.tool_kinds as kind (kind.key)}
        {@const spec = toolSpec(kind)}
        <div><h3>{kind.label}</h3><p class="quiet">{kind.words}</p>
        {#each s.tools.filter((t) => t.kind === kind.key) as row (row.id)}
          <ToolForm {spec} row={{ ...row.sizes, id: row.id, name: row.name }} title={row.name} summary={kind.measures.map((m) => `${m.label.toLowerCase()} ${show(m.name, row.sizes[m.name] ?? 0, session.prefs)}`).join(', ')} onsaved={reload}
            save={(body) => ask(api.PUT('/api/shop/tools/{tool_id}', { params: { path: { tool_id: id(row) } }, body: toolBody(kind.key, body) }))}
            remove={() => ask(api.DELETE('/api/shop/tools/{tool_id}', { params: { path: { tool_id: id(row) } } }))} />
        {/each}
        <ToolForm {spec} title="Add: {kind.label.toLowerCase()}" onsaved={reload} save={(body) => ask(api.POST('/api/shop/tools', { body: toolBody(kind.key, body) }))} /></div>
      {/each}
      </div>
    </section>
    <section aria-labelledby="places-h"><h2 id="places-h">Places to dry</h2>
      {#each s.places as row (row.id)}
        <ToolForm spec={PLACE} {row} title={row.name} summary="{show('a_c', row.air_c, session.prefs)}, {row.rh_pct} %: wood settles at {row.emc_pct.toFixed(1)} %" onsaved={reload}
          save={(body) => ask(api.PUT('/api/shop/places/{place_id}', { params: { path: { place_id: id(row) } }, body: body as Body<'PlaceIn'> }))} />
        <p class="place-air"><a class="link" href="#/shop/place/{row.id}">Seasons, logger and readings<span class="sr-only"> of {row.name}</span></a> <span class="quiet">{row.logged ? 'logged' : Object.keys(row.seasons).length ? 'by season' : ''}</span></p>
      {/each}
      <ToolForm spec={PLACE} title="Add a place" onsaved={reload} save={(body) => ask(api.POST('/api/shop/places', { body: body as Body<'PlaceIn'> }))} />
    </section>
    <section aria-labelledby="inst-h"><h2 id="inst-h">Instruments</h2><Instruments found={s.instruments} species={options.data?.species ?? []} onsaved={reload} /></section>
    <section aria-labelledby="way-h" class="way"><h2 id="way-h">House way</h2><HouseWay shop={s} onsaved={reload} /></section>
  </div>
{/if}
