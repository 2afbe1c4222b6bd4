import { describe, expect, it } from 'vitest'
import { bare, read, said, show, switchUnits, system, unitOf, type Quantity } from '@/shared/units'

const QUANTITIES: Quantity[] = [
  'thickness', 'length', 'flow', 'airFlowArea', 'leakArea', 'pressure', 'transmittance', 'conductivity', 'resistance',
  'area', 'volume', 'coefficient', 'power', 'energy', 'energyPerArea', 'temperature', 'water', 'smallWater',
  'moistureContent', 'rain', 'speed', 'degreeHours', 'sd', 'airHeat', 'uptake', 'plain',
] // prettier-ignore
const inch = (): void => void (system.value = 'imperial')
const metric = (): void => void (system.value = 'metric')

describe('units', () => {
  it('what is typed comes back as what was shown, in both systems', () => {
    for (const use of [metric, inch]) {
      use()
      for (const quantity of QUANTITIES)
        for (const value of [0.35, 12.5, 480])
          expect(unitOf(quantity).from(unitOf(quantity).to(value))).toBeCloseTo(value, 9)
    }
  })
  it('figures of a known wall', () => {
    metric()
    expect(show(412.4, 'thickness')).toBe('412 mm')
    expect(show(0.354, 'transmittance')).toBe('0.35 W/m²K')
    expect(show(-3.25, 'temperature')).toBe('−3.3 °C')
    inch()
    expect(show(25.4, 'thickness')).toBe('1.00 in')
    expect(show(0.28391315, 'transmittance')).toBe('R 20.0')
    expect(show(20, 'temperature')).toBe('68 °F')
    expect(show(2.3113, 'resistance')).toBe('R 13.1')
  })
  it('nothing is a dash, and zero has no sign', () => {
    metric()
    for (const nothing of [null, undefined, NaN, Infinity]) expect(show(nothing, 'area')).toBe('–')
    expect(bare(-0.0001, 'area')).toBe('0.0')
  })
  it('reads a bare number in the shown unit and a named one in its own', () => {
    metric()
    expect(read('80', 'thickness')).toBe(80)
    expect(read('0,5', 'length')).toBe(0.5)
    expect(read('3 in', 'thickness')).toBeCloseTo(76.2)
    expect(read('−4', 'temperature')).toBe(-4)
    inch()
    expect(read('3', 'thickness')).toBeCloseTo(76.2)
    expect(read('80 mm', 'thickness')).toBe(80)
    expect(read('68', 'temperature')).toBeCloseTo(20)
  })
  it('refuses what is no number, or of another kind', () => {
    metric()
    for (const text of ['', 'abc', '3 kg', '1e5', '--3', '3 4']) expect(read(text, 'thickness')).toBeNull()
  })
  it('shows the sentence of the core in the system that is chosen', () => {
    metric()
    expect(said({ metric: '20 mm', inch: '0.79 in' })).toBe('20 mm')
    switchUnits()
    expect(said({ metric: '20 mm', inch: '0.79 in' })).toBe('0.79 in')
    expect(said(null)).toBe('')
  })
})
