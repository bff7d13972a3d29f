<script setup lang="ts">
import { computed, reactive, ref } from 'vue'
import { isGuestAccess } from '#core/access/reach.ts'
import type { HandOver, HeldPart, Left } from '#contract/people.ts'
import { post } from '#web/api/client.ts'
import LoadState from '#web/parts/LoadState.vue'
import { withNone } from '#web/parts/choices.ts'
import { plural } from '#web/parts/say.ts'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useResource } from '#web/state/resource.ts'
import { useSession } from '#web/state/session.ts'

/** Says that somebody left: what they hold is shown, and goes to somebody part by part. */
const { person } = defineProps<{ person: { id: number; name: string } }>()
const emit = defineEmits<{ close: []; done: [] }>()
const session = useSession()
const messages = useMessages()
const { wrong, busy, attempt } = useAttempt('here')
const { data, error, reload } = useResource<HandOver>(() => `/people/${person.id}/hand-over`)
const SAID: Readonly<Record<HeldPart, (count: number) => string>> = {
  tasks: (n) => plural(n, 'open task'),
  projects: (n) => `${plural(n, 'project')} they lead`,
  milestones: (n) => plural(n, 'milestone'),
  series: (n) => `${n} series that make work for them or are theirs`,
  rules: (n) => `${plural(n, 'rule')} that name them or are theirs`,
  views: (n) => plural(n, 'saved view'),
  answering: (n) => `${plural(n, 'person', 'people')} who answer to them`,
  standing: (n) => `${plural(n, 'person', 'people')} they stand in for`,
}
/** Parts that guests can take over. */
const FOR_GUESTS: ReadonlySet<HeldPart> = new Set(['tasks', 'standing'])
const others = computed(() => session.active.filter(({ id }) => id !== person.id))
const inside = computed(() => others.value.filter(({ access }) => !isGuestAccess(access)))
const everything = ref<number | null>(null)
const own = reactive<Partial<Record<HeldPart, number | null>>>({})
const toOf = (part: HeldPart): number | null =>
  own[part] === undefined ? everything.value : own[part]
function all(to: number | null): void {
  everything.value = to
  for (const part of Object.keys(own)) Reflect.deleteProperty(own, part)
}
const kept = computed(() =>
  (data.value ?? []).reduce((sum, { part, count }) => sum + (toOf(part) === null ? count : 0), 0),
)
const rest = (names: readonly string[], count: number) =>
  names.join('; ') + (count > names.length ? `; and ${count - names.length} more` : '')
const leave = () =>
  attempt(async () => {
    const to = Object.fromEntries((data.value ?? []).map(({ part }) => [part, toOf(part)]))
    const done = await post<Left>(`/people/${person.id}/leave`, { to })
    const over = done.count ? ` ${plural(done.count, 'thing')} went to others.` : ''
    messages.did(`${person.name} has left.${over}`, done)
    await session.refresh(true)
    emit('done')
  })
</script>

<template>
  <v-dialog
    :model-value="true"
    max-width="620"
    :aria-label="`${person.name} leaves`"
    @update:model-value="emit('close')"
  >
    <form class="dialog" @submit.prevent="leave">
      <h3>{{ person.name }} leaves</h3>
      <p class="quiet">They are out at once, at every browser. All of this is one undo.</p>
      <LoadState v-if="!data" :error="error" @retry="reload" />
      <p v-else-if="!data.length">They hold nothing that somebody would have to look after.</p>
      <template v-else>
        <div class="field">
          <label for="pl-all">What they hold goes to</label>
          <v-autocomplete
            id="pl-all"
            :model-value="everything"
            :items="withNone(inside, 'nobody: it stays as it is')"
            @update:model-value="all"
          />
        </div>
        <ul>
          <li v-for="{ part, count, names } in data" :key="part">
            <label :for="`pl-${part}`">
              {{ SAID[part](count) }}
              <span class="quiet small">{{ rest(names, count) }}</span>
            </label>
            <v-autocomplete
              :id="`pl-${part}`"
              :model-value="toOf(part)"
              :items="withNone(FOR_GUESTS.has(part) ? others : inside, 'nobody')"
              @update:model-value="own[part] = $event"
            />
          </li>
        </ul>
        <p v-if="kept" class="ochre small">
          {{ plural(kept, 'thing') }} would stay with somebody who left.
        </p>
      </template>
      <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
      <div class="btns">
        <v-btn type="submit" variant="flat" :disabled="!data || busy">Say that they left</v-btn>
        <v-btn @click="emit('close')">Leave it</v-btn>
      </div>
    </form>
  </v-dialog>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0 0 8px;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 1fr 210px;
  gap: 4px 12px;
  align-items: center;
  padding: 6px 0;
  border-bottom: 1px solid var(--rule);
}
label > span {
  display: block;
  overflow-wrap: anywhere;
}
@media (max-width: 520px) {
  li {
    grid-template-columns: 1fr;
  }
}
</style>
