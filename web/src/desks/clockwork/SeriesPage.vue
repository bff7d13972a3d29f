<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { NextDate, SeriesBody, SeriesSummary, SeriesSheet } from '#contract/clockwork.ts'
import { post, put, sentence } from '#web/api/client.ts'
import { plural, sayDate, sayDateAt, sayTime } from '#web/parts/say.ts'
import LoadState from '#web/parts/LoadState.vue'
import MarginPane from '#web/parts/MarginPane.vue'
import NumberField from '#web/parts/NumberField.vue'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import { useUnsaved } from '#web/state/unsaved.ts'
import { useResource } from '#web/state/resource.ts'
import LineMenu from '#web/parts/LineMenu.vue'
import { everythingWith } from '#web/state/everything.ts'
import { useKept } from './useKept.ts'
import ClockworkNav from './ClockworkNav.vue'
import { draftSeries } from './series-draft.ts'
import ScheduleEdit from './ScheduleEdit.vue'
import SeriesMakes from './SeriesMakes.vue'
import ClashAsk from '#web/forms/ClashAsk.vue'
import { useForm, type Held } from '#web/forms/useForm.ts'
import { sayClash } from '#web/forms/words.ts'
import { shelfFor } from '#web/state/draft.ts'
import { useTitle } from '#web/state/title.ts'

const session = useSession()
const messages = useMessages()
const { attempt } = useAttempt()
const route = useRoute()
const router = useRouter()
const { data, error, reload } = useResource<SeriesSummary[]>(
  () => '/series',
  (c) => c.entities.includes('series'),
)
const id = computed(() =>
  route.params['id'] === 'new' ? 'new' : Number(route.params['id']) || null,
)
/** The series that is open: the first of the list where none is named. */
const chosen = computed(() =>
  id.value === 'new'
    ? null
    : (id.value ?? data.value?.find((s) => !s.archived)?.id ?? data.value?.[0]?.id ?? null),
)
const { data: opened, reload: reopen } = useResource<SeriesSheet>(
  () => (chosen.value === null ? null : `/series/${chosen.value}`),
  (c, series) =>
    c.entities.includes('series') ||
    !!series?.made.some(
      ({ project, task }) =>
        (project && c.projects.includes(project.id)) || (task && c.tasks.includes(task.id)),
    ),
  { keep: true },
)
const current = computed(() => (opened.value?.id === chosen.value ? opened.value : null))
const dates = ref<NextDate[]>([])
const datesWrong = ref('')
const may = computed(() => session.me?.may.structure ?? false)

const heldOf = (s: SeriesSheet): Held<SeriesBody> => ({
  value: { name: s.name, makes: s.makes, schedule: s.schedule, leadDays: s.leadDays },
  version: s.version,
})
/** What a new one begins as: out of a task, a template, a line that was typed, or blank. */
const blank = ref<Held<SeriesBody> | null>(null)
const blankWrong = ref('')
watch(
  () => (id.value === 'new' ? route.fullPath : null),
  async (path) => {
    blank.value = null
    if (path === null) return
    const { today, directory } = session
    try {
      const value = await draftSeries(route.query, { today, directory, me: session.me!.id })
      blank.value = { value, version: 0 }
      blankWrong.value = ''
    } catch (problem) {
      blankWrong.value = sentence(problem)
    }
  },
  { immediate: true },
)
const form = useForm<SeriesBody>({
  key: () =>
    id.value === 'new'
      ? `series.new.${route.fullPath}`
      : current.value && `series.${current.value.id}`,
  held: () => (id.value === 'new' ? blank.value : current.value && heldOf(current.value)),
  async send(value, seen) {
    const next = atOnce.value.length > 0 && beginNext.value
    const sent = { ...value, ...(next && { begin: 'next' }) }
    saved = current.value
      ? await put<SeriesSheet>(`/series/${current.value.id}`, sent, { seen })
      : await post<SeriesSheet>('/series', sent)
    return heldOf(saved)
  },
  again: () => reopen(),
  shelf: shelfFor,
})
let saved: SeriesSheet | undefined
const { draft: body, dirty, busy, fault, faultAt } = form
useUnsaved(dirty, 'This series', form.putBack)
const LABELS = {
  ...{
    name: 'Name',
    schedule: 'When',
    leadDays: 'Made so many days before',
    makes: 'What it makes',
  },
  ...{ rule: 'How often', start: 'From', title: 'Title', clientId: 'Client', leadId: 'Led by' },
  ...{ roles: 'Roles', assignees: 'On it', estimate: 'Estimate', checklist: 'Checklist' },
  reminders: 'Reminders',
}
const clashes = computed(() =>
  form.clashes.value.map((clash) => sayClash(body.value, clash, LABELS)),
)

