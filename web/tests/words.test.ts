import { beforeEach, describe, expect, it } from 'vitest'
import { inRows } from '@/drawing/scale'
import { dayOf, waitWords } from '@/features/options/said'
import { panned, zoomed } from '@/features/year/useSpan'
import { sharedPlane, type Year } from '@/features/year/lines'
import { adjoiningWords, facesWords, rainWords } from '@/features/survey/elements'
import { readyForPaper } from '@/shared/printing'
import type { Element } from '@/shared/project'

describe('labels above lines', () => {
  it('stand in one row where there is room and in two where not', () => {
    expect(
      inRows([
        { text: 'datum', x: 400 },
        { text: 'room', x: 40 },
      ]).map((l) => l.row),
    ).toEqual([0, 0])
    const close = inRows([
      { text: 'a room limit', x: 100 },
      { text: 'an outside limit', x: 110 },
      { text: 'the datum', x: 120 },
    ])
    expect(close.map((l) => l.row)).toEqual([0, 1, 0])
  })
})

describe('words of a strip', () => {
  it('name the day of the works', () => expect(dayOf('05-01')).toBe('1 May'))
  it('say how many runs come first and for how long', () => {
    const run = { before: 0, wait_s: null } as Parameters<typeof waitWords>[0]
    expect(waitWords(run)).toBe('waiting, next')
    expect(waitWords({ ...run, before: 3, wait_s: 41 })).toBe('waiting, 3 before it, about 50 s')
    expect(waitWords({ ...run, before: 30, wait_s: 400 })).toBe('waiting, 30 before it, about 7 min')
    expect(waitWords({ ...run, before: 2 })).toBe('waiting, 2 before it')
  })
})

describe('the span of the years', () => {
  it('keeps the hour pointed at where it is, within what there is', () => {
    const closer = zoomed([0, 8760], 2190, 0.5, 8760)
    expect(closer[1] - closer[0]).toBe(4380)
    expect((2190 - closer[0]) / 4380).toBeCloseTo(0.25, 3)
    expect(zoomed([100, 148], 120, 0.1, 8760)).toEqual([100, 148])
    expect(zoomed([4000, 8000], 4000, 10, 8760)).toEqual([0, 8760])
  })
  it('is moved no further than the ends', () => {
    expect(panned([0, 100], -0.5, 1000)).toEqual([0, 100])
    expect(panned([850, 950], 5, 1000)).toEqual([900, 1000])
  })
  it('finds the plane of another build-up by name, else the nearest inside', () => {
    const year = (planes: Record<string, number>): Year => ({ planes }) as Year
    const found = year({ 'outer face of stone': 0, 'stone / plaster': 500, 'room face of plaster': 520 })
    const lined = year({ 'outer face of stone': 0, 'stone / fibre': 490, 'fibre / board': 570 })
    expect(sharedPlane([found, lined], found, 'stone / fibre')).toBe('stone / plaster')
    expect(sharedPlane([found, lined], lined, 'stone / fibre')).toBe('stone / fibre')
  })
})

describe('words of an element', () => {
  const wall = {
    kind: 'wall',
    adjoining: 'outside',
    facing_deg: 200,
    exposure: 'exposed',
    rain_surveyed: false,
  } as Element
  it('say where it faces, what it adjoins and its rain', () => {
    expect(facesWords(wall)).toBe('S')
    expect(facesWords({ ...wall, kind: 'roof', slope_deg: 40 })).toBe('S, 40°')
    expect(rainWords(wall)).toBe('exposed')
    expect(rainWords({ ...wall, kind: 'floor' })).toBe('–')
    expect(adjoiningWords(wall)).toBe('outside')
    expect(adjoiningWords({ ...wall, adjoining: 'unheated', factor_b: 0.6, typed: ['factor_b'] })).toBe(
      'unheated, b 0.6 typed',
    )
  })
})

describe('a page for paper', () => {
  beforeEach(() => (document.body.innerHTML = '<main></main>'))
  it('is as much smaller as the sheet is wider than A4', () => {
    Object.defineProperty(document.querySelector('main'), 'clientWidth', { value: 1380 })
    readyForPaper()
    expect(document.documentElement.style.getPropertyValue('--sheet-zoom')).toBe('0.5')
    expect(document.documentElement.style.getPropertyValue('--sheet-wide')).toBe('1380px')
  })
})
