/** Typing, committing one edit after the other, undo and redo. A draft is kept a second after the last key. */
import { useDebounceFn } from '@vueuse/core'
import { api, Problem, sentence, take } from '@/api/client'
import type { Layer } from '@/drawing/scale'
import { copy } from '@/shared/copy'
import { askSheet } from '@/shared/sheet'
import { isImperial } from '@/shared/units'
import { addOption, dropOption } from './optionCalls'
import type { Desk } from './useDrawn'
import { clone, drawn, fitting, isDraft, leaksOf, same, type Drawn, type Edit, type Leaks, type Work } from './work'

export function useEdits(desk: Desk) {
  const { sheet, works, complaint, at, typed, work, selected, undoStack, redoStack, removed } = desk
  let counter = 0
  let queue: Promise<unknown> = Promise.resolve()
  let pending: Promise<boolean> | null = null
  /** When everything that was committed so far has its answer. */
  const settled = async (): Promise<unknown> => {
    await commitTyped() // an edit still on its way comes first
    return queue
  }

  const keepDraft = useDebounceFn(async (w: Work) => {
    if (!isDraft(w)) return
    try {
      await take(
        api.PUT('/api/options/{option_id}/draft', {
          params: { path: { option_id: w.id } },
          body: { build_up: drawn(w) },
        }),
      )
    } catch (error) {
      w.complaint = sentence(error)
    }
  }, 1000)

  async function type(text: string, final = false): Promise<void> {
    const w = work.value
    const layer = selected.value
    typed.value = text
    if (!w || !layer || !sheet.value) return
    const mine = ++counter
    w.complaint = ''
    if (!text.trim()) return
    try {
      const figures = await take(
        api.POST('/api/elements/{element_id}/preview', {
          params: { path: { element_id: sheet.value.element.id } },
          body: {
            build_up: drawn(w),
            typing: { layer_id: layer.id, text, unit: isImperial.value ? 'in' : 'mm' },
            option_id: w.id,
          },
        }),
      )
      if (mine !== counter) return
      w.figures = figures
      w.layers = figures.build_up.layers
      void keepDraft(w)
    } catch (error) {
      if (mine !== counter) return
      // half a word is no mistake yet: “3 i” on the way to “3 in”
      if (!final) await new Promise((resolve) => setTimeout(resolve, 600))
      if (mine === counter) w.complaint = error instanceof Problem ? error.message : sentence(error)
    }
  }
  /** Enter or leaving the field: what was understood is committed; what was not is taken back with its complaint. */
  function commitTyped(): Promise<boolean> {
    if (typed.value === null) return Promise.resolve(true)
    pending ??= commitTypedOnce().finally(() => (pending = null))
    return pending
  }
  async function commitTypedOnce(): Promise<boolean> {
    const w = work.value
    if (typed.value === null || !w) return true
    const text = typed.value
    if (text.trim()) await type(text, true)
    typed.value = null
    if (w.complaint) return false
    await commit(w)
    return true
  }
  /** Escape: what is typed is taken back; an edit already being committed is not. */
  async function dropTyped(): Promise<void> {
    if (pending) return void (await pending)
    if (typed.value === null) return
    typed.value = null
    counter++
    await dropDraft()
  }
  async function dropDraft(w = work.value): Promise<void> {
    if (!w) return
    w.complaint = ''
    await queue
    if (!isDraft(w)) return
    w.layers = clone(w.committed)
    w.leaks = copy(w.committedLeaks) as Leaks
    await commit(w, false)
  }

  // --- commits --------------------------------------------------------------------------------

  function commit(w: Work, remember = true): Promise<void> {
    const job = queue.then(async () => {
      const before: Drawn = { layers: clone(w.committed), leaks: copy(w.committedLeaks) as Leaks }
      w.leaks = fitting(w.leaks, w.layers)
      const after: Drawn = { layers: clone(w.layers), leaks: copy(w.leaks) as Leaks }
      try {
        const option = await take(
          api.PUT('/api/options/{option_id}', {
            params: { path: { option_id: w.id } },
            body: { revision: w.revision, name: w.name, build_up: drawn(w) },
          }),
        )
        if (remember && !same(before, after)) {
          undoStack.value.push({ option: w.id, name: w.name, before, after })
          redoStack.value = []
        }
        w.revision = option.revision
        // what nobody touched meanwhile is as the server wrote it: the same layers in its order of keys are no draft
        if (same(w.layers, after.layers)) w.layers = clone(option.build_up.layers)
        if (same(w.leaks, after.leaks)) w.leaks = leaksOf(option.build_up)
        w.committed = clone(option.build_up.layers)
        w.committedLeaks = leaksOf(option.build_up)
        w.run = option.run
        w.committedHash = option.figures.case_hash
        if (same(w.layers, w.committed)) w.figures = option.figures
        w.conflict = false
        if (w.role === 'as_found' && sheet.value) await reloadFigures()
      } catch (error) {
        w.complaint = sentence(error)
        w.conflict = error instanceof Problem && error.code === 'changed_meanwhile'
      }
    })
    queue = job
    return job
  }
  /** After a change as found: room lost and growth of every option are measured from it. */
  async function reloadFigures(): Promise<void> {
    if (!sheet.value) return
    const fresh = await askSheet(sheet.value.element.id)
    sheet.value = fresh
    for (const option of fresh.options) {
      const w = works.value.find((x) => x.id === option.id)
      if (w && !isDraft(w)) Object.assign(w, { figures: option.figures, run: option.run })
    }
  }
  async function apply(layers: Layer[]): Promise<void> {
    const w = work.value
    if (!w) return
    counter++ // a preview still under way would draw over the change
    typed.value = null
    w.complaint = ''
    w.layers = layers
    await commit(w)
    if (w.complaint && !w.conflict) w.layers = clone(w.committed)
  }
  async function replay(from: Edit[], to: Edit[], key: 'before' | 'after'): Promise<void> {
    await commitTyped() // an edit still on its way comes first
    await queue
    const edit = from.pop()
    if (!edit) return
    if (!edit[key] || !works.value.some((w) => w.id === edit.option)) return redraw(edit, from, to, key)
    const strip = works.value.findIndex((w) => w.id === edit.option)
    const w = works.value[strip]
    if (!w) return
    at.strip = strip
    typed.value = null
    w.complaint = ''
    w.layers = clone(edit[key]!.layers)
    w.leaks = copy(edit[key]!.leaks) as Leaks
    await commit(w, false)
    if (w.complaint) {
      from.push(edit) // refused: the drawing goes back to what is committed, and the edit stays where it was
      w.layers = clone(w.committed)
      w.leaks = copy(w.committedLeaks) as Leaks
    } else to.push(edit)
  }
  /** An option that goes or comes back as a whole; one that comes back has another number, which every edit of it follows. */
  async function redraw(edit: Edit, from: Edit[], to: Edit[], key: 'before' | 'after'): Promise<void> {
    const there = works.value.find((w) => w.id === edit.option)
    const then = edit[key]
    try {
      if (!then && there) await dropOption(desk, there)
      else if (then && !there) {
        const build_up = { layers: clone(then.layers), ...fitting(then.leaks, then.layers) }
        const w = await addOption(desk, { name: edit.name, school: '', build_up })
        const old = edit.option
        for (const one of [edit, ...from, ...to]) if (one.option === old) one.option = w.id
        removed.value = null
      }
      to.push(edit)
    } catch (error) {
      from.push(edit)
      complaint.value = sentence(error)
    }
  }
  /** The option removed last comes back, whatever was done since: no later edit is of it. */
  async function bringBack(): Promise<void> {
    const stack = undoStack.value
    const last = stack.findLastIndex((e) => !e.after && !works.value.some((w) => w.id === e.option))
    if (last < 0) return
    stack.push(...stack.splice(last, 1))
    await undo()
  }
  const undo = (): Promise<void> => replay(undoStack.value, redoStack.value, 'before')
  const redo = (): Promise<void> => replay(redoStack.value, undoStack.value, 'after')

  /** Air or rain that leaks in: committed at once, undone like an edit of a layer. */
  async function leak(part: Partial<Leaks>): Promise<void> {
    const w = work.value
    if (!w) return
    counter++
    w.complaint = ''
    w.leaks = { ...w.leaks, ...part }
    await commit(w)
    if (w.complaint && !w.conflict) w.leaks = copy(w.committedLeaks) as Leaks
  }

  return { settled, type, commitTyped, dropTyped, dropDraft, commit, apply, undo, redo, bringBack, leak }
}
export type Edits = ReturnType<typeof useEdits>
