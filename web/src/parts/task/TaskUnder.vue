<script setup lang="ts">
import type { TaskSheet } from '#contract/tasks.ts'
import QuickAdd from '#web/parts/QuickAdd.vue'
import { sayDate } from '#web/parts/say.ts'
import StateBar from '#web/parts/StateBar.vue'
import { useSession } from '#web/state/session.ts'
import type { Edit } from './edits.ts'

/** The tasks under a task, and what it takes from them. */
defineProps<{ task: TaskSheet }>()
const emit = defineEmits<{ go: [id: number]; save: [edit: Edit]; made: [] }>()
const session = useSession()
</script>

<template>
  <template v-if="task.may.edit || task.children.length">
    <h4 class="section">
      Subtasks
      <span v-if="task.subtasks.of">{{ task.subtasks.done }} of {{ task.subtasks.of }} done</span>
    </h4>
    <ul class="lines">
      <li v-for="child in task.children" :key="child.id">
        <StateBar :state="child.state" :colour="child.stateColour" :name="child.stateName" />
        <v-btn
          variant="plain"
          class="fills"
          :class="{ ticked: child.closedAt }"
          @click="emit('go', child.id)"
        >
          {{ child.title }}
        </v-btn>
        <span class="small" :class="{ alarm: child.late }">
          {{ child.due ? sayDate(child.due, session.today) : '' }}
        </span>
      </li>
    </ul>
    <QuickAdd
      v-if="task.may.edit"
      label="Add a subtask"
      placeholder="Add a subtask, press Enter"
      :begins="() => ({ parentId: task.id })"
      @made="emit('made')"
    />
    <p v-if="task.may.edit && task.children.length" class="follows">
      <v-checkbox
        :model-value="task.datesFollow"
        label="Dates follow the subtasks"
        @update:model-value="emit('save', { datesFollow: !task.datesFollow })"
      />
      <v-checkbox
        :model-value="task.stateFollows"
        label="State follows them"
        @update:model-value="emit('save', { stateFollows: !task.stateFollows })"
      />
    </p>
  </template>
</template>

<style scoped>
.follows {
  display: flex;
  gap: 14px;
  margin-top: 6px;
  font-size: 12.5px;
}
</style>
