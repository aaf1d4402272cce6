<script lang="ts">
  import RingDial from '$lib/draw/RingDial.svelte'
  import Strip from '$lib/draw/Strip.svelte'
  import Empty from '$lib/ui/Empty.svelte'
  import Piece from '$lib/ui/Piece.svelte'
  import Refused from '$lib/ui/Refused.svelte'
  import Said from '$lib/ui/Said.svelte'
  import { ACTIONS, GROUPS, TodayState, grouped } from './today.svelte'

  const state = new TodayState()
  $effect(() => {
    void state.open()
    return () => state.leave()
  })
  let day = $derived(state.list.data)
  const date = new Date().toLocaleDateString('en-GB', { weekday: 'long', day: 'numeric', month: 'long' })
</script>

<div class="head">
  <h1>Today <span class="quiet font-normal">{date}</span></h1>
  <div class="head-actions">
    <a class="btn" href="#/round">Weigh-in round</a>
    <a class="btn" href="#/new">New piece</a>
  </div>
</div>
<Refused refusal={state.list.refusal} again={() => state.open()} />
{#if state.catchingUp}<p class="quiet" role="status">Working out forecasts …</p>{/if}

{#if day}
  <div class="today">
    <div>
      {#each grouped(day.rows) as group, i (group.key)}
        <section aria-labelledby="g-{group.key}">
          <h2 id="g-{group.key}" class="group {group.key}">{GROUPS[group.key]?.title} <span class="quiet font-normal">{group.rows.length}</span></h2>
          <ul>
            {#each group.rows as row, j (row.piece.tag)}
              {@const action = ACTIONS[row.action]}
              <li class="need ruled" data-tag={row.piece.tag}>
                <Piece piece={row.piece} href="#/piece/{row.piece.tag}" />
                <span class="need-why"><Said text={row.why} /></span>
                {#if row.mc_pct != null}<RingDial mc={row.mc_pct} settles={row.settles_at_pct} size={50} />{:else}<span></span>{/if}
                {#if action}<a class="btn {i === 0 && j === 0 ? 'btn-primary' : ''}" href={action.to(row.piece.tag)}>{action.label}<span class="sr-only"> {row.piece.tag}</span></a>{/if}
              </li>
            {/each}
          </ul>
        </section>
      {:else}
        <Empty title="Nothing is due">
          <p class="my-2">When a piece dries too fast, wants weighing, is ready or waits for a coat, it stands here with the reason and one thing to do.</p>
          <a class="btn btn-primary" href="#/new">Begin a piece</a>
        </Empty>
      {/each}
    </div>
    {#if day.strip.length}
      <aside aria-labelledby="strip-title" class="floor-strip">
        <h2 id="strip-title">The floor, time to ready</h2>
        <Strip marks={day.strip} />
        <a class="link" href="#/drying">All drying pieces</a>
      </aside>
    {/if}
  </div>
{/if}
