/** An option more and an option less on the sheet, at the server and on the desk. */
import { api, take, type Schemas } from '@/api/client'
import type { Desk } from './useDrawn'
import { copy } from '@/shared/copy'
import { clone, toWork, type Drawn, type Leaks, type Work } from './work'

export async function addOption({ sheet, works, at }: Desk, body: Schemas['NewOption']): Promise<Work> {
  const option = await take(
    api.POST('/api/elements/{element_id}/options', {
      params: { path: { element_id: sheet.value!.element.id } },
      body,
    }),
  )
  works.value.push(toWork(option))
  at.strip = works.value.length - 1
  at.layer = null
  return works.value[at.strip]!
}

const committed = (w: Work): Drawn => ({ layers: clone(w.committed), leaks: copy(w.committedLeaks) as Leaks })
function remember(desk: Desk, w: Work, before: Drawn | null, after: Drawn | null): void {
  desk.undoStack.value.push({ option: w.id, name: w.name, before, after })
  desk.redoStack.value = []
}
/** An option more that undo takes away again. */
export async function makeOption(desk: Desk, body: Schemas['NewOption']): Promise<Work> {
  const made = await addOption(desk, body)
  remember(desk, made, null, committed(made))
  return made
}
/** An option less that undo brings back; its years are found by its case when they are asked for. */
export async function removeOption(desk: Desk, w: Work): Promise<void> {
  await dropOption(desk, w)
  remember(desk, w, committed(w), null)
  desk.removed.value = w.name
}

export async function dropOption({ works, at }: Desk, w: Work): Promise<void> {
  await take(api.DELETE('/api/options/{option_id}', { params: { path: { option_id: w.id } } }))
  works.value = works.value.filter((x) => x.id !== w.id)
  at.strip = Math.min(Math.max(0, at.strip - 1), works.value.length - 1)
  at.layer = null
}
