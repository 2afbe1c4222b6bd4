import { beforeEach, describe, expect, it, vi } from 'vitest'
import { Refusal, server } from './server'

type Outbox = typeof import('@/shared/outbox')
const PATH = '/api/projects/1/evidence/pin-0001'
const put = (note: string, base = 0): { project: number; method: 'PUT'; path: string; label: string; body: Record<string, unknown> } => ({
  project: 1,
  method: 'PUT',
  path: PATH,
  label: note,
  body: { note, base_revision: base },
}) // prettier-ignore

/** A window that was just opened, on the same device. */
async function opened(person = 'isla'): Promise<Outbox> {
  vi.resetModules()
  const box: Outbox = await import('@/shared/outbox')
  await box.belongsTo(person)
  return box
}
async function wiped(): Promise<void> {
  const { IDBFactory } = await import('fake-indexeddb')
  vi.stubGlobal('indexedDB', new IDBFactory())
}

describe('outbox', () => {
  beforeEach(wiped)

  it('sends at once where there is a connection', async () => {
    server.on(/^PUT/, () => ({ revision: 1 }))
    const box = await opened()
    expect(await box.send(put('one'))).toBe(true)
    expect(server.of(/^PUT/)).toHaveLength(1)
    expect(box.useOutbox(() => 1).mine.value).toEqual([])
  })
  it('keeps without a connection, over a reload, and sends in order when it is back', async () => {
    server.online = false
    const box = await opened()
    expect(await box.send(put('one'))).toBe(false)
    await box.send({ ...put('x'), method: 'DELETE', body: undefined })
    await box.send(put('three'))
    const again = await opened()
    expect(again.useOutbox(() => 1).waiting.value.map((e) => e.method)).toEqual(['PUT', 'DELETE', 'PUT'])
    server.online = true
    server.on(/./, () => ({ revision: 1 }))
    await again.flush()
    expect(server.asked.map((one) => one.method)).toEqual(['PUT', 'DELETE', 'PUT'])
    expect(again.useOutbox(() => 1).mine.value).toEqual([])
  })
  it('writes one thing twice as one entry, with the revision the first began from', async () => {
    server.online = false
    const box = await opened()
    await box.send(put('one', 3))
    await box.send(put('two', 4))
    expect(box.useOutbox(() => 1).mine.value.map((e) => e.body)).toEqual([{ note: 'two', base_revision: 3 }])
  })
  it('a refusal is thrown and nothing is kept while the form is open', async () => {
    server.on(/^PUT/, () => new Refusal(422, 'invalid', 'Not so.'))
    const box = await opened()
    await expect(box.send(put('one'))).rejects.toThrow('Not so.')
    expect(box.useOutbox(() => 1).mine.value).toEqual([])
  })
  it('a refusal of what waited is told, keeps the entry, and holds up no other', async () => {
    server.online = false
    const box = await opened()
    await box.send(put('one'))
    await box.send({ ...put('two'), path: '/api/projects/1/evidence/pin-0002' })
    server.online = true
    server.on(/^PUT/, (asked) =>
      asked.path === PATH ? new Refusal(409, 'changed_meanwhile', 'Changed.') : { revision: 1 },
    )
    const { refused, waiting } = box.useOutbox(() => 1)
    await vi.waitFor(async () => {
      await box.flush()
      expect([refused.value.length, waiting.value.length]).toEqual([1, 0])
    })
    server.on(/^PUT/, () => ({ revision: 9 }))
    await box.retry(refused.value[0]!)
    expect((server.asked.at(-1)!.body as { base_revision: unknown }).base_revision).toBeNull()
    expect(refused.value).toEqual([])
  })
  it('waits while the server is full or the sign-in has run out', async () => {
    for (const status of [401, 503, 507]) {
      await wiped()
      server.on(/^PUT/, () => new Refusal(status))
      const box = await opened()
      expect(await box.send(put('one')), String(status)).toBe(false)
      expect(box.useOutbox(() => 1).waiting.value).toHaveLength(1)
    }
  })
  it('the next person on the device neither sees nor sends what another wrote', async () => {
    server.online = false
    const box = await opened('isla')
    await box.send(put('one'))
    server.online = true
    server.on(/./, () => ({ revision: 1 }))
    await box.belongsTo('tomas')
    expect(box.useOutbox(() => 1).mine.value).toEqual([])
    expect(server.asked).toEqual([])
    await box.belongsTo('isla')
    expect(server.of(/^PUT/)).toHaveLength(1)
  })
  it('pages kept for looking at are of one person too', async () => {
    const box = await opened('isla')
    await box.lastKnown('page', () => Promise.resolve('of isla'))
    const { Problem } = await import('@/api/client')
    const lost = (): Promise<string> => Promise.reject(new Problem(0, 'offline', 'No.', ''))
    expect(await box.lastKnown('page', lost)).toBe('of isla')
    await box.belongsTo('tomas')
    await expect(box.lastKnown('page', lost)).rejects.toThrow('No.')
  })
  it('what named a photo that is given up goes without it', async () => {
    server.online = false
    const box = await opened()
    const photo = new Blob(['x'], { type: 'image/jpeg' })
    vi.stubGlobal('URL', Object.assign(URL, { createObjectURL: () => 'blob:1', revokeObjectURL: () => undefined }))
    await box.send({
      project: 1,
      method: 'POST',
      path: '/api/projects/1/photos/photo-1',
      label: 'Photo',
      body: {},
      photo,
    })
    await box.send({ ...put('pin'), body: { photos: ['photo-1', 'photo-2'] } })
    const { mine } = box.useOutbox(() => 1)
    await box.discard(mine.value[0]!)
    expect(mine.value.map((e) => e.body)).toEqual([{ photos: ['photo-2'] }])
  })
})

describe('client', () => {
  it('sends the token as the cookie has it now, and who the window is of', async () => {
    const { api, setCsrf, setPerson, take } = await import('@/api/client')
    server.on(/./, () => ({}))
    setCsrf('from the answer')
    setPerson('isla')
    await take(api.DELETE('/api/session'))
    expect(server.asked.at(-1)!.headers.get('X-CSRFToken')).toBe('from the answer')
    document.cookie = 'csrftoken=of-another-tab'
    await take(api.DELETE('/api/session'))
    const { headers } = server.asked.at(-1)!
    expect([headers.get('X-CSRFToken'), headers.get('X-Person')]).toEqual(['of-another-tab', 'isla'])
  })
  it('says what a refusal says, and what a lost connection is', async () => {
    const { api, sentence, take } = await import('@/api/client')
    server.on(/./, () => new Refusal(422, 'invalid', 'The wall is too thick.'))
    await expect(take(api.GET('/api/session'))).rejects.toMatchObject({ status: 422, code: 'invalid' })
    server.online = false
    const lost = await take(api.GET('/api/session')).catch(sentence)
    expect(lost).toContain('does not answer')
  })
})
