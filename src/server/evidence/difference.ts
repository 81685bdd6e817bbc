/** Where two screens differ, computed once and known for a while: evidence never changes. */
import type { Difference, Pixels } from '@/core/vision'
import { decodePicture, PictureRefused } from '@/node/decode'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { Gate } from '../work'
import { pieceOf } from './piece'

const LIMIT_MS = 10_000
const KNOWN_MOST = 500
/** A screen of 4K has 8.3 million. */
const PIXELS_MOST = 10_000_000
/** Two decoded screens take 80 MB at the most, so few are compared at once; who waits has decoded nothing. */
const comparing = new Gate(2, 20)
/** A compressed picture is not what was on the screen: by so many steps of 255, next to what changed. */
const [LOSSY_STEPS, EXACT_STEPS] = [20, 2]

type Parts = Pick<Context, 'db' | 'evidence' | 'work'>
const known = new Map<string, Promise<Difference>>()

/** @param from, to hashes of screens
 * @throws {Problem} NOT_FOUND; BODY_INVALID: it is no picture, or too large a one; BUSY, TOOK_TOO_LONG */
export function screenDifference(ctx: Parts, from: string, to: string): Promise<Difference> {
  const key = `${from} ${to}`
  const answer = known.get(key) ?? comparing.through(() => compared(ctx, from, to))
  known.delete(key)
  known.set(key, answer) // the one that was asked for last is forgotten last
  answer.catch(() => known.delete(key))
  if (known.size > KNOWN_MOST) known.delete(known.keys().next().value!)
  return answer
}

async function compared(ctx: Parts, from: string, to: string): Promise<Difference> {
  const [a, b] = [await screenOf(ctx, from), await screenOf(ctx, to)]
  const steps = a.lossy || b.lossy ? LOSSY_STEPS : EXACT_STEPS
  return ctx.work.run('difference', { a: a.pixels, b: b.pixels, steps }, { limitMs: LIMIT_MS })
}

async function screenOf(ctx: Parts, hash: string): Promise<{ pixels: Pixels; lossy: boolean }> {
  const piece = await pieceOf(ctx, hash)
  if (!piece) throw new Problem('NOT_FOUND', 'This screen is not in the store any more.')
  if (!piece.mime.startsWith('image/'))
    throw new Problem('BODY_INVALID', 'This piece of evidence is no picture.')
  const pixels = await decodePicture(piece.bytes, PIXELS_MOST).catch((error: unknown) => {
    throw error instanceof PictureRefused
      ? new Problem('BODY_INVALID', `The screen cannot be compared: ${error.message}.`)
      : error
  })
  return { pixels, lossy: piece.mime === 'image/jpeg' }
}
