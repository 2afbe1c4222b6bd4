/** The batches of an element: asked, watched, cancelled, resumed. */
import { useIntervalFn } from '@vueuse/core'
import { computed, ref, watch, type Ref } from 'vue'
import { api, sentence, take, type Schemas } from '@/api/client'

export type Batch = Schemas['BatchOut']
export type Kind = Batch['kind']

export type Run = Batch['runs'][number]
/** What a short run says, flat: the kept answer and the verdict as it is now. */
export type Brief = Schemas['BriefAnswer'] & Omit<Schemas['ShortRun'], 'answer'>
export type Wetted = Schemas['WettingAnswer']
export const briefOf = (run: Run): Brief | null => (run.brief ? { ...run.brief.answer, ...run.brief } : null)
type Asked = Omit<Schemas['AskBatch'], 'kind' | 'option_id'>

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
  const ask = (kind: Kind, option: number | null, settings: Asked = {}): Promise<void> =>
    act(() =>
      take(
        api.POST('/api/elements/{element_id}/batches', {
          params: { path: { element_id: elementId.value } },
          body: { kind, option_id: option, ...settings },
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
