<script setup lang="ts">
import { computed } from 'vue'
import type { Field } from '#core/fields/field.ts'
import type { Ref } from '#core/fields/types.ts'
import type { TaskRow } from '#contract/tasks.ts'

/** Tags in their colours. */
const props = defineProps<{ field: Field<'task'>; task: TaskRow }>()
const tags = computed(() => (props.field.read(props.task, { today: '' }) ?? []) as Ref[])
</script>

<template>
  <span v-for="t in tags" :key="t.id" class="tint" :class="`c-${t.colour}`">{{ t.name }}</span>
</template>
