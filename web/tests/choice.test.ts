/** The choice of an element: kept against what was seen, undone and done again, never over another window's. */
import { beforeEach, describe, expect, it } from 'vitest'
import { effectScope, shallowRef } from 'vue'
import { createPinia, setActivePinia } from 'pinia'
import { useChoice } from '@/features/compare/useChoice'
import type { Schemas } from '@/api/client'
import { Refusal, server } from './server'

let chosen: { option_id: number | null; reason: string }
const sheetNow = (): Schemas['Sheet'] =>
  ({ element: { id: 7, chosen_id: chosen.option_id, chosen_reason: chosen.reason }, options: [] }) as never

function opened() {
  const sheet = shallowRef<Schemas['Sheet'] | undefined>(sheetNow())
  const choice = effectScope().run(() =>
    useChoice(sheet, () => {
      sheet.value = sheetNow()
      return Promise.resolve()
    }),
  )!
  const pick = async (id: number, why: string): Promise<void> => {
    choice.picked.value = id
    choice.reason.value = why
    await choice.keep()
  }
  return { choice, pick }
}

beforeEach(() => {
  setActivePinia(createPinia())
  chosen = { option_id: null, reason: '' }
  server.on(/^PUT .*\/choice$/, (asked) => {
    const body = asked.body as Schemas['ChoiceBody']
    const seen = body.seen!
    if (seen.option_id !== chosen.option_id || seen.reason !== chosen.reason)
      return new Refusal(409, 'changed_meanwhile', 'Isla chose “B” since you began.')
    chosen = { option_id: body.option_id, reason: body.reason ?? '' }
    return {}
  })
})

describe('choice', () => {
  it('is undone and done again, one after the other', async () => {
    const { choice, pick } = opened()
    await pick(1, 'dry')
    await pick(2, 'thin')
    await choice.takeBack()
    expect(chosen.option_id).toBe(null)
    await choice.undo()
    await choice.undo()
    expect(chosen).toEqual({ option_id: 1, reason: 'dry' })
    expect(choice.picked.value).toBe(1)
    await choice.redo()
    expect(chosen).toEqual({ option_id: 2, reason: 'thin' })
    await choice.undo()
    await choice.undo()
    expect([chosen.option_id, choice.canUndo.value, choice.canRedo.value]).toEqual([null, false, true])
  })
  it('of another window is told, what is typed stays, and is kept the second time', async () => {
    const { choice, pick } = opened()
    chosen = { option_id: 5, reason: 'theirs' }
    await pick(1, 'mine')
    expect(choice.complaint.value).toContain('since you began')
    expect([choice.picked.value, choice.reason.value]).toEqual([1, 'mine'])
    expect(chosen.option_id).toBe(5)
    await choice.keep()
    expect(chosen).toEqual({ option_id: 1, reason: 'mine' })
    await choice.undo()
    expect(chosen).toEqual({ option_id: 5, reason: 'theirs' })
  })
})
