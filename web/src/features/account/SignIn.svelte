<script lang="ts">
  import { api, ask, refusalOf, type Refusal } from '$lib/api/client'
  import { session } from '$lib/session.svelte'
  import Refused from '$lib/ui/Refused.svelte'
  import TextField from '$lib/ui/TextField.svelte'

  let username = $state('')
  let password = $state('')
  let refusal = $state.raw<Refusal | undefined>()
  let busy = $state(false)

  async function enter(call: () => Promise<typeof session.me>) {
    busy = true
    try {
      session.take(await call())
      refusal = undefined
    } catch (error) {
      refusal = refusalOf(error)
    }
    busy = false
  }
  const signIn = () => enter(() => ask(api.POST('/api/account/sign-in', { body: { username, password } })))
  const demo = () => enter(() => ask(api.POST('/api/demo/enter')))
</script>

<main class="door">
  <svg viewBox="0 0 32 32" width="64" height="64" aria-hidden="true" class="door-mark">
    <circle cx="16" cy="16" r="13" /><circle cx="15" cy="17" r="8.5" /><circle cx="14.5" cy="17.5" r="4" />
  </svg>
  <h1>Yard Kiln</h1>
  <p class="quiet mb-4">From the green log to the finished bowl: how to hold it, how fast, how thick, when it is dry.</p>

  {#if session.me.demo_door}
    <div class="sheet mb-4 p-4">
      <h2>Look round first</h2>
      <p class="my-2">An invented canal-side yard with fifteen pieces at every stage and five logs. Turn what you like; it is only the demo.</p>
      <button class="btn btn-primary" onclick={demo} disabled={busy}>Enter the demo workshop</button>
    </div>
  {/if}

  <div class="sheet p-4">
    <h2>Your own workshop</h2>
    {#if session.me.has_accounts}
      <form class="my-2 space-y-3" onsubmit={(e) => { e.preventDefault(); void signIn() }}>
        <TextField name="username" label="Name" bind:value={username} error={refusal?.of('username')} autocomplete="username" />
        <TextField name="password" label="Password" type="password" bind:value={password} error={refusal?.of('password')} autocomplete="current-password" />
        <button class="btn" disabled={busy}>Sign in</button>
      </form>
    {:else}
      <p class="my-2">Nobody has an account yet. On the machine that runs this, in the project's folder:</p>
      <pre class="command">make account NAME=yourname</pre>
      <p class="my-2">It asks for a password; then reload this page.</p>
    {/if}
  </div>
  <Refused {refusal} fields={session.me.has_accounts ? ['username', 'password'] : []} />
</main>
