import { randomUUID } from 'node:crypto'
import type { Environment } from '@/core/model'
import { requireNone } from '../driver/conditions'
import { POPUPS_MOST, type Pace } from '../driver/port'
import { registerEngine } from './asking'
import { findChromium, type BrowserHolder } from './browser'
import { contextOptions } from './conditions'
import { guardConsole, LINES_MOST, TOLD_AT } from './console-guard'
import { ChromiumDriver } from './driver'
import { hideSecrets, limitWindows } from './in-page'
import { PageWatch } from './page-watch'
import { VideoRecorder } from './video'

/** A context of its own in the browser, ready for an attempt. @param films whether it is filmed */
export async function openChromium(
  holder: BrowserHolder,
  environment: Environment,
  pace: Pace,
  films = true,
): Promise<ChromiumDriver> {
  await registerEngine()
  if (findChromium()?.endsWith('headless-shell'))
    requireNone('chromium-headless-shell', environment, ['camera'])
  const browser = await holder.get()
  const { width, height, locale } = environment
  const context = await browser.newContext({ acceptDownloads: true, ...contextOptions(environment) })
  await context.addInitScript(hideSecrets)
  await context.addInitScript(limitWindows, POPUPS_MOST)
  const mark = `${randomUUID()} `
  await context.addInitScript(guardConsole, { most: LINES_MOST, toldAt: TOLD_AT, mark })
  const page = await context.newPage()
  const video = films ? await VideoRecorder.start(page, { width, height }, pace.now) : undefined
  return new ChromiumDriver(context, environment, pace, video, new PageWatch(context, page, pace.now, mark), {
    browser: `Chromium ${browser.version()}`,
    screen: `${width}x${height}`,
    locale,
    node: process.version,
  })
}
