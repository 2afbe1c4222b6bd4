import { type Ref } from 'vue'
import { api, takeAs, type Schemas } from '@/api/client'
import { useAnswer } from '@/shared/query'

/** The building's shape as it is kept, or what a scheme makes of it, with what follows. `fresh` where it is copied into what is edited. */
export const useShape = (id: Readonly<Ref<number>>, fresh = false, scheme?: Readonly<Ref<number | null>>) =>
  useAnswer(
    () => ['shape', id.value, fresh, scheme?.value ?? null],
    () =>
      takeAs<Schemas['ShapeOut']>(
        scheme?.value
          ? api.GET('/api/schemes/{scheme_id}/shape', { params: { path: { scheme_id: scheme.value } } })
          : api.GET('/api/projects/{project_id}/shape', { params: { path: { project_id: id.value } } }),
      ),
    { fresh },
  )
