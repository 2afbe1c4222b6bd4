/** The batches of an element: asked, watched, cancelled, resumed. */
import { useIntervalFn } from '@vueuse/core'
import { computed, ref, watch, type Ref } from 'vue'
import { api, sentence, take, type Schemas } from '@/api/client'

export type Batch = Schemas['BatchOut']
export type Kind = Batch['kind']

/** The small answer of a run; which fields it has depends on the kind of its batch. */
export interface Brief {
  state: string
  headline: string
  sentence: string
  nearness: number
  plane: string
  worst_month: string
  worst_month_rh: number
  mould: number
  driven_rain_mm: number
  daily_rh: number[]
}
export interface Wetted {
  sentence: string
  days: number | null
  back_before_heating: boolean
  left_g_m2: Record<string, number>
  drained_kg_m2: number
  dose_kg_m2: number
  most_rh: number
  before_rh: number
  rh: number[]
  rh_twin: number[]
}

export function useBatches(elementId: Ref<number>) {
  const batches = ref<Batch[]>([])
  const complaint = ref('')
  const asking = ref(false)
  const active = computed(() => batches.value.some((b) => b.status === 'waiting' || b.status === 'running'))

  function keep(batch: Batch): void {
    const rest = batches.value.filter((b) => !(b.kind === batch.kind && b.option_id === batch.option_id))
    batches.value = [batch, ...rest]
  }
  async function load(): Promise<void> {
    try {
      batches.value = await take(
        api.GET('/api/elements/{element_id}/batches', { params: { path: { element_id: elementId.value } } }),
      )
    } catch (error) {
      complaint.value = sentence(error)
    }
  }
  async function act(call: () => Promise<Batch>): Promise<void> {
    asking.value = true
    complaint.value = ''
    try {
      keep(await call())
    } catch (error) {
      complaint.value = sentence(error)
    } finally {
      asking.value = false
    }
  }
  const ask = (kind: Kind, option: number | null, settings: Record<string, unknown>): Promise<void> =>
    act(() =>
      take(
        api.POST('/api/elements/{element_id}/batches', {
          params: { path: { element_id: elementId.value } },
          body: { kind, option_id: option, settings },
        }),
      ),
    )
  const path = (batch: Batch) => ({ params: { path: { batch_id: batch.id } } })
  const cancel = (b: Batch): Promise<void> => act(() => take(api.POST('/api/batches/{batch_id}/cancel', path(b))))
  const resume = (b: Batch): Promise<void> => act(() => take(api.POST('/api/batches/{batch_id}/resume', path(b))))
  const of = (kind: Kind, option: number | null): Batch | undefined =>
    batches.value.find((b) => b.kind === kind && b.option_id === option)

  watch(elementId, load, { immediate: true })
  useIntervalFn(async () => {
    for (const batch of batches.value.filter((b) => b.status === 'waiting' || b.status === 'running')) {
      try {
        keep(await take(api.GET('/api/batches/{batch_id}', path(batch))))
      } catch {
        return // the server does not answer: the next tick asks again
      }
    }
  }, 900)
  return { batches, complaint, asking, active, ask, cancel, resume, of }
}
export type Batches = ReturnType<typeof useBatches>
