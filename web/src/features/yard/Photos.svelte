<script lang="ts">
  import { api, ask, refusalOf, type Refusal, type Shapes } from '$lib/api/client'
  import Refused from '$lib/ui/Refused.svelte'

  interface Props {
    log: Shapes['LogDetail']
    onchange: (log: Shapes['LogDetail']) => void
  }
  let { log, onchange }: Props = $props()
  let refusal = $state.raw<Refusal | undefined>()
  let sending = $state(false)

  async function add(file: File | undefined) {
    if (!file) return
    sending = true
    const form = new FormData()
    form.append('photo', file)
    try {
      const params = { path: { log_id: log.id } }
      onchange(await ask(api.POST('/api/yard/logs/{log_id}/photos', { params, body: form as unknown as { photo: string }, bodySerializer: (b) => b as unknown as FormData })))
      refusal = undefined
    } catch (error) {
      refusal = refusalOf(error)
    }
    sending = false
  }
  async function remove(id: number) {
    try {
      onchange(await ask(api.DELETE('/api/yard/logs/{log_id}/photos/{photo_id}', { params: { path: { log_id: log.id, photo_id: id } } })))
    } catch (error) {
      refusal = refusalOf(error)
    }
  }
</script>

<section class="mt-4"><h2>Pictures</h2>
  <ul class="photos">
    {#each log.photos as photo, i (photo.id)}
      <li><a href={photo.url} target="_blank" rel="noopener"><img src={photo.url} alt="Log {log.number}, picture {i + 1}" width={photo.width} height={photo.height} loading="lazy" /></a>
        <button class="btn btn-ghost" onclick={() => remove(photo.id)}>Remove<span class="sr-only"> picture {i + 1}</span></button></li>
    {/each}
  </ul>
  <label class="btn" for="photo-in">{sending ? 'Sending …' : 'Add a picture'}</label>
  <input id="photo-in" class="sr-only" type="file" accept="image/*" onchange={(e) => { void add(e.currentTarget.files?.[0]); e.currentTarget.value = '' }} />
  <span class="quiet text-sm">Made small, without where and when it was taken.</span>
  <Refused {refusal} />
</section>
