/** Blower-door tests: from a gauge, a file, pasted lines or by hand, each kept as it is typed. */
import { computed, ref, toRaw, watch, type Ref } from 'vue'
import { api, take, type Schemas } from '@/api/client'
import { copy } from '@/shared/copy'
import { today } from '@/shared/dates'
import { useProject } from '@/shared/project'
import { unitOf } from '@/shared/units'
import { useMeasurements, type MeasurementBody } from './useMeasurements'

/** Conditions of a test that says none. */
export const BLANK = {
  inside_c: 20,
  outside_c: 10,
  barometer_pa: 101325,
  zero_before_pa: 0,
  zero_after_pa: 0,
  wind_m_s: null,
  height_m: null,
}

export function useBlower(id: Readonly<Ref<number>>) {
  const project = useProject()
  const { page, complaint, act, keep, remove, of } = useMeasurements(id)
  const tests = of('blower_door')
  const picked = ref<string | null>(null)
  const edited = ref<MeasurementBody | null>(null)
  const pasting = ref('')
  const unit = ref<'m3/h' | 'l/s' | 'cfm'>('m3/h')
  const row = ref({ direction: 'pressurise' as 'pressurise' | 'depressurise', pressure: '', flow: '' })
  const test = computed(() => tests.value.find((t) => t.uid === picked.value) ?? null)
  watch(tests, (all) => {
    if (!all.some((t) => t.uid === picked.value)) picked.value = all.at(-1)?.uid ?? null
  })
  /** Saves under way or waiting: one after the other, so that quick hands do not meet their own change as another's. */
  let pending = 0
  let queue: Promise<unknown> = Promise.resolve()
  watch(
    test,
    (t, before) => {
      if (pending && t?.uid === before?.uid) return // what was typed meanwhile is sent next
      if (!t?.blower_door) edited.value = null
      else
        edited.value = copy({
          kind: 'blower_door',
          stage: t.stage,
          element_id: null,
          measured_on: t.measured_on,
          place: t.place,
          instrument: t.instrument,
          note: t.note,
          blower_door: toRaw(t.blower_door),
          leaks: toRaw(t.leaks),
          base_revision: t.revision,
        } as unknown as MeasurementBody)
    },
    { immediate: true },
  )
  function save(): Promise<unknown> {
    pending++
    queue = queue.then(async () => {
      const now = edited.value && test.value && { ...copy(edited.value), base_revision: test.value.revision }
      if (now) await keep(picked.value, now as MeasurementBody, 'Blower-door test')
      pending--
    })
    return queue
  }
  async function make(blower: Schemas['BlowerDoorTest'], instrument: string): Promise<void> {
    const uid = await keep(
      null,
      {
        kind: 'blower_door',
        stage: tests.value.length ? 'during the works' : 'as found',
        measured_on: today(),
        place: '',
        instrument,
        note: '',
        blower_door: blower,
        leaks: [],
        element_id: null,
        base_revision: null,
      } as MeasurementBody,
      'Blower-door test',
    )
    if (uid) picked.value = uid
  }
  const gauge = (): Promise<boolean> =>
    act(async () => {
      const read = await take(
        api.GET('/api/projects/{project_id}/gauge', { params: { path: { project_id: id.value } } }),
      )
      await make(read.test, read.name)
    })
  const paste = (): Promise<boolean> =>
    act(async () => {
      const points = await take(
        api.POST('/api/measure/flow-points', { body: { text: pasting.value, flow_unit: unit.value } }),
      )
      await points_in(points)
      pasting.value = ''
    })
  async function points_in(points: Schemas['FlowPoint'][]): Promise<void> {
    if (edited.value?.blower_door && !edited.value.blower_door.points.length) {
      edited.value.blower_door.points = points
      await save()
    } else await make({ ...BLANK, points }, '')
  }
  const file = (chosen: File): Promise<boolean> =>
    act(async () => {
      if (chosen.size > 100_000)
        throw new Error('The file is larger than 100 kB; a blower-door test is a few lines of pressure and flow.')
      pasting.value = await chosen.text()
      await paste()
    })
  const addRow = (): Promise<boolean> =>
    act(async () => {
      const pressure = Number(row.value.pressure.replace(',', '.'))
      const flow = unitOf('flow').from(Number(row.value.flow.replace(',', '.')))
      if (!(pressure > 0) || !(flow > 0))
        throw new Error('A reading needs a pressure in Pa and a flow, both above zero.')
      if (!edited.value?.blower_door) return
      edited.value.blower_door.points.push({ direction: row.value.direction, pressure_pa: pressure, flow_m3_h: flow })
      row.value = { direction: row.value.direction, pressure: '', flow: '' }
      await save()
    })
  async function takeN50(): Promise<void> {
    const uid = picked.value
    if (!uid) return
    await act(async () => {
      await take(
        api.POST('/api/projects/{project_id}/measurements/{uid}/take-n50', {
          params: { path: { project_id: id.value, uid } },
        }),
      )
      await project.open(id.value)
    })
  }
  function removeRow(at: number): void {
    edited.value?.blower_door?.points.splice(at, 1)
    save()
  }
  return {
    page,
    complaint,
    tests,
    picked,
    edited,
    pasting,
    unit,
    row,
    test,
    save,
    make,
    gauge,
    paste,
    file,
    addRow,
    removeRow,
    takeN50,
    remove,
  }
}
