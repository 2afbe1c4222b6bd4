/** What is drawn of an option and what is committed of it: pure functions of both. */
import type { Schemas } from '@/api/client'
import type { Layer } from '@/drawing/scale'
import { copy } from '@/shared/copy'

export type Figures = Schemas['PreviewOut']
export type RunState = Schemas['RunState']

/** Room air that leaks through an option, and rain that gets in. */
export interface Leaks {
  air_leak: Schemas['AirLeakage']
  rain_leak: Schemas['RainLeakage']
}
export interface Drawn {
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
/** before: null where the option was made by it; after: null where it was removed. */
export interface Edit {
  option: number
  name: string
  before: Drawn | null
  after: Drawn | null
}

export const clone = (layers: Layer[]): Layer[] => copy(layers) as Layer[]
export const same = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b)
export const leaksOf = (build_up: Schemas['BuildUp']): Leaks => ({
  air_leak: build_up.air_leak ?? { preset: 'by rule', q50_m3_m2h: null, after_layer: null },
  rain_leak: build_up.rain_leak ?? { share: null, after_layer: null },
})
/** A leak to a layer that is gone goes where the rule says. */
export function fitting(leaks: Leaks, layers: Layer[]): Leaks {
  const there = (id: string | null | undefined): string | null =>
    layers.some((l) => l.id === id) ? (id ?? null) : null
  return {
    air_leak: { ...leaks.air_leak, after_layer: there(leaks.air_leak.after_layer) },
    rain_leak: { ...leaks.rain_leak, after_layer: there(leaks.rain_leak.after_layer) },
  }
}
export const drawn = (w: Work): Schemas['BuildUp'] => ({ layers: w.layers, ...fitting(w.leaks, w.layers) })

export function toWork(option: Schemas['OptionOut']): Work {
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

/** The run state that fits what is drawn: an edit makes a result out of date, taking it back makes it current. */
export function liveState(w: Work): RunState['state'] {
  if (w.figures.transient_refused) return 'not available'
  if (!isDraft(w) || w.figures.case_hash === w.committedHash) return w.run.state
  return w.run.verdict ? 'out of date' : w.run.state === 'not available' ? 'not run' : w.run.state
}
export function isDraft(w: Work): boolean {
  return !same(w.layers, w.committed) || !same(w.leaks, w.committedLeaks)
}

let serial = 0
export const newId = (): string => `l${Date.now().toString(36)}${(serial++).toString(36)}`
const solid = (material: Schemas['MaterialOut']): boolean => material.kind === 'solid' || material.kind === 'air'

/** A new layer of a material, at its usual thickness. existing: in a build-up as found. */
export function layerOf(material: Schemas['MaterialOut'], existing: boolean): Layer {
  return {
    id: newId(),
    material: material.id,
    thickness_mm: solid(material) ? (material.usual_thickness_mm ?? 50) : null,
    known: 'assumed',
    framing: null,
    existing,
    photo: '',
    start_rh: null,
    frost_proof: false,
    metal: null,
    air_barrier: false,
    fixings: null,
    gaps: 0,
    inverted: null,
    a_value_kg_m2s05: null,
    product: null,
    carries: false,
    sheds_water: false,
    uneven: null,
    meets: '',
    role: '',
    goes_round: false,
  }
}
/** A gap whose air stays in it. */
export const isStill = (material?: Schemas['MaterialOut']): boolean =>
  material?.kind === 'air' && material.opening_mm2_m === 0
/** What a layer becomes when its material is swapped. */
export function swapped(layer: Layer, material: Schemas['MaterialOut']): Partial<Layer> {
  return {
    material: material.id,
    thickness_mm: solid(material) ? (layer.thickness_mm ?? material.usual_thickness_mm ?? 50) : null,
    framing: solid(material) ? layer.framing : null,
    ...(isStill(material) ? {} : { goes_round: false }),
    ...(['masonry', 'plaster'].includes(material.group) ? {} : { uneven: null }),
    ...(material.group === 'insulation' ? {} : { product: null, fixings: null, gaps: 0, inverted: null }),
  }
}
/** A layer more, beside the one with this id; the innermost where there is none. */
export function withLayer(layers: Layer[], at: string | null, layer: Layer, side: 'outside' | 'inside'): Layer[] {
  const index = layers.findIndex((l) => l.id === at)
  const place = index < 0 ? layers.length : side === 'inside' ? index + 1 : index
  return [...layers.slice(0, place), layer, ...layers.slice(place)]
}
/** The layer with this id one place further; null where there is no such place. */
export function moved(layers: Layer[], at: string | null, by: 1 | -1): Layer[] | null {
  const from = layers.findIndex((l) => l.id === at)
  const to = from + by
  if (from < 0 || to < 0 || to >= layers.length) return null
  const next = clone(layers)
  ;[next[from], next[to]] = [next[to]!, next[from]!]
  return next
}
/** A thickness one step thicker or thinner, in steps a hand would take; null where there is none. */
export function stepped(thickness_mm: number, sign: 1 | -1, imperial: boolean): number | null {
  const by = imperial ? (thickness_mm < 25.4 ? 3.175 : 12.7) : thickness_mm < 30 ? 1 : 10
  const next = Math.round((thickness_mm + sign * by) * 1000) / 1000
  return next > 0 && next <= 3000 ? next : null
}
