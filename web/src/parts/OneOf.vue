<script setup lang="ts" generic="T extends string">
/** One of a few, side by side: the chosen one is filled. */
const value = defineModel<T>({ required: true })
defineProps<{ label: string; options: readonly { value: T; name: string }[] }>()
</script>

<template>
  <v-btn-toggle v-model="value" role="group" :aria-label="label">
    <v-btn
      v-for="o in options"
      :key="o.value"
      :value="o.value"
      :aria-pressed="o.value === value"
      :text="o.name"
    />
  </v-btn-toggle>
</template>
