import type { CDPSession } from 'playwright-core'

type Clip = { x: number; y: number; width: number; height: number; scale: number }

/** Straight through the protocol: the library's own call waits for fonts and still frames, at four times the
 * price. @returns a JPEG; `undefined` where there is none to have */
export const pictureOf = (session: Promise<CDPSession>, quality: number, clip?: Clip) =>
  session
    .then((cdp) =>
      cdp.send('Page.captureScreenshot', {
        format: 'jpeg',
        quality,
        optimizeForSpeed: true,
        ...(clip && { clip }),
      }),
    )
    .then(
      ({ data }) => Buffer.from(data, 'base64'),
      () => undefined,
    )
