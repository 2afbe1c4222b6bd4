import { describe, expect, it } from 'vitest'
import { inTurn } from '@/shared/query'
import { freshId, split, type Room } from '@/features/rooms/useRooms'

const room = (over: Partial<Room> = {}): Room => ({
  id: 'room-1',
  name: 'Upper floor',
  use: 'bedroom',
  floor_m2: 40,
  height_m: 2.5,
  set_c: null,
  people: 2,
  stands: 'both',
  faces: [
    { key: 'main/a', area_m2: 20 },
    { key: 'opening/w', area_m2: 0.01 },
  ],
  leaks: ['own:hatch'],
  ...over,
})

describe('a room is split', () => {
  it('floor and faces are shared and add up; people and leaks stay with the first', () => {
    const [first, second] = split(room(), 0.25, 'room-2')
    expect(first.floor_m2 + second.floor_m2).toBeCloseTo(40)
    expect([first.faces![0]!.area_m2, second.faces![0]!.area_m2]).toEqual([15, 5])
    expect([first.people, second.people]).toEqual([2, 0])
    expect([first.leaks, second.leaks]).toEqual([['own:hatch'], []])
    expect([first.id, second.id, second.name]).toEqual(['room-1', 'room-2', 'Upper floor, part'])
  })
  it('a face of which nothing is left is left out', () => {
    expect(split(room(), 0.25, 'x')[1].faces!.map((face) => face.key)).toEqual(['main/a'])
  })
  it('the room that is split stays as it was', () => {
    const before = room()
    split(before, 0.5, 'x')
    expect(before).toEqual(room())
  })
})

describe('ids', () => {
  it('are of no other room', () => {
    expect(freshId([])).toBe('room-1')
    expect(freshId([room(), room({ id: 'room-3' })])).toBe('room-4')
  })
})

describe('writes in turn', () => {
  it('each begins when the one before has ended, also where that was refused', async () => {
    const turn = inTurn()
    const said: string[] = []
    const slow = turn(async () => {
      await new Promise((done) => setTimeout(done, 20))
      said.push('first')
      throw new Error('refused')
    })
    const next = turn(async () => void said.push('second'))
    await expect(slow).rejects.toThrow('refused')
    await next
    expect(said).toEqual(['first', 'second'])
  })
})
