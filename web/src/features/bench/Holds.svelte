<script lang="ts">
  import type { Shapes } from '$lib/api/client'
  import { session } from '$lib/session.svelte'
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
    {#each best.cautions as caution (caution.text.code)}<p class="caution {caution.level}"><Said text={caution.text} /></p>{/each}
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
        {#each more as hold (hold.key)}<li><strong>{hold.label}: possible.</strong> <Sentences texts={hold.why} />{#if hold.but}<Said text={hold.but} />{/if}</li>{/each}
        {#each refused as hold (hold.key)}<li><strong>{hold.label}: no.</strong> <Sentences texts={hold.why} /></li>{/each}
      </ul>
      <p class="quiet text-sm">An order by common practice, not a strength calculation.</p>
    </details>
  {/if}
</section>
