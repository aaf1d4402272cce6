<script lang="ts">
  import type { Shapes } from '$lib/api/client'
  import { session } from '$lib/session.svelte'
  import { show, suffixOf } from '$lib/units/units'
  import LimitBar from '$lib/draw/LimitBar.svelte'
  import Said from './Said.svelte'

  interface Props {
    figure: Shapes['Figure']
  }
  let { figure }: Props = $props()
  let unit = $derived(suffixOf(figure.name))
  let inputs = $derived(Object.entries(figure.inputs ?? {}))

  function words(name: string): string {
    return name.replace(suffixOf(name), '').replace(/_/g, ' ')
  }
  function sourceName(key: string): string {
    return session.sources[key]?.title ?? key
  }
</script>

<details class="why">
  <summary>why<span class="sr-only"> {figure.label}</span></summary>
  <div class="mt-1 space-y-2">
    {#if figure.why}<p><Said text={figure.why} /></p>{/if}
    {#if figure.limits?.length}
      {#if unit === '_rpm'}<LimitBar limits={figure.limits} low={figure.low ?? 0} high={figure.high ?? 0} />{/if}
      <ul class="limits">
        {#each figure.limits as limit (limit.key)}
          <li class:governs={limit.governs}>
            <span class="limit-value">{limit.value == null ? 'none' : show(figure.name, limit.value, session.prefs)}</span>
            <span>{limit.label}{limit.governs ? ', which governs' : ''}. <span class="quiet"><Said text={limit.why} /> ({sourceName(limit.source)})</span></span>
          </li>
        {/each}
      </ul>
    {/if}
    {#if inputs.length}
      <p class="quiet">From {#each inputs as [name, value], i (name)}{i ? ', ' : ''}{words(name)} {typeof value === 'number' ? show(name, value, session.prefs) : value}{/each}.</p>
    {/if}
    {#if figure.source}<p class="quiet">Source: {sourceName(figure.source)}.</p>{/if}
  </div>
</details>
