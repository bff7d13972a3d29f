import { projectSteps } from '#server/areas/templates/start.ts'
import { drained } from '#server/engine/portions.ts'
import { isoDate } from '#core/calendar/dates.ts'
import type { Template } from '#core/templates/template.ts'
import { insertTemplate } from '#server/areas/templates/service.ts'
import { insertRule } from '#server/areas/rules/service.ts'
import type { Writer } from '#server/engine/journal.ts'
import { ENGINE, house, NOW, race, report, type House } from './house.ts'

function fill(h: House, tasks: number, alarms: number): void {
  h.engine.journal.change(ENGINE, (write: Writer) => {
    for (let i = 0; i < tasks; i++)
      write.insert('tasks', { title: `T${i}`, due: isoDate('2027-03-01'), createdAt: NOW })
    for (let i = 0; i < alarms; i++)
      write.insert('alarms', {
        at: NOW + 86_400_000 + i * 1000,
        kind: 'ladder',
        key: `a${i}`,
        itemKind: 'task',
        itemId: 1 + i,
        ruleId: 1,
        rung: 0,
      })
  })
  h.runner.tick()
}

{
  const [small, large] = [house(), house()]
  fill(small, 10_000, 5_000)
  fill(large, 100_000, 50_000)
  const ticks = (h: House) => () => {
    for (let i = 0; i < 200; i++) h.runner.tick()
  }
  const [a, b] = await race(60, ticks(small), ticks(large))
  report(
    'idle tick, 100,000 tasks and 50,000 alarms against 10,000 and 5,000',
    b / a,
    1.2,
    `${((b / 200) * 1000).toFixed(1)} µs against ${((a / 200) * 1000).toFixed(1)} µs`,
  )
  small.end()
  large.end()
}
{
  const h = house()
  fill(h, 10_000, 0)
  const update = h.db.sqlite.prepare('update tasks set title = ?, version = ? where id = ?')
  const insert = h.db.sqlite.prepare(
    `insert into journal ("change", at, actorKind, entity, entityId, action, itemKind, itemId, before, after)
     values (?,?,?,?,?,?,?,?,?,?)`,
  )
  const bare = h.db.sqlite.transaction((i: number, id: number) => {
    update.run(`bare ${i}`, i, id)
    insert.run(
      1_000_000 + i,
      NOW,
      'engine',
      'tasks',
      id,
      'changed',
      'task',
      id,
      '{"title":"x"}',
      '{"title":"y"}',
    )
  })
  let n = 0
  const [a, b] = await race(
    100,
    () => {
      for (let i = 0; i < 100; i++) bare(++n, 1 + (n % 10_000))
    },
    () => {
      for (let i = 0; i < 100; i++)
        h.engine.journal.change(ENGINE, (write) =>
          write.update('tasks', 1 + (++n % 10_000), { title: `door ${n}`, version: n }),
        )
    },
  )
  report(
    'journalled task update against a bare prepared UPDATE plus INSERT in one transaction',
    b / a,
    2,
    `${(b * 10).toFixed(1)} µs against ${(a * 10).toFixed(1)} µs`,
  )
  h.end()
}
{
  const h = house()
  const template: Template = {
    name: 'Large',
    anchor: 'deadline',
    roles: [{ key: 'r', name: 'Role' }],
    phases: Array.from({ length: 5 }, (_, p) => ({
      key: `p${p}`,
      name: `Phase ${p}`,
      tasks: Array.from({ length: 40 }, (_, t) => ({
        key: `t${p}-${t}`,
        title: `Task ${p} ${t}`,
        role: 'r',
        effort: 30,
        due: { days: -(t % 20), unit: 'working' as const },
      })),
    })),
  }
  const id = h.engine.journal.change(ENGINE, (write) => {
    insertRule(
      h.engine,
      write,
      {
        name: 'Late',
        ownerId: h.people[0]!,
        definition: {
          trigger: { kind: 'late' },
          conditions: { match: 'all', of: [] },
          rungs: [1, 3, 5].map((days) => ({
            key: `r${days}`,
            delay: { days, unit: 'working' as const, time: '09:00' },
            actions: [
              {
                kind: 'remind' as const,
                who: { is: 'assignees' as const },
                daily: false,
                text: 'late',
              },
            ],
          })),
        },
      },
      true,
    )
    return insertTemplate(write, template)
  }).result
  const make = () =>
    h.engine.journal.change(ENGINE, (write) =>
      drained(
        projectSteps(h.engine, write, id, {
          name: 'Project',
          clientId: null,
          anchor: '2027-02-01',
          roles: { r: { person: h.people[1]! } },
        }),
      ),
    ).result
  make()
  // The very rows that a start writes, those that derivers keep included, read back and inserted
  // bare into the same tables in one transaction.
  const kept = ['stateDates', 'openAssignments']
  const tables = ['projects', 'phases', 'tasks', 'taskAssignees', 'journal', 'alarms', ...kept]
  const written = tables.map((table) => {
    const rows = h.db.sqlite
      .prepare(
        table === 'journal'
          ? 'select * from journal where "change" = (select max("change") from journal)'
          : `select * from ${table}`,
      )
      .all() as Record<string, unknown>[]
    const columns = Object.keys(rows[0]!).filter((c) => c !== 'id')
    return {
      rows,
      insert: h.db.sqlite.prepare(
        `insert into ${table} (${columns.map((c) => `"${c}"`).join(',')})
            values (${columns.map(() => '?').join(',')})`,
      ),
      columns,
      table,
    }
  })
  console.log(
    `     rows of one start: ${written.map((w) => `${w.rows.length} ${w.table}`).join(', ')}`,
  )
  let unique = 0
  const bare = h.db.sqlite.transaction(() => {
    let last = 0
    for (const { rows, insert, columns, table } of written)
      for (const [i, row] of rows.entries()) {
        const values = columns.map((c) => {
          if (table === 'alarms' && c === 'key') return `bench:${++unique}`
          return c === 'taskId' ? last - i : row[c]
        })
        const done = insert.run(values)
        if (table === 'tasks') last = Number(done.lastInsertRowid)
      }
  })
  const [a, b] = await race(40, () => bare(), make)
  report(
    'starting a project of 200 tasks against inserting the same rows bare',
    b / a,
    3,
    `${b.toFixed(1)} ms against ${a.toFixed(1)} ms`,
  )
  h.end()
}
