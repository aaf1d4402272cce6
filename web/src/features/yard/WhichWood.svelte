<script lang="ts">
  import { untrack } from 'svelte'
  import { api, ask, type Shapes } from '$lib/api/client'
  import { Loader } from '$lib/api/loader.svelte'
  import Cautions from '$lib/ui/Cautions.svelte'
  import ChoiceField from '$lib/ui/ChoiceField.svelte'
  import Said from '$lib/ui/Said.svelte'

  interface Props {
    tried: Record<string, string>
    onchoose: (species: string) => void
  }
  let { tried = $bindable(), onchoose }: Props = $props()
  const signs = new Loader(() => ask(api.GET('/api/yard/signs')))
  const guess = new Loader<Shapes['Guess']>(() => ask(api.POST('/api/yard/which-wood', { body: { tried } })))
  $effect(() => {
    untrack(() => {
      void signs.load()
      void guess.load()
    })
  })
  function found(sign: string, value: string) {
    tried = Object.fromEntries(Object.entries({ ...tried, [sign]: value }).filter(([, v]) => v))
    void guess.load(() => ask(api.POST('/api/yard/which-wood', { body: { tried } })))
  }
  let g = $derived(guess.data)
  const labelOf = (key: string) => signs.data?.signs.find((s) => s.key === key)?.label ?? key
</script>

<div class="which my-3" data-which>
  <div class="fields">
    {#each signs.data?.signs ?? [] as sign (sign.key)}
      <div class:next-sign={g?.next_sign === sign.key}>
        <ChoiceField name={sign.key} label={sign.label} value={tried[sign.key] ?? ''} onchange={(v) => found(sign.key, v)}
          options={[{ key: '', label: 'not tried' }, ...sign.choices.map(([key, label]) => ({ key: String(key), label: String(label) }))]} />
        <p class="quiet text-sm">{sign.how}{g?.next_sign === sign.key ? ' This one would tell most now.' : ''}</p>
      </div>
    {/each}
  </div>
  {#if g}
    <p class="mt-3" aria-live="polite"><Said text={g.words} /></p>
    <ul class="likely">
      {#each g.likely.slice(0, 6) as wood (wood.key)}
        <li class="ruled">
          <span class="likely-bar" style:inline-size="{wood.share_pct}%"></span>
          <span><strong>{wood.common}</strong> <span class="quiet">about {wood.share_pct < 1 ? 'one' : wood.share_pct.toFixed(0)} in a hundred{wood.against.length ? `; against it: ${wood.against.map(labelOf).join(', ').toLowerCase()}` : ''}</span></span>
          <button type="button" class="btn" onclick={() => onchoose(wood.key)}>Take it<span class="sr-only"> as {wood.common}</span></button>
        </li>
      {/each}
    </ul>
    {#if tried.glow !== undefined || g.next_sign === 'glow'}<Cautions cautions={g.cautions} />{/if}
  {/if}
</div>
