<script lang="ts">
  import { session } from '$lib/session.svelte'
  import { fill } from '$lib/units/units'

  interface Props {
    text: { template: string; params?: Record<string, number | string> }
  }
  let { text }: Props = $props()
</script>

{fill(text.template, text.params ?? {}, session.prefs)}
