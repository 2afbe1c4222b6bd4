/** Rooms as they are kept, and one of them written back with the air of it. */
import { computed, type Ref } from 'vue'
import { api, takeAs, type Schemas } from '@/api/client'
import { copy } from '@/shared/copy'
import { inTurn, useAct, useAnswer } from '@/shared/query'

export type Room = Schemas['RoomStated']
export type RoomAir = Schemas['RoomAir']
export type RoomsOut = Schemas['RoomsOut']
export type Load = Schemas['RoomLoad']
type Stated = Schemas['RoomsStated']

export const USES: readonly (readonly [NonNullable<Room['use']>, string])[] = [
  ['living', 'living room'],
  ['bedroom', 'bedroom'],
  ['kitchen', 'kitchen'],
  ['bath', 'bath'],
  ['toilet', 'toilet'],
  ['hall', 'hall, stair'],
  ['store', 'store'],
  ['work', 'work room'],
  ['other', 'other'],
]

/** An id that no room has. */
export function freshId(rooms: readonly Room[], from = 'room'): string {
  let number = rooms.length + 1
  while (rooms.some((one) => one.id === `${from}-${number}`)) number += 1
  return `${from}-${number}`
}

/** A room in two: the share goes to a new one, face by face; people and air stay with the first. */
export function split(room: Room, share: number, id: string): [Room, Room] {
  const part = (of: number, room_: Room): Room => ({
    ...copy(room_),
    floor_m2: Math.max(Math.round(room_.floor_m2 * of * 10) / 10, 0.1),
    faces: (room_.faces ?? [])
      .map((face) => ({ key: face.key, area_m2: Math.round(face.area_m2 * of * 100) / 100 }))
      .filter((face) => face.area_m2 > 0),
  })
  return [
    part(1 - share, room),
    { ...part(share, room), id, name: `${room.name}, part`.slice(0, 80), people: 0, leaks: [] },
  ]
}

export function useRooms(projectId: Readonly<Ref<number>>) {
  const path = computed(() => ({ params: { path: { project_id: projectId.value } } }))
  const answer = useAnswer(
    () => ['rooms', projectId.value],
    () => takeAs<RoomsOut>(api.GET('/api/projects/{project_id}/rooms', path.value)),
    { fresh: true },
  )
  const { complaint, busy, act } = useAct()
  const turn = inTurn()
  /** Change what is kept; refused where somebody changed it meanwhile. */
  const write = (change: (stated: Stated) => void): Promise<boolean> =>
    turn(() =>
      act(async () => {
        const began = answer.data.value!.stated
        const stated = copy(began) as Stated
        change(stated)
        answer.put(
          await takeAs<RoomsOut>(
            api.PUT('/api/projects/{project_id}/rooms', { ...path.value, body: { stated, began } }),
          ),
        )
      }),
    )
  const propose = (): Promise<boolean> =>
    act(async () => {
      const found = await takeAs<Schemas['Rooms']>(api.GET('/api/projects/{project_id}/rooms/proposal', path.value))
      await write((stated) => (stated.rooms.rooms = found.rooms))
    })
  return {
    rooms: answer.data,
    complaint: computed(() => complaint.value || answer.complaint.value),
    busy,
    write,
    propose,
  }
}
export type RoomHands = ReturnType<typeof useRooms>
