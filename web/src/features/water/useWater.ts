import { computed, inject, provide, watch, type ComputedRef, type InjectionKey } from 'vue'
import type { Schemas } from '@/api/client'
import { newUid, send, sendPhoto, useOutbox } from '@/shared/outbox'
import { useProject } from '@/shared/project'
import { useAct, useAnswer } from '@/shared/query'
import { loadWater } from '@/shared/water'

export type Item = Schemas['WaterItemOut'] & { waiting?: boolean }
export type Row = Schemas['ElementWaterOut']
export interface Fresh {
  title: string
  stage: string
  shown_by: string
  who: string
}
const KEY: InjectionKey<ReturnType<typeof make>> = Symbol('water')

/** Items as the server knows them, with what waits on this device laid over them; one change after the other. */
function make(id: ComputedRef<number>) {
  const project = useProject()
  const {
    data: page,
    complaint: unread,
    load,
  } = useAnswer(
    () => ['water', id.value],
    () => loadWater(id.value),
  )
  const { complaint: refused, act } = useAct()
  const complaint = computed(() => refused.value || (page.value ? '' : unread.value))
  const { mine, landed } = useOutbox(() => id.value)

  watch(() => landed.count, load)
  /** Items with what waits on this device laid over them. */
  const items = computed<Item[]>(() => {
    const all = new Map<string, Item>((page.value?.items ?? []).map((i) => [i.uid, i]))
    for (const entry of mine.value) {
      const found = /\/water\/([^/]+)$/.exec(entry.path)
      if (!found || entry.refused || entry.method !== 'PUT') continue
      const before = all.get(found[1]!)
      all.set(found[1]!, {
        ...(before ?? { revision: 0, remedy: '', closed_by: '' }),
        ...(entry.body as unknown as Item),
        uid: found[1]!,
        waiting: true,
      })
    }
    return [...all.values()]
  })
  let queue: Promise<unknown> = Promise.resolve()
  /** One change after the other, each of the item as the one before left it. */
  function put(item: Item, change: Partial<Item>): Promise<boolean> {
    const job = queue.then(() => putNow(items.value.find((i) => i.uid === item.uid) ?? item, change))
    queue = job
    return job
  }
  const putNow = (item: Item, change: Partial<Item>): Promise<boolean> =>
    act(async () => {
      const next = { ...item, ...change }
      const sent = await send({
        project: id.value,
        method: 'PUT',
        path: `/api/projects/${id.value}/water/${item.uid}`,
        label: item.title,
        body: {
          elements: [...next.elements],
          evidence: [...next.evidence],
          stage: next.stage,
          title: next.title,
          shown_by: next.shown_by,
          who: next.who,
          due: next.due || null,
          state: next.state,
          closed_on: next.closed_on || null,
          reason: next.reason,
          photos: [...next.photos],
          base_revision: item.revision || null,
        },
      })
      await look(sent)
    })
  async function look(sent: boolean): Promise<void> {
    if (!sent) return
    await load()
    void project.open(id.value)
  }
  async function photograph(file: File, item: Item): Promise<void> {
    let uid = ''
    if (!(await act(async () => (uid = await sendPhoto(id.value, file, item.title))))) return
    const now = items.value.find((i) => i.uid === item.uid) ?? item
    await put(now, { photos: [...now.photos, uid] })
  }
  /** An item nobody's cause asked for. */
  async function add(element: number, f: Fresh): Promise<boolean> {
    const title = f.title.trim()
    const blank: Item = {
      uid: newUid(),
      revision: 0,
      elements: [element],
      evidence: [],
      remedy: '',
      stage: f.stage,
      title,
      shown_by: f.shown_by,
      who: f.who,
      due: null,
      state: 'open',
      closed_by: '',
      closed_on: null,
      reason: '',
      photos: [],
      title_said: { metric: title, inch: title },
      shown_by_said: { metric: f.shown_by, inch: f.shown_by },
      school: '',
    }
    return put(blank, {})
  }
  /** What is said of an element itself: looked at, override. */
  const tell = (element: number, path: string, body: Record<string, unknown>, label: string): Promise<boolean> =>
    act(async () =>
      look(
        await send({
          project: id.value,
          method: 'PUT',
          path: `/api/elements/${element}/${path}`,
          label,
          body,
        }),
      ),
    )
  const waiting = (row: Row): boolean =>
    mine.value.some((e) => e.path.startsWith(`/api/elements/${row.element_id}/`) && !e.refused)
  const elementName = (element: number): string =>
    page.value?.elements.find((e) => e.element_id === element)?.name ?? 'an element'
  return { id, page, complaint, items, put, photograph, add, tell, waiting, elementName }
}

/** Made once by the view; its parts ask for it. */
export function provideWater(id: ComputedRef<number>): ReturnType<typeof make> {
  const water = make(id)
  provide(KEY, water)
  return water
}
export function useWater(): ReturnType<typeof make> {
  const water = inject(KEY)
  if (!water) throw new Error('useWater() outside of the water view')
  return water
}
