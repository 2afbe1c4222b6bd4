/** Materials of one's own: what is typed of a data sheet, what it comes to, and the list it goes on. */
import type { Schemas } from '@/api/client'

export type DataSheet = Schemas['DataSheet']
export type Made = Schemas['MadeOut']
export type Curve = Schemas['Curve']
type Property =
  | 'thickness'
  | 'conductivity'
  | 'density'
  | 'vapour'
  | 'water_80'
  | 'free_water'
  | 'uptake'
  | 'specific_heat'
  | 'emissivity'

/** The fields of a data sheet, in the order of a data sheet; the first four are the ones that most have. */
export const FIELDS: readonly { name: Property; label: string; hint: string; first: boolean; sheet?: boolean }[] = [
  { name: 'thickness', label: 'Thickness as sold', hint: '140 mm, 3 1/2 in', first: true, sheet: true },
  { name: 'conductivity', label: 'λ, k or R', hint: '0.038, R13, R3.7/in, 2.2 m²K/W', first: true },
  { name: 'density', label: 'Density', hint: '60, 3.7 pcf', first: true },
  { name: 'vapour', label: 'μ, sd, perms', hint: 'μ 50/20, 2 m, 1 perm, 15 MNs/g', first: true, sheet: true },
  { name: 'water_80', label: 'Water at 80 % RH', hint: '12, 2 %', first: false },
  { name: 'free_water', label: 'Free saturation', hint: '230, 30 vol-%', first: false },
  { name: 'uptake', label: 'Water uptake', hint: '2.4, 0.04 kg/m²√s, none', first: false },
  { name: 'specific_heat', label: 'Specific heat', hint: '1000, 0.24 Btu/lbF', first: false },
  { name: 'emissivity', label: 'Emissivity of its face', hint: '0.05', first: false, sheet: true },
]
export const isSheet = (family: string): boolean => family === 'sheet' || family === 'finish'

/** family: none until somebody says what it is made of. */
export const emptySheet = (family = '' as DataSheet['family']): DataSheet => ({
  name: '',
  family,
  thickness: '',
  conductivity: '',
  density: '',
  specific_heat: '',
  vapour: '',
  water_80: '',
  free_water: '',
  uptake: '',
  emissivity: '',
  nearest: '',
  source: '',
  dated: null,
  weather: null,
  note: '',
})

/** “λ 0.034 → 0.036, μ 1.1 → 1.3”: what differs between two editions. */
export function differences(before: Schemas['MaterialOut'], after: Schemas['MaterialOut']): string {
  const names: [keyof Schemas['MaterialOut'], string][] = [
    ['name', 'name'],
    ['conductivity_w_mk', 'λ'],
    ['density_kg_m3', 'density'],
    ['mu', 'μ'],
    ['sd_m', 'sd'],
    ['w80_kg_m3', 'w80'],
    ['free_saturation_kg_m3', 'free saturation'],
    ['a_value_kg_m2s05', 'A'],
  ]
  const word = (value: unknown): string =>
    typeof value === 'number'
      ? String(Number(value.toPrecision(4)))
      : value === null || value === undefined
        ? 'none'
        : String(value)
  return names
    .filter(([key]) => word(before[key]) !== word(after[key]))
    .map(([key, label]) => `${label} ${word(before[key])} → ${word(after[key])}`)
    .join(', ')
}
