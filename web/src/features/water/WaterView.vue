<script setup lang="ts">
/** Water first: every element's readiness, and the items that must be shown before anything is covered. */
import { computed, ref, watch } from 'vue'
import { RouterLink, useRoute } from 'vue-router'
import { sentence, type Schemas } from '@/api/client'
import AppFrame from '@/shared/AppFrame.vue'
import { day, today } from '@/shared/dates'
import { valueOf } from '@/shared/events'
import { newUid, send, sendPhoto, useOutbox } from '@/shared/outbox'
import PhotoStrip from '@/shared/PhotoStrip.vue'
import ReadinessMark from '@/shared/ReadinessMark.vue'
import { useProject } from '@/shared/project'
import { said } from '@/shared/units'
import { loadWater } from './load'
import FileButton from '@/shared/FileButton.vue'
import SelectField from '@/shared/SelectField.vue'

type Item = Schemas['WaterItemOut'] & { waiting?: boolean }
type Row = Schemas['ElementWaterOut']
const route = useRoute()
const project = useProject()
const id = computed(() => Number(route.params.project))
const page = ref<Schemas['WaterPage'] | null>(null)
const complaint = ref('')
const element = ref<number | null>(null)
const open = ref<string | null>(null)
const shut = ref(false)
const fresh = ref<{ title: string; stage: string; shown_by: string; who: string } | null>(null)
const { mine, landed } = useOutbox(() => id.value)

async function load(): Promise<void> {
  try {
    page.value = await loadWater(id.value)
    complaint.value = ''
  } catch (error) {
    if (!page.value) complaint.value = sentence(error)
  }
}
watch(id, load, { immediate: true })
watch(() => landed.count, load)
watch(
  () => route.query.element,
  (asked) => (element.value = asked ? Number(asked) : null),
  { immediate: true },
)
/** Items with what waits on this device laid over them. */
const items = computed<Item[]>(() => {
  const all = new Map<string, Item>((page.value?.items ?? []).map((i) => [i.uid, i]))
  for (const entry of mine.value) {
    const found = /\/water\/([^/]+)$/.exec(entry.path)
    if (!found || entry.refused || entry.method !== 'PUT') continue
    const before = all.get(found[1]!)
    all.set(found[1]!, {
      ...(before ?? { revision: 0, remedy: '', closed_by: '' }),
      ...(entry.body as unknown as Item),
      uid: found[1]!,
      waiting: true,
    })
  }
  return [...all.values()]
})
const shown = computed(() =>
  items.value.filter(
    (i) => (element.value === null || i.elements.includes(element.value)) && (shut.value || i.state === 'open'),
  ),
)
const closed = computed(
  () =>
    items.value.filter((i) => i.state !== 'open' && (element.value === null || i.elements.includes(element.value)))
      .length,
)
const byStage = computed(() =>
  (page.value?.stages ?? [])
    .map((stage) => ({ stage, items: shown.value.filter((i) => i.stage === stage.id) }))
    .filter((s) => s.items.length),
)
const row = computed(() => page.value?.elements.find((e) => e.element_id === element.value) ?? null)
const ORDER = ['open', 'not looked at', 'ready by override', 'ready']
const rows = computed(() =>
  [...(page.value?.elements ?? [])].sort((a, b) => ORDER.indexOf(a.state) - ORDER.indexOf(b.state)),
)
const name = (element_id: number): string =>
  page.value?.elements.find((e) => e.element_id === element_id)?.name ?? 'an element'
