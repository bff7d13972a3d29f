<script setup lang="ts">
import type { CustomField, FieldValue } from '#contract/fields.ts'
import OwnField from './OwnField.vue'

/** The firm's own fields of a project or a client in its form, each under its name. */
const values = defineModel<Readonly<Record<number, FieldValue>>>({ required: true })
defineProps<{ fields: readonly CustomField[]; faultAt: (place: string) => string | undefined }>()
</script>

<template>
  <div v-for="field in fields" :key="field.id" class="field">
    <label :for="`own-${field.id}`">{{ field.name }}</label>
    <OwnField
      :id="`own-${field.id}`"
      :field="field"
      :value="values[field.id]"
      @set="values = { ...values, [field.id]: $event }"
    />
    <p v-if="faultAt(`field:${field.id}`)" class="wrong" role="alert">
      {{ faultAt(`field:${field.id}`) }}
    </p>
  </div>
</template>
