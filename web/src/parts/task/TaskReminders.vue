<script setup lang="ts">
import { computed, ref } from 'vue'
import type { ReminderBody, ReminderRow, ReminderWhen } from '#contract/reminders.ts'
import type { TaskSheet } from '#contract/tasks.ts'
import { post, remove } from '#web/api/client.ts'
import DateField from '#web/parts/DateField.vue'
import NumberField from '#web/parts/NumberField.vue'
import RemoveButton from '#web/parts/RemoveButton.vue'
import { plural, sayDate, sayTime } from '#web/parts/say.ts'
import TimeField from '#web/parts/TimeField.vue'
import TokenPick from '#web/parts/TokenPick.vue'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import { REMINDER_DATES, REMINDER_OFTEN, REMINDER_UNITS } from './reminder-choices.ts'

/** The reminders of a task: what is to come, what was sent, and one more. */
const props = defineProps<{ task: TaskSheet }>()
const emit = defineEmits<{ changed: [task: TaskSheet] }>()
const session = useSession()
const messages = useMessages()
const { attempt } = useAttempt()
const open = ref(false)
const me = computed(() => session.me!.id)

type Dated = Extract<ReminderWhen, { kind: 'dated' }>
const KINDS = [...REMINDER_DATES, { value: 'at', name: 'on a day' }] as const
type Kind = (typeof KINDS)[number]['value']
const fresh = () => ({
  kind: (props.task.due ? 'before due' : 'at') as Kind,
  ...{ days: 1, unit: 'working' as Dated['unit'], time: '09:00', date: session.today },
  ...{ to: props.task.may.give ? 'assignees' : String(me.value), daily: 0, text: '' },
})
const draft = ref(fresh())
const kinds = computed(() =>
  KINDS.filter(
    ({ value }) =>
      value === 'at' || (value === 'before start' ? props.task.start : props.task.due) !== null,
  ),
)
/** Whoever changes the task reminds others; everybody else themselves. */
const people = computed(() => [
  ...(props.task.may.give ? [{ value: 'assignees', name: 'whoever is on it' }] : []),
  { value: String(me.value), name: 'me' },
  ...(props.task.may.give
    ? session.active
        .filter(({ id }) => id !== me.value)
        .map(({ id, name }) => ({ value: String(id), name }))
    : []),
])
function bodyOf({
  kind,
  days,
  unit,
  time,
  date,
  to,
  daily,
  text,
}: typeof draft.value): ReminderBody {
  const [side = 'before', field = 'due'] = kind.split(' ')
  const when: ReminderWhen =
    kind === 'at'
      ? { kind: 'at', date, time }
      : ({ kind: 'dated', days, unit, side, field, time } as Dated)
  const assignees = to === 'assignees'
  return {
    when,
    assignees,
    people: assignees ? [] : [Number(to)],
    daily: daily === 1,
    text: text.trim(),
  }
}
const home = () => `/tasks/${props.task.id}/reminders`
const add = () =>
  attempt(async () => {
    const saved = await post<TaskSheet>(home(), bodyOf(draft.value))
    messages.did('The reminder is set.', saved)
    emit('changed', saved)
    draft.value = fresh()
    open.value = false
  })
const drop = (row: ReminderRow) =>
  attempt(async () => {
    const saved = await remove<TaskSheet>(`${home()}/${row.id}`)
    messages.did('The reminder is taken off.', saved)
    emit('changed', saved)
  })
/** “2 working days before it is due, 09:00”. */
function sayWhen({ when }: Pick<ReminderRow, 'when'>): string {
  const time = sayTime(when.time, session.saying.clock)
  if (when.kind === 'at') return `${sayDate(when.date, session.today)}, ${time}`
  const place =
    when.field === 'start' ? 'it starts' : when.side === 'before' ? 'it is due' : 'it was due'
  if (when.days === 0) return `on the day ${place}, ${time}`
  const days = plural(when.days, when.unit === 'working' ? 'working day' : 'day')
  return `${days} ${when.side} ${place}, ${time}`
}
const sayWho = ({ assignees, people: named }: ReminderRow) =>
  [
    ...(assignees ? ['whoever is on it'] : []),
    ...named.map(({ id, name }) => (id === me.value ? 'me' : name)),
  ].join(' and ')
</script>

<template>
  <template v-if="task.may.comment || task.reminders.length">
    <h4 class="section">Reminders</h4>
    <ul v-if="task.reminders.length" class="lines">
      <li v-for="row in task.reminders" :key="row.id" class="one">
        <div class="what">
          {{ sayWhen(row) }}, to {{ sayWho(row)
          }}{{ row.daily ? ', every working day until it is done' : '' }}
          <span v-if="row.text" class="quiet">“{{ row.text }}”</span>
          <p class="small quiet">
            {{ row.next ? `Next ${session.sayAt(row.next)}` : 'Does not come any more' }}
            <template v-for="(sent, i) in row.sent" :key="i">
              · sent to {{ sent.name }} {{ session.sayAt(sent.at) }}
            </template>
          </p>
        </div>
        <RemoveButton :aria-label="`Take off the reminder ${sayWhen(row)}`" @click="drop(row)" />
      </li>
    </ul>
    <form v-if="open" class="form" @submit.prevent="add">
      <template v-if="draft.kind !== 'at'">
        <NumberField v-model="draft.days" label="How many days" :max="365" />
        <TokenPick v-model="draft.unit" :options="REMINDER_UNITS" label="Which days" tone="value" />
      </template>
      <TokenPick v-model="draft.kind" :options="kinds" label="When" />
      <span v-if="draft.kind === 'at'" class="date">
        <DateField
          id="reminder-date"
          :model-value="draft.date"
          label="Day"
          @update:model-value="$event && (draft.date = $event)"
        />
      </span>
      at
      <span><TimeField v-model="draft.time" label="Time of day" needed /></span>
      to
      <TokenPick v-model="draft.to" :options="people" label="Who" tone="person" />
      <TokenPick v-model="draft.daily" :options="REMINDER_OFTEN" label="How often" tone="value" />
      <v-text-field
        v-model="draft.text"
        class="text"
        maxlength="300"
        aria-label="What to say"
        placeholder="what to say; else its title and when it is due"
      />
      <p class="btns">
        <v-btn type="submit" variant="flat">Set the reminder</v-btn>
        <v-btn variant="text" @click="open = false">Leave it</v-btn>
      </p>
    </form>
    <v-btn v-else-if="task.may.comment" variant="text" class="small" @click="open = true">
      Add a reminder
    </v-btn>
  </template>
</template>

<style scoped>
.one {
  display: flex;
  align-items: flex-start;
  gap: 6px;
}
.what {
  flex: 1;
  min-width: 0;
}
.form {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 3px 5px;
  padding: 6px 0;
}
.date {
  width: 150px;
}
.text,
.form .btns {
  flex-basis: 100%;
}
</style>
