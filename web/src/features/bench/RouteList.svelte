<script lang="ts">
  import type { Shapes } from '$lib/api/client'
  import { day } from '$lib/units/units'

  interface Props {
    piece: Shapes['PieceOut']
    here: string
  }
  let { piece, here }: Props = $props()
  const MARK: Record<string, string> = { done: '✓', active: '▸', waiting: '·' }
  const WORD: Record<string, string> = { done: 'done', active: 'in hand', waiting: 'to come' }
</script>

<nav aria-label="Route of {piece.tag}" class="route no-print">
  <p class="quiet">{piece.way_label}</p>
  <ol>
    {#each piece.stages as stage (stage.kind)}
      <li class={stage.state}>
        <a href="#/bench/{piece.tag}/{stage.kind}" aria-current={stage.kind === here ? 'step' : undefined}>
          <span class="route-mark" aria-hidden="true">{MARK[stage.state]}</span>
          <span>{stage.title}<span class="sr-only">, {WORD[stage.state]}</span>{#if stage.done_at}<span class="quiet route-date">{day(stage.done_at)}</span>{/if}</span>
        </a>
      </li>
    {/each}
  </ol>
</nav>
