/** The air of the building as it is kept, and what is stated of it, written back whole. */
import { computed, type Ref } from 'vue'
import { api, takeAs, type Schemas } from '@/api/client'
import { copy } from '@/shared/copy'
import { inTurn, useAct, useAnswer } from '@/shared/query'

export type Air = Schemas['AirOut']
export type Stated = Schemas['AirStated']
export type LeakRow = Schemas['LeakRow']

export function useAir(projectId: Readonly<Ref<number>>) {
  const answer = useAnswer(
    () => ['air', projectId.value],
    () => takeAs<Air>(api.GET('/api/projects/{project_id}/air', { params: { path: { project_id: projectId.value } } })),
    { fresh: true },
  )
  const { complaint, busy, act } = useAct()
  const turn = inTurn()
  /** Change what is stated of one state; refused where somebody changed it meanwhile. */
  const write = (after: boolean, change: (stated: Stated) => void): Promise<boolean> =>
    turn(() =>
      act(async () => {
        const began = (after ? answer.data.value!.after : answer.data.value!.before).stated
        const air = copy(began) as Stated
        change(air)
        answer.put(
          await takeAs<Air>(
            api.PUT('/api/projects/{project_id}/air', {
              params: { path: { project_id: projectId.value } },
              body: { after, air, began },
            }),
          ),
        )
      }),
    )
  /** One row of the ledger: its leakage as found belongs to the survey, what is left of it to the scheme. */
  function line(row: LeakRow, field: 'q50_m3_h' | 'height_m' | 'left', value: number | null): Promise<boolean> {
    return write(field === 'left', (stated) => {
      const known = stated.ledger!.find((one) => one.key === row.key)
      if (known) known[field] = value
      else
        stated.ledger!.push({
          key: row.key,
          name: row.element_id === null ? row.name : '',
          q50_m3_h: null,
          height_m: null,
          left: null,
          facing_deg: null,
          over: true,
          [field]: value,
        })
    })
  }
  return {
    air: answer.data,
    unread: answer.complaint,
    load: answer.load,
    complaint: computed(() => complaint.value || answer.complaint.value),
    busy,
    act,
    write,
    line,
  }
}
export type AirHands = ReturnType<typeof useAir>