let queue: Promise<unknown> = Promise.resolve()
/** One change after the other, each of the item as the one before left it. */
function put(item: Item, change: Partial<Item>): Promise<boolean> {
  const job = queue.then(() => putNow(items.value.find((i) => i.uid === item.uid) ?? item, change))
  queue = job
  return job
}
async function putNow(item: Item, change: Partial<Item>): Promise<boolean> {
  const next = { ...item, ...change }
  try {
    const sent = await send({
      project: id.value,
      method: 'PUT',
      path: `/api/projects/${id.value}/water/${item.uid}`,
      label: item.title,
      body: {
        elements: [...next.elements],
        evidence: [...next.evidence],
        stage: next.stage,
        title: next.title,
        shown_by: next.shown_by,
        who: next.who,
        due: next.due || null,
        state: next.state,
        closed_on: next.closed_on || null,
        reason: next.reason,
        photos: [...next.photos],
        base_revision: item.revision || null,
      },
    })
    complaint.value = ''
    if (sent) {
      await load()
      void project.open(id.value)
    }
    return true
  } catch (error) {
    complaint.value = sentence(error)
    return false
  }
}
async function photograph(file: File, item: Item): Promise<void> {
  try {
    const uid = await sendPhoto(id.value, file, item.title)
    const now = items.value.find((i) => i.uid === item.uid) ?? item
    await put(now, { photos: [...now.photos, uid] })
  } catch (error) {
    complaint.value = sentence(error)
  }
}
const reason = ref('')
const asks = ref('')
async function strike(item: Item): Promise<void> {
  if (!reason.value.trim()) {
    asks.value = item.uid
    return
  }
  if (await put(item, { state: 'not needed', reason: reason.value, closed_on: today() })) {
    reason.value = ''
    asks.value = ''
  }
}
async function add(): Promise<void> {
  const f = fresh.value
  if (!f || element.value === null) return
  const blank: Item = {
    uid: newUid(),
    revision: 0,
    elements: [element.value],
    evidence: [],
    remedy: '',
    stage: f.stage,
    title: f.title.trim(),
    shown_by: f.shown_by,
    who: f.who,
    due: null,
    state: 'open',
    closed_by: '',
    closed_on: null,
    reason: '',
    photos: [],
    title_said: { metric: f.title.trim(), inch: f.title.trim() },
    shown_by_said: { metric: f.shown_by, inch: f.shown_by },
    school: '',
  }
  if (await put(blank, {})) fresh.value = null
}
// --- the element's own: looked at, override -----------------------------------------------------------
const note = ref('')
const override = ref<{ reason: string; name: string } | null>(null)
watch(row, (now, before) => {
  if (now?.element_id !== before?.element_id) {
    note.value = now?.looked_at_note ?? ''
    override.value = null
  }
})
async function tell(path: string, body: Record<string, unknown>, label: string): Promise<void> {
  if (!row.value) return
  try {
    const sent = await send({
      project: id.value,
      method: 'PUT',
      path: `/api/elements/${row.value.element_id}/${path}`,
      label,
      body,
    })
    complaint.value = ''
    override.value = null
    if (sent) {
      await load()
      void project.open(id.value)
    }
  } catch (error) {
    complaint.value = sentence(error)
  }
}
const lookedAt = (looked_at: boolean): Promise<void> =>
  tell('looked-at', { looked_at, on: today(), note: note.value }, `Looked at ${row.value?.name}`)
function waiting(r: Row): boolean {
  return mine.value.some((e) => e.path.startsWith(`/api/elements/${r.element_id}/`) && !e.refused)
}
function pick(to: number | null): void {
  element.value = element.value === to ? null : to
  open.value = null
}
</script>

