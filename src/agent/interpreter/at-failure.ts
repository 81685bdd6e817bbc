/** What is kept of the browser at a failure, beside the screens of the steps. */
import { storable } from '@/core/model'
import type { Failure } from '@/core/execution'
import type { BrowserDriver } from '../driver/port'
import type { StepParts } from './parts'

/** Keeps the source of the page and, where the agent has one, the whole display. */
export async function keepWhatIsThere(
  { driver, log, how }: Pick<StepParts, 'driver' | 'log' | 'how'>,
  { path }: Failure,
): Promise<void> {
  const place = path === undefined ? {} : { path }
  const source = await driver.source().catch(() => undefined)
  if (source) {
    const hash = log.keep('text/plain', Buffer.from(storable(log.hide(source))))
    if (hash !== undefined) log.say({ type: 'evidence', kind: 'page-source', hash, ...place })
  }
  if (!driver.display || how.screens === 'never') return
  if (await showsSecret(driver, log.hide))
    return log.say({
      type: 'note',
      text: 'the whole display is not kept: an address, a title or a dialog on it holds a secret',
    })
  const display = await driver.display().catch(() => undefined)
  const hash = display && log.keep(display.mime, display.bytes)
  if (hash !== undefined) log.say({ type: 'evidence', kind: 'display', hash, ...place })
}

/** Whether the browser shows a secret outside of its pages, where nothing can be masked. What cannot be
 * asked is taken for one. */
async function showsSecret(driver: BrowserDriver, hide: (text: string) => string): Promise<boolean> {
  try {
    const windows = await driver.windows()
    const texts = [...windows.flatMap(({ url, title }) => [url, title]), ...(await driver.dialogs())]
    return texts.some((text) => hide(text) !== text)
  } catch {
    return true
  }
}
