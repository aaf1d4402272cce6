<script lang="ts">
  import { tick, untrack } from 'svelte'
  import { api, ask, refusalOf, Refusal, type Shapes } from '$lib/api/client'
  import { session } from '$lib/session.svelte'
  import WhenField from '$lib/ui/WhenField.svelte'
  import { away, moment, readMass, show } from '$lib/units/units'
  import { readyWords } from './floor.svelte'
  import QuestionBox from './QuestionBox.svelte'
  import { Round, tagAndWeight, type Entry, type Weight } from './round.svelte'
  import Scan from './Scan.svelte'
  import { Shelf } from './shelf.svelte'

  interface Props {
    params?: { tag?: string } | null
  }
  let { params }: Props = $props()

  const round = new Round({
    send: (w) => ask(api.POST('/api/drying/weigh-ins', { body: w })),
    keeper: localStorage,
    now: () => new Date(),
    key: () => crypto.randomUUID(),
    owner: session.me.name,
  })

  const shelf = new Shelf(localStorage, session.me.name)
  let scale = $state(false)
  let scaleWords = $state('')
  let scanning = $state(false)
  let last = $state<string | null>(null)
  let mode = $state<'tag' | 'weight'>('tag')
  let text = $state('')
  let tag = $state('')
  let trouble = $state('')
  type Expected = Pick<Shapes['ExpectedOut'], 'name' | 'species_name' | 'low_g' | 'high_g' | 'last_g' | 'last_at'>
  let expected = $state.raw<Expected | undefined>()
  let at = $state<string | null>(null)
  let field = $state<HTMLInputElement>()

  $effect(() => {
    void round.flush()
    void shelf.learn(() => ask(api.GET('/api/drying')))
    void ask(api.GET('/api/shop')).then((s) => (scale = s.instruments.scale_url !== ''), () => undefined)
    const timer = setInterval(() => void round.flush(), 8000)
    const online = () => void round.flush()
    window.addEventListener('online', online)
    const first = untrack(() => params?.tag)
    if (first) void take(first)
    else field?.focus()
    return () => {
      clearInterval(timer)
      window.removeEventListener('online', online)
    }
  })

  async function focus(select = false) {
    await tick()
    field?.focus()
    if (select) field?.select()
  }

  /** Whether the tag was taken and a weight may follow. */
  async function take(wanted: string): Promise<boolean> {
    expected = undefined
    trouble = ''
    try {
      expected = await ask(api.GET('/api/drying/expected', { params: { query: { tag: wanted } } }))
    } catch (error) {
      const refusal = refusalOf(error)
      if (refusal.status === 404) {
        trouble = `Nothing tagged ${wanted.toUpperCase()} is drying here. Look at the tag again.`
        await focus(true)
        return false
      }
      if (!refusal.offline) {
        trouble = refusal.message
        return false
      }
      const kept = shelf.find(wanted)
      if (kept && kept.low_g !== null && kept.high_g !== null) expected = { ...kept, low_g: kept.low_g, high_g: kept.high_g }
    }
    tag = wanted.trim().toUpperCase()
    mode = 'weight'
    text = ''
    await focus()
    return true
  }

  async function note(typed: string) {
    const grams = readMass(typed, session.prefs)
    if (Number.isNaN(grams) || grams <= 0) {
      trouble = `“${typed}” is not readable as a weight. Write it as 2390, 2.39 kg, 84.3 oz or 5 lb 4 oz.`
      await focus(true)
      return
    }
    const noted = tag
    last = tag
    mode = 'tag'
    text = ''
    trouble = ''
    expected = undefined
    const sending = round.add(noted, grams, typed, at)
    await focus()
    const entry = await sending
    if (entry?.state === 'kept') await tellReady(entry.key, noted)
  }

  /** What the scale shows goes into the field; a steady weight may be kept with Enter. */
  async function readScale() {
    scaleWords = 'Reading the scale …'
    try {
      const shown = await ask(api.GET('/api/drying/scale'))
      if (shown.mass_g !== null && shown.state !== 'negative') text = show('a_g', shown.mass_g, session.prefs).replace(/\s*g$/, '')
      scaleWords = shown.state === 'steady' ? 'Steady: Enter keeps it.' : shown.words
    } catch (error) {
      scaleWords = refusalOf(error).message
    }
    await focus()
  }

  async function enter() {
    scaleWords = ''
    const typed = text.trim()
    if (!typed) return
    if (mode === 'weight') return note(typed)
    const both = tagAndWeight(typed)
    if ((await take(both.tag)) && both.weight) await note(both.weight)
  }

  function escape() {
    mode = 'tag'
    text = ''
    trouble = ''
    expected = undefined
  }

  /** The new span of the ready date, as soon as it is worked out. */
  async function tellReady(key: string, of: string) {
    try {
      await ask(api.POST('/api/drying/refresh', { body: { tags: [of], most: 1 } }))
      const { row } = await ask(api.GET('/api/drying/{tag}', { params: { path: { tag: of } } }))
      round.told(key, readyWords(row))
    } catch {
      /* the weight is kept; the floor shows the span later */
    }
  }

  async function answered(entry: Entry, weight: Weight) {
    round.answered(entry.key, weight)
    await focus()
    await tellReady(entry.key, weight.tag)
  }

  function refused(entry: Entry): string {
    return entry.refusal instanceof Refusal && entry.refusal.status === 404
      ? `nothing tagged ${entry.tag} is drying` : (entry.refusal?.message ?? 'it was refused')
  }
  let done = $derived(new Set(round.entries.map((e) => e.tag)))
  let next = $derived(shelf.next(done, last))
  let newest = $derived([...round.entries].reverse())
  let lastAsked = $derived(round.entries.at(-1)?.state === 'questioned' ? round.entries.at(-1)?.key : undefined)
