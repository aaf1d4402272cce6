<script lang="ts">
  import { api, ask, refusalOf, type Refusal, type Shapes } from '$lib/api/client'
  import ChoiceField from '$lib/ui/ChoiceField.svelte'
  import NumberField from '$lib/ui/NumberField.svelte'
  import Refused from '$lib/ui/Refused.svelte'
  import TextField from '$lib/ui/TextField.svelte'

  interface Props {
    shop: Shapes['ShopOut']
    onsaved: () => void
  }
  let { shop, onsaved }: Props = $props()
  type Way = Shapes['WayIn']
  let refusal = $state.raw<Refusal | undefined>()
  let kept = $state('')

  const CHOICES: { name: keyof Way & keyof Shapes['WayOut']; label: string; options: { key: string; label: string }[] }[] = [
    { name: 'rough_wall', label: 'Rough wall', options: [{ key: 'tenth', label: 'a tenth of the diameter' }, { key: 'computed', label: 'from shrinkage and clean-up' }] },
    { name: 'second_hold', label: 'Second hold', options: [{ key: 'tenon', label: 'tenon' }, { key: 'recess', label: 'recess' }] },
    { name: 'inside', label: 'Hollowing side grain', options: [{ key: 'rim-down', label: 'from the rim down in steps' }, { key: 'centre-out', label: 'from the centre out' }] },
    { name: 'handle', label: 'Handle of a hollowing bar', options: [{ key: 'four', label: 'four times the overhang' }, { key: 'five', label: 'five times the overhang' }] },
    { name: 'ladder', label: 'Grits', options: [{ key: 'long', label: 'long ladder' }, { key: 'short-paste', label: 'short ladder, then paste' }] },
  ]
  const NUMBERS: { name: keyof Way; label: string; hint?: string }[] = [
    { name: 'home_c', label: 'Where pieces will live, air' },
    { name: 'home_rh_pct', label: 'Where pieces will live, humidity' },
    { name: 'finish_room_c', label: 'Where coats dry, air' },
    { name: 'stop_loss_per_week_pct', label: 'Weight stands still below, a week' },
    { name: 'worm_pilot_mm', label: 'Worm screw, pilot drill' },
    { name: 'worm_length_mm', label: 'Worm screw, length' },
  ]
  const FIELDS = [...CHOICES.map((c) => c.name), ...NUMBERS.map((n) => n.name), 'finish', 'grits']

  async function keep(name: keyof Way, value: string | number | null) {
    if (value === null) return
    try {
      await ask(api.PATCH('/api/shop/way', { body: { [name]: value } }))
      refusal = undefined
      kept = name
      onsaved()
    } catch (error) {
      refusal = refusalOf(error)
      kept = ''
    }
  }
  const now = (name: keyof Way): number | null =>
    name === 'worm_pilot_mm' || name === 'worm_length_mm' ? (shop[name] ?? null) : ((shop.way[name as keyof Shapes['WayOut']] as number) ?? null)
</script>

<p class="quiet mb-2">Where turners disagree, cards show this way first and the other beside it.</p>
<div class="fields">
  {#each CHOICES as c (c.name)}<ChoiceField name={c.name} label={c.label} value={String(shop.way[c.name])} options={c.options} error={refusal?.of(c.name)} onchange={(v) => void keep(c.name, v)} />{/each}
  <ChoiceField name="finish" label="Usual finish" value={shop.way.finish} options={shop.finishes} error={refusal?.of('finish')} onchange={(v) => void keep('finish', v)} />
  {#each NUMBERS as n (n.name)}<NumberField name={n.name} label={n.label} hint={n.hint ?? ''} value={now(n.name)} error={refusal?.of(n.name)} onchange={(v) => void keep(n.name, v)} />{/each}
  <TextField name="grits" label="P grits on the shelf" value={shop.way.grits} error={refusal?.of('grits')} onchange={(v) => void keep('grits', v)} />
</div>
<Refused {refusal} fields={FIELDS} />
{#if kept}<p class="quiet mt-2" role="status">Kept; every card follows.</p>{/if}
