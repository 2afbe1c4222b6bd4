/** The hourly years of the sheet's options: asked for, watched, cancelled. */
import { computed, watch } from 'vue'
import { api, sentence, take } from '@/api/client'
import { useAnswer } from '@/shared/query'
import type { Desk } from './useDrawn'
import type { Edits } from './useEdits'
import { reload } from './useOptionRows'
import { isDraft, liveState, type Work } from './work'

const under = (state: string): boolean => state === 'waiting' || state === 'running'

export function useYears({ works, complaint }: Desk, { settled, commit }: Edits) {
  async function runYears(): Promise<void> {
    complaint.value = ''
    await settled()
    for (const w of works.value) {
      if (['current', 'running', 'waiting', 'not available'].includes(liveState(w))) continue
      if (isDraft(w)) await commit(w)
      if (w.complaint) continue
      try {
        const run = await take(api.POST('/api/options/{option_id}/runs', { params: { path: { option_id: w.id } } }))
        w.run = {
          ...w.run,
          state: run.status === 'done' ? 'current' : 'waiting',
          run_id: run.id,
          progress: 0,
          doing: run.doing,
          error: '',
        }
        if (run.status === 'done') await reload(w)
      } catch (error) {
        w.complaint = sentence(error)
      }
    }
  }
  /** Everything of the project that an older solver computed, in one press. */
  async function runAgain(projectId: number): Promise<void> {
    try {
      await take(
        api.POST('/api/projects/{project_id}/runs/again', {
          params: { path: { project_id: projectId } },
        }),
      )
      await Promise.all(works.value.map(reload))
    } catch (error) {
      complaint.value = sentence(error)
    }
  }
  async function cancel(w: Work): Promise<void> {
    if (!w.run.run_id) return
    const run = await take(api.POST('/api/runs/{run_id}/cancel', { params: { path: { run_id: w.run.run_id } } }))
    w.run.doing = run.doing
    if (run.status === 'cancelled') await reload(w)
  }
  const underWay = computed(() => works.value.filter((w) => under(w.run.state) && w.run.run_id))
  /** How each of them stands; with its option once it has ended. */
  const { data: seen } = useAnswer(
    () => ['runs under way', underWay.value.map((w) => w.run.run_id)],
    () =>
      Promise.all(
        underWay.value.map(async ({ id, run: { run_id } }) => {
          const run = await take(api.GET('/api/runs/{run_id}', { params: { path: { run_id: run_id! } } }))
          const ended = !under(run.status)
          const path = { params: { path: { option_id: id } } }
          return { run, option: ended ? await take(api.GET('/api/options/{option_id}', path)) : null }
        }),
      ),
    { every: () => 600, when: () => underWay.value.length > 0, fresh: true },
  )
  watch(seen, (now) => {
    for (const { run, option } of now ?? []) {
      const w = works.value.find((x) => x.run.run_id === run.id)
      if (!w) continue
      if (option) {
        w.run = option.run
        w.committedHash = option.draft ? w.committedHash : option.figures.case_hash
      } else Object.assign(w.run, { state: run.status, progress: run.progress, doing: run.doing })
    }
  })

  return { runYears, runAgain, cancel }
}
