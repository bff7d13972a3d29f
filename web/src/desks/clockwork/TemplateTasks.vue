<script setup lang="ts">
import type { Template } from '#core/templates/template.ts'
import { sayMinutes } from '#web/parts/say.ts'

/** The first tasks of each phase of a template, with what they say. */
defineProps<{ template: Template }>()
</script>

<template>
  <v-table>
    <thead>
      <tr>
        <th>Task</th>
        <th>Phase</th>
        <th>Role</th>
        <th>Effort</th>
        <th>Days</th>
      </tr>
    </thead>
    <tbody>
      <template v-for="phase in template.phases" :key="phase.key">
        <tr v-for="t in phase.tasks.slice(0, 40)" :key="t.key">
          <td>{{ t.title }}</td>
          <td>{{ phase.name }}</td>
          <td>{{ template.roles?.find((r) => r.key === t.role)?.name }}</td>
          <td>{{ t.effort === undefined ? '' : sayMinutes(t.effort) }}</td>
          <td>{{ t.due.days > 0 ? `+${t.due.days}` : t.due.days }}</td>
        </tr>
      </template>
    </tbody>
  </v-table>
</template>
