<script setup lang="ts">
import { computed } from 'vue'
import { readMinutes } from '#core/text/read.ts'
import type { TaskSheet } from '#contract/tasks.ts'
import DateField from '#web/parts/DateField.vue'
import { sayMinutes } from '#web/parts/say.ts'
import SeveralField from '#web/parts/SeveralField.vue'
import TimeField from '#web/parts/TimeField.vue'
import TokenPick from '#web/parts/TokenPick.vue'
import TypeIn from '#web/parts/TypeIn.vue'
import { useSession } from '#web/state/session.ts'
import { toggling, type Edit } from './edits.ts'
import TaskFields from './TaskFields.vue'

/** When a task is due, how long it takes, who has to do with it, and the firm’s own fields. */
const props = defineProps<{ task: TaskSheet }>()
const emit = defineEmits<{ save: [edit: Edit] }>()
const session = useSession()
const idsOf = (list: readonly { readonly id: number }[]) => list.map(({ id }) => id)
/** Those who can be chosen, and those who have left but are still on it. */
const people = computed(() => {
  const { active } = session
  const on = [...props.task.assignees, ...props.task.followers]
  return [...active, ...on.filter((p) => !active.some((a) => a.id === p.id))]
})
const followers = computed(() => idsOf(props.task.followers))
const follow = (id: number) => emit('save', toggling('followers', id))
const notLength = (text: string): string | null =>
  text.trim() === '' || readMinutes(text, true) !== null
    ? null
    : `“${text}” is no length of time. Write 90, 1h 30m or 1:30.`
/** Minutes; null for nothing. */
const lengthOf = (text: string): number | null =>
  text.trim() === '' ? null : readMinutes(text, true)
const share = (person: number, text: string) =>
  emit('save', { estimates: { [person]: lengthOf(text) } })
</script>

<template>
  <div class="grid">
    <label for="ts-due">Due</label>
    <span class="when">
      <DateField
        id="ts-due"
        timed
        :person="task.assignees[0]?.id"
        :model-value="task.due"
        :disabled="!task.may.edit || task.datesFollow"
        @update:model-value="emit('save', { due: $event })"
        @time="emit('save', { dueTime: $event })"
      />
      <TimeField
        v-if="task.may.edit || task.dueTime"
        label="Due time"
        :model-value="task.dueTime"
        :disabled="!task.may.edit || !task.due"
        @update:model-value="emit('save', { dueTime: $event })"
      />
    </span>
    <label v-if="task.may.edit || task.start" for="ts-start">Start</label>
    <DateField
      v-if="task.may.edit || task.start"
      id="ts-start"
      :person="task.assignees[0]?.id"
      :model-value="task.start"
      :disabled="!task.may.edit || task.datesFollow"
      @update:model-value="emit('save', { start: $event })"
    />
    <label v-if="task.may.edit || task.estimate" for="ts-est">Estimate</label>
    <TypeIn
      v-if="task.may.edit || task.estimate"
      id="ts-est"
      class="num"
      :readonly="!task.may.edit"
      placeholder="1h 30m"
      :check="notLength"
      :value="task.estimate ? sayMinutes(task.estimate) : ''"
      @typed="emit('save', { estimate: lengthOf($event) })"
    />
    <label for="ts-on">On it</label>
    <SeveralField
      id="ts-on"
      label="On it"
      to="person"
      :none="task.role ? `nobody fills ${task.role}` : 'nobody'"
      :chosen="idsOf(task.assignees)"
      :items="people"
      :readonly="!task.may.give"
      @toggle="emit('save', toggling('assignees', $event))"
    />
    <template v-if="task.assignees.length > 1">
      <span class="lab">Parts</span>
      <span class="parts">
        <span v-for="a in task.assignees" :key="a.id" class="part">
          <span :class="{ ticked: a.doneAt }">{{ a.name }}</span>
          <TypeIn
            class="num"
            :readonly="!task.may.give"
            :label="`Estimate of ${a.name}`"
            placeholder="0m"
            :check="notLength"
            :value="a.estimate ? sayMinutes(a.estimate) : ''"
            @typed="share(a.id, $event)"
          />
        </span>
        <TokenPick
          :model-value="task.doneBy"
          :options="[
            { value: 'any', name: 'done when any one is' },
            { value: 'all', name: 'done when all are' },
          ]"
          label="Done when"
          :disabled="!task.may.give"
          @update:model-value="emit('save', { doneBy: $event })"
        />
      </span>
    </template>
    <template v-if="task.may.give">
      <label for="ts-followers">Followers</label>
      <span class="followers">
        <SeveralField
          id="ts-followers"
          label="Followers"
          to="person"
          none="nobody yet"
          :chosen="followers"
          :items="people"
          @toggle="follow"
        />
        <v-btn
          v-if="!followers.includes(session.me!.id)"
          variant="text"
          @click="follow(session.me!.id)"
        >
          Follow
        </v-btn>
      </span>
    </template>
    <TaskFields :task="task" @save="emit('save', $event)" />
  </div>
</template>

<style scoped>
.grid {
  display: grid;
  grid-template-columns: 70px 1fr;
  gap: 6px 8px;
  align-items: center;
  margin: 8px 0 10px;
}
.grid label,
.lab {
  color: var(--ink-2);
  font-size: 12.5px;
}
.when {
  display: flex;
  gap: 6px;
  flex-wrap: wrap;
}
.num,
.part :deep(.num) {
  width: 90px;
}
.parts {
  display: grid;
  gap: 4px;
}
.part {
  display: flex;
  gap: 8px;
  align-items: center;
  justify-content: space-between;
}
</style>
