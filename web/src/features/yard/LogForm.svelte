<script lang="ts">
  import { refusalOf, type Refusal, type Shapes } from '$lib/api/client'
  import ChoiceField from '$lib/ui/ChoiceField.svelte'
  import NumberField from '$lib/ui/NumberField.svelte'
  import Refused from '$lib/ui/Refused.svelte'
  import TextField from '$lib/ui/TextField.svelte'
  import { CLOCK, angleOf, hourOf, type LogBody } from './logForm.svelte'
  import WhichWood from './WhichWood.svelte'

  interface Props {
    start: LogBody
    species: readonly Shapes['SpeciesOut'][]
    save: (body: LogBody) => Promise<unknown>
    onsaved: () => void
    oncancel?: () => void
    label: string
  }
  let { start, species, save, onsaved, oncancel, label }: Props = $props()
  // svelte-ignore state_referenced_locally
  let form = $state<LogBody>({ ...start })
  let refusal = $state.raw<Refusal | undefined>()
  let helping = $state(false)
  const FIELDS = ['species', 'felled_on', 'sealed_on', 'length_mm', 'diameter_mm', 'large_wide_mm', 'large_tall_mm', 'small_wide_mm', 'small_tall_mm', 'bark_mm', 'pith_offset_mm', 'pith_small_offset_mm', 'trim_start_mm', 'trim_end_mm', 'origin', 'lies_at', 'note']
  const NUMBERS = [
    { name: 'length_mm', label: 'Length' },
    { name: 'large_wide_mm', label: 'Large end, across' }, { name: 'large_tall_mm', label: 'Large end, the other way' },
    { name: 'small_wide_mm', label: 'Small end, across' }, { name: 'small_tall_mm', label: 'Small end, the other way' },
    { name: 'bark_mm', label: 'Bark, thickness' },
  ] as const
  let clock = $derived(CLOCK.map((h) => ({ key: String(h), label: `${h} o'clock` })))

  async function keep() {
    try {
      await save({ ...form, felled_on: form.felled_on || null, sealed_on: form.sealed_on || null, trim_start_mm: form.trim_start_mm ?? 30, trim_end_mm: form.trim_end_mm ?? 30 })
      refusal = undefined
      onsaved()
    } catch (error) {
      refusal = refusalOf(error)
    }
  }
</script>

<form class="sheet my-3 p-4" onsubmit={(e) => { e.preventDefault(); void keep() }}>
  <h2 class="mb-2">{label}</h2>
  <div class="fields">
    <div>
      <ChoiceField name="species" label="Wood" bind:value={form.species} error={refusal?.of('species')} options={species.map((s) => ({ key: s.key, label: s.common }))} />
      <button type="button" class="btn btn-ghost mt-1" aria-expanded={helping} onclick={() => (helping = !helping)}>Which wood is it?</button>
    </div>
    <TextField name="felled_on" label="Felled on" type="date" value={form.felled_on ?? ''} onchange={(v) => (form.felled_on = v)} error={refusal?.of('felled_on')} />
    <TextField name="origin" label="Where from" bind:value={form.origin} error={refusal?.of('origin')} />
    <TextField name="lies_at" label="Where it lies" bind:value={form.lies_at} error={refusal?.of('lies_at')} />
  </div>
  {#if helping}<WhichWood bind:tried={form.tried} onchoose={(key) => { form.species = key; helping = false }} />{/if}
  <h3 class="mt-3">Sizes, over the bark</h3>
  <div class="fields">
    {#each NUMBERS as n (n.name)}<NumberField name={n.name} label={n.label} bind:value={form[n.name]} error={refusal?.of(n.name)} optional />{/each}
    <NumberField name="diameter_mm" label="Or only its width, under bark" bind:value={form.diameter_mm} error={refusal?.of('diameter_mm')} optional />
    <NumberField name="pith_offset_mm" label="Pith off the middle" bind:value={form.pith_offset_mm} error={refusal?.of('pith_offset_mm')} optional />
    <ChoiceField name="pith_hour" label="Pith lies towards, at the large end" value={String(hourOf(form.pith_angle_deg))} options={clock} onchange={(v) => (form.pith_angle_deg = angleOf(Number(v)))} />
    <NumberField name="trim_start_mm" label="Checked, large end" bind:value={form.trim_start_mm} error={refusal?.of('trim_start_mm')} />
    <NumberField name="trim_end_mm" label="Checked, small end" bind:value={form.trim_end_mm} error={refusal?.of('trim_end_mm')} />
  </div>
  <div class="my-3 flex flex-wrap gap-6">
    <label class="tick"><input type="checkbox" class="checkbox" bind:checked={form.ends_sealed} /> ends sealed</label>
    <label class="tick"><input type="checkbox" class="checkbox" bind:checked={form.cracked} /> cracked</label>
    <label class="tick"><input type="checkbox" class="checkbox" bind:checked={form.rot} /> rot</label>
    <label class="tick"><input type="checkbox" class="checkbox" bind:checked={form.insects} /> insects</label>
    <label class="tick"><input type="checkbox" class="checkbox" bind:checked={form.nails} /> metal likely</label>
  </div>
  <div class="fields">
    {#if form.ends_sealed}<TextField name="sealed_on" label="Sealed on" type="date" value={form.sealed_on ?? ''} onchange={(v) => (form.sealed_on = v)} error={refusal?.of('sealed_on')} />{/if}
    <TextField name="note" label="Note" bind:value={form.note} error={refusal?.of('note')} />
  </div>
  <Refused {refusal} fields={FIELDS} />
  <div class="mt-3 flex flex-wrap gap-2"><button class="btn btn-primary">Keep it</button>
    {#if oncancel}<button type="button" class="btn btn-ghost" onclick={oncancel}>Leave as it was</button>{/if}</div>
</form>
