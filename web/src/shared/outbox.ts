/** What was entered on site waits here until the server has it: IndexedDB, in order, across reloads. */
import { openDB, type DBSchema, type IDBPDatabase } from 'idb'
import { computed, reactive, ref, shallowReactive, shallowRef } from 'vue'
import { api, Problem, sentence, take } from '@/api/client'
import { copy } from './copy'
import { today } from './dates'

export interface Entry {
  id?: number
  /** Username of who wrote it: the next person on this device neither sees nor sends it. */
  person?: string
  project: number
  method: 'PUT' | 'POST' | 'DELETE'
  path: string
  label: string
  at: string
  body?: Record<string, unknown>
  photo?: Blob
  refused?: string
}
interface Boxes extends DBSchema {
  entries: { key: number; value: Entry }
  pages: { key: string; value: unknown }
}

const entries = shallowRef<Entry[]>([])
let owner = ''
const online = ref(true)
const landed = reactive({ count: 0 })
/** Photos taken in this window, by uid: shown before the server has them. */
export const localPhotos = shallowReactive(new Map<string, string>())
let opening: Promise<IDBPDatabase<Boxes>> | null = null
let running = false

function boxes(): Promise<IDBPDatabase<Boxes>> {
  // counted up when answers change their shape: pages kept before are forgotten, entries that wait are not
  opening ??= openDB<Boxes>('wendrick-outbox', 2, {
    upgrade: (db, before, _now, transaction) => {
      if (before >= 1) return void transaction.objectStore('pages').clear()
      db.createObjectStore('entries', { keyPath: 'id', autoIncrement: true })
      db.createObjectStore('pages')
    },
  })
  return opening
}
async function reread(): Promise<void> {
  const all = await (await boxes()).getAll('entries')
  entries.value = owner ? all.filter((entry) => (entry.person ?? owner) === owner) : []
  for (const { path, photo } of entries.value) {
    const uid = path.split('/').pop()!
    if (photo && !localPhotos.has(uid)) localPhotos.set(uid, URL.createObjectURL(photo))
  }
}

/** From now on the box is this person's; entries of somebody else stay on the device, unseen, until they sign in. */
export async function belongsTo(username: string): Promise<void> {
  if (username === owner) return
  owner = username
  for (const url of localPhotos.values()) URL.revokeObjectURL(url)
  localPhotos.clear()
  await reread()
  if (owner) await flush()
}

type Call = Parameters<typeof api.request>
/** One request; the answer's data, or a Problem. */
async function transmit(entry: Entry): Promise<unknown> {
  let body: unknown = entry.body
  const options: Record<string, unknown> = {}
  if (entry.photo) {
    const form = new FormData()
    form.append('file', entry.photo, 'photo.jpg')
    for (const [key, value] of Object.entries(entry.body ?? {})) if (value) form.append(key, String(value))
    body = form
    options.bodySerializer = (b: unknown) => b as FormData
  }
  if (body !== undefined) options.body = body
  return take(api.request(...([entry.method.toLowerCase(), entry.path, options] as unknown as Call)) as never)
}
function waits(error: unknown): boolean {
  return error instanceof Problem && (error.status === 0 || error.status === 401 || error.status >= 502)
}

/** Entries of a project that the server does not have yet. */
export function useOutbox(project: () => number | undefined) {
  const mine = computed(() => entries.value.filter((e) => e.project === project()))
  return {
    mine,
    waiting: computed(() => mine.value.filter((e) => !e.refused)),
    refused: computed(() => mine.value.filter((e) => e.refused)),
    online,
    landed,
  }
}

/**
 * Send an entry; true when the server has it. Without a connection it is kept and false comes back.
 * A refusal is thrown and nothing is kept: the form still holds what was typed.
 */
export async function send(entry: Omit<Entry, 'at'>): Promise<boolean> {
  const whole: Entry = { ...entry, person: owner, at: new Date().toISOString() }
  if (entry.body) whole.body = copy(entry.body)
  if (entry.photo) {
    // a photo cannot be typed again: it is kept before it is sent
    localPhotos.set(entry.path.split('/').pop()!, URL.createObjectURL(entry.photo))
    const key = await keep(whole)
    await flush()
    return !entries.value.some((e) => e.id === key)
  }
  if (!entries.value.some((e) => e.project === entry.project && !e.refused)) {
    try {
      await transmit(whole)
      online.value = true
      return true
    } catch (error) {
      if (!waits(error)) throw error
    }
  }
  await keep(whole)
  void flush()
  return false
}
async function keep(entry: Entry): Promise<number | undefined> {
  const db = await boxes()
  // one thing written twice before it was sent is one entry, with the revision the first began from;
  // what was written, removed and written again stays three, in their order
  const same = entries.value.filter((e) => e.path === entry.path).at(-1)
  if (same?.id !== undefined && same.method === entry.method && !entry.photo && same.id !== sending) {
    const began = same.body && 'base_revision' in same.body ? { base_revision: same.body.base_revision } : {}
    await db.put('entries', { ...entry, id: same.id, body: entry.body && { ...entry.body, ...began } })
    await reread()
    return same.id
  }
  const key = await db.add('entries', entry)
  await reread()
  return key
}

