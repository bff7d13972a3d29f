<script setup lang="ts">
import { Editor, EditorContent } from '@tiptap/vue-3'
import Mention from '@tiptap/extension-mention'
import StarterKit from '@tiptap/starter-kit'
import { computePosition, flip, shift } from '@floating-ui/dom'
import { onBeforeUnmount, ref, shallowRef, watch } from 'vue'
import type { Access } from '#contract/words.ts'
import { namedBy } from './named-by.ts'
import { useSession } from '#web/state/session.ts'

/**
 * Rich text with people mentioned by @. `leave` comes when it loses the focus, `send` on
 * Ctrl+Enter.
 */
const html = defineModel<string>({ required: true })
const props = withDefaults(
  defineProps<{
    label: string
    placeholder?: string
    readonly?: boolean
    tools?: boolean
    /** Who has to do with what is written about: guests among them may be named, and name them. */
    around?: readonly { id: number; name: string }[]
  }>(),
  { placeholder: '', readonly: false, tools: true, around: () => [] },
)
const emit = defineEmits<{ leave: []; send: [] }>()
const session = useSession()
const focused = ref(false)

/** Staff name each other and whoever is around; guests those around alone. */
function mayName(): { id: number; name: string }[] {
  const staff = session.me?.may.member ? session.active.filter((p) => !isGuest(p)) : []
  const all = new Map([...staff, ...props.around].map((p) => [p.id, p]))
  all.delete(session.me?.id ?? 0)
  return [...all.values()]
}
const isGuest = ({ access }: { access: Access }) => access === 'contractor' || access === 'client'

// Whom to mention: a small list beside the place where @ was typed.
const found = shallowRef<{ id: number; name: string }[]>([])
const at = ref(0)
const list = ref<HTMLElement | null>(null)
let choose: (person: { id: number; name: string }) => void = () => {}
async function place(rect: (() => DOMRect | null) | null | undefined): Promise<void> {
  if (!list.value || !rect) return
  const { x, y } = await computePosition(
    { getBoundingClientRect: () => rect() ?? new DOMRect() },
    list.value,
    { placement: 'bottom-start', strategy: 'fixed', middleware: [flip(), shift({ padding: 8 })] },
  )
  Object.assign(list.value.style, { left: `${x}px`, top: `${y}px` })
}
const PersonMention = Mention.extend({
  addAttributes: () => ({
    id: {
      default: null,
      parseHTML: (el: HTMLElement) => el.getAttribute('data-person'),
      renderHTML: (a: { id: string }) => ({ 'data-person': a.id }),
    },
    label: {
      default: '',
      parseHTML: (el: HTMLElement) => el.textContent?.replace(/^@/, ''),
      renderHTML: () => ({}),
    },
  }),
  parseHTML: () => [{ tag: 'span[data-person]' }],
  renderHTML: ({ node }) => [
    'span',
    { class: 'mention', 'data-person': node.attrs['id'] },
    `@${node.attrs['label']}`,
  ],
}).configure({
  suggestion: {
    char: '@',
    items: ({ query }) => namedBy(mayName(), query).slice(0, 7),
    render: () => ({
      onStart(p) {
        found.value = p.items
        at.value = 0
        choose = (person) => p.command({ id: String(person.id), label: person.name })
        void Promise.resolve().then(() => place(p.clientRect))
      },
      onUpdate(p) {
        found.value = p.items
        at.value = 0
        choose = (person) => p.command({ id: String(person.id), label: person.name })
        void place(p.clientRect)
      },
      onKeyDown({ event }) {
        if (!found.value.length) return false
        if (event.key === 'Escape') return ((found.value = []), event.stopPropagation(), true)
        if (event.key === 'ArrowDown')
          return ((at.value = (at.value + 1) % found.value.length), true)
        if (event.key === 'ArrowUp')
          return ((at.value = (at.value + found.value.length - 1) % found.value.length), true)
        if (event.key === 'Enter' || event.key === 'Tab')
          return (choose(found.value[at.value]!), true)
        return false
      },
      onExit() {
        found.value = []
      },
    }),
  },
})
const editor = new Editor({
  content: html.value,
  editable: !props.readonly,
  extensions: [
    StarterKit.configure({
      heading: { levels: [2, 3, 4] },
      link: { openOnClick: true, defaultProtocol: 'https', protocols: ['http', 'https', 'mailto'] },
    }),
    PersonMention,
  ],
  editorProps: {
    attributes: {
      class: 'rich',
      role: 'textbox',
      'aria-multiline': 'true',
      'aria-label': props.label,
    },
    handleKeyDown(_, event) {
      if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) return (emit('send'), true)
      return false
    },
  },
  onUpdate: ({ editor: e }) => {
    html.value = e.isEmpty ? '' : e.getHTML()
  },
  onFocus: () => {
    focused.value = true
  },
  onBlur: ({ event }) => {
    if (!(event.relatedTarget instanceof HTMLElement && event.relatedTarget.closest('.rt-tools'))) {
      focused.value = false
      emit('leave')
    }
  },
})
watch(html, (now) => {
  if (now !== (editor.isEmpty ? '' : editor.getHTML()))
    editor.commands.setContent(now, { emitUpdate: false })
})
watch(
  () => props.readonly,
  (on) => editor.setEditable(!on),
)
onBeforeUnmount(() => editor.destroy())
function link(): void {
  const now = (editor.getAttributes('link')['href'] as string | undefined) ?? ''
  const url = window.prompt('Where does it lead?', now)
  if (url === null) return
  if (url.trim() === '') editor.chain().focus().unsetLink().run()
  else
    editor
      .chain()
      .focus()
      .setLink({ href: /^[a-z]+:/i.test(url) ? url : `https://${url}` })
      .run()
}
const TOOLS: readonly [string, string, () => void, () => boolean][] = [
  ['Bold', 'B', () => editor.chain().focus().toggleBold().run(), () => editor.isActive('bold')],
  [
    'Italic',
    'I',
    () => editor.chain().focus().toggleItalic().run(),
    () => editor.isActive('italic'),
  ],
  [
    'Heading',
    'H',
    () => editor.chain().focus().toggleHeading({ level: 3 }).run(),
    () => editor.isActive('heading'),
  ],
  [
    'Points',
    '•',
    () => editor.chain().focus().toggleBulletList().run(),
    () => editor.isActive('bulletList'),
  ],
  [
    'Numbers',
    '1.',
    () => editor.chain().focus().toggleOrderedList().run(),
    () => editor.isActive('orderedList'),
  ],
  [
    'Quotation',
    '“',
    () => editor.chain().focus().toggleBlockquote().run(),
    () => editor.isActive('blockquote'),
  ],
  ['Link', '↗', link, () => editor.isActive('link')],
]
</script>

