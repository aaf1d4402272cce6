<script lang="ts" module>
  export interface Spec {
    name: string
    label: string
    kind?: 'number' | 'text' | 'choice'
    options?: { key: string; label: string }[]
    hint?: string
    optional?: boolean
    /** What a new one starts with. */
    usual?: number
  }
</script>

<script lang="ts">
  import { refusalOf, type Refusal } from '$lib/api/client'
  import ChoiceField from '$lib/ui/ChoiceField.svelte'
  import NumberField from '$lib/ui/NumberField.svelte'
  import Refused from '$lib/ui/Refused.svelte'
  import TextField from '$lib/ui/TextField.svelte'

  type Values = Record<string, string | number | null>
  interface Props {
    spec: readonly Spec[]
    title: string
    summary?: string
    /** What is changed; nothing for a new one. */
    row?: Record<string, unknown>
    save: (body: Values) => Promise<unknown>
    remove?: () => Promise<unknown>
    onsaved: () => void
  }
  let { spec, title, summary = '', row, save, remove, onsaved }: Props = $props()
  let open = $state(false)
  let sure = $state(false)
  let values = $state<Values>({})
  let refusal = $state.raw<Refusal | undefined>()

  function start() {
    values = Object.fromEntries(
      spec.map((s) => [s.name, (row?.[s.name] as string | number | null | undefined) ?? (s.kind === 'text' ? '' : s.kind === 'choice' ? (s.options?.[0]?.key ?? '') : (row ? null : (s.usual ?? null)))]),
    )
    refusal = undefined
    sure = false
    open = true
  }
  async function act(call: () => Promise<unknown>) {
    try {
      await call()
      open = false
      onsaved()
    } catch (error) {
      refusal = refusalOf(error)
    }
  }
</script>

{#if !open}
  <div class={['tool', row && 'ruled']}>
    {#if row}<span><strong>{title}</strong> <span class="quiet">{summary}</span></span>
      <button class="btn btn-ghost" onclick={start}>Change<span class="sr-only"> {title}</span></button>
    {:else}<button class="btn" onclick={start}>{title}</button>{/if}
  </div>
{:else}
  <form class="sheet my-2 p-3" aria-label={title} onsubmit={(e) => { e.preventDefault(); void act(() => save(values)) }}>
    <div class="fields">
      {#each spec as s (s.name)}
        {#if s.kind === 'text'}<TextField name={s.name} label={s.label} value={String(values[s.name] ?? '')} hint={s.hint ?? ''} error={refusal?.of(s.name)} onchange={(v) => (values[s.name] = v)} />
        {:else if s.kind === 'choice'}<ChoiceField name={s.name} label={s.label} value={String(values[s.name] ?? '')} options={s.options ?? []} error={refusal?.of(s.name)} onchange={(v) => (values[s.name] = v)} />
        {:else}<NumberField name={s.name} label={s.label} optional={s.optional ?? false} hint={s.hint ?? ''} error={refusal?.of(s.name)}
          value={typeof values[s.name] === 'number' ? (values[s.name] as number) : null} oninput={(v) => (values[s.name] = v)} />{/if}
      {/each}
    </div>
    <Refused {refusal} fields={spec.map((s) => s.name)} />
    <div class="mt-3 flex flex-wrap gap-2">
      <button class="btn btn-primary">Keep</button>
      <button type="button" class="btn btn-ghost" onclick={() => (open = false)}>Leave it</button>
      {#if remove}
        {#if sure}<button type="button" class="btn" onclick={() => act(remove)}>Yes, remove it</button>
        {:else}<button type="button" class="btn btn-ghost" onclick={() => (sure = true)}>Remove</button>{/if}
      {/if}
    </div>
  </form>
{/if}
