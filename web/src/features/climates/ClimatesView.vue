<script setup lang="ts">
/** Climates and indoor air: what ships, what was imported, and the mapper for any delimited hourly file. */
import { computed, reactive, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { api, sentence, take, takeAs, type Schemas } from '@/api/client'
import SheetPage from '@/shared/SheetPage.vue'
import { day } from '@/shared/dates'
import { useProject } from '@/shared/project'
import { show } from '@/shared/units'
import FileButton from '@/shared/FileButton.vue'
import SelectField from '@/shared/SelectField.vue'
import RuledTable from '@/shared/RuledTable.vue'
import type { Column } from '@/shared/table'
import TextField from '@/shared/TextField.vue'
import { useForm } from '@/shared/form'
import { useAnswer } from '@/shared/query'

type FileRow = Schemas['ClimateFileOut']
interface Guess {
  column: number
  name: string
  meaning: string
  unit: string
  least: number | null
  most: number | null
}
interface Mapping {
  kind: 'weather' | 'indoor'
  label: string
  columns: { column: number; meaning: string; unit: string }[]
  missing: string
  latitude_deg: number | null
  longitude_deg: number | null
  utc_offset_h: number | null
  first_hour: number
}
interface Look {
  delimiter: string
  decimal: string
  header_lines: number
  columns: Guess[]
  first_rows: string[][]
  rows: number
  remembered: Mapping | null
  units: Record<string, Record<string, [number, number]>>
}
const project = useProject()
const { data: files, load } = useAnswer(
  () => ['climates'],
  () => take(api.GET('/api/climates')),
)
const file = ref<File | null>(null)
const seen = ref<Look | null>(null)
const columns = reactive<Guess[]>([])
const fields = reactive({
  kind: 'weather' as 'weather' | 'indoor',
  label: '',
  missing: '',
  latitude: '',
  longitude: '',
  offset: '',
  header: '0',
})
const complaint = ref('')
const busy = ref('')
const done = ref<FileRow | null>(null)
const shipped = computed(() => project.library?.climates.filter((c) => !c.name.startsWith('own-')) ?? [])
const delimiters: Record<string, string> = { ';': 'semicolon', ',': 'comma', '\t': 'tab', '|': 'bar', ' ': 'blanks' }

function form(more: Record<string, string> = {}): FormData {
  const data = new FormData()
  data.append('file', file.value!)
  for (const [key, value] of Object.entries(more)) data.append(key, value)
  return data
}
async function choose(chosen: File): Promise<void> {
  file.value = chosen
  seen.value = null
  done.value = null
  complaint.value = ''
  busy.value = 'reading the file'
  try {
    const found = await takeAs<Look>(
      api.POST('/api/climates/look', { body: form() as never, bodySerializer: (body: unknown) => body as FormData }),
    )
    const before = found.remembered
    columns.splice(0, columns.length, ...found.columns)
    if (before)
      for (const one of before.columns) {
        const column = columns[one.column]
        if (column) Object.assign(column, { meaning: one.meaning, unit: one.unit })
      }
    Object.assign(fields, {
      kind: before?.kind ?? 'weather',
      label: file.value.name.replace(/\.[^.]+$/, ''),
      missing: before?.missing ?? '',
      latitude: '',
      longitude: '',
      offset: '',
      header: String(found.header_lines),
    })
    seen.value = found
  } catch (error) {
    complaint.value = sentence(error)
  } finally {
    busy.value = ''
  }
}
const number = (text: string): number => Number(text.replace(',', '.'))
/** Nothing typed is nothing, not 0: a place is asked for, never assumed. */
const placed = (text: string): number | null => (text.trim() ? number(text) : null)
async function bring(): Promise<void> {
  if (!seen.value) return
  busy.value = 'checking every hour'
  complaint.value = ''
  const mapping = {
    kind: fields.kind,
    label: fields.label.trim(),
    delimiter: seen.value.delimiter,
    decimal: seen.value.decimal,
    header_lines: number(fields.header),
    missing: fields.missing.trim(),
    latitude_deg: placed(fields.latitude),
    longitude_deg: placed(fields.longitude),
    utc_offset_h: placed(fields.offset),
    columns: columns.map((c) => ({ column: c.column, meaning: c.meaning, unit: c.unit })),
  }
  try {
    done.value = await take(
      api.POST('/api/climates', {
        body: form({ mapping: JSON.stringify(mapping) }) as never,
        bodySerializer: (body: unknown) => body as FormData,
      }),
    )
    seen.value = null
    await load()
    project.library = await take(api.GET('/api/library'))
  } catch (error) {
    complaint.value = sentence(error)
  } finally {
    busy.value = ''
  }
}
function meant(column: Guess): void {
  column.unit = Object.keys(seen.value!.units[column.meaning]!)[0]!
}
async function forget(row: FileRow): Promise<void> {
  complaint.value = ''
  try {
    await take(api.DELETE('/api/climates/{climate_id}', { params: { path: { climate_id: row.id } } }))
    await load()
    project.library = await take(api.GET('/api/library'))
  } catch (error) {
    complaint.value = sentence(error)
  }
}
const filled = (row: FileRow): string =>
  Object.entries(row.report.filled ?? {})
    .map(([name, hours]) => `${hours} ${hours === 1 ? 'hour' : 'hours'} of ${name}`)
    .join(', ')
const cells = computed(() => seen.value?.first_rows.map((row) => ({ row })) ?? [])
const cellColumns = computed<Column<{ row: string[] }>[]>(() =>
  columns.map((c, at) => ({ name: String(c.column), head: c.name, text: ({ row }) => row[at] ?? '' })),
)
const fileColumns = computed<Column<FileRow>[]>(() => [
  { name: 'name', head: 'Name', text: (f) => f.label },
  { name: 'holds', head: 'holds', text: (f) => (f.kind === 'indoor' ? 'indoor air' : 'weather') },
  { name: 'mean', head: 'mean', text: (f) => show(f.report.mean_temperature_c, 'temperature') },
  { name: 'rain', head: 'rain', text: (f) => (f.kind === 'indoor' ? '–' : show(f.report.rain_mm, 'rain')) },
  { name: 'filled', head: 'filled', text: (f) => filled(f) || 'nothing' },
  { name: 'imported', head: 'imported', text: (f) => day(f.imported_at) },
  { name: 'act' },
])
const shippedColumns = computed<Column<(typeof shipped.value)[number]>[]>(() => [
  { name: 'climate', head: 'Climate', text: (c) => c.label },
  { name: 'origin', head: 'origin', text: (c) => c.origin },
  { name: 'mean', head: 'mean', text: (c) => show(c.mean_temperature_c, 'temperature') },
  { name: 'rain', head: 'rain', text: (c) => show(c.rain_mm, 'rain') },
  { name: 'cold', head: 'coldest day', text: (c) => show(c.design_temperature_c, 'temperature') },
])
const whenRight = useForm()
</script>

<template>
  <SheetPage title="Climates and indoor air">
    <div class="page wide">
      <h1>Climates and indoor air</h1>
      <p class="soft">
        A year by the hour, from any delimited text file: a weather station’s, or a logger’s in the room. Short gaps are
        filled and said; longer ones and values that cannot be are refused with their line.
      </p>
      <FileButton words="Choose a file" accept=".csv,.txt,.tsv,.dat,text/*" data-climate-file @file="choose" />
      <span v-if="busy" class="soft" aria-live="polite"> {{ busy }} …</span>
      <p v-if="complaint" class="complaint" role="alert">{{ complaint }}</p>

      <ElForm
        v-if="seen"
        class="mapper"
        ref="form"
        :model="{}"
        hide-required-asterisk
        @submit.prevent="whenRight(bring)"
      >
        <h2>{{ file?.name }}</h2>
        <p class="soft">
          {{ seen.rows }} rows, {{ seen.columns.length }} columns between {{ delimiters[seen.delimiter] }}s, decimal
          {{ seen.decimal === ',' ? 'comma' : 'point' }}.
          <template v-if="seen.remembered">Mapped as the last file of this make was.</template>
          <template v-else>Meanings and units are guessed: look at each.</template>
        </p>
        <div class="fields">
          <TextField label="Name" v-model="fields.label" must="The series needs a name." maxlength="80" />
          <SelectField label="It holds" v-model="fields.kind">
            <ElOption value="weather" label="outdoor weather" />
            <ElOption value="indoor" label="indoor air" />
          </SelectField>
          <TextField label="Header lines" v-model="fields.header" inputmode="numeric" style="width: 8ch" />
          <TextField label="A missing value is" v-model="fields.missing" placeholder="empty" style="width: 12ch" />
          <template v-if="fields.kind === 'weather'">
            <TextField label="Latitude, °" v-model="fields.latitude" inputmode="decimal" style="width: 10ch" />
            <TextField label="Longitude, ° east" v-model="fields.longitude" inputmode="decimal" style="width: 10ch" />
            <TextField label="Hours from UTC" v-model="fields.offset" inputmode="decimal" style="width: 8ch" />
          </template>
        </div>
        <div class="scroll">
          <RuledTable class="first" sums :rows="cells" :columns="cellColumns">
            <template v-for="c in columns" :key="c.column" #[`head-${c.column}`]>
              {{ c.name }}
              <ElSelect v-model="c.meaning" :aria-label="`${c.name} holds`" @change="meant(c)">
                <ElOption v-for="(_, meaning) in seen.units" :key="meaning" :value="meaning" :label="meaning" />
              </ElSelect>
              <ElSelect
                v-if="c.meaning !== 'leave out' && c.meaning !== 'time'"
                v-model="c.unit"
                :aria-label="`${c.name}, unit`"
              >
                <ElOption v-for="(_, unit) in seen.units[c.meaning]" :key="unit" :value="unit" :label="unit" />
              </ElSelect>
            </template>
            <template v-for="c in columns" :key="c.column" #[`sum-${c.column}`]>
              <template v-if="c.least !== null">{{ c.least }} to {{ c.most }}</template>
            </template>
          </RuledTable>
        </div>
        <ElButton type="primary" native-type="submit" :disabled="!!busy">Import</ElButton>
        <ElButton link @click="seen = null">leave it</ElButton>
      </ElForm>

      <section v-if="done" class="done" data-imported>
        <h2>Imported: {{ done.label }}</h2>
        <p>
          {{ done.report.hours }} hours; mean {{ show(done.report.mean_temperature_c, 'temperature') }},
          {{ Math.round((done.report.mean_rh ?? 0) * 100) }} % RH<template v-if="done.kind === 'weather'"
            >, {{ show(done.report.rain_mm, 'rain') }} of rain, {{ show(done.report.sun_kwh_m2, 'energyPerArea') }} of
            sun on the level</template
          >. Choose it under Survey, Elements.
        </p>
        <ul>
          <li v-if="filled(done)">Filled: {{ filled(done) }}.</li>
          <li v-for="words in done.report.estimated" :key="words">Estimated: {{ words }}.</li>
          <li v-for="words in done.report.said" :key="words">Note: {{ words }}.</li>
        </ul>
      </section>

      <h2>Imported</h2>
      <p v-if="!files?.length" class="soft">Nothing was imported yet.</p>
      <RuledTable v-else :rows="files ?? []" :columns="fileColumns">
        <template #act="{ row }"><ElButton link @click="forget(row)">remove</ElButton></template>
      </RuledTable>
      <h2>With the program</h2>
      <RuledTable :rows="shipped" :columns="shippedColumns" />
      <p><RouterLink to="/projects">My projects</RouterLink></p>
    </div>
  </SheetPage>
</template>

<style scoped>
.mapper {
  margin: 14px 0;
  border-top: 1px solid var(--rule);
  border-bottom: 1px solid var(--rule);
  padding: 10px 0;
}
.fields {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 16px;
  margin-bottom: 10px;
}
.scroll {
  overflow-x: auto;
  margin-bottom: 10px;
}
.el-table :deep(.cell) {
  white-space: nowrap;
}
.first .el-select {
  min-width: 130px;
  margin-bottom: 2px;
}
h2 {
  margin-top: 18px;
}
</style>
