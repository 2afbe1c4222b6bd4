<script setup lang="ts">
/** One water item: what is to be done, by whom, what shows it; photographed, closed or struck out. */
import { computed, ref } from 'vue'
import DateField from '@/shared/DateField.vue'
import { day, today } from '@/shared/dates'
import FileButton from '@/shared/FileButton.vue'
import PhotoStrip from '@/shared/PhotoStrip.vue'
import TextField from '@/shared/TextField.vue'
import { said } from '@/shared/units'
import { useWater, type Item } from './useWater'

const props = defineProps<{ item: Item; open: boolean }>()
const emit = defineEmits<{ toggle: [] }>()
const { id, put, photograph, elementName } = useWater()
const SIGNS: Record<Item['state'], string> = { open: '×', closed: '○', planned: '◐', 'not needed': '–' }
const reason = ref('')
const asks = ref(false)
const about = computed(() => {
  const { state, elements, who, due, waiting, reason, closed_by, closed_on } = props.item
  return [
    elements.map(elementName).join(', '),
    who,
    due && `by ${day(due)}`,
    waiting && 'waits to be sent',
    state === 'closed' && `closed by ${closed_by}, ${day(closed_on)}`,
    state === 'planned' && reason,
    state === 'not needed' && `not needed: ${reason}`,
  ]
    .filter(Boolean)
    .join('; ')
})
async function strike(): Promise<void> {
  asks.value = !reason.value.trim()
  if (asks.value) return
  if (await put(props.item, { state: 'not needed', reason: reason.value, closed_on: today() })) reason.value = ''
}
</script>

<template>
  <article class="item" :class="{ done: item.state !== 'open' }" :data-item="item.uid">
    <ElButton text class="block title" :aria-expanded="open" @click="emit('toggle')">
      <span class="sign" aria-hidden="true">{{ SIGNS[item.state] }}</span>
      <span
        ><b>{{ said(item.title_said) }}</b
        ><template v-if="item.school">
          <i>(school: {{ item.school }})</i></template
        >
        <small>{{ about }}</small></span
      >
    </ElButton>
    <div v-if="open" class="body">
      <p v-if="item.shown_by"><b>To be shown:</b> {{ said(item.shown_by_said) }}</p>
      <PhotoStrip :project-id="id" :photos="item.photos" />
      <template v-if="item.state === 'open'">
        <div class="line">
          <TextField
            label="Who"
            :model-value="item.who"
            :model-modifiers="{ lazy: true }"
            maxlength="120"
            @update:model-value="put(item, { who: $event })"
          />
          <DateField label="By" :model-value="item.due" @update:model-value="put(item, { due: $event })" />
        </div>
        <div class="hand">
          <FileButton words="Photo" accept="image/*" camera @file="(file) => photograph(file, item)" />
          <ElButton type="primary" @click="put(item, { state: 'closed', closed_on: today() })">
            {{ item.photos.length ? 'Shown: close it' : 'Close it without a photo' }}
          </ElButton>
        </div>
        <div class="line">
          <TextField label="Not needed here, because" v-model="reason" name="strike-reason" maxlength="2000" />
          <ElButton @click="strike">Strike it out</ElButton>
        </div>
        <p v-if="item.remedy === 'airtight'">
          <ElButton @click="put(item, { state: 'planned' })"> The chosen option plans the airtight layer </ElButton>
        </p>
        <p v-if="asks && !reason.trim()" class="complaint" role="alert">Striking an item out needs its reason.</p>
      </template>
      <ElButton link v-else @click="put(item, { state: 'open', closed_on: null, reason: '' })">
        open it again
      </ElButton>
    </div>
  </article>
</template>

<style scoped>
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
.title {
  border: 0;
  border-bottom: 1px solid var(--rule);
  border-radius: 0;
  padding: 6px 6px;
}
small {
  display: block;
  color: var(--soft);
  font-size: 13px;
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
@media (max-width: 900px), (pointer: coarse) {
  .el-button {
    min-height: 46px;
  }
}
</style>
