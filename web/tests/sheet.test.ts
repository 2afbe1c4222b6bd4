/** The edit queue of the options sheet: typing, drafts, commits, undo, refusals, conflicts. */
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { flushPromises } from '@vue/test-utils'
import { useSheet } from '@/features/options/useSheet'
import { Refusal, server, type Asked } from './server'

interface Kept {
  id: number
  role: string
  revision: number
  layers: Record<string, unknown>[]
  leaks?: object
}
const stone = (mm: number): Record<string, unknown> => ({
  id: 'a',
  material: 'stone',
  thickness_mm: mm,
  existing: true,
})
const board = (mm: number): Record<string, unknown> => ({ id: 'b', material: 'board', thickness_mm: mm })
const LEAKS = {
  air_leak: { preset: 'by rule', q50_m3_m2h: null, after_layer: null },
  rain_leak: { share: null, after_layer: null },
}
let kept: Kept[]

function figures(layers: unknown): Record<string, unknown> {
  return { build_up: { layers, ...LEAKS }, case_hash: JSON.stringify(layers), transient_refused: '' }
}
function out(option: Kept): Record<string, unknown> {
  return {
    ...option,
    name: option.role,
    school: '',
    build_up: { layers: option.layers, ...LEAKS, ...option.leaks },
    draft: null,
    figures: figures(option.layers),
    run: { state: 'not run', verdict: null },
    tests: {},
  }
}
function commit(asked: Asked): unknown {
  const option = kept.find((one) => asked.path.endsWith(`/${one.id}`))!
  const body = asked.body as { revision: number; build_up: { layers: Record<string, unknown>[] } }
  const { layers, ...leaks } = body.build_up
  if (body.revision !== option.revision) return new Refusal(409, 'changed_meanwhile', 'Changed in another window.')
  // as the server writes it: the same layers, their keys in another order
  option.leaks = leaks
  option.layers = layers.map((layer) => Object.fromEntries(Object.entries(layer).reverse()))
  option.revision += 1
  return out(option)
}
const commits = (): Asked[] => server.of(/^PUT \/api\/options\/\d+$/)
const thickness = (sheet: ReturnType<typeof useSheet>, strip = 1): unknown =>
  sheet.works.value[strip]!.layers.find((layer) => layer.id === 'b')?.thickness_mm

async function opened(): Promise<ReturnType<typeof useSheet>> {
  const sheet = useSheet()
  await sheet.load(7)
  sheet.at.strip = 1
  sheet.at.layer = 'b'
  return sheet
}

beforeEach(() => {
  kept = [
    { id: 1, role: 'as_found', revision: 1, layers: [stone(400)] },
    { id: 2, role: 'option', revision: 1, layers: [stone(400), board(80)] },
  ]
  server.on(/^GET .*\/sheet$/, () => ({ element: { id: 7 }, options: kept.map(out) }))
  server.on(/^GET \/api\/options\/\d+$/, (asked) => out(kept.find((one) => asked.path.endsWith(`/${one.id}`))!))
  server.on(/^PUT \/api\/options\/\d+\/draft$/, () => null)
  server.on(/^PUT \/api\/options\/\d+$/, commit)
  server.on(/^POST .*\/preview$/, (asked) => {
    const { build_up, typing } = asked.body as {
      build_up: { layers: { id: string }[] }
      typing?: { layer_id: string; text: string }
    }
    if (!typing) return figures(build_up.layers)
    if (!/^\d+$/.test(typing.text)) return new Refusal(422, 'out_of_range', `“${typing.text}” is not a thickness`)
    return figures(
      build_up.layers.map((one) => (one.id === typing.layer_id ? { ...one, thickness_mm: Number(typing.text) } : one)),
    )
  })
})

