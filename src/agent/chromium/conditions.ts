import type { BrowserContextOptions } from 'playwright-core'
import type { Environment } from '@/core/model'

/** A handset made up on a machine is touched, not clicked. */
export const isTouched = ({ kind }: Environment): boolean => kind === 'emulated'

/** What a browser context is made with, for an environment. */
export function contextOptions(environment: Environment): BrowserContextOptions {
  const { width, height, locale, userAgent, timeZone, colours, location, camera } = environment
  const permissions = [...(location ? ['geolocation'] : []), ...(camera ? ['camera', 'microphone'] : [])]
  return {
    viewport: { width, height },
    hasTouch: isTouched(environment),
    locale,
    ...(permissions.length > 0 && { permissions }),
    ...(userAgent && { userAgent }),
    ...(timeZone && { timezoneId: timeZone }),
    ...(colours && { colorScheme: colours }),
    ...(location && { geolocation: location }),
  }
}
