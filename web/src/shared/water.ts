import { api, take, type Schemas } from '@/api/client'
import { lastKnown } from './outbox'

/** The water page of a project, or what it last said when there is no connection. */
export function loadWater(project: number): Promise<Schemas['WaterPage']> {
  return lastKnown(`water ${project}`, () =>
    take(api.GET('/api/projects/{project_id}/water', { params: { path: { project_id: project } } })),
  )
}
