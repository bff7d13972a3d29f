<script setup lang="ts">
import { computed } from 'vue'
import type { Field } from '#core/fields/field.ts'
import type { Ref } from '#core/fields/types.ts'
import type { TaskRow } from '#contract/tasks.ts'
import PersonMark from '#web/parts/PersonMark.vue'

/** Some people: their marks, and the name of one alone; whose work it was to be where there is none. */
const props = defineProps<{ field: Field<'task'>; task: TaskRow }>()
const people = computed(() => (props.field.read(props.task, { today: '' }) ?? []) as Ref[])
</script>

<template>
  <PersonMark v-for="p in people.slice(0, 3)" :key="p.id" :person="p" />
  <span v-if="people.length === 1" class="pn">{{ people[0]!.name }}</span>
  <span v-if="!people.length" class="ochre small">{{ task.role ?? 'nobody' }}</span>
</template>

<style scoped>
.pn {
  overflow: hidden;
  text-overflow: ellipsis;
}
</style>
