<script setup lang="ts">
/** A pin in the margin: what was seen, which mechanisms fit with their reasons, and what the consultant decided. */
import { ElMessageBox } from 'element-plus'
import 'element-plus/theme-chalk/el-button.css'
import 'element-plus/theme-chalk/el-message-box.css'
import 'element-plus/theme-chalk/el-overlay.css'
import { computed, ref, watch } from 'vue'
import { RouterLink } from 'vue-router'
import PhotoStrip from '@/shared/PhotoStrip.vue'
import { day } from '@/shared/dates'
import { show } from '@/shared/units'
import type { Evidence, EvidenceState } from './useEvidence'
import SelectField from '@/shared/SelectField.vue'
import TextField from '@/shared/TextField.vue'

const props = defineProps<{ state: EvidenceState; evidence: Evidence; projectId: number }>()
const e = computed(() => props.evidence)
const other = ref('')
const reason = ref('')
const asking = ref(false)
watch(
  () => e.value.uid,
  () => {
    other.value = ''
    reason.value = ''
    asking.value = false
  },
)
const first = computed(() => e.value.proposals[0]?.mechanism)
/** The first, and what is too close to it to be told apart: any of them may be confirmed. */
const firsts = computed(() => e.value.first)
const percent = (share: number): string => (share < 0.005 ? 'under 1 %' : `${Math.round(share * 100)} %`)
const cause = computed(() => props.state.page.value?.mechanisms.find((m) => m.id === e.value.cause))
const wanted = computed(() => other.value || first.value || '')
const overruling = computed(() => !!wanted.value && !firsts.value.includes(wanted.value))
/** A pin cannot be brought back: what hangs on it is said first. */
async function removeAsked(): Promise<void> {
  const hangs = [
    e.value.photos.length ? `${e.value.photos.length} photo${e.value.photos.length === 1 ? '' : 's'}` : '',
    e.value.cause ? `its cause, confirmed by ${e.value.cause_by}` : '',
  ].filter(Boolean)
  try {
    await ElMessageBox.confirm(
      `${hangs.length ? `With it go ${hangs.join(' and ')}. ` : ''}Remove the pin?`,
      'Remove the pin',
      { confirmButtonText: 'Remove it', cancelButtonText: 'Keep it' },
    )
  } catch {
    return
  }
  await props.state.remove(e.value)
}
async function take(mechanism: string): Promise<void> {
  other.value = mechanism
  if (!firsts.value.includes(mechanism) && !reason.value.trim()) {
    asking.value = true
    return
  }
  if (await props.state.confirm(e.value, mechanism, reason.value)) asking.value = false
}
const readings = computed(() => {
  const r = e.value.pin.readings
  return [
    r.surface_c !== null && r.surface_c !== undefined && `surface ${show(r.surface_c, 'temperature')}`,
    r.air_c !== null && r.air_c !== undefined && `air ${show(r.air_c, 'temperature')}`,
    r.air_rh !== null && r.air_rh !== undefined && `RH ${Math.round(r.air_rh * 100)} %`,
    e.value.surface_rh !== null && `at the surface ${Math.round(e.value.surface_rh * 100)} % RH`,
    e.value.wood && `wood ${e.value.wood.percent.toFixed(0)} ± ${e.value.wood.uncertainty.toFixed(0)} %`,
  ].filter(Boolean)
})
</script>

