import { browsersBySeat, type Engine } from '../browsers'
import { BrowserHolder, findChromium } from './browser'
import { openChromium } from './open'

export const chromium: Engine = {
  name: 'Chromium',
  missing: () => (findChromium() ? [] : ['chromium-headless-shell']),
  browsers: () => browsersBySeat(() => new BrowserHolder(), openChromium),
}
