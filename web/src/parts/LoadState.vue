<script setup lang="ts">
/** What a page shows while it has nothing to show: that it is reading, or why it cannot. */
defineProps<{ error: string | null; missing?: boolean }>()
defineEmits<{ retry: [] }>()
</script>

<template>
  <div v-if="error" class="empty" role="alert">
    <h3>This cannot be shown</h3>
    <p>{{ error }}</p>
    <div class="btns"><button class="btn" @click="$emit('retry')">Try again</button></div>
  </div>
  <div v-else class="empty quiet" role="status">Reading…</div>
</template>
