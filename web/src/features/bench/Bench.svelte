<script lang="ts">
  import { push } from 'svelte-spa-router'
  import { untrack } from 'svelte'
  import HalfSection from '$lib/draw/HalfSection.svelte'
  import OvalDraw from '$lib/draw/OvalDraw.svelte'
  import WhichWayDraw from '$lib/draw/WhichWayDraw.svelte'
  import Cautions from '$lib/ui/Cautions.svelte'
  import FigureView from '$lib/ui/FigureView.svelte'
  import Piece from '$lib/ui/Piece.svelte'
  import Refused from '$lib/ui/Refused.svelte'
  import Said from '$lib/ui/Said.svelte'
  import { day } from '$lib/units/units'
  import Chain from './Chain.svelte'
  import CardInputs from './CardInputs.svelte'
  import Coats from './Coats.svelte'
  import DoneForm from './DoneForm.svelte'
  import Holds from './Holds.svelte'
  import LastSpeeds from './LastSpeeds.svelte'
  import LadderTable from './LadderTable.svelte'
  import RouteList from './RouteList.svelte'
  import Schools from './Schools.svelte'
  import { BenchState } from './bench.svelte'

  interface Props {
    params: { tag: string; stage?: string }
  }
  let { params }: Props = $props()
  const bench = untrack(() => new BenchState(params.tag))
  $effect(() => void bench.open(untrack(() => params.stage)))

  let piece = $derived(bench.piece.data)
  let card = $derived(bench.card.data?.card)
  let shown = $derived([...(card?.inputs ?? []), ...(card?.notes ?? [])].map((f) => f.name))
  let speeds = $derived(card?.figures.filter((f) => f.group === 'speed') ?? [])
  let sizes = $derived(card?.figures.filter((f) => f.group !== 'speed' && f.group !== 'warp') ?? [])

  let warps = $derived(card?.figures.filter((f) => f.group === 'warp') ?? [])

  async function follow(next: string | undefined) {
    if (next === undefined) return
    await push(next === '' ? `/piece/${params.tag}` : next === 'dry' ? `/drying/${params.tag}` : `/bench/${params.tag}/${next}`)
  }
</script>

<Refused refusal={bench.piece.refusal} again={() => bench.open(params.stage)} />
{#if piece}
  <div class="head">
    <Piece {piece} href="#/piece/{piece.tag}" size={60} />
    <div class="head-actions no-print"><button class="btn" onclick={() => window.print()}>Print the card</button></div>
  </div>
  <div class="bench">
    <RouteList {piece} here={bench.kind} />

    <article class="card-sheet" aria-labelledby="card-title" aria-busy={bench.card.loading}>
      {#if card}
        <h1 id="card-title">{card.title}</h1>
        <p class="aim"><Said text={card.aim} /></p>
        {#if bench.stage?.state === 'done'}<p class="quiet">Done {day(bench.stage.done_at)}.</p>{/if}
        {#if bench.stage?.state === 'waiting'}<p class="quiet">Not in hand yet: figures are what is planned.</p>{/if}
        <Cautions cautions={card.cautions} />
        <CardInputs {bench} fields={card.inputs} />
        <Refused refusal={bench.card.refusal} fields={shown} />
        <div class={['figures', bench.card.refusal && 'out-of-date']}>
          {#each sizes as f (f.name + f.label)}<FigureView figure={f} />{/each}
        </div>
        <div class={['figures', bench.card.refusal && 'out-of-date']}>
          {#each speeds as f (f.name + f.label)}<FigureView figure={f} />{/each}
          {#each warps as f (f.name + f.label)}<FigureView figure={f} said />{/each}
        </div>
        {#each card.schools as school (school.name)}<Schools {school} />{/each}
        {#if card.chain.length}<Chain chain={card.chain} />{/if}
        {#each card.holds as choice (choice.moment)}<Holds {choice} />{/each}
        {#if card.ladder}<LadderTable ladder={card.ladder} />{/if}
        {#if bench.card.data?.coats.length}<Coats {bench} />{/if}
        {#if bench.card.data?.speeds?.length}<LastSpeeds speeds={bench.card.data.speeds} />{/if}
        {#if card.directions && card.drawing}
          <details class="more no-print"><summary>Which way to cut</summary><div class="my-2"><WhichWayDraw directions={card.directions} outer={card.drawing.outer} inner={card.drawing.inner} held /></div>
            {#each card.directions.words as w (w.code)}<p><Said text={w} /></p>{/each}<p class="quiet"><a class="link" href="#/cutting">See it turn slowly</a></p></details>
        {/if}
        {#if card.steps.length}
          <section><h2>How</h2><ol class="steps">{#each card.steps as step (step.code)}<li><Said text={step} /></li>{/each}</ol></section>
        {/if}
        {#if bench.kind === 'dry' && bench.stage?.state === 'active'}
          <p class="my-3"><a class="btn" href="#/drying/{piece.tag}">To its drying</a></p>
        {/if}
        <DoneForm {bench} fields={card.notes} {shown} onnext={follow} />
        {#if bench.lastDone}
          <p class="no-print"><button class="btn btn-ghost" disabled={bench.busy} onclick={async () => follow(await bench.takeBack())}>
            Take back “{piece.stages.find((s) => s.kind === bench.lastDone)?.title}”</button></p>
        {/if}
        {#if bench.stage?.state !== 'active'}<Refused refusal={bench.refusal} fields={shown} />{/if}
      {:else}
        <Refused refusal={bench.card.refusal} again={() => bench.open(params.stage)} />
      {/if}
    </article>

    <aside class="draw-side">
      {#if card?.drawing}<HalfSection drawing={card.drawing} title={card.title} />
        <p class="no-print"><a class="btn" href="#/shape/{piece.tag}">Draw its form</a> {#if bench.kind === 'rough'}<a class="btn" href="#/cores/{piece.tag}">Cores in it</a>{/if}</p>{/if}
      {#if card?.inside}<OvalDraw inside={card.inside} />{/if}
    </aside>
  </div>
{/if}
