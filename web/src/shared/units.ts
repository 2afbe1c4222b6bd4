/** The one place with unit factors. Values are metric everywhere else; here they become what is shown. */
import { useStorage } from '@vueuse/core'
import { computed } from 'vue'
import type { Schemas } from '@/api/client'

export type System = 'metric' | 'imperial'
export type Quantity =
  | 'thickness'
  | 'length'
  | 'flow'
  | 'airFlowArea'
  | 'leakArea'
  | 'pressure'
  | 'transmittance'
  | 'conductivity'
  | 'resistance'
  | 'area'
  | 'volume'
  | 'coefficient'
  | 'power'
  | 'energy'
  | 'energyPerArea'
  | 'temperature'
  | 'kelvin'
  | 'mass'
  | 'powerPerArea'
  | 'water'
  | 'smallWater'
  | 'moistureContent'
  | 'rain'
  | 'speed'
  | 'degreeHours'
  | 'sd'
  | 'airHeat'
  | 'uptake'
  | 'perArea'
  | 'perVolume'
  | 'perMass'
  | 'lossPerArea'
  | 'plain'

interface Unit {
  unit: string
  digits: number
  to: (metric: number) => number
  from: (shown: number) => number
}

const times = (unit: string, digits: number, factor: number): Unit => ({
  unit,
  digits,
  to: (x) => x * factor,
  from: (x) => x / factor,
})
const R = 5.678263
const inverse: Unit = { unit: 'R', digits: 1, to: (u) => R / u, from: (r) => R / r }

const METRIC: Record<Quantity, Unit> = {
  thickness: times('mm', 0, 1),
  length: times('m', 2, 1),
  flow: times('m³/h', 0, 1),
  airFlowArea: times('m³/(h m²)', 1, 1),
  leakArea: times('cm²', 0, 1),
  pressure: times('Pa', 1, 1),
  transmittance: times('W/m²K', 2, 1),
  conductivity: times('W/mK', 3, 1),
  resistance: times('m²K/W', 2, 1),
  area: times('m²', 1, 1),
  volume: times('m³', 0, 1),
  coefficient: times('W/K', 0, 1),
  power: times('kW', 1, 0.001),
  energy: times('kWh/a', 0, 1),
  energyPerArea: times('kWh/m²a', 0, 1),
  temperature: times('°C', 1, 1),
  kelvin: times('K', 1, 1),
  mass: times('kg', 0, 1),
  powerPerArea: times('W/m²', 0, 1),
  water: times('kg/m²', 1, 1),
  smallWater: times('g/m²', 0, 1),
  moistureContent: times('kg/m³', 0, 1),
  rain: times('mm', 0, 1),
  speed: times('m/s', 0, 1),
  degreeHours: times('kKh', 1, 1),
  sd: times('m', 2, 1),
  airHeat: times('Wh/(m³K)', 4, 1),
  uptake: times('kg/(m²√h)', 1, 60),
  perArea: times('a m²', 2, 1),
  perVolume: times('a m³', 2, 1),
  perMass: times('a kg', 2, 1),
  lossPerArea: times('W/(m² K)', 2, 1),
  plain: times('', 1, 1),
}
const IMPERIAL: Record<Quantity, Unit> = {
  thickness: times('in', 2, 1 / 25.4),
  length: times('ft', 2, 1 / 0.3048),
  flow: times('cfm', 0, 0.588578),
  airFlowArea: times('cfm/ft²', 2, 0.0546807),
  leakArea: times('in²', 0, 0.1550003),
  pressure: times('Pa', 1, 1),
  transmittance: inverse,
  conductivity: { unit: 'R/in', digits: 2, to: (k) => 0.144228 / k, from: (r) => 0.144228 / r },
  resistance: times('R', 1, R),
  area: times('ft²', 0, 10.76391),
  volume: times('ft³', 0, 35.31467),
  coefficient: times('Btu/h°F', 0, 1.895634),
  power: times('kBtu/h', 1, 0.00341214),
  energy: times('kBtu/a', 0, 3.412142),
  energyPerArea: times('kBtu/ft²a', 1, 0.316998),
  temperature: { unit: '°F', digits: 0, to: (c) => c * 1.8 + 32, from: (f) => (f - 32) / 1.8 },
  kelvin: times('°F', 1, 1.8),
  mass: times('lb', 0, 2.204623),
  powerPerArea: times('Btu/h ft²', 1, 0.316998),
  water: times('lb/ft²', 2, 0.204816),
  smallWater: times('oz/ft²', 2, 0.00327706),
  moistureContent: times('lb/ft³', 1, 0.062428),
  rain: times('in', 1, 1 / 25.4),
  speed: times('mph', 0, 2.236936),
  degreeHours: times('k°Fh', 1, 1.8),
  sd: times('ft', 1, 3.28084),
  airHeat: times('Btu/(ft³°F)', 4, 0.0536782),
  uptake: times('kg/(m²√h)', 1, 60),
  perArea: times('a ft²', 2, 1 / 10.76391),
  perVolume: times('a ft³', 2, 1 / 35.31467),
  perMass: times('a lb', 2, 1 / 2.204623),
  lossPerArea: times('Btu/(h ft² °F)', 3, 0.17611),
  plain: times('', 1, 1),
}

