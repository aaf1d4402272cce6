/** Which address shows which screen; each screen is fetched when first opened. */
import { wrap } from 'svelte-spa-router/wrap'
import NotHere from './NotHere.svelte'
import Today from './features/today/Today.svelte'

export const routes = {
  '/': Today,
  '/yard': wrap({ asyncComponent: () => import('./features/yard/Yard.svelte') }),
  '/yard/log/:id': wrap({ asyncComponent: () => import('./features/yard/OneLog.svelte') }),
  '/yard/log/:id/sheet': wrap({ asyncComponent: () => import('./features/yard/Sheet.svelte') }),
  '/odd': wrap({ asyncComponent: () => import('./features/yard/Odd.svelte') }),
  '/new': wrap({ asyncComponent: () => import('./features/pieces/NewPiece.svelte') }),
  '/pieces': wrap({ asyncComponent: () => import('./features/pieces/Pieces.svelte') }),
  '/tags': wrap({ asyncComponent: () => import('./features/pieces/Tags.svelte') }),
  '/piece/:tag': wrap({ asyncComponent: () => import('./features/pieces/Record.svelte') }),
  '/drying': wrap({ asyncComponent: () => import('./features/drying/Floor.svelte') }),
  '/drying/table': wrap({ asyncComponent: () => import('./features/drying/WeightTable.svelte') }),
  '/drying/:tag': wrap({ asyncComponent: () => import('./features/drying/OneDrying.svelte') }),
  '/drying/:tag/ways': wrap({ asyncComponent: () => import('./features/drying/WhatIf.svelte') }),
  '/drying/:tag/oven': wrap({ asyncComponent: () => import('./features/drying/Oven.svelte') }),
  '/round': wrap({ asyncComponent: () => import('./features/drying/Round.svelte') }),
  '/round/:tag': wrap({ asyncComponent: () => import('./features/drying/Round.svelte') }),
  '/bench': wrap({ asyncComponent: () => import('./features/bench/BenchHome.svelte') }),
  '/bench/:tag': wrap({ asyncComponent: () => import('./features/bench/Bench.svelte') }),
  '/bench/:tag/:stage': wrap({ asyncComponent: () => import('./features/bench/Bench.svelte') }),
  '/shape': wrap({ asyncComponent: () => import('./features/lathe/ShapeBench.svelte') }),
  '/shape/:tag': wrap({ asyncComponent: () => import('./features/lathe/ShapeBench.svelte') }),
  '/cores': wrap({ asyncComponent: () => import('./features/lathe/Cores.svelte') }),
  '/cores/:tag': wrap({ asyncComponent: () => import('./features/lathe/Cores.svelte') }),
  '/cutting': wrap({ asyncComponent: () => import('./features/lathe/WhichWay.svelte') }),
  '/shop/place/:id': wrap({ asyncComponent: () => import('./features/shop/OnePlace.svelte') }),
  '/shop': wrap({ asyncComponent: () => import('./features/shop/Shop.svelte') }),
  '*': NotHere,
}
