<script setup lang="ts">
import { mdiCommentOutline, mdiFileOutline, mdiLinkVariant, mdiPaperclip } from '@mdi/js'
import { computed, ref } from 'vue'
import type { TaskRow } from '#contract/tasks.ts'
import { patch } from '#web/api/client.ts'
import Glyph from '#web/parts/Glyph.vue'
import { isPicture, leadsTo } from '#web/parts/file-kinds.ts'
import PersonMark from '#web/parts/PersonMark.vue'
import { plural, sayMinutes } from '#web/parts/say.ts'
import StateBar from '#web/parts/StateBar.vue'
import { everythingWith } from '#web/state/everything.ts'
import { useAttempt } from '#web/state/attempt.ts'
import { useSelection } from '#web/state/selection.ts'
import { useTasks } from '#web/state/tasks.ts'
import { colourFor, paletteOf, sayField } from '#web/fields/fields.ts'
import type { Known } from '#web/fields/known.ts'

/** A task on a board; its checklist opens and is ticked in place. */
const props = defineProps<{
  task: TaskRow
  known: Known
  colour: string | null
  field: string
  /** Tab comes to it. */
  stop: boolean
}>()
const emit = defineEmits<{ open: [] }>()
const tasks = useTasks()
const { attempt } = useAttempt()
const selection = useSelection()
const steps = ref(false)
const stripe = computed(() => paletteOf(colourFor(props.known, props.colour, props.task)))
const ticked = computed(() => props.task.checklist.filter((i) => i.done).length)
const tick = (item: number, done: boolean) =>
  attempt(async () => {
    tasks.put(await patch<TaskRow>(`/tasks/${props.task.id}/items/${item}`, { done }))
  })
</script>

<template>
  <article
    class="slip"
    :class="[
      { closed: task.closedAt, marked: selection.has(task.id) },
      stripe ? `c-${stripe} stripe` : '',
    ]"
  >
    <div class="t">
      <StateBar
        v-if="field !== 'state'"
        :state="task.state"
        :colour="task.stateColour"
        :name="task.stateName"
      />
      <button class="name" :tabindex="stop ? 0 : -1" :data-opens="task.id" @click="emit('open')">
        {{ task.title }}
      </button>
      <input
        type="checkbox"
        class="mark"
        :checked="selection.has(task.id)"
        :aria-label="`Mark ${task.title}`"
        tabindex="-1"
        @click="selection.toggle(task.id)"
      />
    </div>
    <img
      v-if="task.cover && isPicture(task.cover)"
      class="cover"
      :src="leadsTo(task.cover)"
      :alt="task.cover.name"
      loading="lazy"
      decoding="async"
      draggable="false"
    />
    <a
      v-else-if="task.cover"
      class="file small"
      :href="leadsTo(task.cover)"
      :tabindex="stop ? 0 : -1"
      target="_blank"
      rel="noopener noreferrer nofollow"
    >
      <Glyph :path="task.cover.url ? mdiLinkVariant : mdiFileOutline" :size="14" />
      {{ task.cover.name }}
    </a>
    <p
      v-if="known.scope.of !== 'project' && (task.client || task.project)"
      class="small quiet place"
    >
      {{
        [task.client?.short, task.project?.name.replace(`${task.client?.short}, `, '')]
          .filter(Boolean)
          .join(' · ')
      }}
    </p>
    <p v-if="task.tags.length" class="tags">
      <router-link
        v-for="t in task.tags"
        :key="t.id"
        class="tint"
        :class="`c-${t.colour}`"
        :tabindex="stop ? 0 : -1"
        :to="everythingWith('tag', t.id)"
      >
        {{ t.name }}
      </router-link>
    </p>
    <ul v-if="steps" class="steps">
      <li v-for="i in task.checklist" :key="i.id">
        <label :class="{ done: i.done }">
          <input
            type="checkbox"
            :checked="i.done"
            :disabled="!task.mayWork"
            @change="tick(i.id, !i.done)"
          />
          {{ i.title }}
        </label>
      </li>
    </ul>
    <div class="f">
      <span :class="{ alarm: task.late }">
        {{
          task.late
            ? `${task.daysLate || 'under 1'} ${task.daysLate === 1 || !task.daysLate ? 'day' : 'days'} late`
            : sayField(known, 'due', task)
        }}
      </span>
      <span v-if="task.estimate">{{ sayMinutes(task.estimate) }}</span>
      <span v-if="task.priority === 'urgent' || task.priority === 'high'" class="alarm">
        {{ task.priority === 'urgent' ? 'Urgent' : 'High' }}
      </span>
      <span
        v-if="task.subtasks.of"
        role="img"
        :aria-label="`${task.subtasks.done} of ${task.subtasks.of} subtasks done`"
      >
        {{ task.subtasks.done }}/{{ task.subtasks.of }} under it
      </span>
      <button
        v-if="task.checklist.length"
        class="auto"
        :aria-expanded="steps"
        :tabindex="stop ? 0 : -1"
        @click="steps = !steps"
      >
        {{ ticked }} of {{ task.checklist.length }} ticked
      </button>
      <span v-if="task.comments" role="img" :aria-label="plural(task.comments, 'comment')">
        <Glyph :path="mdiCommentOutline" :size="12" />
        {{ task.comments }}
      </span>
      <span
        v-if="task.files"
        role="img"
        :aria-label="plural(task.files, 'file or link', 'files and links')"
      >
        <Glyph :path="mdiPaperclip" :size="12" />
        {{ task.files }}
      </span>
      <span class="gap" />
      <PersonMark v-for="p in task.assignees.slice(0, 3)" :key="p.id" :person="p" />
      <span v-if="!task.assignees.length" class="ochre">nobody</span>
    </div>
  </article>
