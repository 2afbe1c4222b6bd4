/** The measurements of a project and how they are kept. */
import { computed, ref, watch, type Ref } from 'vue'
import { api, sentence, takeAs, type Schemas } from '@/api/client'
import { newUid, send, useOutbox } from '@/shared/outbox'

export type Measurement = Schemas['MeasurementOut']
export type MeasurementBody = Schemas['MeasurementBody']

export function useMeasurements(id: Ref<number>) {
  const page = ref<Schemas['MeasurementPage'] | null>(null)
  const complaint = ref('')
  const { landed } = useOutbox(() => id.value)
  async function load(): Promise<void> {
    try {
      page.value = await takeAs<Schemas['MeasurementPage']>(
        api.GET('/api/projects/{project_id}/measurements', { params: { path: { project_id: id.value } } }),
      )
      complaint.value = ''
    } catch (error) {
      complaint.value = sentence(error)
    }
  }
  watch(id, load, { immediate: true })
  watch(() => landed.count, load)
  /** True when it is kept, here or on the server. */
  async function keep(uid: string | null, body: MeasurementBody, label: string): Promise<string | null> {
    const own = uid ?? newUid()
    try {
      const sent = await send({
        project: id.value,
        method: 'PUT',
        path: `/api/projects/${id.value}/measurements/${own}`,
        label,
        body: body as unknown as Record<string, unknown>,
      })
      complaint.value = ''
      if (sent) await load()
      return own
    } catch (error) {
      complaint.value = sentence(error)
      return null
    }
  }
  async function remove(uid: string): Promise<void> {
    try {
      const sent = await send({
        project: id.value,
        method: 'DELETE',
        path: `/api/projects/${id.value}/measurements/${uid}`,
        label: 'Removing a measurement',
      })
      if (sent) await load()
    } catch (error) {
      complaint.value = sentence(error)
    }
  }
  /** What was measured enters the runs of its element. */
  async function takeUptake(uid: string): Promise<void> {
    try {
      page.value = await takeAs<Schemas['MeasurementPage']>(
        api.POST('/api/projects/{project_id}/measurements/{uid}/take-uptake', {
          params: { path: { project_id: id.value, uid } },
        }),
      )
      complaint.value = ''
    } catch (error) {
      complaint.value = sentence(error)
    }
  }
  const of = (kind: string) => computed(() => page.value?.measurements.filter((m) => m.kind === kind) ?? [])
  return { page, complaint, load, keep, remove, takeUptake, of }
}
