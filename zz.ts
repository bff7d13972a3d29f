import { copyFileSync, rmSync } from 'node:fs'
import { assemble } from '#server/assembly.ts'
import { openDatabase } from '#server/database/open.ts'
import { handClock } from '#server/engine/clock.ts'
import { ENGINE } from '#server/engine/journal.ts'
import { cloneProject } from '#server/areas/projects/copy.ts'
import { eventsOf } from '#core/events/events.ts'
import { hearNotices } from '#server/areas/notices/service.ts'
import { hearRules } from '#server/areas/rules/react.ts'
const NOW = Date.parse('2026-11-23T12:00:00Z')
rmSync('/tmp/zz.sqlite', { force: true }); copyFileSync('/tmp/grown.sqlite', '/tmp/zz.sqlite')
const db = openDatabase('/tmp/zz.sqlite')
const { engine, runner } = assemble(db, handClock(NOW))
const { journal } = engine
runner.tick()
const project = journal.change(ENGINE, (w) => { const p = w.insert('projects', { name: 'Big', leadId: 1, createdAt: NOW } as any); for (let i = 0; i < 10000; i++) { const t = w.insert('tasks', { title: `T${i}`, projectId: p, due: '2026-12-04', position: i, creatorId: 1, stateId: 1, createdAt: NOW } as any); w.insert('taskAssignees', { taskId: t, personId: 2 + i % 9 } as any) } return p }).result
for (const _ of runner.steps()) ;
const viewer = { id: 1, name: 'P0', access: 'manager' as const, clientId: null }

for (let r = 0; r < 3; r++) {
  cloneProject(engine, viewer, project as any, { name: 'c' + r, take: ['assignees', 'dates', 'description', 'subtasks'], anchor: null } as any).whole()
  let u = performance.now(); const holds: number[] = []
  for (const _ of runner.steps()) { holds.push(performance.now() - u); u = performance.now() }
  console.log('steps', holds.length, 'longest', holds.sort((a, b) => b - a).slice(0, 8).map((x) => x.toFixed(0)).join(' '))
}