</template>

<style scoped>
.slip {
  border-bottom: 1px solid var(--rule-strong);
  background: var(--sheet);
  padding: 8px 10px 7px 12px;
  position: relative;
  cursor: grab;
  min-height: 62px;
}
.slip:hover {
  background: color-mix(in srgb, var(--fern) 5%, var(--sheet));
}
.marked {
  background: var(--fern-wash);
}
.stripe::before {
  content: '';
  position: absolute;
  left: 0;
  top: 0;
  bottom: 0;
  width: 4px;
  background: var(--own);
}
.t {
  display: flex;
  gap: 7px;
  align-items: flex-start;
}
.name {
  flex: 1;
  font-weight: 550;
  text-align: left;
  line-height: 1.3;
  overflow-wrap: anywhere;
}
.name:hover {
  text-decoration: underline;
}
.closed .name {
  text-decoration: line-through;
  color: var(--ink-3);
}
.mark {
  opacity: 0;
  accent-color: var(--fern);
}
.slip:hover .mark,
.mark:checked,
.mark:focus-visible {
  opacity: 1;
}
.cover {
  display: block;
  width: 100%;
  height: 96px;
  object-fit: cover;
  border-radius: 3px;
  background: var(--rest);
  margin: 6px 0 4px;
}
.file {
  display: flex;
  gap: 5px;
  align-items: center;
  margin: 2px 0;
  min-height: 24px;
  overflow-wrap: anywhere;
}
.place {
  margin: 2px 0;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.tags {
  display: flex;
  gap: 4px;
  flex-wrap: wrap;
  margin: 3px 0;
}
.f {
  display: flex;
  gap: 8px;
  align-items: center;
  flex-wrap: wrap;
  font-size: 12px;
  color: var(--ink-2);
  margin-top: 4px;
  min-height: 24px;
}
.gap {
  flex: 1;
}
.alarm {
  color: var(--alarm);
  font-weight: 600;
}
.steps {
  list-style: none;
  padding: 4px 0 0;
  margin: 0;
}
.steps label {
  display: flex;
  gap: 6px;
  align-items: baseline;
  font-size: 12.5px;
  padding: 2px 0;
}
.done {
  color: var(--ink-3);
  text-decoration: line-through;
}
.steps input {
  accent-color: var(--fern);
}
@media (pointer: coarse) {
  .mark {
    opacity: 1;
    width: 24px;
    height: 24px;
  }
  .name {
    min-height: 44px;
  }
  .f button,
  .steps label {
    min-height: 24px;
  }
}
</style>
