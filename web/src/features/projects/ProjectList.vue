<script setup lang="ts">
import { ref } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import { api, take, type Schemas } from '@/api/client'
import { telling } from '@/api/upload'
import ReadingNote from '@/shared/ReadingNote.vue'
import SheetPage from '@/shared/SheetPage.vue'
import FileButton from '@/shared/FileButton.vue'
import RuledTable from '@/shared/RuledTable.vue'
import type { Column } from '@/shared/table'
import TextField from '@/shared/TextField.vue'
import { useForm } from '@/shared/form'
import { useAct, useAnswer } from '@/shared/query'

const router = useRouter()
const { data: projects, complaint: refused } = useAnswer(
  () => ['projects'],
  () => take(api.GET('/api/projects')),
)
const { complaint, busy, act } = useAct()
const name = ref('')
const making = ref(false)

const make = (): Promise<boolean> =>
  act(async () => {
    const made = await take(
      api.POST('/api/projects', {
        body: {
          name: name.value.trim(),
          climate: 'corrie',
          occupancy: 'normal',
          set_point_c: 20,
          start_rh: 0.8,
          works_on: '05-01',
          soil: 'sand or gravel',
          air_kind: 'n50',
        },
      }),
    )
    await router.push({ name: 'brief', params: { project: made.id } })
  })
/** share of a project file that is sent */
const sent = ref<number | null>(null)
const bring = (file: File): Promise<boolean> =>
  act(async () => {
    const body = new FormData()
    body.append('file', file)
    sent.value = 0
    const made = await take(
      api.POST('/api/projects/import', {
        body: body as never,
        bodySerializer: (b: unknown) => b as FormData,
        fetch: telling((share) => (sent.value = share)),
      }),
    ).finally(() => (sent.value = null))
    await router.push({ name: 'house', params: { project: made.id } })
  })
function day(at: string): string {
  return new Date(at).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' })
}
const COLUMNS: Column<Schemas['ProjectListed']>[] = [
  { name: 'building', head: 'Building' },
  { name: 'climate', head: 'Climate', text: (p) => `${p.climate}, generated` },
  { name: 'elements', head: 'Elements', figure: true, text: (p) => p.elements },
  { name: 'chosen', head: 'Chosen', figure: true, text: (p) => p.chosen },
  { name: 'changed', head: 'Changed', text: (p) => day(p.changed_at) },
  { name: 'act' },
]
const whenRight = useForm()
</script>

<template>
  <SheetPage title="Projects" written>
    <div class="page">
      <div class="top">
        <h1>My projects</h1>
        <span>
          <ElButton type="primary" @click="making = true">New project</ElButton>
          <FileButton words="Import a project file" accept=".zip,.json" @file="bring" />
        </span>
      </div>
      <p v-if="complaint || refused" class="complaint" role="alert">{{ complaint || refused }}</p>
      <div v-else-if="sent !== null" class="sending">
        <ElProgress
          :percentage="Math.round(100 * sent)"
          :show-text="false"
          :stroke-width="4"
          aria-label="Share of the file that is sent"
        />
        <p class="soft" role="status">
          {{ sent < 1 ? `Sending the file, ${Math.round(100 * sent)} %` : 'Sent. It is read and checked …' }}
        </p>
      </div>
      <p v-else-if="busy" class="soft" role="status">Under way …</p>
      <ElForm
        v-if="making"
        class="make"
        ref="form"
        :model="{}"
        hide-required-asterisk
        @submit.prevent="whenRight(make)"
      >
        <TextField
          label="Name of the building"
          v-model="name"
          maxlength="120"
          must="The building needs a name."
          name="project-name"
          first
        />
        <ElButton type="primary" native-type="submit">Make it</ElButton>
        <ElButton @click="making = false">Leave it</ElButton>
      </ElForm>
      <ReadingNote v-if="!projects && !refused" what="your projects" />
      <p v-else-if="projects?.length === 0">No project yet. Make one, or import a project file.</p>
      <RuledTable v-else-if="projects" :rows="projects" :columns="COLUMNS">
        <template #building="{ row }">
          <RouterLink class="name" :to="{ name: 'house', params: { project: row.id } }">{{ row.name }}</RouterLink>
        </template>
        <template #act="{ row }"><a :href="`/api/projects/${row.id}/export`" download>Export</a></template>
      </RuledTable>
      <p class="soft foot">
        Wendrick computes; it does not certify. Local code and licensed practice always rule: structure, fire,
        electrics, combustion air, asbestos and old lead paint are for those who are licensed to decide.
      </p>
    </div>
  </SheetPage>
</template>

<style scoped>
.top {
  display: flex;
  justify-content: space-between;
  align-items: end;
  margin-bottom: 18px;
}
.top span {
  display: flex;
  gap: 10px;
}
.sending {
  margin-bottom: 12px;
}
.sending p {
  margin: 4px 0 0;
}
.make {
  display: flex;
  gap: 10px;
  align-items: end;
  margin-bottom: 18px;
}
.make .field {
  flex: 1;
}
.name {
  font: 600 16px var(--serif);
}
.foot {
  margin-top: 40px;
  max-width: 640px;
}
</style>
