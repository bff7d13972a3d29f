<script setup lang="ts" generic="T extends string | number">
/** A word in a sentence that opens into its alternatives. */
const value = defineModel<T>({ required: true })
defineProps<{
  options: readonly { value: T; name: string }[]
  label: string
  tone?: 'plain' | 'value' | 'person'
  disabled?: boolean
}>()
</script>

<template>
  <v-menu>
    <template #activator="{ props }">
      <button
        v-bind="props"
        type="button"
        class="tok"
        :class="tone"
        :disabled="disabled"
        :aria-label="`${label}: ${options.find((o) => o.value === value)?.name ?? value}`"
      >
        {{ options.find((o) => o.value === value)?.name ?? value }}
      </button>
    </template>
    <div class="menu" role="listbox" :aria-label="label">
      <button
        v-for="o in options"
        :key="o.value"
        role="option"
        :aria-selected="o.value === value"
        :class="{ on: o.value === value }"
        @click="value = o.value"
      >
        {{ o.name }}
      </button>
    </div>
  </v-menu>
</template>

<style scoped>
.tok {
  display: inline-block;
  background: var(--sheet);
  border: 1px solid var(--rule-strong);
  border-bottom-width: 2px;
  border-radius: 4px;
  padding: 2px 8px;
  margin: 2px 3px 2px 0;
  font-weight: 550;
}
.tok.value {
  color: var(--dusk);
  background: var(--dusk-wash);
  border-color: color-mix(in srgb, var(--dusk) 35%, transparent);
}
.tok.person {
  color: var(--heather);
  background: var(--heather-wash);
  border-color: color-mix(in srgb, var(--heather) 35%, transparent);
}
.tok:disabled {
  cursor: default;
}
</style>
