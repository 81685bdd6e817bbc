import { browsersBySeat, type Engine } from '../browsers'
import { findFirefox, FirefoxHolder } from './browser'
import { openFirefox } from './open'

export const firefox: Engine = {
  name: 'Firefox',
  missing: () => (findFirefox() ? [] : ['firefox-esr']),
  browsers: () => browsersBySeat(() => new FirefoxHolder(), openFirefox),
}
