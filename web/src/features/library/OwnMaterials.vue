<script setup lang="ts">
/** Materials of one's own: entered, changed into a new edition, taken off the list, carried in and out. */
import { computed, ref } from 'vue'
import { api, take } from '@/api/client'
import FileButton from '@/shared/FileButton.vue'
import { useProject, type Material } from '@/shared/project'
import { useAct } from '@/shared/query'
import MaterialTable from './MaterialTable.vue'

const emit = defineEmits<{ enter: [material: Material | null] }>()
const project = useProject()
const { complaint, busy, act } = useAct()
const brought = ref('')
const used = ref<{ name: string; places: string[] } | null>(null)
const mine = computed(() => [...project.materials.values()].filter((m) => m.own && m.own.newest === m.id))
const listed = computed(() => mine.value.filter((m) => !m.own!.retired))
const retired = computed(() => mine.value.filter((m) => m.own!.retired))

const list = (m: Material, off: boolean): Promise<boolean> =>
  act(async () => {
    await take(
      api.PUT('/api/library/materials/{material_id}/listed', {
        params: { path: { material_id: m.own!.material_id } },
        body: { retired: off },
      }),
    )
    await project.loadLibrary(true)
  })
const bring = (file: File): Promise<boolean> =>
  act(async () => {
    const body = new FormData()
    body.append('file', file)
    const answer = await take(
      api.POST('/api/library/bring', {
        body: { file: '' },
        bodySerializer: () => body,
      }),
    )
    brought.value = `${answer.made} new${answer.known ? `, ${answer.known} were there already` : ''}.`
    await project.loadLibrary(true)
  })
const ask = (m: Material): Promise<boolean> =>
  act(async () => {
    const answer = await take(
      api.GET('/api/library/materials/{material_id}/used', { params: { path: { material_id: m.own!.material_id } } }),
    )
    used.value = { name: m.name, places: answer.places }
  })
</script>

<template>
  <h2>My materials</h2>
  <p class="soft">
    From data sheets, for every project of mine; a project file carries those it uses. A change is a new edition:
    nothing that was computed changes under you.
  </p>
  <div class="tools">
    <ElButton type="primary" @click="emit('enter', null)">Enter a material</ElButton>
    <FileButton words="Bring a list in" accept=".csv,.json,text/csv,application/json" @file="bring" />
    <template v-if="listed.length">
      <ElButton tag="a" href="/api/library/export?form=csv" download>As CSV</ElButton>
      <ElButton tag="a" href="/api/library/export?form=json" download>As JSON</ElButton>
    </template>
    <span v-if="busy" class="soft" role="status">reading …</span>
    <span v-else-if="brought" class="soft" role="status">{{ brought }}</span>
  </div>
  <p v-if="complaint" class="complaint" role="alert">{{ complaint }}</p>
  <MaterialTable v-if="listed.length" :materials="listed">
    <template #acts="{ material: m }">
      <p class="acts">
        <span class="soft">
          edition {{ m.own!.edition }}<template v-if="m.own!.by">, {{ m.own!.by }}</template
          >, {{ m.own!.made_at.slice(0, 10) }}
        </span>
        <ElButton size="small" @click="emit('enter', m)">Change it</ElButton>
        <ElButton size="small" @click="ask(m)">Where is it used?</ElButton>
        <ElButton size="small" @click="list(m, true)">Take it off the list</ElButton>
      </p>
    </template>
  </MaterialTable>
  <p v-else class="soft">None yet.</p>
  <div v-if="used" role="status">
    <p v-if="!used.places.length" class="soft">“{{ used.name }}” stands in no build-up.</p>
    <template v-else>
      <p>“{{ used.name }}” stands in:</p>
      <ul>
        <li v-for="place in used.places" :key="place">{{ place }}</li>
      </ul>
    </template>
  </div>
  <p v-if="retired.length" class="soft">
    Off the list:
    <template v-for="(m, i) in retired" :key="m.id">
      <template v-if="i">, </template>{{ m.name }} <ElButton link @click="list(m, false)">list it again</ElButton>
    </template>
  </p>
</template>

<style scoped>
.tools {
  display: flex;
  gap: 8px;
  align-items: center;
  margin-bottom: 6px;
}
.acts {
  display: flex;
  gap: 8px;
  align-items: center;
  margin: 4px 0;
}
h2 {
  margin: 14px 0 4px;
}
</style>
