<script setup lang="ts" generic="T extends string | number">
import { computed } from 'vue'
import LineMenu from './LineMenu.vue'

defineOptions({ inheritAttrs: false })
/** A word in a sentence that opens into its alternatives. */
const value = defineModel<T>({ required: true })
const { options } = defineProps<{
  options: readonly { value: T; name: string }[]
  label: string
  tone?: 'plain' | 'value' | 'person'
  disabled?: boolean
}>()
const said = computed(() => options.find((o) => o.value === value.value)?.name ?? value.value)
</script>

<template>
  <LineMenu
    :label="label"
    :disabled="disabled"
    :lines="
      options.map((o) => ({ name: o.name, on: o.value === value, run: () => (value = o.value) }))
    "
  >
    <template #default="{ props }">
      <v-btn
        v-bind="{ ...$attrs, ...props }"
        variant="plain"
        class="tok"
        :class="tone"
        :disabled="disabled"
        :aria-label="`${label}: ${said}`"
      >
        {{ said }}
      </v-btn>
    </template>
  </LineMenu>
</template>
