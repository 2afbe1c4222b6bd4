/** Schemes of the building: what they come to, and what one does to them. Every answer is the whole page anew. */
import { computed } from 'vue'
import { api, take, type Schemas } from '@/api/client'
import { useProject } from '@/shared/project'
import { useAct, useAnswer } from '@/shared/query'

export type Scheme = Schemas['SchemeOut']
export type Choice = Schemas['ChoiceRow']
export type Phase = Schemas['PhaseBody']

export function useSchemes(projectId: Readonly<{ value: number }>) {
  const project = useProject()
  const answer = useAnswer(
    () => ['schemes', projectId.value],
    () => take(api.GET('/api/projects/{project_id}/schemes', { params: { path: { project_id: projectId.value } } })),
    {
      fresh: true,
      every: (all) => !!all?.choices.some((c) => c.between_state === 'running') && 1500,
    },
  )
  const { complaint, busy, act } = useAct()
  const shown = computed(() => answer.data.value?.schemes.find((s) => s.id === answer.data.value!.shown_id))
  /** Done, put on the page, and every other view asks again. */
  const done = (ask: () => Promise<Schemas['SchemesOut']>): Promise<boolean> =>
    act(async () => {
      answer.put(await ask())
      await project.open(projectId.value)
    })
  const scheme = (scheme_id: number) => ({ params: { path: { scheme_id } } })
  return {
    ...answer,
    complaint: computed(() => complaint.value || answer.complaint.value),
    busy,
    shown,
    make: (name: string, copy_of: number | null) =>
      done(() =>
        take(
          api.POST('/api/projects/{project_id}/schemes', {
            params: { path: { project_id: projectId.value } },
            body: { name, copy_of },
          }),
        ),
      ),
    change: (s: Scheme, name: string, note: string) =>
      done(() => take(api.PUT('/api/schemes/{scheme_id}', { ...scheme(s.id), body: { name, note } }))),
    remove: (s: Scheme) => done(() => take(api.DELETE('/api/schemes/{scheme_id}', scheme(s.id)))),
    show: (id: number) =>
      act(async () => {
        await project.showScheme(id)
        await answer.load()
      }),
    phases: (s: Scheme, phases: Phase[]) =>
      done(() =>
        take(api.PUT('/api/schemes/{scheme_id}/phases', { ...scheme(s.id), body: { revision: s.revision, phases } })),
      ),
    putIn: (element_id: number, phase_id: number | null) =>
      done(() =>
        take(api.PUT('/api/elements/{element_id}/phase', { params: { path: { element_id } }, body: { phase_id } })),
      ),
    putLine: (s: Scheme, phase_id: number | null) =>
      done(() => take(api.PUT('/api/schemes/{scheme_id}/line-phase', { ...scheme(s.id), body: { phase_id } }))),
    putBetween: (element_id: number, option_id: number | null, phase_id: number | null) =>
      done(() =>
        take(
          api.PUT('/api/elements/{element_id}/between', {
            params: { path: { element_id } },
            body: { option_id, phase_id },
          }),
        ),
      ),
    runBetween: (c: Choice) =>
      act(async () => {
        await take(
          api.POST('/api/elements/{element_id}/batches', {
            params: { path: { element_id: c.element_id } },
            body: {
              kind: 'in between',
              option_id: c.option_id,
              between: { option_id: c.between_id!, years: c.years_run! },
            },
          }),
        )
        await answer.load()
      }),
  }
}
