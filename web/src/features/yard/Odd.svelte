<script lang="ts">
  import { untrack } from 'svelte'
  import { api, ask, refusalOf, type Refusal, type Shapes } from '$lib/api/client'
  import { saveBlob } from '$lib/files'
  import { Loader } from '$lib/api/loader.svelte'
  import ChoiceField from '$lib/ui/ChoiceField.svelte'
  import NumberField from '$lib/ui/NumberField.svelte'
  import Refused from '$lib/ui/Refused.svelte'
  import Said from '$lib/ui/Said.svelte'
  import { session } from '$lib/session.svelte'
  import { show } from '$lib/units/units'
  import { cornersOf, textOf, type Corner } from './odd.svelte'
  import Resin from './Resin.svelte'

  const species = new Loader(() => ask(api.GET('/api/yard/species')))
  let template = $state('wedge')
  let corners = $state.raw<Corner[]>([])
  let text = $state('')
  let unreadable = $state(false)
  let ask_ = $state({ width_mm: 240, length_mm: 300, thickness_mm: 55, species: 'pear', mc_pct: 12, plate_mm: 80 })
  let own = $state.raw<[number, number] | null>(null)
  let refusal = $state.raw<Refusal | undefined>()
  const found = new Loader<Shapes['OutlineOut']>(() => ask(api.POST('/api/yard/outline', { body: body() })))
  const SHAPES = [{ key: 'square', label: 'Square or oblong' }, { key: 'hexagon', label: 'Hexagon' }, { key: 'wedge', label: 'Wedge' }, { key: 'heart', label: 'Heart' }, { key: '', label: 'My own corners' }]

  function body(): Shapes['OutlineIn'] {
    return { ...ask_, template: template || null, points: template ? [] : corners, own, title: 'Blank' } as Shapes['OutlineIn']
  }
  async function reckon() {
    await found.load()
    refusal = found.refusal
  }
  $effect(() => {
    untrack(() => {
      void species.load()
      void found.load()
    })
  })
  function typed(value: string) {
    text = value
    const read = cornersOf(value)
    unreadable = read === null
    if (read && read.length >= 3) {
      corners = read
      template = ''
      own = null
      void reckon()
    }
  }
  async function file(chosen: File | undefined) {
    if (!chosen) return
    try {
      const read = await ask(api.POST('/api/yard/outline/read', { body: { name: chosen.name, text: await chosen.text() } }))
      typed(textOf(read.points))
    } catch (error) {
      refusal = refusalOf(error)
    }
  }
  async function printed() {
    const answer = await api.POST('/api/yard/outline/template', { body: body(), parseAs: 'blob' })
    if (!answer.response.ok || !answer.data) return
    saveBlob(answer.data as unknown as Blob, 'template.svg')
  }
  let d = $derived(found.data)
  let box = $derived.by(() => {
    const xs = (d?.points ?? []).map((p) => p[0] ?? 0), ys = (d?.points ?? []).map((p) => p[1] ?? 0)
    const swing = Math.max(...(d?.balance.mounts ?? []).map((m) => m.swing_mm), 1) / 2
    const m = d?.balance.mounts[0]
    const x0 = Math.min(...xs, (m?.x_mm ?? 0) - swing) - 8, x1 = Math.max(...xs, (m?.x_mm ?? 0) + swing) + 8
    const y0 = Math.min(...ys, (m?.y_mm ?? 0) - swing) - 8, y1 = Math.max(...ys, (m?.y_mm ?? 0) + swing) + 8
    return { x: x0, y: -y1, w: x1 - x0, h: y1 - y0 }
  })
  function mark(event: MouseEvent) {
    const svg = event.currentTarget as SVGSVGElement
    const r = svg.getBoundingClientRect()
    const scale = Math.max(box.w / r.width, box.h / r.height)
    const dx = (r.width - box.w / scale) / 2, dy = (r.height - box.h / scale) / 2
    own = [Math.round(box.x + (event.clientX - r.left - dx) * scale), Math.round(-(box.y + (event.clientY - r.top - dy) * scale))]
    void reckon()
  }
  const mm = (v: number) => show('a_mm', v, session.prefs)
  const CLASS: Record<string, string> = { balance: 'mount-balance', 'least-swing': 'mount-least', own: 'mount-own' }
</script>

