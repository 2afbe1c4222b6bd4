/** The measurements of a project and how they are kept. */
import { computed, watch, type Ref } from 'vue'
import { api, takeAs, type Schemas } from '@/api/client'
import { newUid, send, useOutbox } from '@/shared/outbox'
import { useAct, useAnswer } from '@/shared/query'

export type Measurement = Schemas['MeasurementOut']
export type MeasurementBody = Schemas['MeasurementBody']

export function useMeasurements(id: Ref<number>) {
  const {
    data: page,
    complaint: unread,
    load,
    put,
  } = useAnswer(
    () => ['measurements', id.value],
    () =>
      takeAs<Schemas['MeasurementPage']>(
        api.GET('/api/projects/{project_id}/measurements', { params: { path: { project_id: id.value } } }),
      ),
  )
  const { complaint: refused, act } = useAct()
  const complaint = computed(() => refused.value || unread.value)
  const { landed } = useOutbox(() => id.value)
  watch(() => landed.count, load)
  /** True when it is kept, here or on the server. */
  async function keep(uid: string | null, body: MeasurementBody, label: string): Promise<string | null> {
    const own = uid ?? newUid()
    const kept = await act(async () => {
      const sent = await send({
        project: id.value,
        method: 'PUT',
        path: `/api/projects/${id.value}/measurements/${own}`,
        label,
        body: body as unknown as Record<string, unknown>,
      })
      if (sent) await load()
    })
    return kept ? own : null
  }
  const remove = (uid: string): Promise<boolean> =>
    act(async () => {
      const sent = await send({
        project: id.value,
        method: 'DELETE',
        path: `/api/projects/${id.value}/measurements/${uid}`,
        label: 'Removing a measurement',
      })
      if (sent) await load()
    })
  /** What was measured enters the runs of its element. */
  const takeUptake = (uid: string): Promise<boolean> =>
    act(async () => {
      put(
        await takeAs<Schemas['MeasurementPage']>(
          api.POST('/api/projects/{project_id}/measurements/{uid}/take-uptake', {
            params: { path: { project_id: id.value, uid } },
          }),
        ),
      )
    })
  const of = (kind: string) => computed(() => page.value?.measurements.filter((m) => m.kind === kind) ?? [])
  return { page, complaint, act, load, keep, remove, takeUptake, of }
}
