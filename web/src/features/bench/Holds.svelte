<script lang="ts">
  import type { Shapes } from '$lib/api/client'
  import { session } from '$lib/session.svelte'
  import FootHold from '$lib/draw/FootHold.svelte'
  import Said from '$lib/ui/Said.svelte'
  import Sentences from '$lib/ui/Sentences.svelte'
  import { show } from '$lib/units/units'

  interface Props {
    choice: Shapes['HoldChoice']
  }
  let { choice }: Props = $props()
  let usable = $derived(choice.holds.filter((h) => h.verdict !== 'no'))
  let refused = $derived(choice.holds.filter((h) => h.verdict === 'no'))
  let best = $derived(usable[0])
  let runner = $derived(usable[1])
  let more = $derived(usable.slice(2))
  let firm = $derived(usable.filter((h) => h.order != null).sort((a, b) => (a.order ?? 0) - (b.order ?? 0)))
</script>

{#snippet sizes(hold: Shapes['Hold'])}
  {#if hold.sizes.length}
    <dl class="hold-sizes">
      {#each hold.sizes as size (size.name)}
        <div><dt>{size.label}</dt><dd>{size.value == null ? '' : show(size.name, size.value, session.prefs)}</dd>
          {#if size.why}<dd class="quiet text-sm"><Said text={size.why} /></dd>{/if}</div>
      {/each}
    </dl>
  {/if}
{/snippet}

<section class="holds" aria-label={choice.label}>
  <h2>{choice.label}</h2>
  {#if best}
    <p class="hold-best">{best.label}</p>
    <p><Sentences texts={best.why} /></p>
    {@render sizes(best)}
    <FootHold hold={best} />
    {#if best.leaves}<p class="quiet">Afterwards: <Said text={best.leaves} /></p>{/if}
    {#if best.depth_lost_mm}<p class="quiet">It costs {show('depth_lost_mm', best.depth_lost_mm, session.prefs)} of depth.</p>{/if}
    {#each best.cautions as caution (caution.text.code)}<p class="caution {caution.level}"><Said text={caution.text} /></p>{/each}
    {#if best.checks.length}<details class="why"><summary>before switching on<span class="sr-only">, {choice.label}</span></summary><ol class="steps">{#each best.checks as c (c.code)}<li><Said text={c} /></li>{/each}</ol></details>{/if}
  {:else}
    <p class="caution stop"><strong>Stop.</strong> Nothing in this shop holds it safely. The reasons:</p>
  {/if}
  {#if runner}
    <div class="hold-runner"><strong>Next best: {runner.label}.</strong> <Sentences texts={runner.why} />
      {#if runner.but}<span class="quiet">Why not first: <Said text={runner.but} /></span>{/if}{@render sizes(runner)}</div>
  {/if}
  {#if more.length || refused.length}
    <details class="why" open={!best}>
      <summary>the other holds<span class="sr-only"> for {choice.label}</span></summary>
      <ul class="mt-1">
        {#each more as hold (hold.key)}<li><strong>{hold.label}: possible.</strong> <Sentences texts={hold.why} />{#if hold.but}<Said text={hold.but} />{/if}{@render sizes(hold)}</li>{/each}
        {#each refused as hold (hold.key)}<li><strong>{hold.label}: no.</strong> <Sentences texts={hold.why} /></li>{/each}
      </ul>
      {#if firm.length > 1}<p>By simple bending, the firmest first: {firm.map((h) => h.label.toLowerCase()).join(', then ')}.</p>{/if}
      <p class="quiet text-sm">An order, no safety figure; only screws have published loads.</p>
    </details>
  {/if}
</section>
