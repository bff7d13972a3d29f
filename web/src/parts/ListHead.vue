<script setup lang="ts">
/** The head of a page that lists things: its title, what narrows the list, and what is done here. */
const words = defineModel<string>({ required: true })
defineProps<{ title: string; narrows: string }>()
</script>

<template>
  <div class="head">
    <h1>{{ title }}</h1>
    <v-text-field
      v-model="words"
      class="find"
      placeholder="Narrow"
      :aria-label="narrows"
      maxlength="80"
    />
    <slot />
  </div>
</template>

<style scoped>
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: center;
  margin-bottom: 12px;
}
h1 {
  flex: 1;
}
.find {
  flex: 0 1 220px;
  min-width: 130px;
}
</style>
