/** What moves when a layer is swapped: steady figures before and after, in words. Pure. */
import type { Schemas } from '@/api/client'
import type { Quantity } from '@/shared/units'
import type { Figures } from './work'

export interface Move {
  words: string
  worse: boolean
}
type Show = (value: number | null | undefined, quantity: Quantity) => string
type Tell = (words: Schemas['Said']) => string

/** Joints before and after: where a line stops now that did not, and where one stops no more. */
export function jointMoves(before: Schemas['JointLine'][], after: Schemas['JointLine'][], said: Tell): Move[] {
  const lines = (all: Schemas['JointLine'][]): string[] =>
    all.flatMap((j) => j.stops.map((s) => `${j.joint}, with ${j.other}: ${said(s)}`))
  const [a, b] = [lines(before), lines(after)]
  return [
    ...b.filter((words) => !a.includes(words)).map((words) => ({ words, worse: true })),
    ...a.filter((words) => !b.includes(words)).map((words) => ({ words: `No more: ${words}`, worse: false })),
  ]
}

export function moves(before: Figures, after: Figures, uName: string, show: Show, said: Tell): Move[] {
  const found: Move[] = []
  const add = (
    name: string,
    a: number | null | undefined,
    b: number | null | undefined,
    q: Quantity,
    up: boolean,
  ): void => {
    if (show(a, q) === show(b, q)) return
    found.push({
      words: `${name} ${show(a, q)} → ${show(b, q)}`,
      worse: a != null && b != null && (up ? b > a : b < a),
    })
  }
  add(uName, before.thermal?.u_effective, after.thermal?.u_effective, 'transmittance', true)
  add('room lost', before.room_lost_mm, after.room_lost_mm, 'thickness', true)
  add('grows outside', before.growth_outside_mm, after.growth_outside_mm, 'thickness', true)
  const moved = [after.room_lost_mm - before.room_lost_mm, after.growth_outside_mm - before.growth_outside_mm]
  if (moved.some((mm) => Math.abs(mm) >= 0.5))
    found.push({ words: 'Its face moves: reveals, sills, sockets and the joints beside it move with it', worse: false })
  add('drying outward', before.drying?.outward.g_m2, after.drying?.outward.g_m2, 'smallWater', false)
  add('drying inward', before.drying?.inward.g_m2, after.drying?.inward.g_m2, 'smallWater', false)
  const fresh = (a: Schemas['Said'][], b: Schemas['Said'][]): Schemas['Said'][] =>
    b.filter((one) => !a.some((other) => other.metric === one.metric))
  for (const one of fresh(before.over_limits, after.over_limits)) found.push({ words: said(one), worse: true })
  const traps = (f: Figures): Schemas['Said'][] => f.traps.map((t) => t.sentence)
  for (const one of fresh(traps(before), traps(after))) found.push({ words: said(one), worse: true })
  for (const one of fresh(traps(after), traps(before))) found.push({ words: `No more: ${said(one)}`, worse: false })
  for (const one of fresh(before.cautions, after.cautions)) found.push({ words: `Caution: ${said(one)}`, worse: false })
  if (after.refused) found.push({ words: after.refused, worse: true })
  return found
}
