import { type Ref } from 'vue'
import { api, takeAs, type Schemas } from '@/api/client'
import { useAnswer } from '@/shared/query'

/** The building's shape as it is kept, with what follows from it. `fresh` where it is copied into what is edited. */
export const useShape = (id: Readonly<Ref<number>>, fresh = false) =>
  useAnswer(
    () => ['shape', id.value, fresh],
    () =>
      takeAs<Schemas['ShapeOut']>(
        api.GET('/api/projects/{project_id}/shape', { params: { path: { project_id: id.value } } }),
      ),
    { fresh },
  )
