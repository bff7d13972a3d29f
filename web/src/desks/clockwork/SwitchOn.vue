<script setup lang="ts">
import type { LateAlready } from '#contract/rules.ts'
import { plural } from '#web/parts/say.ts'

/** Asks, before a rule that time wakes is switched on, what becomes of what meets it already. */
const { found } = defineProps<{ name: string; found: LateAlready }>()
const emit = defineEmits<{ choose: [also: boolean]; close: [] }>()
const more = () => found.count - found.tasks.length
</script>

<template>
  <div class="dialog">
    <h3>Switch on “{{ name }}”</h3>
    <p>
      {{ plural(found.count, 'task meets', 'tasks meet') }} it already and would be acted on at
      once:
    </p>
    <ul>
      <li v-for="task in found.tasks" :key="task.id">
        <v-btn variant="plain" :to="`/today?task=${task.id}`">{{ task.title }}</v-btn>
        <span v-if="task.project" class="quiet">&nbsp;· {{ task.project }}</span>
      </li>
      <li v-if="more() > 0" class="quiet">and {{ more() }} more</li>
    </ul>
    <div class="btns">
      <v-btn variant="flat" @click="emit('choose', false)">Only from now on</v-btn>
      <v-btn @click="emit('choose', true)">Act on these too</v-btn>
      <v-btn variant="text" @click="emit('close')">Leave it</v-btn>
    </div>
  </div>
</template>

<style scoped>
ul {
  margin: 8px 0 14px;
  padding-left: 18px;
}
li {
  padding: 2px 0;
}
</style>
