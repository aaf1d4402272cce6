<script lang="ts">
  import { untrack } from 'svelte'
  import { api, ask, refusalOf, type Refusal, type Shapes } from '$lib/api/client'
  import { Loader } from '$lib/api/loader.svelte'
  import Section from '$lib/draw/Section.svelte'
  import Cautions from '$lib/ui/Cautions.svelte'
  import FigureView from '$lib/ui/FigureView.svelte'
  import Refused from '$lib/ui/Refused.svelte'
  import Said from '$lib/ui/Said.svelte'
  import { session } from '$lib/session.svelte'
  import { show } from '$lib/units/units'
  import Callipers from './Callipers.svelte'
  import DepthCard from './DepthCard.svelte'
  import Dried from './Dried.svelte'
  import FitCheck from './FitCheck.svelte'
  import Form from './Form.svelte'
  import Reach from './Reach.svelte'
  import Trace from './Trace.svelte'
  import WhichWayPart from './WhichWayPart.svelte'
  import { ShapeState } from './shape.svelte'

  interface Props {
    params?: { tag?: string }
  }
  let { params = {} }: Props = $props()
  const tag = untrack(() => params.tag)
  const bench = new ShapeState()
  const words = new Loader<Shapes['LatheWords']>(() => ask(api.GET('/api/lathe/words')))
  const own = new Loader<Shapes['DesignOut']>(() => ask(api.GET('/api/lathe/{tag}/design', { params: { path: { tag: tag ?? '' } } })) as Promise<Shapes['DesignOut']>)
  let tab = $state('depth')
  let keeping = $state.raw<Refusal | undefined>()
  let saved = $state('')
  const TABS = [['depth', 'Depth card and prints'], ['dried', 'Once dried'], ['reach', 'Reach'], ['ways', 'Which way to cut'], ['fit', 'Shell over bowl']] as const

  async function start() {
    await words.load()
    if (tag && (await own.load()) && own.data) {
      const d = own.data
      bench.setting = { tag, tool_mm: 16 }
      const width = d.finish_diameter_mm, closed = d.form === 'hollow-form' || d.form === 'end-grain-vase'
      bench.family = closed ? 'closed' : d.form === 'platter' ? 'platter' : d.form === 'winged-bowl' ? 'square' : 'hemisphere'
      bench.sizes = { width_mm: width, height_mm: Math.round(Math.max(d.stock.height_mm - 12, 15)), foot_mm: null }
      if (d.design) {
        const o = d.design.outer
        bench.sizes = { width_mm: round(2 * (d.design.half_mm ?? Math.max(...o.map((h) => h.r_mm)))), height_mm: round(Math.max(...o.map((h) => h.z_mm))), foot_mm: round(2 * (o[0]?.r_mm ?? 0)) || null }
        return bench.open(d.design)
      }
      await bench.layFamily()
      bench.kept = true
    } else if (!tag) await bench.layFamily()
  }
  $effect(() => void untrack(() => start()))
  $effect(() => {
    bench.length = session.prefs.length
  })

  let s = $derived(bench.shown)
  let foot = $derived({ kind: bench.design.foot ?? 'none', diameter: bench.design.foot_mm ?? 0, length: bench.design.foot_length_mm ?? 0 })
  let walls = $derived(s?.figures.filter((f) => f.group === 'wall') ?? [])
  let rest = $derived(s?.figures.filter((f) => f.group !== 'wall') ?? [])
  let picked = $derived(bench.picked)
  let grain = $derived<'side-grain' | 'end-grain'>(own.data?.grain === 'end-grain' ? 'end-grain' : 'side-grain')
  const mm = (v: number) => show('a_mm', v, session.prefs)
  const round = (v: number) => Math.round(v * 10) / 10
  let barLines = $state.raw<number[][][]>([])
  let missed = $state.raw<number[][]>([])

  const MOVES: Record<string, [number, number]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }
  function key(curve: 'outer' | 'inner', i: number, event: KeyboardEvent) {
    const move = MOVES[event.key]
    if (move) void bench.nudge(curve, i, move[0], move[1], event.shiftKey ? 'far' : event.altKey ? 'fine' : 'one')
    else if (event.key === 'c') void bench.corner(curve, i)
    else if (event.key === '+' || event.key === 'Insert') void bench.add(curve, i)
    else if (event.key === 'Delete' || event.key === 'Backspace') void bench.remove(curve, i)
    else return
    event.preventDefault()
    event.stopPropagation()
  }
  function whole(event: KeyboardEvent) {
    if (!(event.ctrlKey || event.metaKey) || !['z', 'y', 'Z'].includes(event.key)) return
    event.preventDefault()
    void (event.key === 'z' ? bench.undo() : bench.redo())
  }
  async function keep() {
    try {
      if (!tag) return
      own.set((await ask(api.PUT('/api/lathe/{tag}/design', { params: { path: { tag } }, body: bench.design }))) as Shapes['DesignOut'])
      bench.kept = true
      saved = `Kept with piece ${tag}; its cards follow.`
      keeping = undefined
    } catch (error) {
      keeping = refusalOf(error)
    }
  }
</script>

