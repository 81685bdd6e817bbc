import type { BrowserContextOptions } from 'playwright-core'
import type { Environment } from '@/core/model'

/** What a browser context is made with, for an environment. */
export function contextOptions(environment: Environment): BrowserContextOptions {
  const { width, height, locale, userAgent, timeZone, colours, location, camera } = environment
  const permissions = [...(location ? ['geolocation'] : []), ...(camera ? ['camera', 'microphone'] : [])]
  return {
    viewport: { width, height },
    locale,
    ...(permissions.length > 0 && { permissions }),
    ...(userAgent && { userAgent }),
    ...(timeZone && { timezoneId: timeZone }),
    ...(colours && { colorScheme: colours }),
    ...(location && { geolocation: location }),
  }
}