<template>
  <div class="rt" :class="{ focused, readonly }">
    <div
      v-if="tools && focused && !readonly"
      class="rt-tools"
      role="toolbar"
      :aria-label="`Form of ${label}`"
    >
      <v-btn
        variant="plain"
        v-for="[name, sign, run, on] in TOOLS"
        :key="name"
        :aria-label="name"
        :data-tip="name"
        :aria-pressed="on()"
        :class="{ on: on() }"
        @mousedown.prevent
        @click="run"
      >
        {{ sign }}
      </v-btn>
    </div>
    <span v-if="!html && placeholder && !readonly" class="ph" aria-hidden="true">
      {{ placeholder }}
    </span>
    <EditorContent :editor="editor" />
    <div v-if="found.length" ref="list" class="ats" role="listbox" aria-label="People">
      <v-btn
        variant="plain"
        v-for="(p, i) in found"
        :key="p.id"
        role="option"
        :aria-selected="i === at"
        :class="{ on: i === at }"
        @mousedown.prevent="choose(p)"
      >
        {{ p.name }}
      </v-btn>
    </div>
  </div>
</template>

<style scoped>
.rt {
  position: relative;
  border: 1px solid var(--rule);
  border-radius: 4px;
  background: var(--sheet);
}
.rt.focused {
  outline: 2px solid var(--fern);
  border-color: transparent;
}
.rt.readonly {
  border-color: transparent;
  background: none;
}
.rt :deep(.rich) {
  padding: 7px 9px;
  min-height: 64px;
  outline: none;
  overflow-wrap: anywhere;
}
.ph {
  position: absolute;
  left: 9px;
  bottom: auto;
  padding-top: 7px;
  color: var(--ink-3);
  pointer-events: none;
}
/* Above the text, not in the flow: what is pressed next must not move away as the focus leaves. */
.rt-tools {
  position: absolute;
  right: 4px;
  bottom: calc(100% + 3px);
  z-index: 5;
  display: flex;
  gap: 2px;
  padding: 2px;
  background: var(--sheet);
  border: 1px solid var(--rule-strong);
  border-radius: 4px;
}
.rt-tools button {
  min-width: 26px;
  height: 24px;
  text-align: center;
  border-radius: 3px;
  font-weight: 600;
  color: var(--ink-2);
}
.rt-tools .on {
  background: var(--fern-wash);
  color: var(--fern);
}
.ats {
  position: fixed;
  z-index: 3000;
  background: var(--sheet);
  border: 1px solid var(--rule-strong);
  border-radius: 4px;
  box-shadow: 0 6px 20px #0003;
  padding: 4px;
  min-width: 180px;
}
.ats button {
  display: block;
  width: 100%;
  padding: 5px 9px;
  border-radius: 3px;
}
.ats .on {
  background: var(--fern-wash);
}
</style>
