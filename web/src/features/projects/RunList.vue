<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import { onMounted, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { api, sentence, take, type Schemas } from '@/api/client'
import AppFrame from '@/shared/AppFrame.vue'

const runs = ref<Schemas['RunOut'][] | null>(null)
const complaint = ref('')
async function load(): Promise<void> {
  try {
    runs.value = await take(api.GET('/api/runs'))
    complaint.value = ''
  } catch (error) {
    complaint.value = sentence(error)
  }
}
async function cancel(id: number): Promise<void> {
  await take(api.POST('/api/runs/{run_id}/cancel', { params: { path: { run_id: id } } }))
  await load()
}
onMounted(load)
useIntervalFn(load, 1500)
</script>

<template>
  <AppFrame bare title="Runs">
    <div class="page">
      <h1>Runs</h1>
      <p class="soft">Hourly years that were asked for, newest first.</p>
      <p v-if="complaint" class="complaint" role="alert">{{ complaint }}</p>
      <p v-if="runs?.length === 0">Nothing was run yet.</p>
      <table v-if="runs?.length" class="ruled">
        <thead>
          <tr>
            <th>Element and option</th>
            <th>Project</th>
            <th>State</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="run in runs" :key="run.id">
            <td>{{ run.element_name }}: {{ run.option_name }}</td>
            <td>{{ run.project_name }}</td>
            <td>
              {{ run.status
              }}<template v-if="run.status === 'running'"
                >, {{ run.doing }}, {{ Math.round(run.progress * 100) }} %</template
              >
              <span v-if="run.error" class="complaint"> {{ run.error }}</span>
            </td>
            <td>
              <ElButton link v-if="run.status === 'running' || run.status === 'waiting'" @click="cancel(run.id)">
                cancel
              </ElButton>
              <a v-else-if="run.status === 'done'" :href="`/api/runs/${run.id}/hourly.csv`" download>hourly CSV</a>
            </td>
          </tr>
        </tbody>
      </table>
      <p><RouterLink to="/projects">My projects</RouterLink></p>
    </div>
  </AppFrame>
</template>
