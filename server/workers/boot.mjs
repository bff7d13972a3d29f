// Started from the sources, a thread needs the loader that its process has.
import { register } from 'tsx/esm/api'
register()
const { default: run } = await import('./worker.ts')
export default run
