/** What the people of a live session are told. */
import {
  PART_OF_SCREEN,
  stepsOfRecording,
  type ElementFacts,
  type LiveOrder,
  type RecordedEvent,
  type RecordedStep,
} from '@/core/live'
import { describeStep } from '@/core/model'
import type { LiveBrowser } from '../driver/live'
import { DriverFault, type BrowserDriver } from '../driver/port'
import { StepFault } from '../interpreter/fault'
import type { StepParts } from '../interpreter/parts'

/** Values that are told, and how much of each. */
const [VALUES_MOST, VALUE_CHARS] = [100, 500]

/** What steps can refer to, within bounds. */
const valuesOf = ({ scope: { names, row } }: StepParts): Record<string, string> =>
  Object.fromEntries(
    [...Object.entries(names), ...Object.entries(row).map(([name, value]) => [`row.${name}`, value] as const)]
      .slice(0, VALUES_MOST)
      .map(([name, value]) => [name, value.slice(0, VALUE_CHARS)]),
  )

export const reasonOf = (error: unknown): string =>
  error instanceof DriverFault || error instanceof StepFault
    ? error.message
    : ((error as Error).message ?? String(error)).split('\n')[0]!

/** Where the browser is, and what steps can refer to. */
const DOWNLOADS_TOLD = 50
export async function placeOf(parts: StepParts, browser: LiveBrowser | undefined) {
  const { driver } = parts
  const windows = await driver.windows()
  return {
    url: await driver.url(),
    windows: windows.map(({ title, url }) => ({ title, url })),
    shown: Math.max(0, (await browser?.shownWindow()) ?? 0),
    ...(browser?.rate && { rate: browser.rate() }),
    values: valuesOf(parts),
    downloads: (await driver.downloads()).slice(0, DOWNLOADS_TOLD),
  }
}

/** What was recorded, as steps. Some engines keep what a person did in the page, where its own scripts may
 * write what they like: what is no event makes no step, and throws nothing. */
export function stepsOf(events: readonly RecordedEvent[]): RecordedStep[] {
  try {
    return stepsOfRecording(events)
  } catch {
    return []
  }
}

/** Whether it can be read by itself, and what it becomes be told. */
export function isEvent(event: RecordedEvent): boolean {
  try {
    return stepsOfRecording([event]).every(({ step }) => describeStep(step).object !== undefined)
  } catch {
    return false
  }
}

const [LINES_MOST, LINE_CHARS] = [40, 1000]

/** What a person pointed at, or the lines that are read on the part of the screen they drew around.
 * @returns `null`: nothing is there */
export async function pickedBy(
  { x, y, w = 0, h = 0 }: Extract<LiveOrder, { do: 'pick' }>,
  driver: BrowserDriver,
  browser: Pick<LiveBrowser, 'factsAt'>,
  answered: <T>(work: Promise<T>) => Promise<T>,
): Promise<ElementFacts | null> {
  if (w <= 0 || h <= 0) return answered(browser.factsAt(x, y))
  const box = { x, y, w, h }
  const around = await answered(browser.factsAt(x, y, w, h)).catch(() => null)
  const lines = (await driver.linesIn?.(box)) ?? []
  if (lines.length === 0 && !around) return null
  return {
    ...(around ?? { tag: PART_OF_SCREEN, counts: {} }),
    lines: lines.slice(0, LINES_MOST).map((line) => line.slice(0, LINE_CHARS)),
    box,
  }
}
