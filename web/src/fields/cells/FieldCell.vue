<script setup lang="ts">
import { computed, type Component } from 'vue'
import type { FieldType } from '#core/fields/types.ts'
import type { TaskRow } from '#contract/tasks.ts'
import { fieldOf, sayField } from '../fields.ts'
import type { Known } from '../known.ts'
import PeopleCell from './PeopleCell.vue'
import TagsCell from './TagsCell.vue'

/** What a field holds on a task, as its type is shown; most are words. */
const props = defineProps<{ path: string; task: TaskRow; known: Known }>()
const CELLS: Readonly<Partial<Record<FieldType, Component>>> = {
  people: PeopleCell,
  tags: TagsCell,
}
const field = computed(() => fieldOf(props.known, props.path))
const cell = computed(() => field.value && CELLS[field.value.type])
</script>

<template>
  <component :is="cell" v-if="cell" :field="field" :task="task" />
  <span v-else class="pn">{{ sayField(known, path, task) }}</span>
</template>

<style scoped>
.pn {
  overflow: hidden;
  text-overflow: ellipsis;
}
</style>