export const system = useStorage<System>('wendrick-units', 'metric')
export const isImperial = computed(() => system.value === 'imperial')
export function switchUnits(): void {
  system.value = isImperial.value ? 'metric' : 'imperial'
}

export function unitOf(quantity: Quantity): Unit {
  return (isImperial.value ? IMPERIAL : METRIC)[quantity]
}

/** “412 mm”, “R 12.6”, “–” for nothing. */
export function show(value: number | null | undefined, quantity: Quantity, digits?: number): string {
  if (value === null || value === undefined || !Number.isFinite(value)) return '–'
  const unit = unitOf(quantity)
  const text = number(unit.to(value), digits ?? unit.digits)
  if (unit.unit === 'R') return `R ${text}`
  return unit.unit ? `${text} ${unit.unit}` : text
}

/** The bare figure in the shown unit, for a table whose heading names the unit. */
export function bare(value: number | null | undefined, quantity: Quantity, digits?: number): string {
  if (value === null || value === undefined || !Number.isFinite(value)) return '–'
  const unit = unitOf(quantity)
  return number(unit.to(value), digits ?? unit.digits)
}

function number(value: number, digits: number): string {
  const rounded = value.toFixed(digits)
  return (Number(rounded) === 0 ? (0).toFixed(digits) : rounded).replace('-', '−')
}

/** What is typed into a form, with or without a unit, as a metric number; null when it is none. */
export function read(text: string, quantity: Quantity): number | null {
  const match = /^\s*([−-]?\d+(?:[.,]\d+)?)\s*(\D*)\s*$/.exec(text)
  if (!match) return null
  const value = Number(match[1]!.replace(',', '.').replace('−', '-'))
  const said = match[2]!.trim()
  const own = unitOf(quantity)
  if (!said || said === own.unit) return own.from(value)
  for (const unit of [METRIC[quantity], IMPERIAL[quantity]]) if (said === unit.unit) return unit.from(value)
  return null
}

/** What the core says, in the units that are shown: it is worded there in both. */
export function said(words: Schemas['Said'] | null | undefined): string {
  if (!words) return ''
  return isImperial.value ? words.inch : words.metric
}
/** A sentence of the core where it stands by itself. */
export const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1)
/** U is a resistance in the other system: its heading says so. */
export const uName = computed(() => (isImperial.value ? 'R effective' : 'U effective'))

/** How much less, or more, something is than before, in whole percent. */
export function byShare(before: number, after: number): string {
  const share = Math.round((1 - after / before) * 100)
  return share > 0 ? `${share} % less` : share < 0 ? `${-share} % more` : 'no change'
}

/** Heat capacity of air on every sheet [Wh/(m³ K)], as the core has it. */
export const AIR_WH_M3K = 0.3353
