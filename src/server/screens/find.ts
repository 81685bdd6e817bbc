/** A text on any screen of a run, or of what a case did lately. Words of a screen are read when somebody
 * first looks for one on it, by the worker, behind all its other work. */
import type { FoundScreens } from '@/core/view-models'
import {
  enqueueReadingScreens,
  putScreenWords,
  READ_SCREEN,
  screensOfCase,
  screensOfRun,
} from '@/db/screen-words'
import { decodePicture, PictureRefused } from '@/node/decode'
import { NotRead, readWords } from '@/node/read-words'
import type { Context } from '../context'
import { pieceOf } from '../evidence'
import { Problem } from '../http/problems'

export { READ_SCREEN }
const SCREENS_MOST = 400
const CASE_RUNS_MOST = 40
const FOUND_MOST = 60
const TEXT_MOST = 200
const PIXELS_MOST = 10_000_000
const LIMIT_MS = 10_000
/** Jobs that one question may add. */
const READ_MOST = 150

export type ScreensAsked = { text: string } & ({ run: number } | { caseKey: string })

/** @throws {Problem} BODY_INVALID */
export function screensAskedBy(asked: URLSearchParams): ScreensAsked {
  const text = (asked.get('text') ?? '').trim()
  const [run, caseKey] = [asked.get('run'), asked.get('case')]
  if (text === '' || text.length > TEXT_MOST)
    throw new Problem('BODY_INVALID', `Say what to look for: a text of 1 to ${TEXT_MOST} characters.`)
  if (caseKey) return { text, caseKey }
  if (!run || !/^\d{1,9}$/.test(run)) throw new Problem('BODY_INVALID', 'Say on which run, or of which case.')
  return { text, run: Number(run) }
}

/** What was read so far; what was not is read now, and is found when it is asked again.
 * @throws {Problem} BUSY, TOOK_TOO_LONG */
export async function findOnScreensOf(ctx: Context, asked: ScreensAsked): Promise<FoundScreens> {
  const all =
    'run' in asked
      ? await screensOfRun(ctx.db, asked.run, SCREENS_MOST + 1)
      : await screensOfCase(ctx.db, asked.caseKey, CASE_RUNS_MOST, SCREENS_MOST + 1)
  const screens = all.slice(0, SCREENS_MOST)
  const unread = screens.filter(({ isRead }) => !isRead)
  await enqueueReadingScreens(
    ctx.db,
    unread.slice(0, READ_MOST).map(({ hash }) => hash),
  )
  const read = screens.flatMap(({ hash, words }) => (words ? [{ hash, words }] : []))
  const places = await ctx.work.run(
    'findOnScreens',
    { screens: read, text: asked.text },
    { limitMs: LIMIT_MS },
  )
  const of = new Map(screens.map((screen) => [screen.hash, screen]))
  return {
    found: places.slice(0, FOUND_MOST).map(({ hash, boxes }) => {
      const { attemptId, title, environment, build, at } = of.get(hash)!
      return { hash, boxes, attemptId, title, environment, build, at }
    }),
    looked: screens.length - unread.length,
    unread: unread.length,
    left: all.length - screens.length + Math.max(0, places.length - FOUND_MOST),
  }
}

/** What the worker does for a screen: what cannot be read is known as such. */
export async function readScreen(ctx: Context, hash: string): Promise<void> {
  const piece = await pieceOf(ctx, hash)
  if (!piece) return
  const words = await decodePicture(piece.bytes, PIXELS_MOST)
    .then((pixels) => readWords(pixels, { behind: true }))
    .catch((error: unknown) => {
      if (error instanceof NotRead || error instanceof PictureRefused) return null
      throw error
    })
  await putScreenWords(ctx.db, hash, words)
}
