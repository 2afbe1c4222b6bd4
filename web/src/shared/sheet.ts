import { type Ref } from 'vue'
import { api, take, type Schemas } from '@/api/client'
import { queries, useAnswer } from './query'

const ask = (element_id: number): Promise<Schemas['Sheet']> =>
  take(api.GET('/api/elements/{element_id}/sheet', { params: { path: { element_id } } }))

/** An element with its options as they are now; never shown from memory, because verdicts are read from it. */
export const useSheetAnswer = (element: Readonly<Ref<number>>) =>
  useAnswer(
    () => ['sheet', element.value],
    () => ask(element.value),
    { fresh: true },
  )
export const askSheet = (element: number): Promise<Schemas['Sheet']> =>
  queries.fetchQuery({ queryKey: ['sheet', element], queryFn: () => ask(element), gcTime: 0 })
