/**
 * The options sheet of one element: what is drawn, what is typed, what is committed, undo and redo, runs.
 * Figures follow every key; a draft is kept a second after the last one; Enter or leaving the field commits.
 */
import { useDebounceFn, useIntervalFn } from '@vueuse/core'
import { copy } from '@/shared/copy'
import { computed, reactive, ref } from 'vue'
import { api, Problem, sentence, take, type Schemas } from '@/api/client'
import type { Layer } from '@/drawing/scale'
import { isImperial } from '@/shared/units'
import { askSheet } from '@/shared/sheet'

export type Figures = Schemas['PreviewOut']
export type RunState = Schemas['RunState']

/** Room air that leaks through an option, and rain that gets in. */
export interface Leaks {
  air_leak: Schemas['AirLeakage']
  rain_leak: Schemas['RainLeakage']
}
interface Drawn {
  layers: Layer[]
  leaks: Leaks
}

export interface Work {
  id: number
  role: string
  name: string
  revision: number
  /** what is drawn now */
  layers: Layer[]
  leaks: Leaks
  /** what the server holds as committed */
  committed: Layer[]
  committedLeaks: Leaks
  committedHash: string
  figures: Figures
  run: RunState
  tests: Schemas['TestWords']
  complaint: string
  conflict: boolean
}
interface Edit {
  option: number
  before: Drawn
  after: Drawn
}

const clone = (layers: Layer[]): Layer[] => copy(layers) as Layer[]
const same = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b)
const leaksOf = (build_up: Schemas['BuildUp']): Leaks => ({
  air_leak: build_up.air_leak ?? { preset: 'by rule', q50_m3_m2h: null, after_layer: null },
  rain_leak: build_up.rain_leak ?? { share: null, after_layer: null },
})
/** A leak to a layer that is gone goes where the rule says. */
function fitting(leaks: Leaks, layers: Layer[]): Leaks {
  const there = (id: string | null | undefined): string | null =>
    layers.some((l) => l.id === id) ? (id ?? null) : null
  return {
    air_leak: { ...leaks.air_leak, after_layer: there(leaks.air_leak.after_layer) },
    rain_leak: { ...leaks.rain_leak, after_layer: there(leaks.rain_leak.after_layer) },
  }
}
const drawn = (w: Work): Schemas['BuildUp'] => ({ layers: w.layers, ...fitting(w.leaks, w.layers) })
let serial = 0
const newId = (): string => `l${Date.now().toString(36)}${(serial++).toString(36)}`

