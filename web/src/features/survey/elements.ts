/** Words and defaults of elements. */
import type { Schemas } from '@/api/client'
import type { Element } from '@/shared/project'
import { show } from '@/shared/units'

export type ElementFields = Schemas['ElementFields']

export const FACINGS = ['N', 'NE', 'E', 'SE', 'S', 'SW', 'W', 'NW'] as const

export function facingWord(degrees: number | undefined): string {
  return FACINGS[Math.floor((((degrees ?? 0) + 22.5) % 360) / 45)] ?? 'N'
}

export function blankElement(): ElementFields {
  return {
    name: '',
    kind: 'wall',
    area_m2: null as unknown as number,
    facing_deg: 0,
    slope_deg: 90,
    adjoining: 'outside',
    factor_b: 1,
    exposure: 'moderate',
    occupancy: '',
    set_point_c: null,
    absorptance: null,
    outside_untouchable: false,
    plaster_off: false,
    inside_untouchable: false,
    escape_route: false,
    ground: 'moist',
    perimeter_m: null,
    depth_m: null,
    room_limit_mm: null,
    outside_limit_mm: null,
    named_limits: [],
    target_u_w_m2k: null,
    u_w_m2k: null,
    g_value: null,
    planned_u_w_m2k: null,
    planned_g_value: null,
  }
}

/** Typical slope and b when the kind or the neighbour changes; the person may correct both. */
export function usualSlope(kind: string): number {
  return kind === 'roof' ? 40 : kind === 'floor' ? 0 : 90
}
export function usualFactor(adjoining: string): number {
  return adjoining === 'outside' ? 1 : adjoining === 'ground' ? 0.5 : 0.8
}

export function adjoiningWords(e: Element): string {
  if (e.kind === 'floor' && e.adjoining === 'ground' && (e.perimeter_m || e.from_shape?.perimeter_m))
    return 'ground, by its size (ISO 13370)'
  return e.adjoining === 'outside'
    ? 'outside'
    : `${e.adjoining}, b ${e.factor_b} ${e.shape_key && !e.typed.includes('factor_b') ? 'usual' : 'typed'}`
}
export function facesWords(e: Element): string {
  const slope = e.kind === 'roof' ? `, ${e.slope_deg}°` : ''
  return e.kind === 'floor' ? '–' : `${facingWord(e.facing_deg)}${slope}`
}
export function limitWords(e: Element): string {
  if (e.kind === 'window' || e.kind === 'door') return ''
  const named = e.named_limits.length ? `, ${e.named_limits.length} more` : ''
  return `${show(e.room_limit_mm, 'thickness')}, ${show(e.outside_limit_mm, 'thickness')}${named}`
}
export function kindWords(e: Element): string {
  return e.u_w_m2k ? `${e.kind}, ${show(e.u_w_m2k, 'transmittance')}, g ${e.g_value ?? '–'}` : e.kind
}
export function rainWords(e: Element): string {
  if (e.kind !== 'wall' || e.adjoining !== 'outside') return '–'
  return e.rain_surveyed ? 'surveyed' : e.exposure
}
