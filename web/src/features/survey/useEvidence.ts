/** Evidence of a project: what the server has, what waits on this device, and the draft in hand. */
import { useStorage } from '@vueuse/core'
import { copy } from '@/shared/copy'
import { computed, ref, watch, type Ref } from 'vue'
import { api, takeAs, type Schemas } from '@/api/client'
import type { House } from '@/shared/house'
import { today } from '@/shared/dates'
import { lastKnown, newUid, send, sendPhoto, useOutbox } from '@/shared/outbox'
import { useProject } from '@/shared/project'
import { useAct, useAnswer } from '@/shared/query'
import { loadWater } from '@/shared/water'
import type { Point } from './frame'

export type Pin = Schemas['Pin']
export type Evidence = Schemas['EvidenceOut'] & { waiting?: boolean }
export interface Where {
  view: Pin['place']['view']
  body: string
  face: string
}
export interface Draft {
  uid: string
  pin: Pin
  element: number | null
  photos: string[]
  base: number | null
  fresh: boolean
}

export function useEvidence(id: Ref<number>) {
  const project = useProject()
  const path = () => ({ params: { path: { project_id: id.value } } })
  const seen = useAnswer(
    () => ['evidence', id.value],
    () =>
      lastKnown(`evidence ${id.value}`, () =>
        takeAs<Schemas['EvidencePage']>(api.GET('/api/projects/{project_id}/evidence', path())),
      ),
  )
  const page = seen.data
  const load = seen.load
  const outline = useAnswer(
    () => ['shape kept', id.value],
    () =>
      lastKnown(`shape ${id.value}`, () =>
        takeAs<Schemas['ShapeOut']>(api.GET('/api/projects/{project_id}/shape', path())),
      ),
  )
  const shape = outline.data
  // the section and the water page too: for the moment when the connection is lost
  const { data: house } = useAnswer(
    () => ['house kept', id.value],
    () => lastKnown(`house ${id.value}`, () => takeAs<House>(api.GET('/api/projects/{project_id}/house', path()))),
  )
  useAnswer(
    () => ['water', id.value],
    () => loadWater(id.value),
  )
  const { complaint: refused, act } = useAct()
  /** What was kept for looking at needs no complaint of a lost connection: the note of the outbox says it. */
  const complaint = computed(
    () => refused.value || (!page.value && seen.complaint.value) || (!shape.value && outline.complaint.value) || '',
  )
  const selected = ref<string | null>(null)
  const where = ref<Where>({ view: 'elevation', body: '', face: 'a' })
  const drafts = useStorage<Record<string, Draft | null>>('wendrick-pin-drafts', {})
  const draft = computed({
    get: () => drafts.value[id.value] ?? null,
    set: (value) => (drafts.value = { ...drafts.value, [id.value]: value }),
  })
  const { mine, landed } = useOutbox(() => id.value)

  watch(
    [page, shape],
    ([evidence, drawn]) => {
      if (where.value.body || !evidence || !drawn) return
      const first = draft.value?.pin.place ?? evidence.evidence.find((e) => e.pin.place.view === 'elevation')?.pin.place
      where.value = {
        view: first?.view ?? 'elevation',
        body: first?.body || (drawn.shape.bodies[0]?.id ?? ''),
        face: first?.face || 'a',
      }
    },
    { immediate: true },
  )
  watch(() => landed.count, load)

  /** The server's pins with what waits here laid over them. */
  const evidence = computed<Evidence[]>(() => {
    const all = new Map<string, Evidence>((page.value?.evidence ?? []).map((e) => [e.uid, e]))
    for (const entry of mine.value) {
      const found = /\/evidence\/([^/]+)$/.exec(entry.path)
      if (!found || entry.refused) continue
      const uid = found[1]!
      if (entry.method === 'DELETE') all.delete(uid)
      else {
        const body = entry.body as { pin: Pin; element_id: number | null; photos: string[] }
        const before = all.get(uid)
        all.set(uid, {
          ...(before ?? {
            revision: 0,
            proposals: [],
            first: [],
            other: 0,
            next_look: null,
            looked: [],
            surface_rh: null,
            wood: null,
            cause: '',
            cause_reason: '',
            cause_by: '',
            cause_at: null,
            items: 0,
          }),
          uid,
          pin: body.pin,
          element_id: body.element_id,
          photos: body.photos,
          waiting: true,
        })
      }
    }
    return [...all.values()]
  })
  const numbers = computed(() => new Map(evidence.value.map((e, i) => [e.uid, i + 1])))
  const pin = computed(() => evidence.value.find((e) => e.uid === selected.value) ?? null)
  const here = computed(() =>
    evidence.value.filter((e) => {
      const p = e.pin.place
      if (p.view !== where.value.view) return false
      return p.view !== 'elevation' || (p.body === where.value.body && p.face === where.value.face)
    }),
  )
  const kindName = (kind: string): string => page.value?.kinds.find((k) => k.id === kind)?.name ?? kind
  const captions = computed(() => Object.fromEntries((page.value?.photos ?? []).map((p) => [p.uid, p.caption])))
  const elementName = (element: number | null): string =>
    project.elements.find((e) => e.id === element)?.name ?? 'no element'

  /** The element that a place most likely belongs to. */
  function elementAt(at: Point): number | null {
    const [x, y] = at
    const derived = shape.value?.derived ?? []
    const { view, body, face } = where.value
    if (view === 'section') {
      let best: [number, number | null] = [Infinity, null]
      for (const band of house.value?.bands ?? []) {
        const xs = band.polygon.map((p) => p[0])
        const zs = band.polygon.map((p) => p[1])
        const dx = Math.max(Math.min(...xs) - x, 0, x - Math.max(...xs))
        const dz = Math.max(Math.min(...zs) - y, 0, y - Math.max(...zs))
        const distance = Math.hypot(dx, dz)
        if (distance < best[0]) best = [distance, band.element_id]
      }
      return best[1]
    }
    if (view === 'plan') {
      const inside = shape.value?.shape.bodies.find((b) => {
        const xs = b.outline.map((p) => p[0])
        const ys = b.outline.map((p) => p[1])
        return x >= Math.min(...xs) && x <= Math.max(...xs) && y >= Math.min(...ys) && y <= Math.max(...ys)
      })
      return derived.find((d) => d.element.kind === 'floor' && d.element.body === inside?.id)?.element_id ?? null
    }
    const drawn = shape.value?.elevations.find((e) => e.body === body && e.face === face)
    const hit = drawn?.openings.find(
      ({ rect }) => x >= rect[0] && x <= rect[0] + rect[2] && y >= rect[1] && y <= rect[1] + rect[3],
    )
    if (hit) return derived.find((d) => d.element.key === `opening/${hit.id}`)?.element_id ?? null
    const walls = derived.filter(
      (d) =>
        d.element.kind === 'wall' &&
        d.element.body === body &&
        d.element.face === face &&
        !d.element.key.includes('/cellar/'),
    )
    if (walls.length < 2 || !drawn) return walls[0]?.element_id ?? null
    const top = Math.max(...drawn.outline.map((p) => p[1]))
    let low = drawn.levels[0]!
    for (const wall of walls) {
      // storeys and parts lie in their order from below
      const share = wall.element.gross_area_m2 / walls.reduce((sum, w) => sum + w.element.gross_area_m2, 0)
      const storey = /\/(\d+)(?:\/|$)/.exec(wall.element.key.slice(body.length))
      const next = walls[walls.indexOf(wall) + 1]
      const following = next && /\/(\d+)(?:\/|$)/.exec(next.element.key.slice(body.length))
      const high = storey && following ? drawn.levels[Number(following[1])]! : low + share * (top - drawn.levels[0]!)
      if (y <= high || !next) return wall.element_id
      low = high
    }
    return null
  }
  function begin(at: Point): void {
    const place = { ...where.value, x_m: Math.round(at[0] * 100) / 100, y_m: Math.round(at[1] * 100) / 100 }
    if (place.view !== 'elevation') place.face = ''
    if (draft.value) {
      draft.value = {
        ...draft.value,
        pin: { ...draft.value.pin, place },
        element: elementAt(at) ?? draft.value.element,
      }
      return
    }
    selected.value = null
    draft.value = {
      uid: newUid(),
      fresh: true,
      base: null,
      element: elementAt(at),
      photos: [],
      pin: {
        kind: 'stain',
        place,
        side: place.view === 'plan' ? 'inside' : 'outside',
        extent: 'patch',
        size_m2: null,
        comes: 'not_known',
        pipes_near: false,
        wet_work: false,
        part: 'face',
        salt_source: 'none',
        layer_id: '',
        depth_mm: null,
        seen_on: today(),
        note: '',
        readings: { wood: null, surface_c: null, surface_rh: null, air_c: null, air_rh: null },
        looks: {},
      },
    }
  }
  function change(to: Partial<Draft>): void {
    if (draft.value) draft.value = { ...draft.value, ...to }
  }
  function leave(): void {
    draft.value = null
  }
  function edit(e: Evidence): void {
    goTo(e)
    draft.value = { ...asKept(e), fresh: false }
  }
  function goTo(e: Evidence): void {
    const p = e.pin.place
    where.value = { view: p.view, body: p.body || where.value.body, face: p.face || where.value.face }
    selected.value = e.uid
  }
  const put = (d: Omit<Draft, 'fresh'>): Promise<boolean> =>
    send({
      project: id.value,
      method: 'PUT',
      path: `/api/projects/${id.value}/evidence/${d.uid}`,
      label: kindName(d.pin.kind),
      body: { element_id: d.element, pin: d.pin, photos: d.photos, base_revision: d.base },
    })
  /** A pin as it stands, to be changed and put again. */
  const asKept = (e: Evidence): Omit<Draft, 'fresh'> => ({
    uid: e.uid,
    base: e.waiting ? null : e.revision,
    element: e.element_id,
    photos: [...e.photos],
    pin: copy(e.pin) as Pin,
  })
  /** Photos on their way to the draft in hand: a pin is kept with them. */
  const taking = new Set<Promise<unknown>>()
  async function keep(): Promise<void> {
    await Promise.allSettled([...taking])
    const d = draft.value
    if (!d) return
    await act(async () => {
      const sent = await put(d)
      draft.value = null
      selected.value = d.uid
      await look(sent)
    })
  }
  async function photograph(file: Blob): Promise<void> {
    const d = draft.value
    if (!d) return
    const taken = act(async () => {
      const uid = await sendPhoto(id.value, file, `${kindName(d.pin.kind)}, ${elementName(d.element)}`)
      if (draft.value?.uid === d.uid) {
        // what was typed meanwhile stays
        change({ photos: [...draft.value.photos, uid] })
        return
      }
      // the pin was kept while the photo was on its way: it follows
      const kept = evidence.value.find((e) => e.uid === d.uid)
      if (kept) await look(await put({ ...asKept(kept), photos: [...kept.photos, uid] }))
    })
    taking.add(taken)
    await taken
    taking.delete(taken)
  }
  /** What a look at a pin showed; no outcome takes the look back. */
  const looked = (e: Evidence, which: string, outcome: string | null): Promise<boolean> =>
    act(async () => {
      const now = asKept(e)
      const looks = { ...now.pin.looks }
      if (outcome === null) delete looks[which]
      else looks[which] = outcome
      await look(await put({ ...now, pin: { ...now.pin, looks } }))
    })
  const remove = (e: Evidence): Promise<boolean> =>
    act(async () => {
      const sent = await send({
        project: id.value,
        method: 'DELETE',
        path: `/api/projects/${id.value}/evidence/${e.uid}`,
        label: `Removing ${kindName(e.pin.kind)}`,
      })
      selected.value = null
      if (sent) await load()
    })
  const confirm = (e: Evidence, mechanism: string, reason: string): Promise<boolean> =>
    act(async () => {
      const sent = await send({
        project: id.value,
        method: 'PUT',
        path: `/api/projects/${id.value}/evidence/${e.uid}/cause`,
        label: `Cause of ${kindName(e.pin.kind)}`,
        body: { mechanism, reason },
      })
      await look(sent)
    })
  /** What the server has is looked at again; what it does not have yet is laid over it anyway. */
  async function look(sent: boolean): Promise<void> {
    if (!sent) return
    await load()
    void project.open(id.value)
  }
  return {
    page,
    shape,
    house,
    complaint,
    selected,
    where,
    draft,
    evidence,
    numbers,
    pin,
    here,
    captions,
    kindName,
    elementName,
    begin,
    change,
    leave,
    edit,
    goTo,
    keep,
    photograph,
    looked,
    remove,
    confirm,
    mine,
  }
}
export type EvidenceState = ReturnType<typeof useEvidence>