<template>
  <AppFrame title="Water" :project-id="id">
    <div class="head">
      <div>
        <h1>Water first</h1>
        <p class="soft">Nothing is covered before it is dry, tight and drained. Press an element.</p>
      </div>
      <ElCheckbox class="check" v-model="shut">show the {{ closed }} closed</ElCheckbox>
    </div>
    <p v-if="complaint" class="complaint" role="alert">{{ complaint }}</p>
    <p v-if="!page && !complaint" class="soft">Reading …</p>
    <p v-if="page && !page.elements.length">
      No element yet. They follow from the
      <RouterLink :to="{ name: 'survey', params: { project: id, view: 'shape' } }">shape</RouterLink>.
    </p>
    <div v-if="page?.elements.length" class="two">
      <div class="elements" role="group" aria-label="Elements">
        <ElButton
          text
          class="block row"
          v-for="r in rows"
          :key="r.element_id"
          :aria-pressed="r.element_id === element"
          :data-element="r.element_id"
          @click="pick(r.element_id)"
        >
          <ReadinessMark :state="r.state" />
          <span
            ><b>{{ r.name }}</b>
            <small
              >{{ r.state }}{{ r.reasons.length && r.state === 'open' ? `: ${r.reasons.join('; ')}` : ''
              }}{{ waiting(r) ? ' (waits to be sent)' : '' }}</small
            ></span
          >
        </ElButton>
      </div>
      <div>
        <section v-if="row" class="own" :aria-label="row.name">
          <h2>{{ row.name }}: <ReadinessMark :state="row.state" words /></h2>
          <p v-if="row.state === 'not looked at'">{{ row.reasons[0] }}.</p>
          <p v-if="row.override_reason">
            Ready by override of <b>{{ row.override_by }}</b>, {{ day(row.override_at) }}: {{ row.override_reason }}
            <ElButton link @click="tell('override', { reason: '', name: '' }, 'Taking back the override')">
              take it back
            </ElButton>
          </p>
          <p v-if="row.looked_at_by" class="soft">
            Looked at by {{ row.looked_at_by }}, {{ day(row.looked_at_on)
            }}{{ row.looked_at_note ? `: ${row.looked_at_note}` : '' }}
            <ElButton link @click="lookedAt(false)">take it back</ElButton>
          </p>
          <div v-else class="line">
            <label class="field"
              ><span>What the look showed</span><ElInput v-model="note" name="look-note" maxlength="2000"
            /></label>
            <ElButton type="primary" @click="lookedAt(true)">Looked at it</ElButton>
          </div>
          <p class="ways">
            <RouterLink :to="{ name: 'survey', params: { project: id, view: 'evidence' } }"
              >{{ row.pins }} pin{{ row.pins === 1 ? '' : 's' }}</RouterLink
            >
            <ElButton link @click="fresh = { title: '', stage: page.stages[0]!.id, shown_by: '', who: '' }">
              add a water item
            </ElButton>
            <ElButton link v-if="!row.state.startsWith('ready')" @click="override = { reason: '', name: '' }">
              override
            </ElButton>
          </p>
          <form
            v-if="override"
            class="line over-form"
            @submit.prevent="tell('override', override, `Override of ${row.name}`)"
          >
            <label class="field"
              ><span>Why it may be covered all the same</span
              ><ElInput
                type="textarea"
                v-model="override.reason"
                name="override-reason"
                :rows="2"
                required
                maxlength="2000"
              />
            </label>
            <label class="field"
              ><span>Who decides</span><ElInput v-model="override.name" name="override-name" required maxlength="150"
            /></label>
            <p class="marginal">Reason and name are printed in every document of this element.</p>
            <ElButton type="primary" native-type="submit" :disabled="!override.reason.trim() || !override.name.trim()">
              Ready by override
            </ElButton>
            <ElButton @click="override = null">Leave it</ElButton>
          </form>
          <form v-if="fresh" class="line" @submit.prevent="add">
            <label class="field"
              ><span>What is to be done</span><ElInput v-model="fresh.title" name="item-title" required maxlength="300"
            /></label>
            <SelectField label="Stage" v-model="fresh.stage">
              <ElOption v-for="s in page.stages" :key="s.id" :value="s.id" :label="s.name" />
            </SelectField>
            <label class="field"
              ><span>What must be shown</span><ElInput v-model="fresh.shown_by" name="item-shown" maxlength="400"
            /></label>
            <label class="field"><span>Who</span><ElInput v-model="fresh.who" maxlength="120" /></label>
            <ElButton type="primary" native-type="submit">Add it</ElButton>
            <ElButton @click="fresh = null">Leave it</ElButton>
          </form>
        </section>
        <p v-if="!byStage.length" class="soft">
          {{ element === null ? 'No open item.' : 'No open item of this element.' }} Items follow from the causes that
          are confirmed under Evidence.
        </p>
        <section v-for="s in byStage" :key="s.stage.id" class="stage">
          <h3>{{ s.stage.name }}</h3>
          <article
            v-for="item in s.items"
            :key="item.uid"
            class="item"
            :class="{ done: item.state !== 'open' }"
            :data-item="item.uid"
          >
            <ElButton
              text
              class="block title"
              :aria-expanded="open === item.uid"
              @click="open = open === item.uid ? null : item.uid"
            >
              <span class="sign" aria-hidden="true">{{
                item.state === 'open' ? '×' : item.state === 'closed' ? '○' : item.state === 'planned' ? '◐' : '–'
              }}</span>
              <span
                ><b>{{ said(item.title_said) }}</b
                ><template v-if="item.school">
                  <i>(school: {{ item.school }})</i></template
                >
                <small
                  >{{ item.elements.map(name).join(', ') }}{{ item.who ? `; ${item.who}` : ''
                  }}{{ item.due ? `; by ${day(item.due)}` : '' }}{{ item.waiting ? '; waits to be sent' : ''
                  }}{{ item.state === 'closed' ? `; closed by ${item.closed_by}, ${day(item.closed_on)}` : ''
                  }}{{ item.state === 'planned' ? `; ${item.reason}` : ''
                  }}{{ item.state === 'not needed' ? `; not needed: ${item.reason}` : '' }}</small
                ></span
              >
            </ElButton>
            <div v-if="open === item.uid" class="body">
              <p v-if="item.shown_by"><b>To be shown:</b> {{ said(item.shown_by_said) }}</p>
              <PhotoStrip :project-id="id" :photos="item.photos" />
              <template v-if="item.state === 'open'">
                <div class="line">
                  <label class="field"
                    ><span>Who</span
                    ><input :value="item.who" maxlength="120" @change="put(item, { who: valueOf($event) })"
                  /></label>
                  <label class="field"
                    ><span>By</span
                    ><input type="date" :value="item.due ?? ''" @change="put(item, { due: valueOf($event) || null })"
                  /></label>
                </div>
                <div class="hand">
                  <FileButton words="Photo" accept="image/*" camera @file="(file) => photograph(file, item)" />
                  <ElButton type="primary" @click="put(item, { state: 'closed', closed_on: today() })">
                    {{ item.photos.length ? 'Shown: close it' : 'Close it without a photo' }}
                  </ElButton>
                </div>
                <div class="line">
                  <label class="field"
                    ><span>Not needed here, because</span
                    ><ElInput v-model="reason" name="strike-reason" maxlength="2000"
                  /></label>
                  <ElButton @click="strike(item)">Strike it out</ElButton>
                </div>
                <p v-if="item.remedy === 'airtight'">
                  <ElButton @click="put(item, { state: 'planned' })">
                    The chosen option plans the airtight layer
                  </ElButton>
                </p>
                <p v-if="asks === item.uid && !reason.trim()" class="complaint" role="alert">
                  Striking an item out needs its reason.
                </p>
              </template>
              <ElButton link v-else @click="put(item, { state: 'open', closed_on: null, reason: '' })">
                open it again
              </ElButton>
            </div>
          </article>
        </section>
      </div>
    </div>

    <template #margin>
      <template v-if="page">
        <h3>
          {{ page.elements.filter((e) => e.state.startsWith('ready')).length }} of {{ page.elements.length }} ready
        </h3>
        <p>
          An element is ready when somebody looked at it, every pin has its cause, and every item is closed or struck
          out. Options of elements that are not ready say so everywhere.
        </p>
        <template v-for="r in page.elements.filter((e) => e.state === 'ready by override')" :key="r.element_id">
          <p>
            <ReadinessMark :state="r.state" /> <b>{{ r.name }}</b>, {{ r.override_by }}: {{ r.override_reason }}
          </p>
        </template>
      </template>
      <h3>The order</h3>
      <p class="soft">
        Site and roof drainage, ground, foundation and slab, capillary breaks, openings and flashings, embedded timber,
        indoor moisture, plumbing. What stands upstream comes first.
      </p>
      <h3>Caution</h3>
      <p class="soft">
        Structure, excavation beside walls, asbestos, bats and birds, and electrics in wet places are for those licensed
        to decide; local code rules.
      </p>
    </template>
  </AppFrame>
