import type { CDPSession } from 'playwright-core'
import sharp from 'sharp'

/** Straight through the protocol: the library's own call waits for fonts and still frames, at four times the
 * price.
 * @param quality of a JPEG; `exact`: a PNG
 * @returns `undefined` where there is none to have */
export const pictureOf = (session: Promise<CDPSession>, quality: number | 'exact') =>
  session
    .then((cdp) =>
      cdp.send('Page.captureScreenshot', {
        ...(quality === 'exact' ? { format: 'png' as const } : { format: 'jpeg' as const, quality }),
        optimizeForSpeed: true,
      }),
    )
    .then(
      ({ data }) => Buffer.from(data, 'base64'),
      () => undefined,
    )

/** A smaller JPEG. Not by the browser: while it draws a smaller one, every other picture and the video show
 * the page small in a corner. */
export const shrunk = (jpeg: Uint8Array, width: number): Promise<Buffer> =>
  sharp(jpeg).resize({ width }).jpeg({ quality: 60 }).toBuffer()
