<script lang="ts">
  import type { Shapes } from '$lib/api/client'
  import Said from './Said.svelte'

  interface Props {
    cautions: readonly Shapes['Caution'][]
  }
  let { cautions }: Props = $props()
  const WORD: Record<string, string> = { stop: 'Stop', care: 'Mind', note: 'Note' }
  const ORDER = ['stop', 'care', 'note']
  let sorted = $derived([...cautions].sort((a, b) => ORDER.indexOf(a.level) - ORDER.indexOf(b.level)))
</script>

{#if sorted.length}
  <ul class="cautions">
    {#each sorted as caution, i (caution.text.code + i)}
      <li class="caution {caution.level}"><strong>{WORD[caution.level] ?? 'Note'}.</strong> <Said text={caution.text} /></li>
    {/each}
  </ul>
{/if}
