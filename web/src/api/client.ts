/** The one client of the API: typed from the OpenAPI document, CSRF token on every change, problems as errors. */
import createClient from 'openapi-fetch'
import type { components, paths } from './schema'

export type Schemas = components['schemas']

/** A refusal of the server: what, where and what to do. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly remedy: string,
  ) {
    super(message)
  }
}

let csrf = ''
let person = ''
export function setCsrf(token: string): void {
  csrf = token
}
/** Who this window takes the server to talk to: another sign-in in the same browser is told, not worked for. */
export function setPerson(username: string): void {
  person = username
}
/** The token as the cookie has it now: a sign-in in another tab changes it for all. */
function token(): string {
  return /(?:^|; )csrftoken=([^;]+)/.exec(document.cookie)?.[1] ?? csrf
}

export const api = createClient<paths>({ baseUrl: '/', credentials: 'same-origin' })
api.use({
  onRequest({ request }) {
    if (request.method !== 'GET') request.headers.set('X-CSRFToken', token())
    if (person) request.headers.set('X-Person', encodeURIComponent(person))
    return request
  },
})

interface Answer<T> {
  data?: T
  error?: unknown
  response: Response
}

/** The data of an answer, or a Problem thrown. A lost connection is a Problem too. */
export async function take<T>(call: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>
  try {
    answer = await call
  } catch {
    throw new Problem(0, 'offline', 'The server does not answer.', 'What you typed stays here; try again.')
  }
  if (answer.response.ok) return answer.data as T
  const body = (answer.error ?? {}) as { code?: string; message?: string; remedy?: string }
  const fallback = `The server answered ${answer.response.status}.`
  throw new Problem(answer.response.status, body.code ?? 'error', body.message ?? fallback, body.remedy ?? '')
}

/** The same where the client's own mapping would lose the tuples of a schema. */
export const takeAs = <T>(call: Promise<Answer<unknown>>): Promise<T> => take(call as Promise<Answer<T>>)

/** A sentence for people from whatever was thrown. */
export function sentence(error: unknown): string {
  if (error instanceof Problem) return [error.message, error.remedy].filter(Boolean).join(' ')
  return error instanceof Error ? error.message : String(error)
}