export function useSheet() {
  const sheet = ref<Schemas['Sheet'] | null>(null)
  const works = ref<Work[]>([])
  const complaint = ref('')
  const loading = ref(false)
  const at = reactive({ strip: 0, layer: null as string | null })
  const typed = ref<string | null>(null)
  const undoStack = ref<Edit[]>([])
  const redoStack = ref<Edit[]>([])
  const removed = ref<{ name: string; school: string; build_up: Schemas['BuildUp'] } | null>(null)
  let counter = 0
  let queue: Promise<unknown> = Promise.resolve()
  let pending: Promise<boolean> | null = null

  const work = computed<Work | undefined>(() => works.value[at.strip])
  const selected = computed<Layer | undefined>(() => work.value?.layers.find((l) => l.id === at.layer))

  function toWork(option: Schemas['OptionOut']): Work {
    const shown = option.draft ?? option.build_up
    return {
      id: option.id,
      role: option.role,
      name: option.name,
      revision: option.revision,
      layers: clone(shown.layers),
      leaks: leaksOf(shown),
      committed: clone(option.build_up.layers),
      committedLeaks: leaksOf(option.build_up),
      committedHash: option.draft ? '' : option.figures.case_hash,
      figures: option.figures,
      run: option.run,
      tests: option.tests,
      complaint: '',
      conflict: false,
    }
  }
  async function load(element: number): Promise<void> {
    if (sheet.value?.element.id !== element) {
      sheet.value = null
      works.value = []
      undoStack.value = []
      redoStack.value = []
      at.strip = 0
      at.layer = null
      removed.value = null
    }
    loading.value = true
    complaint.value = ''
    try {
      sheet.value = await askSheet(element)
      works.value = sheet.value.options.map(toWork)
      at.strip = Math.min(at.strip, works.value.length - 1)
    } catch (error) {
      complaint.value = sentence(error)
    } finally {
      loading.value = false
    }
  }

  /** The run state that fits what is drawn: an edit makes a result out of date, taking it back makes it current. */
  function liveState(w: Work): RunState['state'] {
    if (w.figures.transient_refused) return 'not available'
    if (!isDraft(w) || w.figures.case_hash === w.committedHash) return w.run.state
    return w.run.verdict ? 'out of date' : w.run.state === 'not available' ? 'not run' : w.run.state
  }
  function isDraft(w: Work): boolean {
    return !same(w.layers, w.committed) || !same(w.leaks, w.committedLeaks)
  }

  // --- typing ---------------------------------------------------------------------------------

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
  async function dropDraft(): Promise<void> {
    const w = work.value
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
          undoStack.value.push({ option: w.id, before, after })
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
    const fresh = await take(
      api.GET('/api/elements/{element_id}/sheet', { params: { path: { element_id: sheet.value.element.id } } }),
    )
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
    const strip = works.value.findIndex((w) => w.id === edit.option)
    const w = works.value[strip]
    if (!w) return
    at.strip = strip
    typed.value = null
    w.complaint = ''
    w.layers = clone(edit[key].layers)
    w.leaks = copy(edit[key].leaks) as Leaks
    await commit(w, false)
    if (w.complaint) {
      from.push(edit) // refused: the drawing goes back to what is committed, and the edit stays where it was
      w.layers = clone(w.committed)
      w.leaks = copy(w.committedLeaks) as Leaks
    } else to.push(edit)
  }
  const undo = (): Promise<void> => replay(undoStack.value, redoStack.value, 'before')
  const redo = (): Promise<void> => replay(redoStack.value, undoStack.value, 'after')

  // --- layers ---------------------------------------------------------------------------------

  async function change(part: Partial<Layer>): Promise<void> {
    const w = work.value
    if (!w || !selected.value) return
    await apply(w.layers.map((l) => (l.id === at.layer ? { ...l, ...part } : l)))
  }
  async function step(sign: 1 | -1): Promise<void> {
    const layer = selected.value
    if (!layer || layer.thickness_mm === null || layer.thickness_mm === undefined) return
    const by = isImperial.value ? (layer.thickness_mm < 25.4 ? 3.175 : 12.7) : layer.thickness_mm < 30 ? 1 : 10
    const next = Math.round((layer.thickness_mm + sign * by) * 1000) / 1000
    if (next > 0 && next <= 3000) await change({ thickness_mm: next })
  }
  async function insert(material: Schemas['MaterialOut'], side: 'outside' | 'inside' = 'inside'): Promise<void> {
    const w = work.value
    if (!w) return
    const solid = material.kind === 'solid' || material.kind === 'air'
    const layer: Layer = {
      id: newId(),
      material: material.id,
      thickness_mm: solid ? (material.usual_thickness_mm ?? 50) : null,
      known: 'assumed',
      framing: null,
      existing: w.role === 'as_found',
      photo: '',
      start_rh: null,
      frost_proof: false,
      metal: null,
      air_barrier: false,
      fixings: null,
      gaps: 0,
      inverted: null,
      a_value_kg_m2s05: null,
    }
    const index = w.layers.findIndex((l) => l.id === at.layer)
    const place = index < 0 ? w.layers.length : side === 'inside' ? index + 1 : index
    await apply([...w.layers.slice(0, place), layer, ...w.layers.slice(place)])
    at.layer = layer.id
  }
  async function swap(material: Schemas['MaterialOut']): Promise<void> {
    const solid = material.kind === 'solid' || material.kind === 'air'
    const layer = selected.value
    if (!layer) return
    await change({
      material: material.id,
      thickness_mm: solid ? (layer.thickness_mm ?? material.usual_thickness_mm ?? 50) : null,
      framing: solid ? layer.framing : null,
    })
  }
  async function remove(): Promise<void> {
    const w = work.value
    if (!w || !selected.value) return
    const index = w.layers.findIndex((l) => l.id === at.layer)
    const rest = w.layers.filter((l) => l.id !== at.layer)
    if (!rest.some((l) => l.thickness_mm)) {
      w.complaint = 'The last layer with thickness stays; a build-up needs one.'
      return
    }
    await apply(rest)
    at.layer = rest[Math.min(index, rest.length - 1)]?.id ?? null
  }
  async function move(by: 1 | -1): Promise<void> {
    const w = work.value
    if (!w) return
    const from = w.layers.findIndex((l) => l.id === at.layer)
    const to = from + by
    if (from < 0 || to < 0 || to >= w.layers.length) return
    const layers = clone(w.layers)
    ;[layers[from], layers[to]] = [layers[to]!, layers[from]!]
    await apply(layers)
  }
  function walk(by: 1 | -1): void {
    const w = work.value
    if (!w) return
    const index = w.layers.findIndex((l) => l.id === at.layer)
    const next = index < 0 ? (by > 0 ? 0 : w.layers.length - 1) : Math.max(0, Math.min(w.layers.length - 1, index + by))
    at.layer = w.layers[next]?.id ?? null
  }
  function climb(by: 1 | -1): void {
    const next = at.strip + by
    const from = work.value?.layers.findIndex((l) => l.id === at.layer) ?? 0
    if (next < 0 || next >= works.value.length) return
    at.strip = next
    const layers = works.value[next]!.layers
    at.layer = at.layer === null ? null : (layers[Math.max(0, Math.min(from, layers.length - 1))]?.id ?? null)
  }

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

  // --- options --------------------------------------------------------------------------------

  async function membranes(): Promise<void> {
    const w = work.value
    if (!w || !sheet.value) return
    try {
      await queue
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
      const option = await take(
        api.POST('/api/elements/{element_id}/options', {
          params: { path: { element_id: sheet.value.element.id } },
          body: { name: label, school: '', build_up: drawn(w) },
        }),
      )
      works.value.push(toWork(option))
      at.strip = works.value.length - 1
      at.layer = null
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
  async function removeOption(): Promise<void> {
    const w = work.value
    if (!w || w.role === 'as_found') return
    try {
      await take(api.DELETE('/api/options/{option_id}', { params: { path: { option_id: w.id } } }))
      works.value = works.value.filter((x) => x.id !== w.id)
      removed.value = {
        name: w.name,
        school: '',
        build_up: { layers: clone(w.committed), ...fitting(w.committedLeaks, w.committed) },
      }
      at.strip = Math.max(0, at.strip - 1)
      at.layer = null
    } catch (error) {
      w.complaint = sentence(error)
    }
  }
  /** The option that was removed last, drawn again; its years are found by its case when they are asked for. */
  async function bringBack(): Promise<void> {
    if (!removed.value || !sheet.value) return
    try {
      const option = await take(
        api.POST('/api/elements/{element_id}/options', {
          params: { path: { element_id: sheet.value.element.id } },
          body: removed.value,
        }),
      )
      works.value.push(toWork(option))
      at.strip = works.value.length - 1
      removed.value = null
    } catch (error) {
      complaint.value = sentence(error)
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

  // --- runs -----------------------------------------------------------------------------------

  async function reload(w: Work): Promise<void> {
    const option = await take(api.GET('/api/options/{option_id}', { params: { path: { option_id: w.id } } }))
    Object.assign(w, toWork(option))
  }
  async function runYears(): Promise<void> {
    complaint.value = ''
    await queue
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
  useIntervalFn(async () => {
    for (const w of works.value) {
      if (!w.run.run_id || (w.run.state !== 'waiting' && w.run.state !== 'running')) continue
      try {
        const run = await take(api.GET('/api/runs/{run_id}', { params: { path: { run_id: w.run.run_id } } }))
        if (run.status === 'waiting' || run.status === 'running')
          Object.assign(w.run, { state: run.status, progress: run.progress, doing: run.doing })
        else {
          const option = await take(api.GET('/api/options/{option_id}', { params: { path: { option_id: w.id } } }))
          w.run = option.run
          w.committedHash = option.draft ? w.committedHash : option.figures.case_hash
        }
      } catch {
        return // the server does not answer: the next tick asks again
      }
    }
  }, 600)

  return {
    sheet, works, complaint, loading, at, typed, work, selected, undoStack, redoStack,
    leak, load, liveState, isDraft, type, commitTyped, dropTyped, dropDraft, commit, undo, redo, change, step, insert, swap, remove,
    move, walk, climb, duplicate, membranes, rename, removeOption, removed, bringBack, takeTheirs, keepMineAsNew, runYears, runAgain, cancel,
  } // prettier-ignore
}
export type SheetState = ReturnType<typeof useSheet>
