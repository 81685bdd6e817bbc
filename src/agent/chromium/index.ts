import { browsersBySeat, type Engine } from '../browsers'
import { BrowserHolder, findChromium } from './browser'
import { ChromiumDriver } from './driver'

export const chromium: Engine = {
  name: 'Chromium',
  missing: () => (findChromium() ? [] : ['chromium-headless-shell']),
  browsers: () =>
    browsersBySeat(
      () => new BrowserHolder(),
      (...opened) => ChromiumDriver.open(...opened),
    ),
}
