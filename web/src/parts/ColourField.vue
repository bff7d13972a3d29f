<script setup lang="ts" generic="C extends string | null">
import { PALETTE } from '#contract/fields.ts'

/** A colour of the palette, shown as it looks; `none` names going without one. */
const colour = defineModel<C>({ required: true })
const { none } = defineProps<{ label: string; none?: string; disabled?: boolean }>()
const items = [
  ...(none ? [{ value: null, title: none }] : []),
  ...PALETTE.map((value) => ({ value, title: value })),
]
</script>

<template>
  <v-select v-model="colour" class="colour" :items="items" :aria-label="label" :readonly="disabled">
    <template #item="{ props: line, item }">
      <v-list-item v-bind="line" :title="undefined">
        <span :class="item.value ? `tint c-${item.value}` : 'quiet'">{{ item.title }}</span>
      </v-list-item>
    </template>
    <template #selection="{ item }">
      <span :class="item.value ? `tint c-${item.value}` : 'quiet'">{{ item.title }}</span>
    </template>
  </v-select>
</template>

<style scoped>
.colour {
  flex: none;
  width: 118px;
}
</style>
