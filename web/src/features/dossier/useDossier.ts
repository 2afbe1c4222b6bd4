/** What the dossier holds and lacks, and the reports made so far; watched while one of them is made. */
import { computed, type Ref } from 'vue'
import { api, take, type Schemas } from '@/api/client'
import { useAct, useAnswer } from '@/shared/query'
import { isImperial } from '@/shared/units'

export type Report = Schemas['ReportOut']
export const underWay = (r: Report): boolean => r.state === 'waiting' || r.state === 'making'

export function useDossier(id: Readonly<Ref<number>>) {
  const answer = useAnswer(
    () => ['dossier', id.value],
    () => take(api.GET('/api/projects/{project_id}/dossier', { params: { path: { project_id: id.value } } })),
  )
  const made = useAnswer(
    () => ['reports', id.value],
    () => take(api.GET('/api/projects/{project_id}/reports', { params: { path: { project_id: id.value } } })),
    { every: (now) => (now?.some(underWay) ? 500 : false) },
  )
  const { complaint, busy, act } = useAct()
  const then = (what: () => Promise<unknown>): Promise<boolean> =>
    act(async () => {
      await what()
      await made.load()
    })
  const at = (report: Report) => ({ params: { path: { report_id: report.id } } })
  return {
    dossier: answer.data,
    reports: made.data,
    unread: computed(() => answer.complaint.value || made.complaint.value),
    load: (): Promise<unknown> => Promise.all([answer.load(), made.load()]),
    complaint,
    busy,
    make: (kind: Report['kind'], sheet: Report['sheet']) =>
      then(() =>
        take(
          api.POST('/api/projects/{project_id}/reports', {
            params: { path: { project_id: id.value } },
            body: { kind, sheet, system: isImperial.value ? 'inch' : 'metric' },
          }),
        ),
      ),
    cancel: (report: Report) => then(() => take(api.POST('/api/reports/{report_id}/cancel', at(report)))),
    remove: (report: Report) => then(() => take(api.DELETE('/api/reports/{report_id}', at(report)))),
    sign: (report: Report, body: Schemas['SignatureBody']) =>
      then(() => take(api.POST('/api/reports/{report_id}/signatures', { ...at(report), body }))),
    takeBack: (signature: number) =>
      then(() => take(api.DELETE('/api/signatures/{signature_id}', { params: { path: { signature_id: signature } } }))),
  }
}