const lay = useDebounceFn(async () => {
  if (!body.value) return
  try {
    const { schedule, leadDays, makes } = body.value
    dates.value = await post<NextDate[]>(
      '/series/dates',
      {
        ...{ schedule, leadDays },
        // A task is never late on the day it is made; of a project, its template tells.
        ...(makes.kind === 'project' && {
          makes: { ...makes, name: makes.name.trim() || 'Untitled' },
        }),
        ...(chosen.value !== null && { series: chosen.value }),
      },
      { asks: true },
    )
    datesWrong.value = dates.value.length ? '' : 'This schedule has no date left.'
  } catch (problem) {
    dates.value = []
    datesWrong.value = sentence(problem)
  }
}, 200)
watch(
  () => body.value && JSON.stringify([body.value.schedule, body.value.leadDays, body.value.makes]),
  () => void lay(),
  { immediate: true },
)
/** What saving would make at once, said before it is saved. */
const atOnce = computed((): NextDate[] =>
  dirty.value ? dates.value.filter((date) => date.now) : [],
)
const lateAtOnce = computed(() => atOnce.value.reduce((sum, { late }) => sum + late, 0))
const beginNext = ref(false)

async function save(): Promise<void> {
  const isNew = id.value === 'new'
  if (!(await form.save()) || !saved) return
  beginNext.value = false
  await Promise.all([reload(), reopen()])
  const [next] = saved.next
  messages.say(
    `“${saved.name}” is saved; next ${next ? sayDate(next.date, session.today) : 'never'}.`,
  )
  if (isNew) await router.push(`/clockwork/series/${saved.id}`)
}
const turn = () =>
  attempt(async () => {
    const s = current.value!
    await post(`/series/${s.id}/switch`, { on: !s.on })
    await Promise.all([reload(), reopen()])
    messages.say(
      s.on
        ? `“${s.name}” is paused; what comes due meanwhile is skipped.`
        : `“${s.name}” runs again.`,
    )
  })
const kept = useKept('series', () => Promise.all([reload(), reopen()]))
const aside = ref(false)
/** Those in use, or those put aside; the one that is open stands among them. */
const listed = computed(() =>
  (data.value ?? []).filter((s) => s.archived === aside.value || s.id === current.value?.id),
)
const standing = (s: SeriesSummary) => (s.ended ? 'ended' : !s.on ? 'Paused' : 'On')
useTitle(() => current.value?.name)
</script>

