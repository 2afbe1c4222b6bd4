import { type Ref } from 'vue'
import { api, take, type Schemas } from '@/api/client'
import { useAnswer } from './query'

/** An element with its options as they are now. */
export const askSheet = (element_id: number): Promise<Schemas['Sheet']> =>
  take(api.GET('/api/elements/{element_id}/sheet', { params: { path: { element_id } } }))

/** The same for a page; never shown from memory, because verdicts are read from it. */
export const useSheetAnswer = (element: Readonly<Ref<number>>) =>
  useAnswer(
    () => ['sheet', element.value],
    () => askSheet(element.value),
    { fresh: true },
  )
