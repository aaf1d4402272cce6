<script lang="ts">
  import type { Shapes } from '$lib/api/client'
  import { session } from '$lib/session.svelte'
  import { show, suffixOf } from '$lib/units/units'
  import Said from './Said.svelte'
  import Why from './Why.svelte'

  interface Props {
    figure: Shapes['Figure']
    big?: boolean
    /** Show its sentence at once, not behind the why. */
    said?: boolean
  }
  let { figure, big = figure.big, said = false }: Props = $props()

  let isBand = $derived(figure.low != null && figure.high != null)
  let text = $derived.by(() => {
    if (isBand) {
      const high = show(figure.name, figure.high as number, session.prefs)
      if (figure.low === figure.high) return high
      const low = show(figure.name, figure.low as number, session.prefs)
      return `${low.replace(/\s*[^\d\s].*$/, '')} to ${high}`
    }
    return figure.value == null ? 'not known' : show(figure.name, figure.value, session.prefs)
  })
  let start = $derived(isBand && suffixOf(figure.name) === '_rpm' && figure.value != null ? show(figure.name, figure.value, session.prefs) : '')

  // Marks for a moment what changed since it was last drawn.
  let last = ''
  let moved = $state(0)
  $effect(() => {
    if (last && last !== text) moved += 1
    last = text
  })
</script>

<div class={['figure', said && 'figure-said']} data-figure={figure.name} data-label={figure.label}>
  <div class="figure-label">{figure.label}</div>
  {#key moved}<div class={[big ? 'big-figure' : 'small-figure', moved && 'moved']}>{text}</div>{/key}
  {#if said && figure.why}<p><Said text={figure.why} /></p>{/if}
  {#if start}<div class="quiet">start at {start}, then up</div>{/if}
  <Why {figure} />
</div>
