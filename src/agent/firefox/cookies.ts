import type { BrowserContext } from 'puppeteer-core'
import type { Cookie } from '@/core/model'

/** The cookies of a browser context; what ends with the browser has no end in them. */
export const cookiesOf = async (context: BrowserContext): Promise<Cookie[]> =>
  (await context.cookies()).map(
    ({ name, value, domain, path, expires, secure, httpOnly = false, sameSite }) => ({
      name,
      value,
      domain,
      path,
      secure,
      httpOnly,
      ...(expires > 0 && { expires }),
      ...(isSameSite(sameSite) && { sameSite }),
    }),
  )

const isSameSite = (word: string | undefined): word is NonNullable<Cookie['sameSite']> =>
  ['Strict', 'Lax', 'None'].includes(word ?? '')
