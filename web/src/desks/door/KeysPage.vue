<script setup lang="ts">
import { useLetters } from '#web/state/letters.ts'

const letters = useLetters()
/** Every key that does something, where it does it. */
const KEYS: readonly { where: string; keys: readonly (readonly [string, string])[] }[] = [
  {
    where: 'Anywhere',
    keys: [
      ['/ or Ctrl+K', 'find, go somewhere, or do something with what is marked'],
      ['n', 'note a task in one line'],
      ['w, or ↓ at first', 'into the work: its rows, slips or days, past all that stands above'],
      ['?', 'this page'],
      ['Ctrl+Z', 'take back what was done last, and what was done before it'],
      ['Esc', 'close what is open above the page, or the task beside it'],
    ],
  },
  {
    where: 'On a row, slip, bar, phase or column head',
    keys: [
      ['Alt+Enter', 'pick it up, to put it down elsewhere: a finger that rests on it does too'],
      ['← → ↑ ↓', 'choose where, on the days above as well'],
      ['Enter', 'put it down'],
      ['Esc', 'leave it where it was'],
    ],
  },
  {
    where: 'In the find box',
    keys: [
      ['↑ ↓', 'choose'],
      ['Enter', 'take it'],
      ['Ctrl+Enter', 'note the line as a task'],
    ],
  },
  {
    where: 'On a task, in every view',
    keys: [
      ['Enter', 'open it'],
      ['t', 'tick it'],
      ['s, d, a, p', 'set its state, its due date, who is on it, its priority'],
      ['Space or x', 'mark it; with Shift everything since the last marked'],
      ['b', 'to what can be done with everything marked; Enter there moves it on'],
    ],
  },
  {
    where: 'In an opened task',
    keys: [
      ['t, s, d, a, p', 'as on its row'],
      ['g, c', 'to its tags, to a comment'],
      ['Esc', 'close it, back to where it was opened'],
    ],
  },
  {
    where: 'In a list',
    keys: [
      ['↑ ↓, Page up, Page down', 'from task to task'],
      ['← →', 'to its fields and back'],
      ['Enter', 'on a field, set it'],
      ['f', 'fold or show its subtasks; on the head of a group, ← → do'],
      ['Home, End', 'to the first and the last line'],
      ['Alt+↑ ↓', 'past the row above or below, in a project ordered by hand'],
    ],
  },
  {
    where: 'In a table',
    keys: [
      ['← → ↑ ↓, Tab', 'from cell to cell'],
      ['Enter, F2 or typing', 'set the cell'],
      ['Space', 'mark the row'],
      ['Ctrl+C, Ctrl+V', 'copy and paste cells, to and from a spreadsheet'],
    ],
  },
  {
    where: 'On a board',
    keys: [
      ['↑ ↓, Home, End', 'from slip to slip, to the first, to the line that adds one'],
      ['← →', 'to the column beside it'],
      ['Alt+← →', 'the slip into the column beside it'],
      ['Alt+↑ ↓', 'past the slip above or below, in a project ordered by hand'],
    ],
  },
  {
    where: 'In a calendar or timeline',
    keys: [
      ['← → ↑ ↓', 'from day to day, and down each to what lies on it; from bar to bar'],
      ['Page up, Page down', 'to the month or week before or after'],
      ['Enter', 'on a day, add a task; on a task, open it'],
      ['Alt+← → ↑ ↓', 'move the task by a day, or by a week'],
      ['Alt+Shift+← →', 'lengthen or shorten by a day'],
    ],
  },
  { where: 'Over a column’s edge', keys: [['← →', 'narrower or wider']] },
  {
    where: 'In a comment or description',
    keys: [
      ['@', 'mention someone'],
      ['Ctrl+Enter', 'send the comment'],
      ['Ctrl+B, Ctrl+I', 'bold, italic'],
    ],
  },
]
</script>

<template>
  <main class="page wide">
    <div class="sheet">
      <h1>Keys</h1>
      <p class="sub">
        Everything can be reached with Tab and pressed with Enter; these are the short ways.
      </p>
      <v-switch
        v-model="letters"
        class="letters"
        label="/, n, w and ? do something by themselves"
      />
      <div class="cols">
        <section v-for="k in KEYS" :key="k.where">
          <h2 class="section">{{ k.where }}</h2>
          <dl>
            <div v-for="[key, does] in k.keys" :key="key">
              <dt>{{ key }}</dt>
              <dd>{{ does }}</dd>
            </div>
          </dl>
        </section>
      </div>
    </div>
  </main>
</template>

<style scoped>
.letters {
  width: fit-content;
}
.cols {
  columns: 2;
  column-gap: 40px;
  max-width: 1000px;
}
section {
  break-inside: avoid;
}
dl {
  margin: 0;
}
dl div {
  display: grid;
  grid-template-columns: 170px 1fr;
  gap: 12px;
  padding: 6px 0;
  border-bottom: 1px solid var(--rule);
}
dt {
  font-weight: 600;
}
dd {
  margin: 0;
}
@media (max-width: 900px) {
  .cols {
    columns: 1;
  }
}
</style>