</script>

<div class="head"><h1>Weigh-in round</h1><div class="head-actions"><a class="btn" href="#/drying">To the floor</a></div></div>

<form class="round" onsubmit={(e) => { e.preventDefault(); void enter() }}>
  <label for="round-field">{mode === 'tag' ? 'Tag' : `Weight of ${tag}, ${session.me.mass === 'oz' ? 'ounces' : 'grams'}`}</label>
  <div class="round-line">
    <input id="round-field" class="input round-field" bind:this={field} bind:value={text} autocomplete="off" autocapitalize="characters" enterkeyhint="next"
      inputmode={mode === 'tag' ? 'text' : 'decimal'} aria-describedby="round-help" aria-invalid={trouble ? 'true' : undefined}
      onkeydown={(e) => e.key === 'Escape' && escape()} />
    <button class="btn btn-primary round-go">{mode === 'tag' ? 'Next' : 'Keep'}</button>
  </div>
  <div id="round-help" aria-live="polite" class="round-help">
    {#if trouble}<p class="wrong">{trouble}</p>
    {:else if mode === 'weight' && expected}
      <p><strong>{expected.name || expected.species_name}</strong>: between {show('a_g', expected.low_g, session.prefs)} and {show('a_g', expected.high_g, session.prefs)} expected{#if expected.last_g !== null && expected.last_at}; it was {show('a_g', expected.last_g, session.prefs)} {away(expected.last_at)}{/if}. <span class="quiet">Esc for another tag.</span></p>
    {:else if mode === 'weight'}<p>{shelf.find(tag) ? '' : `No ${tag} on the shelf as this device knows it. `}The server cannot be reached: the weight is kept here and sent later.</p>
    {:else}<p class="quiet">Tag, Enter, weight, Enter; or both at once: 14 2390. Ounces too: 84.3 oz.</p>{/if}
  </div>
  <div class="round-ways">
    {#if mode === 'weight'}
      {#if scale}<button type="button" class="btn" onclick={readScale}>Read the scale</button>{/if}
      {#if scaleWords}<span role="status">{scaleWords}</span>{/if}
    {:else}
      {#if next}<button type="button" class="btn" onclick={() => next && take(next.tag)}>Next on the shelf: <span class="tag">{next.tag}</span> <span class="quiet">{next.place}</span></button>{/if}
      <button type="button" class="btn" onclick={() => (scanning = !scanning)}>Scan a tag</button>
    {/if}
  </div>
  {#if scanning}<Scan onclose={() => (scanning = false)} onfound={(found) => { scanning = false; void take(found) }} />{/if}
  <details class="more"><summary>Weighed at another time</summary><div class="max-w-md mt-2"><WhenField label="Weighed" bind:value={at} /></div></details>
</form>

{#if round.waiting}<p class="caution care" role="status"><strong>Mind.</strong> {round.waiting} {round.waiting === 1 ? 'weight waits' : 'weights wait'} on this device for the server; they are sent by themselves, once each.</p>{/if}
{#if newest.length}
  <h2 class="mt-4">This round</h2>
  <ul class="round-list">
    {#each newest as entry (entry.key)}
      <li class="ruled py-2" data-tag={entry.tag} data-state={entry.state}>
        <span class="tag">{entry.tag}</span> <strong>{show('a_g', entry.weight?.mass_g ?? entry.mass_g, session.prefs)}</strong>
        <span class="quiet">{moment(entry.at)}</span>
        {#if entry.state === 'kept'}<span>kept{entry.ready ? `; ready: ${entry.ready}` : ''}</span>
        {:else if entry.state === 'waiting'}<span>waits to be sent</span>
        {:else if entry.state === 'refused'}<span class="wrong">not kept: {refused(entry)}</span>
        {:else if entry.weight}<QuestionBox weight={entry.weight} focus={entry.key === lastAsked} onanswered={(w) => answered(entry, w)} />{/if}
      </li>
    {/each}
  </ul>
{/if}
