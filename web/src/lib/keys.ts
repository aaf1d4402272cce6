/** Keys that lead somewhere, from anywhere but a field. */
export const KEYS = [
  { key: '1', to: '/', what: 'Today' },
  { key: '2', to: '/yard', what: 'Yard' },
  { key: '3', to: '/drying', what: 'Drying' },
  { key: '4', to: '/bench', what: 'Bench' },
  { key: '5', to: '/shop', what: 'Shop' },
  { key: 'w', to: '/round', what: 'Weigh-in round' },
  { key: 'n', to: '/new', what: 'New piece' },
  { key: 'r', to: '/bench', what: 'Reckoner, on the bench' },
  { key: '?', to: '?', what: 'This sheet' },
] as const

/** Where a key press leads; nothing while somebody types or holds a modifier. */
export function wanted(event: KeyboardEvent): string | undefined {
  const target = event.target instanceof HTMLElement ? event.target : null
  if (event.ctrlKey || event.altKey || event.metaKey) return undefined
  if (target?.closest('input, select, textarea, dialog, [contenteditable]')) return undefined
  return KEYS.find((k) => k.key === event.key)?.to
}
