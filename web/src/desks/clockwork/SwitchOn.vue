<script setup lang="ts">
import type { LateAlready } from '#contract/rules.ts'
import { plural } from '#web/parts/say.ts'

/** Asks, before a rule on late work is switched on, what becomes of what is late already. */
const { found } = defineProps<{ name: string; found: LateAlready }>()
const emit = defineEmits<{ choose: [also: boolean]; close: [] }>()
const more = () => found.count - found.tasks.length
</script>

<template>
  <div class="dialog">
    <h3>Switch on “{{ name }}”</h3>
    <p>
      {{ plural(found.count, 'task is', 'tasks are') }} late already and would be acted on at once:
    </p>
    <ul>
      <li v-for="task in found.tasks" :key="task.id">
        <router-link :to="`/today?task=${task.id}`">{{ task.title }}</router-link>
        <span v-if="task.project" class="quiet">&nbsp;· {{ task.project }}</span>
      </li>
      <li v-if="more() > 0" class="quiet">and {{ more() }} more</li>
    </ul>
    <div class="btns">
      <button class="btn pri" @click="emit('choose', false)">Only from now on</button>
      <button class="btn" @click="emit('choose', true)">Act on these too</button>
      <button class="btn flat" @click="emit('close')">Leave it off</button>
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
