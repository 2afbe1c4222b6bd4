<script setup lang="ts" generic="T extends { key: string; label: string; note: string; also?: string }">
/** Type a few letters, walk the hits with the arrows, take one with Enter. */
import { computed, nextTick, ref, watch } from 'vue'

const props = defineProps<{ title: string; hint: string; items: T[]; nothing: string; most?: number }>()
const emit = defineEmits<{ pick: [item: T] }>()
const open = defineModel<boolean>({ required: true })
const text = ref('')
const at = ref(0)
const field = ref<HTMLInputElement>()
const hits = computed(() => {
  const plain = (words: string): string => words.toLowerCase().replace(/[-–,()]/g, ' ')
  const words = plain(text.value).split(/\s+/).filter(Boolean)
  // words as they are shown, from their beginning: “ventilated” does not find what is unventilated
  const shown = (i: T): string => plain(` ${i.label} ${i.note} ${i.also ?? ''}`)
  const found = props.items.filter((i) => words.every((w) => shown(i).includes(` ${w}`)))
  // what is called so comes before what only is of that kind
  const whole = words.join(' ')
  const rank = (i: T): number => {
    const name = plain(i.label).trim()
    if (name === whole) return 0
    if (name.startsWith(whole)) return 1
    return words.every((w) => ` ${name}`.includes(` ${w}`)) ? 2 : 3
  }
  const ranked = whole ? [0, 1, 2, 3].flatMap((at) => found.filter((i) => rank(i) === at)) : found
  return ranked.slice(0, props.most ?? ranked.length)
})
watch(open, async (now) => {
  if (!now) return
  text.value = ''
  at.value = 0
  await nextTick()
  setTimeout(() => field.value?.focus(), 60)
})
watch(text, () => (at.value = 0))
function take(item: T | undefined): void {
  if (!item) return
  open.value = false
  emit('pick', item)
}
</script>

<template>
  <ElDialog v-model="open" :title="title" width="560" align-center>
    <ElInput
      ref="field"
      v-model="text"
      class="query"
      :aria-label="title"
      :placeholder="hint"
      @keydown.down.prevent="at = Math.min(at + 1, hits.length - 1)"
      @keydown.up.prevent="at = Math.max(at - 1, 0)"
      @keydown.enter.prevent="take(hits[at])"
    />
    <ul tabindex="-1">
      <li v-for="(item, i) in hits" :key="item.key">
        <ElButton text class="block" :class="{ at: i === at }" @click="take(item)">
          <span>{{ item.label }}</span> <span class="soft">{{ item.note }}</span>
        </ElButton>
      </li>
    </ul>
    <p v-if="!hits.length" class="soft">{{ nothing }}</p>
    <slot name="more" :text="text" />
  </ElDialog>
</template>

<style scoped>
.query {
  width: 100%;
  padding: 6px 9px;
  border: 1px solid var(--ink);
  background: #fff;
}
ul {
  list-style: none;
  margin: 8px 0 0;
  padding: 0;
  max-height: 360px;
  overflow: auto;
}
li :deep(.el-button > span) {
  justify-content: space-between;
}
li .at {
  background: #eee8da;
}
</style>
