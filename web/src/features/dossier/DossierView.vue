<script setup lang="ts">
/** Step 12: what there is to hand over, what it lacks, who answers for what, the reports made so far. */
import { useStorage } from '@vueuse/core'
import { computed, ref } from 'vue'
import { RouterLink, useRoute } from 'vue-router'
import type { Schemas } from '@/api/client'
import ChoiceBar from '@/shared/ChoiceBar.vue'
import RuledTable from '@/shared/RuledTable.vue'
import ReadingNote from '@/shared/ReadingNote.vue'
import SheetPage from '@/shared/SheetPage.vue'
import type { Column } from '@/shared/table'
import { isImperial } from '@/shared/units'
import ReportsTable from './ReportsTable.vue'
import SignDialog from './SignDialog.vue'
import { useDossier, type Report } from './useDossier'

const route = useRoute()
const id = computed(() => Number(route.params.project))
const { dossier, reports, unread, load, complaint, busy, make, cancel, remove, sign, takeBack } = useDossier(id)
const sheet = useStorage<Report['sheet']>('wendrick-sheet', 'a4')
const signing = ref<Report | null>(null)
const SHEETS = [
  ['a4', 'A4'],
  ['letter', 'letter'],
] as const
const FOR: Record<Report['kind'], string> = {
  client:
    'Two to four pages: the house, what was found, what is proposed and why, what it saves, what it must not meet, how sure.',
  whole: 'Everything, with every build-up, verdict, test, arithmetic, override, material and its source.',
  condition: 'Faces with numbered pins, photos, readings, causes, openings to make.',
  heating: 'Element by element: area, U, W/K, design load, air, what is not known.',
  builder: 'The chosen constructions to scale, every layer with its net quantity, what is shown before it is covered.',
}
const kinds = computed<Column<Schemas['KindOut']>[]>(() => [
  { name: 'title', head: 'Report' },
  { name: 'what', head: 'What stands in it', mark: 'soft', text: (k) => FOR[k.kind] },
  { name: 'act', figure: true },
])
const contents: Column<Schemas['Content']>[] = [
  { name: 'name', head: 'Part', text: (c) => c.name },
  { name: 'words', head: 'What is there', text: (c) => c.words },
]
const roles: Column<Schemas['RoleEntry']>[] = [
  { name: 'role', head: 'Role', text: (r) => r.role },
  { name: 'name', head: 'Name', text: (r) => r.name || 'not named' },
  { name: 'for', head: 'Answers for', text: (r) => r.answers_for },
]
const system = computed(() => (isImperial.value ? 'inch' : 'metric'))
async function signed(body: Schemas['SignatureBody']): Promise<void> {
  if (signing.value && (await sign(signing.value, body))) signing.value = null
}
</script>

<template>
  <SheetPage title="Dossier" written>
    <div class="head">
      <h1>Dossier</h1>
      <span class="ways">
        <RouterLink :to="{ name: 'lists', params: { project: id } }">Lists</RouterLink>
        <a :href="`/api/projects/${id}/package?system=${system}`" download>Open package, zip</a>
      </span>
    </div>
    <p v-if="complaint || unread" class="complaint" role="alert">
      {{ complaint || unread }} <ElButton v-if="unread" link @click="load">Try again</ElButton>
    </p>
    <ReadingNote v-if="!dossier && !unread" what="what there is to hand over" />
    <template v-if="dossier">
      <section>
        <div class="bar">
          <h2>Make a report</h2>
          <span class="sheet">
            <span class="soft">PDF, {{ isImperial ? 'inches, R' : 'mm, U' }}, on</span>
            <ChoiceBar v-model="sheet" label="Sheet" :options="SHEETS" />
          </span>
        </div>
        <RuledTable :rows="dossier.kinds" :columns="kinds" label="Kinds of report">
          <template #title="{ row }"
            ><b>{{ row.title }}</b></template
          >
          <template #act="{ row }">
            <ElButton :disabled="busy" :data-make="row.kind" @click="make(row.kind, sheet)">Make it</ElButton>
          </template>
        </RuledTable>
      </section>
      <section>
        <h2>Made so far</h2>
        <p v-if="reports && !reports.length" class="soft">
          None yet. A report is kept with its date and the hash of the data it was made from.
        </p>
        <ReportsTable
          v-else-if="reports"
          :reports="reports"
          @cancel="cancel"
          @remove="remove"
          @sign="(r) => (signing = r)"
          @take-back="(s) => takeBack(s.id)"
        />
      </section>
      <div class="two">
        <section>
          <h2>What is in it</h2>
          <RuledTable :rows="dossier.contents" :columns="contents" headless />
        </section>
        <section>
          <h2>Who answers for what</h2>
          <p v-if="!dossier.roles.length" class="soft">
            Nobody is named.
            <RouterLink :to="{ name: 'brief', params: { project: id } }">State it in the Brief</RouterLink>.
          </p>
          <RuledTable v-else :rows="dossier.roles" :columns="roles" headless />
        </section>
      </div>
    </template>
    <SignDialog
      v-if="signing && dossier"
      :report="signing"
      :roles="dossier.roles"
      @sign="signed"
      @leave="signing = null"
    />
    <template #margin>
      <template v-if="dossier">
        <h3>{{ dossier.missing.length ? 'What it lacks' : 'Nothing is missing' }}</h3>
        <ul v-if="dossier.missing.length" class="lacks" data-missing>
          <li v-for="words in dossier.missing.slice(0, 14)" :key="words">{{ words }}</li>
        </ul>
        <p v-if="dossier.missing.length > 14" class="soft">
          and {{ dossier.missing.length - 14 }} more, in the whole report.
        </p>
        <h3>The data now</h3>
        <p class="soft">
          Hash {{ dossier.hash.slice(0, 12) }}. A report says which data it was made from, and is out of date when they
          moved on.
        </p>
        <h3>Caution</h3>
        <p class="soft">
          A name under a report is a name over its hash, no certificate. Local code and licensed practice rule over what
          stands in it.
        </p>
      </template>
    </template>
  </SheetPage>
</template>

<style scoped>
.head,
.bar {
  display: flex;
  justify-content: space-between;
  align-items: end;
  gap: 12px;
}
.ways a {
  margin-left: 16px;
}
section {
  margin-top: 14px;
}
.sheet {
  display: flex;
  gap: 8px;
  align-items: center;
}
.two {
  display: grid;
  grid-template-columns: 1fr 1.4fr;
  gap: 24px;
}
.lacks {
  padding-left: 16px;
  margin: 4px 0;
}
.lacks li {
  margin: 3px 0;
}
@media (max-width: 900px) {
  .two {
    grid-template-columns: 1fr;
  }
}
</style>
