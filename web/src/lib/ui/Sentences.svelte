<script lang="ts">
  import { session } from '$lib/session.svelte'
  import { fill } from '$lib/units/units'

  interface Props {
    texts: readonly { template: string; params?: Record<string, number | string> }[]
  }
  let { texts }: Props = $props()
</script>

{texts.map((text) => fill(text.template, text.params ?? {}, session.prefs)).join(' ')}
