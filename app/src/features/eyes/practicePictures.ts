// Pictures of the demonstration, drawn by the stand-in when they are first looked at.
import { DRAWN_PICTURES } from '@brinvo/core/demo'
import { blobOf } from '../../parts/slides/frameSource.ts'
import { canvasWith, practiceWorker, type PatchScene } from '../../parts/slides/standIn.ts'

/** A drawn picture; null where none of this id is drawn. */
export async function drawnPicture(id: string): Promise<Blob | null> {
  const drawn = DRAWN_PICTURES.get(id)
  if (!drawn) return null
  const { ask, close } = practiceWorker()
  try {
    const scene = await ask<PatchScene>({ kind: 'patch', plan: drawn.plan })
    return await blobOf(canvasWith(drawn.which === 'first' ? scene.first : scene.later))
  } finally {
    close()
  }
}
