<script setup lang="ts">
/** What leaves the element only so much, by its name: a stair, a door's swing, the fascia, what it may carry. */
import type { Schemas } from '@/api/client'
import QuantityInput from '@/shared/QuantityInput.vue'

type Limit = Schemas['NamedLimit']
const limits = defineModel<Limit[]>({ required: true })
const KINDS: [string, [Limit['kind'], string][]][] = [
  [
    'inside',
    [
      ['stair', 'stair'],
      ['door swing', 'swing of a door'],
      ['radiator', 'radiator and pipes'],
      ['headroom', 'headroom'],
      ['fittings', 'what is built in'],
    ],
  ],
  [
    'outside',
    [
      ['eaves', 'eaves at the fascia'],
      ['verge', 'verge'],
      ['sill', 'projection of the sill'],
      ['pipes', 'down pipes and vents'],
      ['boundary', 'boundary'],
    ],
  ],
  ['load', [['weight', 'what it may carry']]],
]
const MOST = 12
</script>

<template>
  <div>
    <div v-for="(limit, i) in limits" :key="i" class="limit" role="group" :aria-label="`Limit ${i + 1}`">
      <ElSelect v-model="limit.kind" :aria-label="`Limit ${i + 1}, what`" class="kind">
        <ElOptionGroup v-for="[side, kinds] in KINDS" :key="side" :label="side">
          <ElOption v-for="[kind, words] in kinds" :key="kind" :value="kind" :label="words" />
        </ElOptionGroup>
      </ElSelect>
      <span class="soft">leaves</span>
      <QuantityInput
        v-model="limit.most"
        class="most"
        :label="`Limit ${i + 1}`"
        bare
        :quantity="limit.kind === 'weight' ? 'water' : 'thickness'"
        :digits="limit.kind === 'weight' ? 0 : undefined"
        :least="0"
        :most="3000"
      />
      <ElInput v-model="limit.note" maxlength="300" placeholder="why" :aria-label="`Limit ${i + 1}, why`" />
      <ElButton link :aria-label="`Remove limit ${i + 1}`" @click="limits.splice(i, 1)">remove</ElButton>
    </div>
    <ElButton v-if="limits.length < MOST" link @click="limits.push({ kind: 'stair', most: 0, note: '' })">
      Add what limits it: stair, door, radiator, headroom, sill, load …
    </ElButton>
  </div>
</template>

<style scoped>
.limit {
  display: flex;
  gap: 8px;
  align-items: center;
  margin-bottom: 6px;
}
.kind {
  width: 190px;
  flex: none;
}
.most {
  width: 110px;
  flex: none;
}
</style>