let sending: number | undefined
/** Send what waits, oldest first; stops at the first entry that cannot go yet. */
export async function flush(): Promise<void> {
  if (running) return
  running = true
  try {
    await reread()
    const revisions = new Map<string, unknown>()
    for (const entry of entries.value.filter((e) => !e.refused)) {
      const db = await boxes()
      const now = await db.get('entries', entry.id!)
      if (!now) continue
      if (now.body && revisions.has(now.path)) now.body.base_revision = revisions.get(now.path)
      sending = now.id
      try {
        const answer = (await transmit(now)) as { revision?: number } | undefined
        if (answer && typeof answer.revision === 'number') revisions.set(now.path, answer.revision)
        await db.delete('entries', now.id!)
        landed.count += 1
        online.value = true
      } catch (error) {
        if (waits(error)) {
          online.value = false
          return
        }
        await db.put('entries', { ...now, refused: sentence(error) })
      }
    }
  } finally {
    sending = undefined
    running = false
    await reread()
  }
}
/** Try a refused entry again, over whatever is there now; or give it up. */
export async function retry(entry: Entry): Promise<void> {
  const body = entry.body && 'base_revision' in entry.body ? { ...entry.body, base_revision: null } : entry.body
  await (await boxes()).put('entries', { ...entry, body, refused: undefined })
  await flush()
}
export async function discard(entry: Entry): Promise<void> {
  const db = await boxes()
  await db.delete('entries', entry.id!)
  const uid = entry.photo && entry.path.split('/').pop()
  // what named the photo goes without it
  for (const other of uid ? entries.value : []) {
    const photos = other.body?.photos
    if (Array.isArray(photos) && photos.includes(uid))
      await db.put('entries', { ...other, body: { ...other.body, photos: photos.filter((name) => name !== uid) } })
  }
  await reread()
}

window.addEventListener('online', () => void flush())
setInterval(() => entries.value.some((e) => !e.refused) && void flush(), 5000)

/** What the server says; without a connection what it said last, so that work on site goes on. */
export async function lastKnown<T>(key: string, ask: () => Promise<T>): Promise<T> {
  try {
    const answer = await ask()
    void boxes().then((db) => db.put('pages', copy(answer), `${owner} ${key}`))
    online.value = true
    return answer
  } catch (error) {
    if (!(error instanceof Problem) || error.status !== 0) throw error
    const kept = (await (await boxes()).get('pages', `${owner} ${key}`)) as T | undefined
    if (kept === undefined) throw error
    online.value = false
    return kept
  }
}
/** Forget what was kept for looking at; entries that wait stay. Called on signing out. */
export async function forgetPages(): Promise<void> {
  await (await boxes()).clear('pages')
}

/** A new id, made where the entry is written, so that one sent twice stays one. */
export function newUid(): string {
  return crypto.randomUUID?.() ?? `${Date.now().toString(36)}-${Math.random().toString(36).slice(2, 14)}`
}

/** Shrink a photo, keep it on this device and send it; its uid, at once usable. */
export async function sendPhoto(project: number, file: Blob, caption: string): Promise<string> {
  const photo = await shrinkPhoto(file)
  const uid = newUid()
  await send({
    project,
    method: 'POST',
    path: `/api/projects/${project}/photos/${uid}`,
    label: `Photo: ${caption}`,
    body: { caption: caption.slice(0, 300), taken_on: today() },
    photo,
  })
  return uid
}

const LONGEST = 1600
/** A photo small enough to keep and send: 1600 pixels at most, JPEG, turned upright. */
async function shrinkPhoto(file: Blob): Promise<Blob> {
  const picture = await createImageBitmap(file, { imageOrientation: 'from-image' })
  const share = Math.min(1, LONGEST / Math.max(picture.width, picture.height))
  const canvas = document.createElement('canvas')
  canvas.width = Math.round(picture.width * share)
  canvas.height = Math.round(picture.height * share)
  canvas.getContext('2d')!.drawImage(picture, 0, 0, canvas.width, canvas.height)
  picture.close()
  return new Promise((resolve, reject) =>
    canvas.toBlob(
      (blob) => (blob ? resolve(blob) : reject(new Error('The photo could not be read.'))),
      'image/jpeg',
      0.82,
    ),
  )
}