describe('options sheet', () => {
  it('figures follow every key; Enter commits once', async () => {
    const sheet = await opened()
    await sheet.type('1')
    await sheet.type('12')
    expect(thickness(sheet)).toBe(12)
    expect(commits()).toHaveLength(0)
    await Promise.all([sheet.commitTyped(), sheet.commitTyped()])
    expect(commits()).toHaveLength(1)
    expect(kept[1]!.layers[1]!.thickness_mm).toBe(12)
  })
  it('a stale answer is dropped', async () => {
    const sheet = await opened()
    let release = (): void => undefined
    const held = new Promise<void>((resolve) => (release = resolve))
    server.on(/^POST .*\/preview$/, async (asked) => {
      const { typing } = asked.body as { typing: { text: string } }
      if (typing.text === '1') await held
      return figures([stone(400), board(Number(typing.text))])
    })
    const slow = sheet.type('1')
    await sheet.type('15')
    release()
    await slow
    expect(thickness(sheet)).toBe(15)
  })
  it('keeps a draft a second after the last key', async () => {
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] })
    const sheet = await opened()
    await sheet.type('90')
    await vi.advanceTimersByTimeAsync(400)
    await sheet.type('95')
    await vi.advanceTimersByTimeAsync(900)
    expect(server.of(/draft$/)).toHaveLength(0)
    await vi.advanceTimersByTimeAsync(200)
    expect(server.of(/draft$/)).toHaveLength(1)
  })
  it('Escape takes back what is typed', async () => {
    const sheet = await opened()
    await sheet.type('120')
    await sheet.dropTyped()
    expect(thickness(sheet)).toBe(80)
    expect(kept[1]!.layers[1]!.thickness_mm).toBe(80)
  })
  it('what is not understood is told, taken to no commit', async () => {
    const sheet = await opened()
    await sheet.type('8x', true)
    expect(await sheet.commitTyped()).toBe(false)
    expect(sheet.works.value[1]!.complaint).toContain('not a thickness')
    expect(commits()).toHaveLength(0)
  })
  it('a committed edit is no draft, whatever the order of keys the server writes', async () => {
    const sheet = await opened()
    await sheet.change({ thickness_mm: 100 })
    expect(sheet.isDraft(sheet.works.value[1]!)).toBe(false)
  })
  it('undo and redo, edit by edit, over both strips', async () => {
    const sheet = await opened()
    await sheet.change({ thickness_mm: 100 })
    await sheet.change({ thickness_mm: 120 })
    sheet.at.strip = 0
    sheet.at.layer = 'a'
    await sheet.change({ thickness_mm: 450 })
    await sheet.undo()
    expect(sheet.works.value[0]!.layers[0]!.thickness_mm).toBe(400)
    await sheet.undo()
    expect([sheet.at.strip, thickness(sheet)]).toEqual([1, 100])
    await sheet.undo()
    await sheet.undo()
    expect(thickness(sheet)).toBe(80)
    await sheet.redo()
    await sheet.redo()
    expect(thickness(sheet)).toBe(120)
    expect(kept[1]!.layers.find((layer) => layer.id === 'b')!.thickness_mm).toBe(120)
  })
  it('an option that was made or removed is undone too, and edits of it follow its new number', async () => {
    const sheet = await opened()
    let next = 3
    server.on(/^DELETE \/api\/options\/\d+$/, (asked) => {
      kept = kept.filter((one) => !asked.path.endsWith(`/${one.id}`))
      return null
    })
    server.on(/^POST .*\/options$/, (asked) => {
      const { build_up } = asked.body as { build_up: { layers: Record<string, unknown>[] } }
      kept.push({ id: next++, role: 'option', revision: 1, layers: build_up.layers })
      return out(kept.at(-1)!)
    })
    await sheet.change({ thickness_mm: 100 })
    await sheet.removeOption()
    expect([kept.length, sheet.removed.value]).toEqual([1, 'option'])
    sheet.at.strip = 0
    sheet.at.layer = 'a'
    await sheet.change({ thickness_mm: 450 })
    await sheet.bringBack()
    expect([kept.length, thickness(sheet), sheet.removed.value]).toEqual([2, 100, null])
    await sheet.undo()
    await sheet.undo()
    expect([kept[0]!.layers[0]!.thickness_mm, kept.at(-1)!.id, thickness(sheet)]).toEqual([400, 3, 80])
    await sheet.duplicate()
    expect(kept).toHaveLength(3)
    await sheet.undo()
    expect(kept.map((one) => one.id)).toEqual([1, 3])
    await sheet.redo()
    expect(kept.map((one) => one.id)).toEqual([1, 3, 5])
  })
  it('an undo that is refused leaves drawing and stack as they were', async () => {
    const sheet = await opened()
    await sheet.change({ thickness_mm: 100 })
    server.on(/^PUT \/api\/options\/\d+$/, () => new Refusal(503, 'busy', 'Busy.'))
    await sheet.undo()
    expect(thickness(sheet)).toBe(100)
    server.on(/^PUT \/api\/options\/\d+$/, commit)
    await sheet.undo()
    expect(thickness(sheet)).toBe(80)
  })
  it('a change in another window is a conflict: what was typed stays until one chooses', async () => {
    const sheet = await opened()
    kept[1]!.revision = 5
    kept[1]!.layers = [stone(400), board(60)]
    await sheet.change({ thickness_mm: 100 })
    const work = sheet.works.value[1]!
    expect([work.conflict, thickness(sheet)]).toEqual([true, 100])
    await sheet.takeTheirs()
    expect(thickness(sheet)).toBe(60)
  })
  it('edits made fast are sent one after the other, each from the revision before', async () => {
    const sheet = await opened()
    await Promise.all([100, 110, 120].map((mm) => sheet.change({ thickness_mm: mm })))
    expect(commits().map((one) => (one.body as { revision: number }).revision)).toEqual([1, 2, 3])
    expect(kept[1]!.layers.find((layer) => layer.id === 'b')!.thickness_mm).toBe(120)
  })
  it('layers are inserted inside, moved, removed, and the last one stays', async () => {
    const sheet = await opened()
    await sheet.insert({ id: 'plaster', kind: 'solid', usual_thickness_mm: 15 } as never)
    const materials = (): unknown[] => sheet.works.value[1]!.layers.map((layer) => layer.material)
    expect(materials()).toEqual(['stone', 'board', 'plaster'])
    await sheet.move(-1)
    expect(materials()).toEqual(['stone', 'plaster', 'board'])
    await sheet.remove()
    expect(materials()).toEqual(['stone', 'board'])
    await sheet.remove()
    await sheet.remove()
    expect(sheet.works.value[1]!.layers).toHaveLength(1)
    expect(sheet.works.value[1]!.complaint).toContain('last layer')
  })
  it('what is pressed while an inserted layer is being kept counts', async () => {
    const sheet = await opened()
    const kept = sheet.insert({ id: 'plaster', kind: 'solid', usual_thickness_mm: 15 } as never)
    expect(sheet.selected.value?.material).toBe('plaster')
    sheet.at.layer = null // Escape
    await kept
    expect(sheet.at.layer).toBeNull()
  })
  it('a leak to a layer that is removed goes where the rule says', async () => {
    const sheet = await opened()
    await sheet.leak({ rain_leak: { share: 0.01, after_layer: 'b' } })
    await sheet.remove()
    const body = commits().at(-1)!.body as { build_up: { rain_leak: unknown } }
    expect(body.build_up.rain_leak).toEqual({ share: 0.01, after_layer: null })
  })
  it('a step is coarse for thick layers and fine for thin ones', async () => {
    const sheet = await opened()
    await sheet.step(1)
    expect(thickness(sheet)).toBe(90)
    await sheet.change({ thickness_mm: 12 })
    await sheet.step(-1)
    expect(thickness(sheet)).toBe(11)
    await flushPromises()
  })
})
