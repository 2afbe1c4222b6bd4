<script setup lang="ts">
/** One strip of the sheet: its name and what its years say, the drawing, the layer in hand, its figures. */
import { ElMessageBox } from 'element-plus'
import 'element-plus/theme-chalk/el-message-box.css'
import 'element-plus/theme-chalk/el-overlay.css'
import 'element-plus/theme-chalk/el-button.css'
import { computed, ref, toRef } from 'vue'
import { RouterLink } from 'vue-router'
import type { Scale } from '@/drawing/scale'
import StateMark from '@/shared/StateMark.vue'
import LayerBar from './LayerBar.vue'
import LeakBar from './LeakBar.vue'
import { stripWords } from './said'
import StripDrawing from './StripDrawing.vue'
import StripFigures from './StripFigures.vue'
import type { SheetState, Work } from './useSheet'

const props = defineProps<{
  state: SheetState
  w: Work
  index: number
  scale: Scale
  width: number
  projectId: number
}>()
const emit = defineEmits<{ select: [layer: string | null, more?: boolean]; find: [mode: 'insert' | 'swap'] }>()
const bar = ref<InstanceType<typeof LayerBar>>()
const live = computed(() => props.state.liveState(props.w))
const here = computed(() => props.index === props.state.at.strip)
const option = computed(() => props.index > 0 && here.value)
const layer = computed(() => (here.value ? props.state.at.layer : null))
/** What of as found it takes out, where that stood. */
const removed = computed(() => {
  const off = props.index ? (props.w.figures.comes_off ?? []) : []
  return props.scale.strips[0]!.placed.filter((p) => off.includes(p.layer.id))
})
const element = computed(() => props.state.sheet.value?.element)

/** A question first where a choice or finished years hang on it. */
async function removeAsked(): Promise<void> {
  const chosen = element.value?.chosen_id === props.w.id
  if (chosen || props.w.run.verdict) {
    const what = chosen
      ? `“${props.w.name}” is the chosen option, with its reason.`
      : `“${props.w.name}” has its years run.`
    try {
      await ElMessageBox.confirm(`${what} Remove it?`, 'Remove the option', {
        confirmButtonText: 'Remove it',
        cancelButtonText: 'Keep it',
      })
    } catch {
      return
    }
  }
  await props.state.removeOption()
}
function stateFirst(): void {
  emit('select', null)
  emit('find', 'insert')
}
function dropIt(): void {
  emit('select', null)
  void props.state.dropDraft(props.w)
}
defineExpose({ index: toRef(props, 'index'), begin: () => bar.value?.begin() })
</script>

<template>
  <section
    class="strip"
    :class="{ here }"
    :data-option="w.id"
    :aria-label="index === 0 ? 'As found' : `Option ${index}: ${w.name}`"
    @click.stop="emit('select', null)"
  >
    <div class="title">
      <b v-if="index">{{ index }}</b>
      <ElInput
        v-if="option"
        class="rename"
        :model-value="w.name"
        :model-modifiers="{ lazy: true }"
        maxlength="120"
        aria-label="Name of the option"
        :style="{ width: `${Math.max(12, w.name.length) + 2}ch` }"
        @update:model-value="state.rename"
      />
      <b v-else>{{ w.name }}</b>
      <ElButton link v-if="option" class="small" @click.stop="removeAsked"> remove option </ElButton>
      <span class="state">
        <StateMark v-bind="stripWords(w, index)" />
        <ElButton link v-if="live === 'running' || live === 'waiting'" class="small" @click.stop="state.cancel(w)">
          cancel
        </ElButton>
      </span>
    </div>
    <progress v-if="live === 'running'" :value="w.run.progress" max="1" :aria-label="w.run.doing" />
    <p v-if="!w.layers.length" class="unstated">
      Its layers are not stated: no figure is made up for them.
      <ElButton @click.stop="stateFirst"> State the outermost layer </ElButton>
      <RouterLink :to="{ name: 'survey', params: { project: projectId, view: 'make' } }"
        >or give it the construction of another element</RouterLink
      >
    </p>
    <StripDrawing
      v-else-if="scale.strips[index]"
      :strip="scale.strips[index]!"
      :scale="scale"
      :width="width"
      :name="w.name"
      :figures="w.figures"
      :selected="layer"
      :removed="removed"
      :in-hand="here ? state.inHand().map((l) => l.id) : []"
      @select="(id, more) => emit('select', id, more)"
    />
    <p v-if="here && state.at.to" class="several" @click.stop>
      {{ state.inHand().length }} layers in hand:
      <ElButton link title="Ctrl C" @click="state.copyIt()">copy</ElButton>
      <ElButton link title="Ctrl X" @click="state.cutIt()">cut</ElButton>
      <ElButton link title="Delete" @click="state.removeInHand()">remove</ElButton>
      <ElButton link @click="state.alone()">only the first</ElButton>
    </p>
    <LayerBar v-else-if="layer" ref="bar" :state="state" @find="(mode) => emit('find', mode)" @click.stop />
    <p v-if="w.complaint" class="complaint" role="alert">
      {{ w.complaint }}
      <template v-if="w.conflict">
        <ElButton link @click.stop="state.takeTheirs()">Take theirs</ElButton>
        <ElButton link @click.stop="state.keepMineAsNew()"> Keep mine as a new option </ElButton>
      </template>
    </p>
    <p v-else-if="state.isDraft(w) && state.typed.value === null" class="soft draft">
      A draft, not committed.
      <ElButton link @click.stop="state.commit(w)">Commit it</ElButton>
      <ElButton link @click.stop="dropIt"> Drop it </ElButton>
    </p>
    <LeakBar v-if="w.layers.length && here && !layer" :state="state" @click.stop />
    <StripFigures
      v-if="w.layers.length"
      :figures="w.figures"
      :run="w.run"
      :tests="w.tests"
      :live="live"
      :target="element?.target_u_w_m2k"
      :as-found="index === 0"
      @click.stop
    />
  </section>
</template>

<style scoped>
.strip {
  padding: 3px 0 7px;
  position: relative;
}
.strip.here::before {
  content: '';
  position: absolute;
  left: -14px;
  top: 6px;
  bottom: 8px;
  width: 3px;
  background: var(--ink);
}
.title {
  display: flex;
  gap: 9px;
  align-items: center;
  min-height: 25px;
}
.rename {
  max-width: 100%;
}
.rename :deep(.el-input__wrapper) {
  box-shadow: 0 1px 0 var(--rule);
  border-radius: 0;
  background: none;
  padding: 0;
  min-height: 22px;
}
.rename :deep(.el-input__inner) {
  font-weight: 600;
  height: 22px;
}
.small {
  font-size: 13px;
}
.state {
  margin-left: auto;
  display: flex;
  gap: 8px;
  white-space: nowrap;
}
progress {
  width: 100%;
  height: 4px;
  display: block;
  accent-color: var(--ink);
}
.draft {
  margin: 2px 0;
}
.several {
  margin: 3px 0;
  padding: 4px 8px;
  background: #f0ebdd;
  border: 1px solid var(--ink);
}
.unstated {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: center;
  padding: 10px;
  border: 1px dashed var(--ink);
}
</style>
