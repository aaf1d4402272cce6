<script lang="ts">
  import type { Shapes } from '$lib/api/client'
  import { session } from '$lib/session.svelte'
  import Said from '$lib/ui/Said.svelte'
  import { show } from '$lib/units/units'

  interface Props {
    school: Shapes['SchoolChoice']
  }
  let { school }: Props = $props()
</script>

<section class="schools" aria-label={school.question}>
  <h2>{school.question}</h2>
  <ul>
    {#each school.verdicts as verdict, i (verdict.school)}
      <li><strong class="limit-value">{verdict.value == null ? 'no answer' : show(school.name, verdict.value, session.prefs)}</strong>
        <span><strong>{verdict.label}{i === 0 ? ' (house way)' : ' (the other school)'}.</strong> <span class="quiet"><Said text={verdict.why} /></span></span></li>
    {/each}
  </ul>
</section>
