<script setup lang="ts">
import { computed } from 'vue'
import type { CustomField, FieldValue } from '#contract/fields.ts'
import type { TaskSheet } from '#contract/tasks.ts'
import OwnField from '#web/fields/OwnField.vue'
import { useSession } from '#web/state/session.ts'
import { toggling, type Edit } from './edits.ts'
import SeveralField from '#web/parts/SeveralField.vue'

/** A task's tags and custom fields, as pairs for the sheet's grid. */
const props = defineProps<{ task: TaskSheet }>()
const emit = defineEmits<{ save: [edit: Edit] }>()
const session = useSession()
const tagged = computed(() => props.task.tags.map((t) => t.id))
const toggle = (id: number) => emit('save', toggling('tags', id))
const set = (field: CustomField, value: FieldValue) =>
  emit('save', { fields: { [field.id]: value } })
const value = (field: CustomField) => props.task.fields[field.id]
</script>

<template>
  <template v-if="task.may.give || task.tags.length">
    <label for="ts-tags">Tags</label>
    <SeveralField
      id="ts-tags"
      label="Tags"
      to="tag"
      none="none"
      :chosen="tagged"
      :items="session.directory.tags"
      :readonly="!task.may.give"
      @toggle="toggle"
    />
  </template>
  <template
    v-for="f in task.customFields.filter((f) => task.may.give || value(f) !== undefined)"
    :key="f.id"
  >
    <label :for="`cf-${f.id}`">{{ f.name }}</label>
    <OwnField
      :id="`cf-${f.id}`"
      :field="f"
      :value="value(f)"
      :readonly="!task.may.give"
      @set="set(f, $event)"
    />
  </template>
</template>

<style scoped>
label {
  color: var(--ink-2);
  font-size: 12.5px;
  overflow-wrap: anywhere;
}
</style>
