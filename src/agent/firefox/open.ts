/** A Firefox for one attempt. */
import type { ElementHandle, Frame } from 'puppeteer-core'
import type { Environment } from '@/core/model'
import type { Pace } from '../driver/port'
import { PagedDriver } from '../page/driver'
import type { FirefoxHolder } from './browser'
import { FirefoxEngine } from './engine'

/** @throws when Firefox is not installed, or does not start */
export async function openFirefox(
  holder: FirefoxHolder,
  environment: Environment,
  pace: Pace,
  films = true,
): Promise<PagedDriver<Frame, ElementHandle>> {
  const browser = await holder.get(environment)
  const context = await browser.createBrowserContext()
  const page = await context.newPage()
  const { width, height, locale, userAgent } = environment
  await page.setViewport({ width, height })
  if (userAgent) await page.setUserAgent(userAgent)
  const facts = {
    browser: (await browser.version()).replace('/', ' ').replace(/^firefox/i, 'Firefox'),
    screen: `${width}x${height}`,
    locale,
    node: process.version,
  }
  return new PagedDriver(
    new FirefoxEngine(context, page, pace, facts, holder.downloads, { width, height }),
    environment,
    pace,
    films,
  )
}
