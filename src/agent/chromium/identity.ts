import type { BrowserContext, Page } from 'playwright-core'
import type { Cookie, SignedInState } from '@/core/model'
import { quietPageOf, requireOrigin, signedInOf } from '../driver/identity'
import type { Identity } from '../driver/port'
import { askPage } from './asking'

/** @param page the window that is worked in */
export const identityIn = (context: BrowserContext, page: () => Page): Identity => ({
  keep: () =>
    signedInOf(
      page().url(),
      () => cookiesOf(context),
      () => askPage(page().mainFrame(), 'stored'),
    ),
  async take({ cookies, origin, stored: kept }: SignedInState, limitMs: number): Promise<void> {
    await page().goto(quietPageOf(origin), { timeout: limitMs })
    requireOrigin(page().url(), origin)
    await context.addCookies(cookies)
    await askPage(page().mainFrame(), 'store', kept)
    await page().goto('about:blank', { timeout: limitMs })
  },
})

/** What ends with the browser has no end in them. */
const cookiesOf = async (context: BrowserContext): Promise<Cookie[]> =>
  (await context.cookies()).map(({ name, value, domain, path, expires, secure, httpOnly, sameSite }) => ({
    name,
    value,
    domain,
    path,
    secure,
    httpOnly,
    sameSite,
    ...(expires > 0 && { expires }),
  }))
