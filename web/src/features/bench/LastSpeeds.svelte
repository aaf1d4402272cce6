<script lang="ts">
  import type { Shapes } from '$lib/api/client'
  import { session } from '$lib/session.svelte'
  import { day, show } from '$lib/units/units'

  /** What was used last time for like work, and how it felt. */
  interface Props {
    speeds: readonly Shapes['SpeedOut'][]
  }
  let { speeds }: Props = $props()
  const FELT: Record<string, string> = { calm: 'calm', hums: 'it hummed', chatters: 'it chattered', sketchy: 'it felt wrong' }
</script>

<section aria-label="What was used last time">
  <h2>Last time</h2>
  <ul>{#each speeds as s (s.id)}<li data-speed={s.speed_rpm}><strong>{show('a_rpm', s.speed_rpm, session.prefs)}</strong> at {show('a_mm', s.swing_mm, session.prefs)}: {FELT[s.felt] ?? s.felt}{s.words ? `, ${s.words}` : ''} <span class="quiet">({s.tag ? `piece ${s.tag}, ` : ''}{day(s.at)})</span></li>{/each}</ul>
</section>
