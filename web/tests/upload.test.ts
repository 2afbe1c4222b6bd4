import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { api, take } from '@/api/client'
import { telling } from '@/api/upload'

class Line {
  static last: Line | null = null
  upload: { onprogress?: (at: { lengthComputable: boolean; loaded: number; total: number }) => void } = {}
  onload = (): void => {}
  onerror = (): void => {}
  onabort = (): void => {}
  status = 0
  responseText = ''
  opened: string[] = []
  headers: Record<string, string> = {}
  sent = new Blob()
  constructor() {
    Line.last = this
  }
  open(...words: string[]): void {
    this.opened = words
  }
  setRequestHeader(name: string, value: string): void {
    this.headers[name] = value
  }
  getResponseHeader(): string {
    return 'application/json'
  }
  send(body: Blob): void {
    this.sent = body
  }
}
const sending = (share: (sent: number) => void): Promise<unknown> => {
  const body = new FormData()
  body.append('file', new File(['a house'], 'house.zip'))
  return take(
    api.POST('/api/projects/import', {
      baseUrl: 'http://here/',
      body: body as never,
      bodySerializer: (b: unknown) => b as FormData,
      fetch: telling(share),
    }),
  )
}

/** The line that the request before has opened and sent its body over. */
async function line(): Promise<Line> {
  const found = await vi.waitUntil(() => (Line.last?.sent.size ? Line.last : null))
  Line.last = null
  return found
}

describe('a file on its way', () => {
  beforeEach(() => vi.stubGlobal('XMLHttpRequest', Line))
  afterEach(() => vi.unstubAllGlobals())

  it('tells how much of it is sent, and gives the answer', async () => {
    const shares: number[] = []
    const answer = sending((share) => shares.push(share))
    const on = await line()
    expect(on.opened).toEqual(['POST', 'http://here/api/projects/import'])
    expect(Object.keys(on.headers).map((name) => name.toLowerCase())).toContain('x-csrftoken')
    on.upload.onprogress!({ lengthComputable: true, loaded: 1, total: 4 })
    on.upload.onprogress!({ lengthComputable: false, loaded: 2, total: 0 })
    Object.assign(on, { status: 200, responseText: '{"id": 7}' })
    on.onload()
    expect(await answer).toEqual({ id: 7 })
    expect(shares).toEqual([0.25])
  })

  it('is refused or lost as any request is', async () => {
    const refused = sending(() => {})
    const on = await line()
    Object.assign(on, { status: 422, responseText: '{"message": "No project file.", "remedy": "Export one."}' })
    on.onload()
    await expect(refused).rejects.toMatchObject({ status: 422, message: 'No project file.' })
    const lost = sending(() => {})
    ;(await line()).onerror()
    await expect(lost).rejects.toMatchObject({ code: 'offline' })
  })
})
