<script setup lang="ts">
import { nextTick, ref, watch } from 'vue'
import { vCombobox } from '#web/parts/combobox.ts'
import StateBar from '#web/parts/StateBar.vue'
import { useAttempt } from '#web/state/attempt.ts'
import { useFindBox } from '#web/state/findBox.ts'
import { useFinding } from './useFinding.ts'
import { useFindLines, type Line } from './useFindLines.ts'

/**
 * One box: find by words, go anywhere, do something with what is marked, or note a task in one
 * line.
 */
const box = useFindBox()
const { attempt } = useAttempt()
const text = ref('')
/** The line that Enter takes. */
const at = ref(0)
const field = ref<{ focus(): void } | null>(null)

const { found, asking, hasten } = useFinding(text, {
  // The line that is chosen stays so, wherever it goes.
  shown() {
    const chosen = at.value > 0 ? lines.value[at.value]?.key : undefined
    return () => {
      const place = chosen === undefined ? -1 : lines.value.findIndex(({ key }) => key === chosen)
      at.value = Math.max(0, place)
    }
  },
  // Nothing is noted by haste.
  first: () => void (lines.value[0]?.key !== 'note' && run(lines.value[0])),
})
const { sections, lines } = useFindLines(text, found)
watch(text, () => (at.value = 0))
watch(
  () => box.open,
  async (on) => {
    if (!on) return
    text.value = box.start
    at.value = 0
    await nextTick()
    setTimeout(() => field.value?.focus(), 20)
  },
)
const run = (line: Line | undefined) =>
  line &&
  attempt(async () => {
    await line.run()
    box.close()
  })
function key(event: KeyboardEvent): void {
  const step = { ArrowDown: 1, ArrowUp: -1 }[event.key]
  if (step) {
    event.preventDefault()
    at.value = (at.value + step + lines.value.length) % Math.max(1, lines.value.length)
    void nextTick(() => document.querySelector('.finds .at')?.scrollIntoView({ block: 'nearest' }))
  } else if (event.key === 'Enter') {
    event.preventDefault()
    if (event.ctrlKey || event.metaKey) void run(lines.value.find((l) => l.key === 'note'))
    else if (asking.value && at.value === 0 && !box.noting) hasten()
    else void run(lines.value[at.value])
  }
}
</script>

<template>
  <v-dialog
    :model-value="box.open"
    max-width="660"
    class="findbox"
    @update:model-value="box.close()"
  >
    <div class="dialog finds" role="dialog" aria-label="Find, go, do or note" @keydown="key">
      <v-text-field
        ref="field"
        v-model="text"
        class="big"
        maxlength="300"
        v-combobox
        aria-expanded="true"
        aria-controls="finds"
        :aria-activedescendant="lines[at] ? `f-${lines[at]!.key}` : undefined"
        :aria-label="box.noting ? 'Note a task in one line' : 'Find, go, do or note'"
        :placeholder="
          box.noting
            ? 'Chase statements Mossgate fri 3pm 30m urgent'
            : 'Words, a number, a place, or a task in one line'
        "
        autocomplete="off"
        spellcheck="false"
      />
      <div id="finds" role="listbox" aria-label="What there is" class="opts">
        <template v-for="s in sections" :key="s.name">
          <p v-if="s.name" class="sec" role="presentation">{{ s.name }}</p>
          <v-btn
            variant="plain"
            v-for="line in s.lines"
            :id="`f-${line.key}`"
            :key="line.key"
            role="option"
            :aria-selected="lines[at] === line"
            :class="{ at: lines[at] === line }"
            tabindex="-1"
            @mousemove="at = lines.indexOf(line)"
            @click="run(line)"
          >
            <StateBar
              v-if="line.task"
              :state="line.task.state"
              :colour="line.task.stateColour"
              :name="line.task.stateName"
            />
            <span class="nm">{{ line.name }}</span>
            <span class="small quiet mo">{{ line.more }}</span>
          </v-btn>
        </template>
        <p v-if="text.trim() && !lines.length" class="quiet pad">
          {{ asking ? 'Looking…' : 'Nothing of that.' }}
        </p>
      </div>
      <p class="small quiet foot">
        ↑ ↓ to choose, Enter to take it, Ctrl+Enter notes the line as a task, Esc closes.
      </p>
    </div>
  </v-dialog>
</template>

<style scoped>
.finds {
  padding: 10px;
}
.big {
  --v-input-control-height: 40px;
  font-size: 16px;
}
.opts {
  max-height: 56dvh;
  overflow: auto;
  margin-top: 6px;
}
.sec {
  font: 600 12px var(--sans);
  color: var(--ink-3);
  padding: 8px 8px 2px;
}
.opts button {
  display: flex;
  gap: 9px;
  align-items: center;
  width: 100%;
  padding: 5px 8px;
  border-radius: 3px;
  text-align: left;
}
.at {
  background: var(--fern-wash);
}
.nm {
  font-weight: 550;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  flex: 0 1 auto;
  max-width: 62%;
}
.mo {
  flex: 1;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.pad {
  padding: 8px;
}
.foot {
  padding: 6px 8px 0;
  border-top: 1px solid var(--rule);
  margin-top: 6px;
}
</style>