<template>
  <main>
    <ClockworkNav>
      <v-btn variant="flat" v-if="may" to="/clockwork/series/new">Make a series</v-btn>
      <LineMenu v-if="may && current" label="More for this series" :lines="kept(current)" />
    </ClockworkNav>
    <div class="page with-list" :class="{ picked: route.params['id'] || data?.length === 0 }">
      <nav class="list" aria-label="Series">
        <LoadState v-if="!data" :error="error" @retry="reload" />
        <v-btn v-if="data?.some((s) => s.archived)" variant="text" @click="aside = !aside">
          {{ aside ? 'Show what is in use' : 'Show what is archived' }}
        </v-btn>
        <v-list-item
          v-for="s in listed"
          :key="s.id"
          class="li"
          :class="{ on: s.id === current?.id }"
          :to="`/clockwork/series/${s.id}`"
        >
          <b>{{ s.name }}</b>
          <span class="s" :class="{ off: !s.on, bad: s.ended || s.troubled }">
            {{ standing(s) }}
          </span>
          <small>
            {{ s.next ? `next ${sayDate(s.next, session.today)}` : 'no date left' }}
          </small>
        </v-list-item>
      </nav>
      <div class="sheet">
        <v-btn variant="text" class="narrowonly" to="/clockwork/series">‹ All series</v-btn>
        <h1 class="sr">{{ current?.name ?? 'Series' }}</h1>
        <div v-if="data && !data.length && id !== 'new'" class="empty">
          <h3>Nothing repeats yet</h3>
          <p>
            A series makes the next task or project by itself, so many working days before it is
            due.
          </p>
          <div v-if="may" class="btns">
            <v-btn variant="flat" to="/clockwork/series/new">Make the first series</v-btn>
          </div>
        </div>
        <v-form v-else-if="body" :readonly="!may" @submit.prevent="save">
          <div class="top">
            <v-text-field
              v-model="body.name"
              class="name seamless"
              aria-label="Name of the series"
              :error-messages="faultAt('name')"
              placeholder="Name of the series"
              maxlength="120"
              required
              :readonly="!may"
            />
            <v-switch
              v-if="current && may && !current.ended && !current.archived"
              :model-value="current.on"
              :aria-label="current.on ? 'On; switch off to pause' : 'Paused; switch on to resume'"
              @update:model-value="turn"
            />
          </div>
          <p v-if="current" class="sub">
            <span v-if="current.archived" class="ochre">
              Archived: it makes nothing until it is brought back.
            </span>
            <v-btn variant="plain" class="auto" :to="everythingWith('series', current.id)">
              all its work
            </v-btn>
            <v-btn variant="plain" class="auto" :to="`/clockwork/log?series=${current.id}`">
              its runs
            </v-btn>
          </p>
          <p v-for="w in current?.warnings" :key="w" class="ochre">{{ w }}</p>
          <fieldset :disabled="!may">
            <SeriesMakes v-model="body.makes" />
            <h2 class="section">When</h2>
            <ScheduleEdit v-model="body.schedule" />
            <p class="line">
              Made
              <NumberField
                :model-value="body.leadDays"
                label="Lead, working days"
                :max="200"
                @update:model-value="$event !== null && (body!.leadDays = $event)"
              />
              working days before its date, at {{ sayTime('06:00', session.saying.clock) }}.
            </p>
          </fieldset>
          <div v-if="may && atOnce.length" class="once">
            <p>
              Saving makes {{ plural(atOnce.length, 'date') }} at once:
              {{ atOnce.map((d) => sayDate(d.date, session.today)).join(', ') }}.
              <b v-if="lateAtOnce">{{ plural(lateAtOnce, 'task') }} would be late already.</b>
            </p>
            <v-checkbox
              v-model="beginNext"
              label="Begin with the next date instead"
              density="compact"
              hide-details
            />
          </div>
          <p v-if="fault || blankWrong" class="wrong" role="alert">{{ fault || blankWrong }}</p>
          <div v-if="may" class="btns">
            <v-btn type="submit" variant="flat" :disabled="busy || (id !== 'new' && !dirty)">
              {{ id === 'new' ? 'Make the series' : dirty ? 'Save the series' : 'Saved' }}
            </v-btn>
            <v-btn v-if="dirty && current" @click="form.putBack">Drop the changes</v-btn>
          </div>
        </v-form>
        <template v-if="current">
          <h2 class="section">
            What it has made
            <span>{{ plural(current.made.length, 'time') }}</span>
          </h2>
          <p v-if="!current.made.length" class="quiet note">Nothing yet.</p>
          <div v-for="m in current.made" :key="m.scheduled" class="made">
            <span>{{ sayDate(m.date, session.today) }}</span>
            <v-btn variant="plain" v-if="m.project" :to="`/work/${m.project.id}`">
              {{ m.project.name }}
            </v-btn>
            <v-btn variant="plain" v-else-if="m.task" :to="`/today?task=${m.task.id}`">
              {{ m.task.title }}
            </v-btn>
            <span class="quiet small">made {{ session.sayAt(m.at) }}</span>
          </div>
        </template>
      </div>
      <MarginPane v-if="body" label="The next dates">
        <h3>The next twelve dates</h3>
        <p v-if="datesWrong" class="wrong" role="alert">{{ datesWrong }}</p>
        <div v-for="d in dates" :key="d.scheduled" class="date">
          <b>{{ sayDateAt(d.date, d.date.slice(11), session.saying) }}</b>
          <span class="quiet small">made {{ sayDate(d.makeOn, session.today) }}</span>
          <small v-if="d.why" class="ochre">{{ d.why }}</small>
        </div>
      </MarginPane>
    </div>
    <ClashAsk :clashes="clashes" what="this series" @settle="(form.settle($event), save())" />
  </main>
</template>

<style scoped>
.top {
  display: flex;
  gap: 12px;
  align-items: center;
}
.name {
  font: 500 24px/1.2 var(--display);
  border-color: transparent;
  background: none;
  padding: 0 4px;
  margin-left: -5px;
}
.name:hover,
.name:placeholder-shown {
  border-color: var(--rule-strong);
}
fieldset {
  border: 0;
  padding: 0;
  margin: 0;
  min-width: 0;
}
.line {
  margin: 10px 0;
}
.once {
  border-left: 3px solid var(--ochre);
  padding: 2px 0 2px 12px;
  margin: 12px 0;
}
.once :deep(.v-selection-control) {
  margin-left: -8px;
}
.once :deep(.v-label) {
  font: inherit;
  letter-spacing: normal;
  opacity: 1;
}
.made {
  display: grid;
  grid-template-columns: 110px 1fr auto;
  gap: 10px;
  border-bottom: 1px solid var(--rule);
  padding: 7px 0;
}
.made a:hover {
  text-decoration: underline;
}
.date {
  border-top: 1px solid var(--rule);
  padding: 6px 0;
  display: grid;
  grid-template-columns: 1fr auto;
}
.date small {
  grid-column: 1/3;
}
h3 {
  margin-bottom: 8px;
}
</style>
