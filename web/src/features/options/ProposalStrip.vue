<script setup lang="ts">
/** One proposal: its name and figures, the build-up to scale, what must be true first, and the rest on asking. */
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import type { Scale, Strip } from '@/drawing/scale'
import StateMark from '@/shared/StateMark.vue'
import { said, show } from '@/shared/units'
import StripDrawing from './StripDrawing.vue'

const props = defineProps<{
  proposal: Schemas['Offered']
  run: Schemas['WayRun'] | undefined
  index: number
  strip: Strip
  scale: Scale
  width: number
  busy: boolean
  taken: boolean
  ends: [string, string]
}>()
const emit = defineEmits<{ take: []; look: [] }>()
const open = ref(false)
const layer = ref<string | null>(null)
/** Of as found, where it stands. */
const removed = computed(() => props.scale.strips[0]!.placed.filter((p) => p.layer.id in props.proposal.comes_off))
const state = computed(() => {
  const p = props.proposal
  const short = p.reached ? '' : ', short of the target'
  switch (p.stands?.state) {
    case 'stands':
      return { state: 'within', words: `stands in its hourly years${short}` }
    case 'stands only if':
      return { state: 'marginal', words: `stands only under a condition${short}` }
    case 'does not stand':
      return { state: 'over', words: 'does not stand' }
    case 'cannot be run':
      return { state: 'not judged', words: 'cannot be run' }
  }
  const run = props.run
  if (run?.status === 'running') return { state: 'not judged', words: `being run, ${Math.round(100 * run.progress)} %` }
  if (run?.status === 'waiting') return { state: 'not judged', words: 'waits to be run' }
  if (run?.status === 'failed') return { state: 'not judged', words: `its years failed: ${run.error}` }
  return { state: 'not judged', words: 'not run' }
})
const years = computed(() => {
  const s = props.proposal.stands
  if (!s) return []
  return [
    ['Usual year', s.usual],
    ['Bad year', s.bad],
    ['With rain that gets in', s.rain],
  ].filter((row): row is [string, Schemas['Said']] => !!row[1])
})
const figures = computed(() => {
  const p = props.proposal
  const out = p.growth_m * 1000
  const room = p.room_m * 1000
  return [
    p.u === null ? p.refused : `U ${show(p.u, 'transmittance')}`,
    Math.abs(out) >= 0.5
      ? `${out > 0 ? 'grows' : 'gives back'} ${show(Math.abs(out), 'thickness')} ${props.ends[0].toLowerCase()}`
      : '',
    Math.abs(room) >= 0.5
      ? `${room > 0 ? 'takes' : 'gives'} ${show(Math.abs(room), 'thickness')} ${props.ends[1].toLowerCase()}`
      : '',
    p.grown_mm ? `${show(p.grown_mm, 'thickness')}: ${said(p.why)}` : said(p.why),
  ].filter(Boolean)
})
const DOES: [keyof Schemas['Offered']['does_to'], string][] = [
  ['reveals', 'reveals'],
  ['eaves', 'eaves and verges'],
  ['stairs', 'stairs'],
  ['sockets', 'sockets, lamps, pipes'],
  ['doors', 'doors'],
]
</script>

<template>
  <section class="proposal" :data-way="proposal.way" :aria-label="`Proposal ${index}: ${proposal.name}`">
    <div class="title">
      <b>{{ index }}</b>
      <h2>{{ proposal.name }}</h2>
      <span class="soft">{{ proposal.school }}</span>
      <span class="right">
        <StateMark v-bind="state" />
        <ElButton v-if="taken" size="small" @click="emit('look')">See it on the sheet</ElButton>
        <ElButton v-else size="small" type="primary" :disabled="busy" @click="emit('take')">Take as an option</ElButton>
      </span>
    </div>
    <StripDrawing
      :strip="strip"
      :scale="scale"
      :width="width"
      :name="proposal.name"
      :figures="null"
      :selected="layer"
      :removed="removed"
      @select="(id: string) => (layer = layer === id ? null : id)"
    />
    <p class="figures">{{ figures.join(' · ') }}</p>
    <p v-for="o in proposal.over_limits" :key="o.metric" class="over">{{ said(o) }}</p>
    <p v-if="proposal.stands?.condition" class="doubt" data-condition>
      <b>Only if</b> {{ said(proposal.stands.condition) }}. {{ said(proposal.stands.because) }}
    </p>
    <p v-else-if="proposal.stands && proposal.stands.state !== 'stands'" class="over" data-because>
      {{ said(proposal.stands.because) }}
    </p>
    <p v-if="proposal.practice" class="soft practice">{{ said(proposal.practice) }}</p>
    <p v-for="d in proposal.doubts" :key="d.metric" class="doubt">{{ said(d) }}</p>
    <p v-if="removed.length" class="first" data-comes-off>
      <b>Comes off</b> <s>{{ Object.values(proposal.comes_off).map(said).join('; ') }}</s>, crossed out in the drawing
    </p>
    <p v-if="proposal.first.length" class="first"><b>First</b> {{ proposal.first.map(said).join('; ') }}.</p>
    <ElButton link :aria-expanded="open" @click="open = !open">
      {{ open ? 'Less' : 'What it relies on, how it fails, what it does to the house' }}
    </ElButton>
    <dl v-if="open">
      <template v-for="[name, words] in years" :key="name">
        <dt>{{ name }}</dt>
        <dd>{{ said(words) }}</dd>
      </template>
      <dt>It says</dt>
      <dd>{{ said(proposal.says) }}</dd>
      <dt>Relies on</dt>
      <dd>{{ proposal.relies_on.map(said).join('; ') }}.</dd>
      <dt>Fails when</dt>
      <dd>{{ proposal.fails_when.map(said).join('; ') }}.</dd>
      <template v-for="[name, words] in DOES" :key="name">
        <dt>To {{ words }}</dt>
        <dd>{{ said(proposal.does_to[name]) }}.</dd>
      </template>
      <dt>It takes</dt>
      <dd>{{ said(proposal.takes) }}.</dd>
      <dt>While it is open</dt>
      <dd>{{ said(proposal.while_open) }}</dd>
      <dt>Animals</dt>
      <dd>{{ said(proposal.animals) }}</dd>
      <dt>A later owner</dt>
      <dd>{{ said(proposal.later) }}</dd>
      <dt>Taken back</dt>
      <dd>{{ said(proposal.reversible) }}.</dd>
      <dt>Against it</dt>
      <dd>{{ said(proposal.objection) }}</dd>
    </dl>
  </section>
</template>

<style scoped>
.proposal {
  padding: 8px 0 10px;
  border-top: 1px solid var(--rule);
}
.title {
  display: flex;
  gap: 9px;
  align-items: baseline;
  flex-wrap: wrap;
}
h2 {
  margin: 0;
  font-size: 16px;
}
.right {
  margin-left: auto;
  display: flex;
  gap: 12px;
  align-items: center;
}
.figures {
  margin: 2px 0;
  font-weight: 600;
}
.doubt {
  margin: 2px 0;
  color: var(--marginal);
}
.first,
.practice {
  margin: 2px 0;
}
.over {
  margin: 2px 0;
  color: var(--over);
}
dl {
  display: grid;
  grid-template-columns: 150px 1fr;
  gap: 2px 12px;
  margin: 6px 0 0;
}
dt {
  color: var(--soft);
}
dd {
  margin: 0;
}
</style>
