<script lang="ts">
  import type { Shapes } from '$lib/api/client'
  import Said from '$lib/ui/Said.svelte'

  interface Props {
    ladder: Shapes['Ladder']
  }
  let { ladder }: Props = $props()
  let minutes = $derived(ladder.rungs.reduce((sum, r) => sum + r.minutes, 0))
</script>

<section aria-labelledby="ladder-title"><h2 id="ladder-title">Grits</h2>
  <p class="grits">{#each ladder.rungs as rung, i (rung.grit)}{#if i}<span class="quiet" aria-hidden="true"> › </span>{/if}<span class="grit">P{rung.grit}</span>{/each}{#if ladder.after}<span class="quiet"> › paste</span>{/if}</p>
  {#if ladder.after}<p><Said text={ladder.after} /></p>{/if}
  <details class="why"><summary>each step</summary>
    <table class="plain mt-2">
      <thead><tr><th>Grit</th><th>Grain</th><th>Why</th><th>About</th><th>Quarter sheets</th></tr></thead>
      <tbody>{#each ladder.rungs as rung (rung.grit)}
        <tr><td>P{rung.grit}</td><td>{rung.median_um} µm</td><td><Said text={rung.why} /></td><td>{rung.minutes.toFixed(0)} min</td><td>{rung.quarter_sheets}</td></tr>
      {/each}</tbody>
    </table>
  </details>
  <p class="quiet">About {minutes.toFixed(0)} minutes in all: an estimate from the surface.</p>
</section>
