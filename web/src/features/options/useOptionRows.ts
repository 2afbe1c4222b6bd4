/** Options as a whole: one more, one less, its name, theirs or mine after two windows. */
import { api, sentence, take } from '@/api/client'
import { makeOption, removeOption } from './optionCalls'
import type { Desk } from './useDrawn'
import type { Edits } from './useEdits'
import { drawn, isDraft, toWork, type Work } from './work'

/** An option as the server has it now. */
export async function reload(w: Work): Promise<void> {
  const option = await take(api.GET('/api/options/{option_id}', { params: { path: { option_id: w.id } } }))
  Object.assign(w, toWork(option))
}

export function useOptionRows(desk: Desk, { settled, commit }: Edits) {
  const { sheet, complaint, at, work, load } = desk
  async function membranes(): Promise<void> {
    const w = work.value
    if (!w || !sheet.value) return
    try {
      await settled()
      if (isDraft(w)) await commit(w)
      await take(api.POST('/api/options/{option_id}/membranes', { params: { path: { option_id: w.id } } }))
      const strip = at.strip
      await load(sheet.value.element.id)
      at.strip = strip
    } catch (error) {
      complaint.value = sentence(error)
    }
  }
  async function duplicate(name?: string): Promise<void> {
    const w = work.value
    if (!w || !sheet.value) return
    const label = name ?? (w.role === 'as_found' ? 'New option' : `${w.name}, copy`)
    try {
      await makeOption(desk, { name: label, school: '', build_up: drawn(w) })
    } catch (error) {
      complaint.value = sentence(error)
    }
  }
  async function rename(name: string): Promise<void> {
    const w = work.value
    if (!w || !name.trim() || name.trim() === w.name) return
    w.name = name.trim()
    await commit(w, false)
  }
  async function remove(): Promise<void> {
    const w = work.value
    if (!w || w.role === 'as_found') return
    try {
      await removeOption(desk, w)
    } catch (error) {
      w.complaint = sentence(error)
    }
  }
  /** Theirs as committed: the draft kept on the server is mine, and would come back with the next load. */
  async function takeTheirs(): Promise<void> {
    const w = work.value
    if (!w) return
    const option = await take(api.GET('/api/options/{option_id}', { params: { path: { option_id: w.id } } }))
    Object.assign(w, toWork({ ...option, draft: null }))
    await take(
      api.PUT('/api/options/{option_id}/draft', {
        params: { path: { option_id: w.id } },
        body: { build_up: option.build_up },
      }),
    )
    w.figures = await take(
      api.POST('/api/elements/{element_id}/preview', {
        params: { path: { element_id: sheet.value!.element.id } },
        body: { build_up: option.build_up, option_id: w.id },
      }),
    )
    w.committedHash = w.figures.case_hash
  }
  async function keepMineAsNew(): Promise<void> {
    const w = work.value
    if (!w) return
    await duplicate(`${w.name}, mine`)
    await reload(w)
  }

  return { membranes, duplicate, rename, removeOption: remove, takeTheirs, keepMineAsNew }
}
