/** The batches of an element: asked, watched, cancelled, resumed. */
import { computed, type Ref } from 'vue'
import { api, take, type Schemas } from '@/api/client'
import { useAct, useAnswer } from '@/shared/query'

export type Batch = Schemas['BatchOut']
export type Kind = Batch['kind']

export type Run = Batch['runs'][number]
/** What a short run says, flat: the kept answer and the verdict as it is now. */
export type Brief = Schemas['BriefAnswer'] & Omit<Schemas['ShortRun'], 'answer'>
export type Wetted = Schemas['WettingAnswer']
export const briefOf = (run: Run): Brief | null => (run.brief ? { ...run.brief.answer, ...run.brief } : null)
type Asked = Omit<Schemas['AskBatch'], 'kind' | 'option_id'>

export function useBatches(elementId: Ref<number>) {
  const runs = (all: Batch[] | undefined): boolean =>
    !!all?.some((b) => b.status === 'waiting' || b.status === 'running')
  const answer = useAnswer(
    () => ['batches', elementId.value],
    () => take(api.GET('/api/elements/{element_id}/batches', { params: { path: { element_id: elementId.value } } })),
    { every: (all) => runs(all) && 900, fresh: true },
  )
  const batches = computed(() => answer.data.value ?? [])
  const { complaint: refused, busy: asking, act } = useAct()
  const complaint = computed(() => refused.value || answer.complaint.value)
  const active = computed(() => runs(batches.value))

  const keep = (call: () => Promise<Batch>): Promise<boolean> =>
    act(async () => {
      const batch = await call()
      const rest = batches.value.filter((b) => !(b.kind === batch.kind && b.option_id === batch.option_id))
      answer.put([batch, ...rest])
    })
  const ask = (kind: Kind, option: number | null, settings: Asked = {}): Promise<boolean> =>
    keep(() =>
      take(
        api.POST('/api/elements/{element_id}/batches', {
          params: { path: { element_id: elementId.value } },
          body: { kind, option_id: option, ...settings },
        }),
      ),
    )
  const path = (batch: Batch) => ({ params: { path: { batch_id: batch.id } } })
  const cancel = (b: Batch): Promise<boolean> => keep(() => take(api.POST('/api/batches/{batch_id}/cancel', path(b))))
  const resume = (b: Batch): Promise<boolean> => keep(() => take(api.POST('/api/batches/{batch_id}/resume', path(b))))
  const of = (kind: Kind, option: number | null): Batch | undefined =>
    batches.value.find((b) => b.kind === kind && b.option_id === option)
  return { batches, complaint, asking, active, ask, cancel, resume, of }
}
export type Batches = ReturnType<typeof useBatches>