</template>

<style scoped>
.head {
  display: flex;
  justify-content: space-between;
  align-items: end;
  margin-bottom: 12px;
}
.head p {
  margin: 2px 0 0;
}
.check {
  display: flex;
  gap: 6px;
  align-items: center;
}
.two {
  display: grid;
  grid-template-columns: minmax(230px, 0.7fr) 1.3fr;
  gap: 24px;
  align-items: start;
}
.elements {
  display: grid;
}
.elements .row,
.title {
  border: 0;
  border-bottom: 1px solid var(--rule);
  border-radius: 0;
  padding: 6px 6px;
}
.elements .row[aria-pressed='true'] {
  background: #efe9da;
  box-shadow: inset 3px 0 0 var(--ink);
}
small {
  display: block;
  color: var(--soft);
  font-size: 13px;
}
.own {
  border: 1px solid var(--ink);
  padding: 10px 14px;
  margin-bottom: 14px;
}
.own h2 {
  margin-bottom: 6px;
}
.ways {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  margin-bottom: 4px;
}
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: end;
  margin: 6px 0;
}
.line .field {
  flex: 1 1 180px;
}
.over-form p {
  flex-basis: 100%;
  margin: 0;
}
.stage {
  margin-bottom: 12px;
}
.stage h3::first-letter {
  text-transform: uppercase;
}
.sign {
  width: 14px;
  font-weight: 700;
  color: var(--over);
}
.done .sign {
  color: var(--within);
}
.body {
  padding: 4px 6px 10px 28px;
  border-bottom: 1px solid var(--rule);
}
.hand {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
@media (max-width: 900px), (pointer: coarse) {
  .el-button {
    min-height: 46px;
  }
  .line input,
  .line .el-select {
    min-height: 42px;
  }
}
@media (max-width: 760px) {
  .two {
    grid-template-columns: 1fr;
  }
}
</style>
