/** A picture of a page as it came, and of what is in its frames. */
import type { Environment } from '@/core/model'
import { hideSecrets } from './hidden'
import type { Opened } from './page'
import { PICTURED, type Picture, type PictureMaker } from './pictures'

type Parts = { environment: Environment; pictures?: PictureMaker }

export async function drawn(
  { environment, pictures }: Parts,
  top: Opened,
  frames: readonly Opened[],
  concealed: readonly string[],
): Promise<Picture | undefined> {
  if (!pictures || top.url === 'about:blank') return undefined
  for (const { frame, document } of frames)
    frame?.setAttribute('srcdoc', hideSecrets(document.toString(), concealed))
  return pictures.of(hideSecrets(top.document.toString(), concealed), environment)
}

/** An element by its number among those that a picture tells the place of. */
export const numberIn = (document: Document, element: Element): number =>
  [...document.querySelectorAll(PICTURED)].indexOf(element)
