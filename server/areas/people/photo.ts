import { fileTypeFromBuffer } from 'file-type'
import { eq } from 'drizzle-orm'
import type { PersonId } from '#core/brands.ts'
import { refuse } from '#core/refusal.ts'
import { ready } from '../../database/query.ts'
import { people } from '../../database/tables/index.ts'
import type { Changed } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { actorOf, isGuest, type Viewer } from '../../engine/viewer.ts'

/** Photos of people: a picture that any browser shows, small enough to stand beside a name. */

/** The largest photo taken, in bytes. */
export const LARGEST_PHOTO = 1024 * 1024
const PICTURES: ReadonlySet<string> = new Set(['image/png', 'image/jpeg', 'image/webp'])

const photoOf = ready((orm, a: { id: PersonId }) =>
  orm.select({ photo: people.photo }).from(people).where(eq(people.id, a.id)),
)
const typeOf = async (bytes: Buffer): Promise<string | null> => {
  const type = (await fileTypeFromBuffer(bytes))?.mime
  return type !== undefined && PICTURES.has(type) ? type : null
}

/** Sets one's own photo. @throws Refusal `no-picture` for what its bytes say is none */
export async function setPhoto(
  engine: Engine,
  viewer: Viewer,
  bytes: Buffer,
): Promise<Changed<{ photo: string }>> {
  if ((await typeOf(bytes)) === null)
    refuse(
      'no-picture',
      'This is no picture that is taken here: choose a PNG, JPEG or WebP.',
      'file',
    )
  const photo = await engine.files.put(bytes)
  return engine.journal.change(actorOf(viewer), (write) => {
    write.update('people', viewer.id, { photo })
    return { photo }
  })
}
export const dropPhoto = (engine: Engine, viewer: Viewer): Changed<void> =>
  engine.journal.change(
    actorOf(viewer),
    (write) => void write.update('people', viewer.id, { photo: null }),
  )
/** The photo of somebody. @throws Refusal `not-found` */
export async function readPhoto(
  { reader, files }: Engine,
  viewer: Viewer,
  id: PersonId,
): Promise<{ type: string; bytes: Buffer }> {
  // Guests know nobody but themselves.
  if (isGuest(viewer) && viewer.id !== id) refuse('not-found', 'There is no photo of them.')
  const photo = photoOf.get(reader, { id })?.photo
  const bytes = photo ? await files.read(photo) : null
  const type = bytes && (await typeOf(bytes))
  return bytes && type ? { type, bytes } : refuse('not-found', 'There is no photo of them.')
}
