<script setup lang="ts">
/** What a page shows while it has nothing to show: that it is reading, or why it cannot. */
defineProps<{ error: string | null }>()
defineEmits<{ retry: [] }>()
</script>

<template>
  <div v-if="error" class="empty" role="alert">
    <h3>This cannot be shown</h3>
    <p>{{ error }}</p>
    <div class="btns"><v-btn @click="$emit('retry')">Try again</v-btn></div>
  </div>
  <div v-else class="reading" role="status">
    <span class="sr">Reading…</span>
    <v-skeleton-loader type="heading, list-item@6" aria-hidden="true" />
  </div>
</template>
