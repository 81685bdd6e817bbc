import { signedInOf } from '../driver/identity'
import type { Identity } from '../driver/port'
import type { Visitor } from './page'

/** Without scripts pages store nothing: cookies are all there is. @param url of the page that is shown */
export const identityOf = (visitor: Visitor, url: () => string): Identity => ({
  keep: () =>
    signedInOf(
      url(),
      () => visitor.cookiesOf(new URL(url()).hostname),
      async () => ({ local: {}, session: {} }),
    ),
  take: async ({ cookies }) => visitor.take(cookies),
})
