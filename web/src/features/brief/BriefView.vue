<script setup lang="ts">
/** Step 1: aims, what may not change, targets, people and roles. Kept as one types; two windows are told of each other. */
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import ReadingNote from '@/shared/ReadingNote.vue'
import SheetPage from '@/shared/SheetPage.vue'
import QuantityInput from '@/shared/QuantityInput.vue'
import { useProject } from '@/shared/project'
import { said, show } from '@/shared/units'
import SelectField from '@/shared/SelectField.vue'
import BriefLimits from './BriefLimits.vue'
import BriefRoles from './BriefRoles.vue'
import TextField from '@/shared/TextField.vue'
import BriefTargets from './BriefTargets.vue'
import { useBrief } from './useBrief'

const route = useRoute()
const project = useProject()
const id = computed(() => Number(route.params.project))
const { page, brief, complaint, theirs, saved, unread, load, keep } = useBrief(id)
</script>

<template>
  <SheetPage title="Brief" written>
    <div class="head">
      <h1>Brief</h1>
      <span class="soft" aria-live="polite">{{ saved }}</span>
    </div>
    <p v-if="complaint || unread" class="complaint" role="alert">
      {{ complaint || unread }}
      <template v-if="theirs">
        <ElButton link @click="load">Take theirs</ElButton>
        <ElButton link @click="keep(true)">Write mine over it</ElButton>
      </template>
    </p>
    <ReadingNote v-if="!brief && !complaint" what="the brief" />
    <ElForm v-if="brief" class="brief" @submit.prevent>
      <TextField
        class="whole"
        label="Aims, in the client’s words"
        type="textarea"
        v-model="brief.aims"
        :rows="3"
        maxlength="4000"
      />
      <TextField class="broad" label="Place" v-model="brief.place" maxlength="200" name="place" />
      <QuantityInput
        v-model="brief!.altitude_m"
        label="Altitude above the sea"
        quantity="length"
        :digits="0"
        :least="-430"
        :most="6000"
        optional
      />
      <ElCheckbox
        v-if="page"
        class="climate"
        :model-value="brief.climate_agreed === page.climate"
        data-climate-agreed
        @update:model-value="(v: unknown) => (brief!.climate_agreed = v ? page!.climate : '')"
        >{{ page.climate_words }}: stands for this place</ElCheckbox
      >
      <TextField class="two" label="People and use" type="textarea" v-model="brief.use" :rows="2" maxlength="4000" />
      <QuantityInput
        v-model="brief!.people"
        label="People"
        quantity="plain"
        :digits="0"
        :least="0"
        :most="500"
        optional
      />
      <div class="money">
        <QuantityInput
          v-model="brief!.budget"
          label="Budget"
          quantity="plain"
          :digits="0"
          :least="0"
          :most="1e9"
          optional
        />
        <TextField label="in" v-model="brief.currency" maxlength="8" />
      </div>
      <SelectField
        label="During the works"
        :model-value="brief.lived_in_during_works ?? ''"
        @update:model-value="(now) => (brief!.lived_in_during_works = now === '' ? null : now)"
      >
        <ElOption value="" label="not asked yet" />
        <ElOption :value="true" label="lived in" />
        <ElOption :value="false" label="empty" />
      </SelectField>

      <QuantityInput
        v-model="brief!.built_year"
        label="Built in"
        quantity="plain"
        :digits="0"
        :least="1000"
        :most="2100"
        optional
      />
      <TextField
        class="two"
        label="Flues and appliances"
        type="textarea"
        v-model="brief.appliances"
        :rows="2"
        maxlength="4000"
        name="appliances"
      />
      <TextField class="two" label="Fans" type="textarea" v-model="brief.fans" :rows="2" maxlength="4000" name="fans" />
      <TextField
        class="two"
        label="Bills"
        type="textarea"
        v-model="brief.bills"
        :rows="2"
        maxlength="4000"
        name="bills"
      />
      <TextField
        class="two"
        label="Habits of airing and drying"
        type="textarea"
        v-model="brief.habits"
        :rows="2"
        maxlength="4000"
        name="habits"
      />

      <section class="whole">
        <div class="bar">
          <h2>What may not change</h2>
          <ElButton @click="brief.limits.push({ kind: 'face', body: '', facing: '', most_mm: 0, reason: '' })">
            Add a limit
          </ElButton>
        </div>
        <p v-if="!brief.limits.length" class="soft">
          No limit yet. Options, Compare and the element’s sheet obey what stands here.
        </p>
        <BriefLimits v-else v-model="brief.limits" :bodies="page?.bodies ?? []" />
      </section>

      <section class="whole">
        <BriefTargets
          v-model="brief.targets"
          :examples="page?.example_targets ?? {}"
          :note="page?.example_note ?? ''"
        />
      </section>

      <section class="whole">
        <div class="bar">
          <h2>Who answers for what</h2>
          <ElButton @click="brief.roles.push({ role: 'client', name: '', answers_for: '' })"> Add a role </ElButton>
        </div>
        <BriefRoles v-if="brief.roles.length" v-model="brief.roles" />
        <p v-else class="soft">Client, consultant, structural engineer, heating designer, heritage officer, builder.</p>
      </section>
    </ElForm>

    <template #margin>
      <h3>{{ page?.missing.length ? 'Still to ask' : 'Brief complete' }}</h3>
      <p v-if="page?.missing.length">{{ page.missing.join(', ') }}.</p>
      <p v-else>Nothing is missing that a careful colleague would ask.</p>
      <template v-if="page?.affected.length">
        <h3>Where the limits bite</h3>
        <p v-for="words in page.affected.slice(0, 10)" :key="words.metric" class="bite">{{ said(words) }}</p>
        <p v-if="page.affected.length > 10" class="soft">and {{ page.affected.length - 10 }} more.</p>
      </template>
      <template v-if="brief?.budget && project.page?.project.floor_area_m2">
        <h3>Budget</h3>
        <p>
          {{ Math.round(brief.budget / project.page.project.floor_area_m2) }} {{ brief.currency }} for each m² of
          {{ show(project.page.project.floor_area_m2, 'area', 0) }}.
        </p>
      </template>
      <h3>Caution</h3>
      <p class="soft">
        Listing, consent and the local code rule over every limit and target written here. Ask before promising.
      </p>
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
.bar {
  margin: 12px 0 6px;
}
.bar .el-button + .el-button {
  margin-left: 8px;
}
.brief {
  display: grid;
  grid-template-columns: repeat(4, minmax(0, 1fr));
  gap: 10px 16px;
  align-items: start;
}
.whole {
  grid-column: 1 / -1;
}
.two {
  grid-column: span 2;
  grid-row: span 2;
}
.broad {
  grid-column: span 2;
}
.climate {
  align-self: end;
  height: auto;
  white-space: normal;
}
.two :deep(textarea) {
  height: 88px;
}
.money {
  display: grid;
  grid-template-columns: 1fr 64px;
  gap: 8px;
}
aside h3 {
  margin-top: 10px;
}
.bite {
  margin: 2px 0 6px;
}
@media (max-width: 900px) {
  .brief {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
