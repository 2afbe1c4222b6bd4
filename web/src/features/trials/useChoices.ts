/** What a study may vary, and what a bad year is; asked once. */
import { shallowRef, type ShallowRef } from 'vue'
import { api, take, type Schemas } from '@/api/client'

const choices = shallowRef<Schemas['StudyChoices'] | null>(null)

export function useChoices(): ShallowRef<Schemas['StudyChoices'] | null> {
  if (!choices.value)
    void take(api.GET('/api/study-choices'))
      .then((found) => (choices.value = found))
      .catch(() => undefined) // the panel shows no choices then; a reload asks again
  return choices
}
