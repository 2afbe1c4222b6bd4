/** A server that answers what a test tells it to, and remembers what it was asked. */
export interface Asked {
  method: string
  path: string
  body: unknown
  headers: Headers
}
type Answer = (asked: Asked) => unknown

export class Refusal {
  constructor(
    readonly status: number,
    readonly code = 'refused',
    readonly message = 'No.',
  ) {}
}

class Server {
  asked: Asked[] = []
  online = true
  private answers: [RegExp, Answer][] = []

  reset(): void {
    this.asked = []
    this.answers = []
    this.online = true
  }
  /** Answer requests “PUT /api/…” that match; the newest rule counts. */
  on(pattern: RegExp, answer: Answer): void {
    this.answers.unshift([pattern, answer])
  }
  of(pattern: RegExp): Asked[] {
    return this.asked.filter((one) => pattern.test(`${one.method} ${one.path}`))
  }
  fetch = async (input: RequestInfo | URL, init?: RequestInit): Promise<Response> => {
    const request = new Request(input, init)
    if (!this.online) throw new TypeError('no connection')
    const path = new URL(request.url).pathname
    const text = await request.text().catch(() => '')
    let body: unknown = text
    try {
      body = JSON.parse(text)
    } catch {
      /* a form */
    }
    const asked = { method: request.method, path, body, headers: request.headers }
    this.asked.push(asked)
    const found = this.answers.find(([pattern]) => pattern.test(`${asked.method} ${asked.path}`))
    const answer = found ? await found[1](asked) : new Refusal(404, 'not_found')
    if (answer instanceof Refusal)
      return new Response(JSON.stringify({ code: answer.code, message: answer.message, remedy: '' }), {
        status: answer.status,
        headers: { 'Content-Type': 'application/problem+json' },
      })
    return new Response(JSON.stringify(answer ?? null), {
      status: 200,
      headers: { 'Content-Type': 'application/json' },
    })
  }
}
export const server = new Server()
