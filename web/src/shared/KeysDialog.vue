<script setup lang="ts">
const open = defineModel<boolean>({ required: true })
const single = defineModel<boolean>('single', { required: true })
const always: [string, string][] = [
  ['← →', 'previous layer, next'],
  ['↑ ↓', 'strip above, below'],
  ['80, 2 in, R13', 'with a layer selected: its thickness'],
  ['Enter', 'commit what is typed'],
  ['Esc', 'take it back; select nothing'],
  ['+ −', 'thickness by one step'],
  ['Insert', 'insert a layer inside of the selected one'],
  ['Delete', 'remove the selected layer'],
  ['Alt ← Alt →', 'move the layer'],
  ['Shift ← Shift →', 'several layers in hand'],
  ['Ctrl C, X, V', 'copy, cut, paste layers; with none in hand the option, also to another element or project'],
  ['Alt 1 … 9', 'option 1 to 9'],
  ['Ctrl Z, Ctrl Shift Z', 'undo, redo'],
]
const bare: [string, string][] = [
  ['/', 'find anything'],
  ['?', 'these keys'],
  ['[ ]', 'previous element, next'],
  ['D', 'duplicate the option'],
  ['R', 'run the years'],
  ['T', 'wetting test'],
  ['U', 'units'],
]
</script>

<template>
  <ElDialog v-model="open" title="Keys" width="560" align-center>
    <h3>Always</h3>
    <dl>
      <template v-for="[key, what] in always" :key="key">
        <dt>{{ key }}</dt>
        <dd>{{ what }}</dd>
      </template>
    </dl>
    <h3>With no layer selected</h3>
    <dl>
      <template v-for="[key, what] in bare" :key="key">
        <dt>{{ key }}</dt>
        <dd>{{ what }}</dd>
      </template>
    </dl>
    <ElCheckbox v-model="single">Single keys act</ElCheckbox>
  </ElDialog>
</template>

<style scoped>
dl {
  display: grid;
  grid-template-columns: 170px 1fr;
  gap: 3px 12px;
  margin: 6px 0 14px;
}
dt {
  font-weight: 600;
}
dd {
  margin: 0;
}
</style>