<template>
  <section class="detail" :data-detail="e.uid">
    <h3>{{ state.numbers.value.get(e.uid) }}. {{ state.kindName(e.pin.kind) }}</h3>
    <p>
      {{ state.elementName(e.element_id) }}, {{ e.pin.side }}, {{ e.pin.extent }}; {{ day(e.pin.seen_on)
      }}{{ readings.length ? `; ${readings.join(', ')}` : '' }}.
    </p>
    <p v-if="e.pin.note" class="note">{{ e.pin.note }}</p>
    <PhotoStrip :project-id="projectId" :photos="e.photos" :captions="state.captions.value" />
    <p v-if="e.waiting" class="marginal">Waits on this device; what it points to is worked out once it is sent.</p>
    <template v-else>
      <template v-if="cause">
        <h3>Cause: {{ cause.name }}</h3>
        <p>
          Confirmed by {{ e.cause_by }}, {{ day(e.cause_at) }}{{ e.cause_reason ? `: ${e.cause_reason}` : '' }}.
          <RouterLink
            :to="{ name: 'water', params: { project: projectId }, query: { element: e.element_id ?? undefined } }"
            >{{ e.items }} water item{{ e.items === 1 ? '' : 's' }}</RouterLink
          >
          <ElButton link @click="state.confirm(e, '', '')">take it back</ElButton>
        </p>
      </template>
      <h3 v-else-if="e.proposals.length">{{ firsts.length > 1 ? 'Too close to tell apart' : 'What it points to' }}</h3>
      <ol v-if="e.proposals.length" class="proposals" :class="{ settled: !!cause }">
        <li v-for="p in e.proposals" :key="p.mechanism">
          <b>{{ p.name }}</b>
          <div class="share" :data-share="p.mechanism">
            <span class="bar" :style="{ width: `${p.share * 80}px` }" aria-hidden="true" />{{ percent(p.share) }}
            <ElButton v-if="!cause" class="take" @click="take(p.mechanism)">
              {{ firsts.includes(p.mechanism) ? 'Confirm' : 'Overrule' }}
            </ElButton>
          </div>
          <ul>
            <li v-for="r in p.reasons" :key="r">{{ r }}</li>
            <li v-for="r in p.against" :key="r" class="against">against: {{ r }}</li>
          </ul>
        </li>
      </ol>
      <p v-if="e.proposals.length" class="soft">Something else: {{ percent(e.other) }}.</p>
      <template v-if="e.next_look && !cause">
        <h3>Next look</h3>
        <p>
          {{ e.next_look.does }}. It tells <em>{{ e.next_look.between[0] }}</em> from
          <em>{{ e.next_look.between[1] }}</em>.
        </p>
        <p class="outcomes" role="group" aria-label="What the look showed">
          <ElButton
            v-for="one in e.next_look.outcomes"
            :key="one.id"
            @click="state.looked(e, e.next_look.id, one.id)"
            >{{ one.name }}</ElButton
          >
        </p>
      </template>
      <template v-if="e.looked.length">
        <h3>Looked at</h3>
        <ul class="looked">
          <li v-for="one in e.looked" :key="one.id">
            {{ one.does }}: <b>{{ one.outcome }}</b>
            <ElButton link @click="state.looked(e, one.id, null)">take it back</ElButton>
          </li>
        </ul>
      </template>
      <ElForm v-if="!cause" class="over" @submit.prevent="take(wanted)">
        <SelectField label="Another mechanism" v-model="other" name="mechanism">
          <ElOption value="" label="as proposed" />
          <ElOption v-for="m in state.page.value?.mechanisms" :key="m.id" :value="m.id" :label="m.name" />
        </SelectField>
        <TextField
          :label="overruling ? 'Why the rules are overruled' : 'Reason, if you like'"
          type="textarea"
          v-model="reason"
          name="cause-reason"
          :rows="2"
          maxlength="2000"
        />
        <p v-if="asking && !reason.trim()" class="complaint" role="alert">
          Overruling the rules needs a reason: write what you saw.
        </p>
        <ElButton native-type="submit" :disabled="!wanted">
          {{ overruling ? 'Overrule the rules' : 'Confirm with this reason' }}
        </ElButton>
      </ElForm>
    </template>
    <p class="hand">
      <ElButton link @click="state.edit(e)">change the pin</ElButton>
      <ElButton link @click="removeAsked">remove it</ElButton>
    </p>
  </section>
</template>

<style scoped>
.note {
  font-family: var(--serif);
}
.proposals {
  padding-left: 18px;
  margin: 4px 0;
}
.proposals.settled {
  color: var(--soft);
}
.proposals > li {
  margin-bottom: 6px;
}
.proposals ul {
  padding-left: 14px;
  margin: 2px 0;
  color: var(--soft);
}
.share {
  display: flex;
  align-items: center;
  min-height: 30px;
  white-space: nowrap;
  font-variant-numeric: tabular-nums;
}
.share .bar {
  display: inline-block;
  height: 8px;
  margin-right: 5px;
  background: var(--ink);
}
.take {
  margin-left: auto;
}
.against {
  list-style: '– ';
}
.outcomes {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
.outcomes .el-button {
  margin: 0;
  max-width: 100%;
  height: auto;
  min-height: 28px;
  text-align: left;
  white-space: normal;
}
.looked {
  padding-left: 16px;
  margin: 2px 0;
}
.over {
  display: grid;
  gap: 6px;
}
@media (max-width: 900px), (pointer: coarse) {
  .el-button {
    min-height: 46px;
    padding: 8px 16px;
  }
}
</style>
