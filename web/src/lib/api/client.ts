/** Talks to the server: typed calls, one kind of refusal, nothing thrown away. */
import createClient from 'openapi-fetch'
import type { components, paths } from './schema'

/** Pairs come over the wire as plain lists; so they are read. */
type Loose<T> = T extends readonly [unknown, unknown, ...unknown[]] ? T[number][]
  : T extends readonly (infer U)[] ? Loose<U>[]
  : T extends object ? { [K in keyof T]: Loose<T[K]> } : T
type Schemas = components['schemas']
export type Shapes = { [K in keyof Schemas]: K extends `${string}In` ? Schemas[K] : Loose<Schemas[K]> }
export type ProblemItem = Shapes['ProblemItem']

function cookie(name: string): string {
  const found = new RegExp(`(?:^|; )${name}=([^;]*)`).exec(document.cookie)
  return found?.[1] ?? ''
}

export const api = createClient<paths>({
  baseUrl: window.location.origin,
  credentials: 'same-origin',
  fetch: (request) => fetch(request),
})

api.use({
  onRequest({ request }) {
    if (request.method !== 'GET') request.headers.set('X-CSRFToken', cookie('csrftoken'))
    return request
  },
})

/** Why something was not done: by field where the server named one. */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    readonly items: ProblemItem[],
  ) {
    super(items.map((i) => i.message).join(' ') || 'That did not work.')
  }
  get offline(): boolean {
    return this.status === 0
  }
  of(field: string): ProblemItem | undefined {
    return this.items.find((i) => i.field === field)
  }
  /** What no shown field can carry. */
  beyond(fields: readonly string[]): ProblemItem[] {
    return this.items.filter((i) => !fields.includes(i.field))
  }
}

const item = (code: string, message: string): ProblemItem => ({ code, field: '', message, template: '', params: {} })

interface Answer<T> {
  data?: T
  error?: unknown
  response: Response
}

/** Return the data of a call or throw a Refusal. */
export async function ask<T>(call: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>
  try {
    answer = await call
  } catch (error) {
    if (error instanceof DOMException && error.name === 'AbortError') throw error
    throw new Refusal(0, [item('offline', 'The server cannot be reached. What you typed is still here; try again.')])
  }
  if (answer.response.ok) return answer.data as T
  const problem = answer.error as Shapes['Problem'] | undefined
  const items = problem && Array.isArray(problem.errors) ? problem.errors : [item('refused', 'The server did not say why.')]
  throw new Refusal(answer.response.status, items)
}

export function refusalOf(error: unknown): Refusal {
  return error instanceof Refusal ? error : new Refusal(-1, [item('broken', `Something broke on this screen: ${String(error)}`)])
}