<svelte:window onkeydown={whole} />
<div class="head">
  <div><h1>Shape bench{tag ? `, piece ${tag}` : ''}</h1>
    {#if own.data}<p class="quiet">{own.data.species_name}, blank {mm(own.data.stock.diameter_mm)} × {mm(own.data.stock.height_mm)}.</p>{:else}<p class="quiet">A form of your own, with no piece. Open a piece’s bench card to draw for its blank.</p>{/if}</div>
  <div class="head-actions no-print">
    {#if tag}<button class="btn btn-primary" disabled={!s || bench.kept} onclick={keep}>{bench.kept && own.data?.design ? 'Kept with the piece' : 'Keep with the piece'}</button>
      <a class="btn" href="#/bench/{tag}">To its card</a>{/if}
    <a class="btn" href="#/cores{tag ? `/${tag}` : ''}">Cores</a>
  </div>
</div>
{#if saved}<p role="status">{saved}</p>{/if}
<Refused refusal={keeping} /><Refused refusal={own.refusal} again={() => start()} /><Refused refusal={words.refusal} again={() => start()} />

<div class="shape-bench">
  <div class="shape-side no-print">
    {#if words.data}<Form {bench} words={words.data} {tag} /><Trace {bench} />{/if}
  </div>
  <div class="shape-draw">
    {#if s}
      <Section shape={s} outer={bench.design.outer} inner={bench.design.inner ?? []} {picked} {foot} lines={tab === 'reach' ? barLines : []} missed={tab === 'reach' ? missed : []}
        label="Half section; its points are moved by dragging or by arrow keys" onpick={(curve, i) => (bench.picked = { curve, i })}
        onmove={(curve, i, r, z, first, last) => void bench.move(curve, i, r, z, { first, last })} onkey={key} />
    {/if}
    <div class="shape-tools no-print">
      <button class="btn" disabled={!bench.canUndo} onclick={() => bench.undo()}>Undo</button>
      <button class="btn" disabled={!bench.canRedo} onclick={() => bench.redo()}>Redo</button>
      <label class="tick"><input type="checkbox" class="checkbox" bind:checked={bench.snap} /> snap to {session.prefs.length === 'in' ? 'sixteenths' : 'millimetres'}</label>
      {#if picked}
        <button class="btn" aria-pressed={bench.handles(picked.curve)[picked.i]?.corner ?? false} onclick={() => picked && bench.corner(picked.curve, picked.i)}>Corner</button>
        <button class="btn" onclick={() => picked && bench.add(picked.curve, picked.i)}>Add a point</button>
        <button class="btn" onclick={() => picked && bench.remove(picked.curve, picked.i)}>Take it out</button>
      {/if}
    </div>
    <p class="quiet text-sm no-print">Touch a point, then drag it or press the arrows; Shift moves five marks, Alt a fifth. C makes a corner, + adds a point, Delete takes it out. Dashed: the blank. The inside line is pale where thin, dark where thick.</p>
    <Refused refusal={bench.refusal} fields={['width_mm', 'height_mm', 'foot_mm', 'wall_mm', 'bottom_mm', 'diameter_mm', 'length_mm']} />
    {#if s}
      <div class="tabs-line no-print" role="group" aria-label="More of this form">
        {#each TABS as [k, label] (k)}<button aria-pressed={tab === k} onclick={() => (tab = k)}>{label}</button>{/each}
      </div>
      {#if tab === 'depth'}<DepthCard {bench} title={tag ? `Piece ${tag}` : 'Profile'} />
      {:else if tab === 'dried' && words.data}<Dried {bench} words={words.data} {tag} stock={own.data?.stock} />
      {:else if tab === 'reach'}<Reach {bench} onlines={(lines, none) => { barLines = lines; missed = none }} />
      {:else if tab === 'ways'}<WhichWayPart {bench} {grain} />
      {:else if tab === 'fit'}<FitCheck {bench} />{/if}
    {/if}
  </div>
  <div class="shape-side" aria-live="polite">
    {#if s}
      <section class={bench.refusal ? 'out-of-date' : ''}>
        <div class="shape-figures">{#each walls as f (f.name)}<FigureView figure={f} />{/each}</div>
        {#if s.marks.length}
          <ol class="marks cautions">{#each s.marks as m, k (m.caution.text.code + k)}<li class="caution {m.caution.level}"><strong>{m.caution.level === 'stop' ? 'Stop' : 'Mind'}.</strong> <Said text={m.caution.text} /></li>{/each}</ol>
        {:else}<p class="caution note"><strong>Sound.</strong> Nothing goes through, and its hold does not eat the curve.</p>{/if}
        {#if s.largest}<p data-figure="largest">The largest of this form in the blank: <strong>{mm(s.largest.diameter_mm)} × {mm(s.largest.height_mm)}</strong>.</p>{/if}
        <div class="shape-figures">{#each rest as f (f.name)}<FigureView figure={f} big={false} />{/each}</div>
      </section>
      {#if tag && own.data?.design}<Callipers {tag} callipers={own.data.callipers} readings={s.readings} onread={(d) => { own.set(d); void bench.judgeAgain() }} />{/if}
      <Cautions cautions={[{ level: 'note', text: { code: 'draws', template: 'A drawing guides the hand; callipers and your own eye come before it.', params: {} } }]} />
    {/if}
  </div>
</div>
