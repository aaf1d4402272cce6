<script lang="ts">
  import type { Shapes } from '$lib/api/client'
  import Said from '$lib/ui/Said.svelte'

  interface Props {
    chain: readonly Shapes['ChainLink'][]
  }
  let { chain }: Props = $props()
</script>

<section aria-labelledby="chain-title">
  <h2 id="chain-title">Chain of holds</h2>
  <ol class="chain">
    {#each chain as link (link.moment)}
      <li class:broken={!link.hold}>
        <span class="quiet">{link.label}</span>
        <strong>{link.hold?.label ?? 'nothing'}</strong>
        <span class="quiet text-sm"><Said text={link.leaves} /></span>
      </li>
    {/each}
  </ol>
</section>
