<script lang="ts">
  import { moment } from '$lib/units/units'
  import type { BenchState } from './bench.svelte'

  interface Props {
    bench: BenchState
  }
  let { bench }: Props = $props()
  let out = $derived(bench.card.data)
  let next = $derived(out?.coats.find((c) => !c.given_at))
  let active = $derived(bench.stage?.state === 'active')
  let any = $derived(out?.coats.some((c) => c.given_at))
</script>

<section aria-labelledby="coats-title"><h2 id="coats-title">Coats</h2>
  <table class="plain">
    <thead><tr><th>Coat</th><th>What</th><th>When</th></tr></thead>
    <tbody>
      {#each out?.coats ?? [] as coat (coat.number)}
        <tr class:next={active && coat === next}><td>{coat.number}</td><td>{coat.what}</td>
          <td>{coat.given_at ? `on, ${moment(coat.given_at)}` : `${coat.number === 1 ? 'whenever ready' : `from ${moment(coat.due_at)}`}`}</td></tr>
      {/each}
      {#if out?.cured_at}<tr><td></td><td>cured</td><td>{any ? '' : 'if begun now, '}{moment(out.cured_at)}</td></tr>{/if}
    </tbody>
  </table>
  {#if active}
    <div class="no-print mt-2 flex flex-wrap gap-2">
      {#if next}<button class="btn btn-primary" disabled={bench.busy} onclick={() => bench.coat()}>Coat {next.number} is on</button>{/if}
      {#if any}<button class="btn btn-ghost" disabled={bench.busy} onclick={() => bench.coat(true)}>Take the last coat back</button>{/if}
    </div>
  {/if}
</section>