<div class="head"><h1>Odd shapes and resin</h1><div class="head-actions"><a class="btn" href="#/yard">To the yard</a></div></div>
<div class="odd">
  <section aria-labelledby="odd-h"><h2 id="odd-h">Where does it balance?</h2>
    <div class="fields">
      <ChoiceField name="template" label="Shape" value={template} options={SHAPES} onchange={(v) => { template = v; own = null; if (v) void reckon(); else if (d) { corners = d.points as Corner[]; text = textOf(d.points) } }} />
      {#if template}
        <NumberField name="width_mm" label="Width" bind:value={ask_.width_mm} onchange={reckon} error={refusal?.of('width_mm')} />
        <NumberField name="length_mm" label="Length" bind:value={ask_.length_mm} onchange={reckon} error={refusal?.of('length_mm')} />
      {/if}
      <NumberField name="thickness_mm" label="Thickness" bind:value={ask_.thickness_mm} onchange={reckon} error={refusal?.of('thickness_mm')} />
      <NumberField name="plate_mm" label="Faceplate" bind:value={ask_.plate_mm} onchange={reckon} error={refusal?.of('plate_mm')} />
      <ChoiceField name="species" label="Wood" bind:value={ask_.species} onchange={reckon} options={(species.data ?? []).map((s) => ({ key: s.key, label: s.common }))} />
      <NumberField name="mc_pct" label="Moisture" bind:value={ask_.mc_pct} onchange={reckon} error={refusal?.of('mc_pct')} />
    </div>
    {#if !template}
      <div class="field mt-2"><label for="corners">Corners in mm, one a line</label>
        <textarea id="corners" class="textarea w-full" rows="6" value={text} oninput={(e) => typed(e.currentTarget.value)} aria-invalid={unreadable ? 'true' : undefined}></textarea>
        {#if unreadable}<p class="wrong">Each line wants two numbers, such as 200 120.</p>{/if}</div>
    {/if}
    <p class="mt-2"><label class="btn" for="outline-in">Read it from an SVG or DXF file</label><input id="outline-in" class="sr-only" type="file" accept=".svg,.dxf,image/svg+xml" onchange={(e) => file(e.currentTarget.files?.[0])} />
      <button class="btn" onclick={printed}>Template at full size (SVG)</button></p>
    <Refused {refusal} fields={['width_mm', 'length_mm', 'thickness_mm', 'plate_mm', 'mc_pct']} />
    {#if d}
      <div class="odd-draw">
        <!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_noninteractive_element_interactions -->
        <svg viewBox="{box.x} {box.y} {box.w} {box.h}" class="odd-svg" role="img" aria-label="The outline with its balance point and what it sweeps" onclick={mark}>
          {#each d.balance.mounts as m (m.key)}<circle cx={m.x_mm} cy={-m.y_mm} r={m.swing_mm / 2} class="swing {CLASS[m.key]}" />{/each}
          <path d="M{d.points.map(([x, y]) => `${x},${-(y ?? 0)}`).join('L')}Z" class="odd-shape" />
          {#each d.balance.mounts as m, i (m.key)}
            <circle cx={m.x_mm} cy={-m.y_mm} r={ask_.plate_mm / 2} class="plate" />
            <path d="M{m.x_mm - 9},{-m.y_mm}h18M{m.x_mm},{-m.y_mm - 9}v18" class="cross {CLASS[m.key]}" />
            <text x={m.x_mm + (i % 2 ? 12 : -12)} y={-m.y_mm + 5} font-size={box.w * 0.035} text-anchor={i % 2 ? 'start' : 'end'}>{m.key === 'balance' ? 'balance' : m.key === 'own' ? 'yours' : 'least swing'}</text>
          {/each}
        </svg>
        <div>
          <table class="plain"><thead><tr><th>Mounted at</th><th>Sweeps</th><th>Off balance</th></tr></thead><tbody>
            {#each d.balance.mounts as m (m.key)}<tr><td>{m.label}{#if !m.on_wood}<span class="flag">in the air</span>{:else if !m.plate_fits}<span class="flag">plate sticks out</span>{/if}</td><td>{mm(m.swing_mm)}</td><td>{m.offset_mm < 0.5 ? 'none' : `${mm(m.offset_mm)}; ${Math.round(m.imbalance_g_mm / 1000)} g at a metre`}</td></tr>{/each}
          </tbody></table>
          <p class="quiet">Weighs about {show('a_g', d.balance.mass_g, session.prefs)}. Touch the drawing to try a mount of your own.</p>
          {#each d.balance.words as w (w.code)}<p><Said text={w} /></p>{/each}
        </div>
      </div>
    {/if}
  </section>
  <Resin />
</div>
