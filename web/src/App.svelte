<script lang="ts">
  import Router, { push, router } from 'svelte-spa-router'
  import SignIn from './features/account/SignIn.svelte'
  import { session } from '$lib/session.svelte'
  import { KEYS, wanted } from '$lib/keys'
  import { routes } from './routes'

  const PLACES = [
    { href: '/', label: 'Today' },
    { href: '/yard', label: 'Yard' },
    { href: '/drying', label: 'Drying' },
    { href: '/bench', label: 'Bench' },
    { href: '/shop', label: 'Shop' },
  ]
  const INSIDE: Record<string, string> = { new: '/yard', pieces: '/yard', piece: '/yard', round: '/drying', odd: '/yard', tags: '/yard', shape: '/bench', cores: '/bench', cutting: '/bench' }
  let sheet = $state<HTMLDialogElement>()
  let first = $derived(router.location.split('/')[1] ?? '')
  let here = $derived(INSIDE[first] ?? `/${first}`)

  void session.start()

  function pressed(event: KeyboardEvent) {
    const to = wanted(event)
    if (to === '?') sheet?.showModal()
    else if (to && session.me.signed_in) void push(to)
  }
  const dim = $derived(session.me.theme === 'dim')
  const inches = $derived(session.me.length === 'in')

  // The piece's own address says what is open, so that tabs can be told apart.
  $effect(() => {
    const label = PLACES.find((p) => p.href === here)?.label ?? 'Today'
    document.title = `${label} · Yard Kiln`
  })
</script>

<svelte:window onkeydown={pressed} />

{#if !session.known}
  <p class="p-6 quiet">Opening the notebook …</p>
{:else if session.unreachable}
  <div class="p-6"><h1>The server cannot be reached</h1>
    <p class="my-2">Is it running? Nothing recorded is lost.</p>
    <button class="btn btn-primary" onclick={() => session.start()}>Try again</button></div>
{:else if !session.me.signed_in}
  <SignIn />
{:else}
  <a class="skip" href="#main" onclick={(e) => { e.preventDefault(); document.getElementById('main')?.focus() }}>To the page</a>
  <header class="top no-print">
    <a class="mark" href="#/">Yard Kiln</a>
    <nav aria-label="Places" class="places">
      {#each PLACES as place (place.href)}
        <a href="#{place.href}" aria-current={here === place.href ? 'page' : undefined}>{place.label}</a>
      {/each}
    </nav>
    <div class="person">
      <button class="btn btn-ghost" onclick={() => session.prefer(inches ? { length: 'mm', mass: 'g', temperature: 'c' } : { length: 'in', mass: 'oz', temperature: 'f' })}>{inches ? 'in, oz' : 'mm, g'}<span class="sr-only">: show figures in {inches ? 'millimetres, grams and °C' : 'inches, ounces and °F'}</span></button>
      <button class="btn btn-ghost" onclick={() => session.prefer({ theme: dim ? 'light' : 'dim' })}>{dim ? 'Light' : 'Dim'}</button>
      <button class="btn btn-ghost keys-button" onclick={() => sheet?.showModal()}>?<span class="sr-only">: the keys</span></button>
      <button class="btn btn-ghost" onclick={() => session.signOut()}>Leave</button>
    </div>
  </header>
  <main id="main" tabindex="-1" class="page">
    {#key router.location}<Router {routes} />{/key}
  </main>
{/if}

<dialog bind:this={sheet} class="sheet keys" aria-labelledby="keys-title">
  <h2 id="keys-title">Keys</h2>
  <table class="plain my-3"><tbody>
    {#each KEYS as row (row.key)}<tr><td><kbd>{row.key}</kbd></td><td>{row.what}</td></tr>{/each}
  </tbody></table>
  <form method="dialog"><button class="btn">Close</button></form>
</dialog>
