export * from './people.ts'
export * from './work.ts'
export * from './clockwork.ts'
export * from './engine.ts'
